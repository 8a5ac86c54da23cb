/** An outline from an SVG file: its size, how near curves are kept, what it has, and the piece it becomes. */
import { useMemo, useState } from 'react';
import { FileInput } from 'lucide-react';
import { FileButton } from '../../ui/FileButton';
import { readSvg, type SvgOutlines } from '@urnsmith/core/formats/readSvg';
import { faultOf } from '@urnsmith/core/mesh/errors';
import { primitiveFault, type Primitive } from '@urnsmith/core/primitives/index';
import { addPiece } from '../../state/actions';
import { Box } from '../../ui/Box';
import { NumberField } from '../../ui/NumberField';
import { Segmented } from '../../ui/Segmented';
import { useScene } from '../../state/useScene';

interface Drawing {
  name: string;
  text: string;
}

export function OutlineBox({ onClose }: { onClose: () => void }) {
  const scene = useScene();
  const [drawing, setDrawing] = useState<Drawing | null>(null);
  const [size, setSize] = useState<number | undefined>();
  const [tolerance, setTolerance] = useState(0.05);
  const [height, setHeight] = useState(5);
  const [role, setRole] = useState<'solid' | 'cutter'>('solid');
  const read = useMemo(
    () => (drawing ? outlinesOf(drawing.text, tolerance, size) : null),
    [drawing, tolerance, size],
  );
  const found = read && 'contours' in read ? read : null;
  const base: Primitive | null = found && {
    primitive: 'outline',
    contours: found.contours,
    fill: found.fill,
    height,
  };
  const fault = read && 'fault' in read ? read.fault : base && primitiveFault(base);
  const add = (): void => {
    if (!base || fault || !drawing) return;
    addPiece(scene, { name: drawing.name, base, ...(role === 'cutter' && { role }) });
    onClose();
  };
  return (
    <Box title="Outline from an SVG file" onClose={onClose}>
      <div className="flex items-center justify-between px-3.5 pb-2">
        <span>{drawing ? `${drawing.name}.svg` : 'No file chosen yet.'}</span>
        <FileButton
          label="SVG file"
          accept=".svg,image/svg+xml"
          onFile={(file) =>
            void file.text().then((text) => {
              setDrawing({ name: file.name.replace(/\.svg$/i, '').slice(0, 60) || 'Outline', text });
              setSize(undefined);
            })
          }
        >
          <FileInput size={14} aria-hidden /> Choose a file
        </FileButton>
      </div>
      {found && (
        <>
          <Preview {...found} />
          <div className="card px-1.5">
            <NumberField
              label="Longest side"
              value={Number(Math.max(found.width, found.height).toFixed(4))}
              unit="mm"
              minimum={0.01}
              maximum={100000}
              onCommit={setSize}
            />
            <NumberField
              label="Curves within"
              value={tolerance}
              unit="mm"
              minimum={0.001}
              maximum={10}
              step={0.001}
              onCommit={setTolerance}
            />
            <NumberField
              label="Height"
              value={height}
              unit="mm"
              minimum={0.001}
              maximum={100000}
              onCommit={setHeight}
            />
            <Segmented
              label="Role"
              className="wide"
              value={role}
              options={[
                { value: 'solid', label: 'solid' },
                { value: 'cutter', label: 'cutter' },
              ]}
              onChange={setRole}
            />
          </div>
          <p className="dim px-3.5 pb-1" role="status">
            {found.contours.length} {found.contours.length === 1 ? 'outline' : 'outlines'},{' '}
            {found.contours.reduce((sum, c) => sum + c.length, 0)} points.
            {found.left.length > 0 && ` Left out: ${found.left.join(', ')}.`}
          </p>
        </>
      )}
      {fault && (
        <p className="faultBox mx-3.5" role="alert">
          {fault}
        </p>
      )}
      <div className="flex justify-end px-3.5 pt-1">
        <button className="btn" disabled={!base || !!fault} onClick={add}>
          Add the outline
        </button>
      </div>
    </Box>
  );
}

function outlinesOf(text: string, tolerance: number, size?: number): SvgOutlines | { fault: string } {
  try {
    return readSvg(text, { tolerance, size });
  } catch (e) {
    const { message, fix } = faultOf(e);
    return { fault: [message, fix].filter(Boolean).join(' ') };
  }
}

function Preview({ contours, fill, width, height }: SvgOutlines) {
  const edge = Math.max(width, height) * 0.04;
  const d = contours.map((c) => `M${c.map(([x, y]) => `${x} ${-y}`).join('L')}Z`).join('');
  return (
    <svg
      className="mx-3.5 mb-2 block h-44 w-[calc(100%-28px)] rounded-[9px] bg-ink-0"
      viewBox={`${-width / 2 - edge} ${-height / 2 - edge} ${width + 2 * edge} ${height + 2 * edge}`}
      role="img"
      aria-label="The outlines"
    >
      <path
        d={d}
        fillRule={fill}
        className="fill-ink-3 stroke-glaze"
        strokeWidth={1.4}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

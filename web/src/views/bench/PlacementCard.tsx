/** Where a piece stands: move, turn, size, typed with units and arithmetic. */
import type { Piece } from '@urnsmith/core/document/schema';
import { completeTransform } from '@urnsmith/core/document/placement';
import { editPiece, preview } from '../../state/actions';
import { NumberField } from '../../ui/NumberField';

type Part = 'move' | 'turn' | 'size';
const ROWS: Array<{
  part: Part;
  title: string;
  unit: string;
  quantity: 'length' | 'angle' | 'number';
  step: number;
  range: [number, number];
}> = [
  { part: 'move', title: 'Move', unit: 'mm', quantity: 'length', step: 0.5, range: [-1e6, 1e6] },
  { part: 'turn', title: 'Turn', unit: '°', quantity: 'angle', step: 0.5, range: [-36000, 36000] },
  { part: 'size', title: 'Size', unit: '×', quantity: 'number', step: 0.01, range: [-1000, 1000] },
];

export function PlacementCard({ piece, count }: { piece: Piece; count: number }) {
  const t = completeTransform(piece.transform);
  const withPart = (part: Part, k: number, v: number): Piece => ({
    ...piece,
    transform: { ...t, [part]: t[part].map((x, i) => (i === k ? v : x)) as [number, number, number] },
  });
  return (
    <section className="placement" aria-label="Placement">
      <div className="head sub">
        <b>Placement</b>
        {count > 1 && <span className="dim">of the last of {count}</span>}
        {piece.locked && <span className="tag">locked</span>}
      </div>
      {ROWS.map((r) => (
        <div key={r.part} className="triple" role="group" aria-label={r.title}>
          <span className="lab">
            {r.title} <u>{r.unit}</u>
          </span>
          {['X', 'Y', 'Z'].map((axis, k) => (
            <NumberField
              key={axis}
              compact
              label={axis}
              value={t[r.part][k]}
              quantity={r.quantity}
              step={r.step}
              minimum={r.range[0]}
              maximum={r.range[1]}
              onPreview={(v) =>
                (r.part !== 'size' || v !== 0) && preview({ [piece.id]: withPart(r.part, k, v) })
              }
              onCommit={(v) => {
                if (r.part === 'size' && v === 0) return;
                editPiece(piece.id, `${r.title} ${piece.name}`, () => withPart(r.part, k, v));
              }}
            />
          ))}
        </div>
      ))}
    </section>
  );
}

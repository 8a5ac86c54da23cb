/** Chooses between true and weighed normals. A drawn ball stands for each choice. */
import { useEffect, useId, useState } from 'react';
import { ToggleGroup } from 'radix-ui';
import type { Display } from '@urnsmith/core/build/display';
import { percent } from '@urnsmith/core/build/verdict';
import { OFF } from '@urnsmith/core/shading/limits';
import { useBuilt, useScene } from '../../state/useScene';
import { ListField } from '../../ui/fields';
import type { StepProps } from './stepProps';

const WEIGHTS = ['area', 'angle', 'both', 'squared'];
const NAMES: Record<string, string> = {
  area: 'face area',
  angle: 'corner angle',
  both: 'angle times area',
  squared: 'face area squared',
};

interface Props extends Pick<StepProps, 'piece'> {
  value: unknown;
  onChange: (v: unknown) => void;
}

export function ShadingField({ piece, value, onChange }: Props) {
  const built = value === 'built';
  return (
    <>
      <ToggleGroup.Root
        type="single"
        aria-label="Shading"
        className="grid grid-cols-2 gap-1.5 px-3 py-1.5"
        value={built ? 'built' : 'weighed'}
        onValueChange={(v) => v && onChange(v === 'built' ? 'built' : WEIGHTS[0])}
      >
        <Choice
          value="built"
          title="As built"
          says="The normals of the surfaces it was made of, where they are known"
        >
          <Ball bow={0} />
        </Choice>
        <Choice value="weighed" title="Weighed" says="A mean of the faces around each corner">
          <Ball bow={7} />
        </Choice>
      </ToggleGroup.Root>
      {!built && <AsBuilt piece={piece} />}
      {!built && (
        <ListField
          label="Faces count by"
          value={value as string}
          options={WEIGHTS}
          names={NAMES}
          onChange={onChange}
        />
      )}
    </>
  );
}

/** The figure as it is and as it would be, measured on the built piece. */
function AsBuilt({ piece }: Pick<Props, 'piece'>) {
  const scene = useScene();
  const display = useBuilt(piece.id)?.display;
  const [seen, setSeen] = useState<{ on: Display; now: number; built: number } | null>(null);
  useEffect(() => {
    if (!display?.shading) return;
    let gone = false;
    void scene.builds
      .askAside(piece.id, { kind: 'asBuilt' }, () => !gone)
      .then((reply) => {
        if (gone || !reply || !('asBuilt' in reply) || !reply.asBuilt) return;
        const { now, built } = reply.asBuilt;
        setSeen({ on: display, now: now.over2, built: built.over2 });
      });
    return () => {
      gone = true;
    };
  }, [scene, piece.id, display]);
  if (!seen || seen.on !== display) return null;
  return (
    <p className="dim pad" data-as-built>
      {percent(seen.now)} of the area over {OFF}° as weighed, {percent(seen.built)} as built.
    </p>
  );
}

function Choice({
  value,
  title,
  says,
  children,
}: {
  value: string;
  title: string;
  says: string;
  children: React.ReactNode;
}) {
  return (
    <ToggleGroup.Item
      value={value}
      title={says}
      className="flex items-center gap-2 rounded-[9px] border border-line px-2 py-1.5 text-left data-[state=on]:border-glaze data-[state=on]:bg-ink-2"
    >
      {children}
      <span>{title}</span>
    </ToggleGroup.Item>
  );
}

/** Light panels in a polished ball with a rounded band across it. @param bow how far they bend at its rails */
function Ball({ bow }: { bow: number }) {
  const clip = useId();
  // Over the band a panel's edge runs on as it came where the normals are true, and bends aside where they are not.
  const edge = (x: number): string =>
    `M${x} 0 C${x - 3} 8 ${x - 4 - bow} 11 ${x - 4} 16 S${x - 3 + bow} 24 ${x} 32`;
  return (
    <svg width="32" height="32" viewBox="0 0 32 32" aria-hidden>
      <clipPath id={clip}>
        <circle cx="16" cy="16" r="15" />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        <rect width="32" height="32" fill="#33413f" />
        {[8, 15, 22, 29].map((x) => (
          <path key={x} d={edge(x)} fill="none" stroke="#e9e4d2" strokeWidth="2.4" />
        ))}
        <path d="M0 11H32M0 21H32" stroke="#00000055" strokeWidth="0.8" />
      </g>
      <circle cx="16" cy="16" r="15" fill="none" stroke="#ffffff30" />
    </svg>
  );
}

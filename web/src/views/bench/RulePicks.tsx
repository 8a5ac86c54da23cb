/** Picking by what elements are: sharp or flat up to an angle, marked, open, meeting more than two faces. */
import { useScene } from '../../state/useScene';
import type { Select } from '@urnsmith/core/select/rules';
import { pick } from '../../state/elements';
import { NumberField } from '../../ui/NumberField';

const RULES: Array<[string, (angle: number) => Select]> = [
  ['Sharp edges', (angle) => ({ rule: 'sharp', angle })],
  ['Hard', () => ({ rule: 'marked', layer: 'hard' })],
  ['Creased', () => ({ rule: 'marked', layer: 'crease' })],
  ['Seams', () => ({ rule: 'marked', layer: 'seam' })],
  ['Open edges', () => ({ rule: 'open' })],
  ['Non-manifold', () => ({ rule: 'nonManifold' })],
  ['N-gons', () => ({ rule: 'ngons' })],
];

export function RulePicks({ angle, onAngle }: { angle: number; onAngle: (angle: number) => void }) {
  const scene = useScene();
  return (
    <>
      <NumberField
        label="Sharp or flat by"
        value={angle}
        unit="°"
        minimum={0}
        maximum={180}
        onCommit={onAngle}
      />
      <div className="tools" role="group" aria-label="Pick by rule">
        <button onClick={() => void pick(scene, 'flat', { angle })}>Flat up to {angle}°</button>
        {RULES.map(([title, select]) => (
          <button key={title} onClick={() => void pick(scene, 'rule', { select: select(angle) })}>
            {title}
          </button>
        ))}
      </div>
    </>
  );
}

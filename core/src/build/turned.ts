/**
 * Two steps of one kind in a row, where the second works on edges that end at faces the first one made. They are run in
 * the other order, so that the result is the same whichever was added first.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { STEPS, type Step } from '../steps';
import type { Turned } from '../steps/define';
import type { StepReport } from './report';

const known = new WeakMap<PolyMesh, Map<string, Turned<Step> | null>>();

/**
 * How a step and the one after it are run the other way round; the same for the same input and steps. Null where they are
 * not.
 */
export function turnedSteps(input: PolyMesh, step: Step, next: Step): Turned<Step> | null {
  let ofInput = known.get(input);
  if (!ofInput) known.set(input, (ofInput = new Map()));
  const key = JSON.stringify([step, next].map((s) => ({ ...s, id: undefined, name: undefined })));
  let out = ofInput.get(key);
  if (out === undefined) {
    const { turned } = STEPS[next.kind] as { turned?: (...of: unknown[]) => Turned<Step> | null };
    ofInput.set(key, (out = turned?.(input, step, next) ?? null));
  }
  return out;
}

type Report = Pick<StepReport, 'groups'>;

const least = ({ groups = [] }: Report): number => Math.min(...groups.map((g) => g.least / g.asked));

/** Narrower somewhere than asked, or than it was before. */
export const isNarrower = (report: Report, than?: Report): boolean =>
  least(report) < (than ? least(than) : 1) * 0.99;

/** The words of a step that was run after the one that follows it. */
export const turnedWords = (next: Step): string => {
  const { label, title } = STEPS[next.kind] as {
    label?: (s: Step, nameOf: (id: string) => string) => string;
    title: string;
  };
  return `Rounded after “${next.name ?? label?.(next, (id) => id) ?? title}”, so that the two meet in one corner.`;
};

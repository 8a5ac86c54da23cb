/**
 * Two steps of a kind in a row, of which the second works on edges that end at what the first made: run the other way
 * round they meet, whichever came first.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { STEPS, type Step } from '../steps';
import type { Turned } from '../steps/define';
import type { StepResult } from './StepResults';

/** A step that was run, with its scopes told. */
export interface Ran {
  name: string;
  step: Step;
  input: PolyMesh;
  made: StepResult;
}

const known = new WeakMap<StepResult, Map<string, Turned<Step> | null>>();

/** How both are run the other way round; the same for the same result and step. Null where they are not. */
export function turnedSteps({ step, input, made }: Ran, next: Step): Turned<Step> | null {
  const { turned } = STEPS[next.kind];
  if (!turned) return null;
  let ofResult = known.get(made);
  if (!ofResult) known.set(made, (ofResult = new Map()));
  const key = JSON.stringify({ ...next, id: undefined, name: undefined });
  let out = ofResult.get(key);
  if (out === undefined) {
    out = (turned as (...of: unknown[]) => Turned<Step> | null)(input, step, made.mesh, next);
    ofResult.set(key, out);
  }
  return out;
}

type Report = StepResult['report'];

const least = ({ groups = [] }: Report): number => Math.min(...groups.map((g) => g.least / g.asked));

/** Narrower somewhere than asked, or than it was before. */
export const isNarrower = (report: Report, than?: Report): boolean =>
  least(report) < (than ? least(than) : 1) * 0.99;

/** What a step says that was run after the one that follows it. */
export const turnedWords = (next: Step): string => {
  const { label, title } = STEPS[next.kind] as {
    label?: (s: Step, nameOf: (id: string) => string) => string;
    title: string;
  };
  return `Rounded after “${next.name ?? label?.(next, (id) => id) ?? title}”, so that the two meet in one corner.`;
};

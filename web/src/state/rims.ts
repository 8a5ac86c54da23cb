/** The rims a step works on: those of all cuts, or of some cutters, chosen by clicks on the model or in a list. */
import type { Scope } from '@urnsmith/core/select/rules';
import type { Step } from '@urnsmith/core/steps/index';
import type { OpenScene } from './OpenScene';
import { editStep } from './actions';
import { handActions } from './handSlice';

/** A scope of rims that is being chosen by clicks. */
export interface RimsOf {
  piece: string;
  /** Of the step in the piece's list. */
  step: number;
  /** Of the scope in the step. */
  key: string;
}

declare module './mode' {
  interface ModeStates {
    rims: RimsOf;
  }
}

export const takeRims = (scene: OpenScene, of: RimsOf): void =>
  void scene.store.dispatch(handActions.modeTaken({ is: 'rims', ...of }));
export const endRims = (scene: OpenScene): void => void scene.store.dispatch(handActions.modeTaken(null));

/** The scope with a cutter's rims taken in, or left out where they were in. */
export function withRimsOf(scope: Scope, cutter: string): Scope {
  const before = scope.rule === 'rims' ? (scope.cutters ?? []) : [];
  const cutters = before.includes(cutter) ? before.filter((c) => c !== cutter) : [...before, cutter];
  return cutters.length ? { rule: 'rims', cutters } : { rule: 'rims' };
}

export function toggleRimsOf(
  scene: OpenScene,
  { piece, step, key }: RimsOf,
  cutter: string,
  name: string,
): void {
  editStep(scene, piece, step, `Rims of ${name}`, (s) => {
    const scope = (s as unknown as Record<string, Scope | undefined>)[key] ?? { rule: 'rims' };
    return { ...s, [key]: withRimsOf(scope, cutter) } as Step;
  });
}

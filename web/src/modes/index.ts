/** All modes of the stage. A new one is a file beside these and a line in this list. */
import type { Command } from '../state/command';
import { handActions } from '../state/handSlice';
import type { Mode, ModeName } from '../state/mode';
import type { OpenScene } from '../state/OpenScene';
import type { RootState } from '../state/store';
import { anchor } from './anchor';
import { cut } from './cut';
import type { AnyMode, HelpLine } from './define';
import { draw } from './draw';
import { place } from './place';
import { rims } from './rims';

const ALL = [draw, cut, place, anchor, rims];

const MODES = Object.fromEntries(ALL.map((m) => [m.is, m])) as Readonly<Record<ModeName, AnyMode>>;

export const MODE_COMMANDS: Command[] = ALL.flatMap((m) => m.commands ?? []);

/** The current mode's definition and state; null where none is on. */
export function modeOn(s: RootState): { does: AnyMode; mode: Mode } | null {
  const { mode } = s.hand;
  return mode && { does: MODES[mode.is], mode };
}

/** The current mode's title on the line of help; null where there is none. */
export function modeTitle(s: RootState): string | null {
  const on = modeOn(s);
  if (!on) return null;
  const { title } = on.does;
  return typeof title === 'function' ? title(on.mode) : title;
}

export function modeHelp(s: RootState): ReadonlyArray<HelpLine> | null {
  const on = modeOn(s);
  if (!on) return null;
  const { help } = on.does;
  return typeof help === 'function' ? help(on.mode, s) : help;
}

/** Handles and marks are shown on the model. */
export const showsHandles = (s: RootState): boolean => modeOn(s)?.does.handles ?? s.hand.mode === null;

/** Runs what a key means in the mode that is on; false where it means nothing there. */
export function runModeKey(scene: OpenScene, name: string): boolean {
  const run = modeOn(scene.store.getState())?.does.keys[name];
  run?.(scene);
  return run !== undefined;
}

/** Tells the current mode of a change in the store, and ends it when it no longer applies. */
export function followMode(scene: OpenScene, now: RootState, before: RootState): void {
  const [mode, was] = [now.hand.mode, before.hand.mode];
  if (was && was.is !== mode?.is) MODES[was.is].ended?.(scene);
  if (!mode) return;
  const { lasts, changed } = MODES[mode.is];
  if (lasts && !lasts(mode, now.hand, before.hand)) scene.store.dispatch(handActions.modeTaken(null));
  else if (mode !== was || now.settings !== before.settings)
    changed?.(scene, mode, was?.is === mode.is ? was : null);
}

/** Every command of the Bench, and the keys that stand for them. */
import type { OpenScene } from '../state/OpenScene';
import { perScene } from '../state/perScene';
import { redo, undo } from '../state/actions';
import { inTurn } from '../state/underWay';
import { takeLevel } from '../state/elements';
import { handActions, type Tool } from '../state/handSlice';
import { panelActions } from '../state/panelSlice';
import { ELEMENT_COMMANDS } from './elementCommands';
import { MODE_COMMANDS, runModeKey } from '../modes';
import type { Command } from '../state/command';
import { DIALOG_COMMANDS } from './dialogs';
import { keyName } from './keymap';
import { keyInForce } from './keys';
import { PIECE_COMMANDS } from './pieceCommands';
import { REGION_COMMANDS } from './regions';
import { STEP_COMMANDS, STEPS_ON_PICKED } from './stepCommands';
import { TOOL_COMMANDS } from './toolCommands';
import { VIEW_COMMANDS } from './viewCommands';

const s = (scene: OpenScene) => scene.store.getState().hand;

const COMMON_COMMANDS: Command[] = [
  {
    id: 'undo',
    title: 'Undo',
    words: 'back revert',
    group: 'History',
    enabled: (scene) => scene.store.getState().document.undo.length > 0,
    needs: 'nothing was done yet.',
    run: undo,
  },
  {
    id: 'redo',
    title: 'Redo',
    words: 'again forward',
    group: 'History',
    enabled: (scene) => scene.store.getState().document.redo.length > 0,
    needs: 'nothing was undone.',
    run: redo,
  },
  {
    id: 'go-crate',
    title: 'Export from the Crate',
    words: 'export save file glb gltf obj stl ply download',
    group: 'History',
    run: (scene) => scene.goTo(`/scene/${scene.store.getState().document.id}/crate`),
  },
  {
    id: 'go-scenes',
    title: 'Go to the scenes',
    words: 'open library files import home',
    group: 'History',
    run: (scene) => scene.goTo('/'),
  },
  {
    id: 'search',
    title: 'Find a command',
    group: 'Tool',
    run: (scene) => scene.store.dispatch(panelActions.searchToggled()),
  },
];

/** Commands whose key or meaning is for pieces only. */
const FOR_PIECES = new Set(['Add', 'Piece', 'Build']);

export const COMMANDS: Command[] = [
  ...[
    ...PIECE_COMMANDS,
    ...MODE_COMMANDS,
    ...DIALOG_COMMANDS,
    ...STEP_COMMANDS,
    ...VIEW_COMMANDS,
    ...REGION_COMMANDS,
    ...COMMON_COMMANDS,
  ].map((c): Command => (FOR_PIECES.has(c.group) || c.when ? { when: 'pieces', ...c } : c)),
  ...ELEMENT_COMMANDS,
  ...STEPS_ON_PICKED,
  ...TOOL_COMMANDS,
];

/** The command can act at the current level. */
export const atLevel = (scene: OpenScene, c: Command): boolean =>
  !c.when || (c.when === 'elements') === (s(scene).level !== 'piece');

/** The reason why a command cannot act at this level, in a few words; null where it can. */
export const lackOf = (scene: OpenScene, c: Command): string | null =>
  (c.enabled?.(scene) ?? true) ? null : (c.needs ?? NEEDS[c.when ?? 'pieces']);

/** Runs a command found by name: one of another level takes that level first, and acts if it can there. */
export function runFromAnywhere(scene: OpenScene, c: Command): void {
  const act = (): void => {
    const lack = lackOf(scene, c);
    if (lack === null) c.run(scene);
    else scene.store.dispatch(panelActions.noticed({ text: `${c.title}: ${lack}`, tone: 'info' }));
  };
  if (atLevel(scene, c)) return act();
  void takeLevel(scene, c.when === 'pieces' ? 'piece' : 'face').then(() => {
    if (atLevel(scene, c)) act();
  });
}
const NEEDS = {
  pieces: 'select a piece first.',
  elements: 'pick faces, edges or points first.',
};

const BY_ID = new Map(COMMANDS.map((c) => [c.id, c]));
export const commandById = (id: string): Command => BY_ID.get(id)!;

/**
 * A tool's key held down borrows the tool: letting go after a gesture with it, or of a key that has begun to repeat,
 * brings the old one back. How long it was down alone says nothing: the page may have been at something else.
 */
interface Borrowed {
  key: string;
  from: Tool;
  since: number;
  held: boolean;
  used: boolean;
}
const hand = perScene((): { borrowed: Borrowed | null } => ({ borrowed: null }));
/** A gesture begun while the key was just being let go of is not one with a borrowed tool. */
const HOLD_MS = 350;

/** A gesture begins on the stage. */
export function noteGesture(scene: OpenScene): void {
  const { borrowed } = hand(scene);
  if (borrowed) borrowed.used = true;
}

export function releaseKey(scene: OpenScene, e: KeyboardEvent): void {
  const own = hand(scene);
  if (own.borrowed?.key !== e.key.toLowerCase()) return;
  const { from, since, held, used } = own.borrowed;
  own.borrowed = null;
  if (held || (used && e.timeStamp - since > HOLD_MS)) scene.store.dispatch(handActions.toolTaken(from));
}

/** Runs the command a key stands for; true when there was one. */
export function runKey(scene: OpenScene, e: KeyboardEvent): boolean {
  const name = keyName(e);
  if (name === null) return false;
  if (runModeKey(scene, name)) return true;
  const own = hand(scene);
  const c = COMMANDS.find((x) => keyInForce(scene, x.id) === name && atLevel(scene, x));
  if (!c) return false;
  if (c.group === 'Tool' && c.id.startsWith('tool-')) {
    if (e.repeat) {
      if (own.borrowed?.key === name) own.borrowed.held = true;
      return true;
    }
    own.borrowed = { key: name, from: s(scene).tool, since: e.timeStamp, held: false, used: false };
  }
  const run = (): void => {
    if (atLevel(scene, c) && (c.enabled?.(scene) ?? true)) c.run(scene);
  };
  // A key for elements acts on the picks left by the keys before it, so they run in turn.
  if (c.when === 'elements' || c.id.startsWith('level-')) inTurn(scene, run);
  else run();
  return true;
}

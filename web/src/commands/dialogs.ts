/** Boxes that open over the scene. A new one is a component under `views/dialogs` and an entry in this list. */
import { lazy, type ComponentType, type LazyExoticComponent } from 'react';
import { panelActions } from '../state/panelSlice';
import type { Command } from '../state/command';

type BoxView = ComponentType<{ onClose: () => void }>;

interface Dialog<N extends string> {
  name: N;
  /** Its command; without one it is opened by a button of its own. */
  command?: Omit<Command, 'id' | 'run'>;
  Box: LazyExoticComponent<BoxView>;
}

/** @param load its code, loaded when it is first opened */
const dialog = <const N extends string>(
  name: N,
  load: () => Promise<BoxView>,
  command?: Dialog<N>['command'],
): Dialog<N> => ({ name, command, Box: lazy(async () => ({ default: await load() })) });

const ALL = [
  dialog('history', async () => (await import('../views/dialogs/HistoryBox')).HistoryBox, {
    title: 'History and milestones',
    words: 'versions milestones actions log restore snapshot',
    group: 'History',
  }),
  dialog('aside', async () => (await import('../views/dialogs/AsideBox')).AsideBox),
  dialog('about', async () => (await import('../views/dialogs/AboutBox')).AboutBox, {
    title: 'About Urnsmith and its memory',
    words: 'help version memory limits tutorial',
    group: 'History',
  }),
  dialog('keys', async () => (await import('../views/dialogs/KeysBox')).KeysBox, {
    title: 'Keys: see and change them',
    words: 'shortcuts hotkeys keyboard help bindings keymap',
    group: 'Tool',
  }),
  dialog('interface', async () => (await import('../views/dialogs/InterfaceBox')).InterfaceBox, {
    title: 'Interface: theme, size, scrolling',
    words: 'settings preferences options configure dark light zoom scale font trackpad touch',
    group: 'Tool',
  }),
  dialog('outline-from-svg', async () => (await import('../views/dialogs/OutlineBox')).OutlineBox, {
    title: 'Outline from an SVG file',
    words: 'import vector logo path drawing engrave',
    group: 'Add',
  }),
  dialog('presets', async () => (await import('../views/dialogs/PresetsBox')).PresetsBox, {
    title: 'Presets of steps…',
    short: 'Presets',
    words: 'save reuse library template stack favourite',
    group: 'Build',
  }),
] as const;

export type DialogName = (typeof ALL)[number]['name'];

export const BOXES = Object.fromEntries(ALL.map((d) => [d.name, d.Box])) as Readonly<
  Record<string, LazyExoticComponent<BoxView>>
>;

/** A command for each dialog that search finds. */
export const DIALOG_COMMANDS: Command[] = ALL.flatMap(({ name, command }) =>
  command
    ? [{ ...command, id: name, run: (scene) => scene.store.dispatch(panelActions.dialogOpened(name)) }]
    : [],
);

/** The contract of a command: its name, when it can act, where it is offered, and what it does. */
import type { Offer } from '@urnsmith/core/offers';
import type { OpenScene } from './OpenScene';
import type { ElementLevel } from './handSlice';

export interface Command extends Offer {
  id: string;
  title: string;
  group: 'Add' | 'Piece' | 'Build' | 'View' | 'Look' | 'Tool' | 'History' | 'Pick' | 'Edit';
  /** At which level it can act; at any, if not said. */
  when?: 'pieces' | 'elements';
  /** Levels at which the Card has a button for it. */
  card?: ReadonlyArray<ElementLevel>;
  enabled?: (scene: OpenScene) => boolean;
  /** The reason given while it is not enabled, in a few words; by default, that something has to be picked or selected first. */
  needs?: string;
  run: (scene: OpenScene) => void;
}

/** Its name where room is scarce. */
export const shortTitle = (c: Command): string =>
  c.short ??
  c.title
    .replace(/^(Add|Pick|Look from|Keys:|Cut:) (the |along the |a |what is )?/, '')
    .split(/[,;:]| on the | with the | the others | of this | at the picked | on or off| into view/)[0]
    .replace(/^./, (x) => x.toUpperCase());

/** Commands that would share a key. */
import type { ChangedKeys } from '@urnsmith/core/settings/keys';
import { keyOf } from './keymap';
import type { Command } from '../state/command';

type Named = Pick<Command, 'id' | 'when'>;

/** Two commands are never in reach at the same time if one is for pieces and the other for elements. */
const meet = (a: Named, b: Named): boolean => !a.when || !b.when || a.when === b.when;

/** Commands that have this key already where the given one would act. */
export const holdersOf = <C extends Named>(
  commands: ReadonlyArray<C>,
  changed: ChangedKeys,
  command: Named,
  key: string,
): C[] => commands.filter((c) => c.id !== command.id && keyOf(c.id, changed) === key && meet(c, command));

/** A direct operation as it is told: which one, on what, with which numbers. */
import type { Select } from '../select/rules';

export interface Action {
  op: string;
  select: Select;
  /** The action is switched off. */
  off?: boolean;
  /** Its name among the edits of its piece, where that is not its number among those of its kind. */
  key?: string;
  [parameter: string]: unknown;
}

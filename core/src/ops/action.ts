/** A direct operation as it is told: which one, on what, with which numbers. */
import type { Select } from '../select/rules';

export interface Action {
  op: string;
  select: Select;
  [parameter: string]: unknown;
}

/** Words for cutters that do nothing, or leave a hollow. */
import type { IdleCutter } from '@urnsmith/core/cutting/idle';

export const IDLE: Record<IdleCutter['why'], string> = {
  misses: 'misses',
  within: 'adds nothing',
  hollow: 'hollow',
};

/** Words for cutters that do nothing, or leave a hollow. */
import type { IdleCutter } from '@urnsmith/core/cutting/idle';

const IDLE: Record<IdleCutter['why'], string> = {
  misses: 'misses',
  within: 'adds nothing',
  hollow: 'hollow',
  short: 'too short',
};

/** The word for a cutter, with how many of its parts it is about. */
export const idleWord = ({ why, parts }: IdleCutter): string =>
  parts ? `${parts.some} of ${parts.of} ${parts.some === 1 ? SOME[why].one : SOME[why].more}` : IDLE[why];

const SOME: Record<IdleCutter['why'], { one: string; more: string }> = {
  misses: { one: 'misses', more: 'miss' },
  within: { one: 'adds nothing', more: 'add nothing' },
  hollow: { one: 'hollow', more: 'hollow' },
  short: { one: 'too short', more: 'too short' },
};

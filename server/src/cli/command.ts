/** Shared by the parts of the command line. */

/** Wrong call or wrong recipe: exit code 2. */
export class UsageError extends Error {}

export interface Output {
  out: (line: string) => void;
  err: (line: string) => void;
}

export type ExitCode = 0 | 1 | 2 | 3;

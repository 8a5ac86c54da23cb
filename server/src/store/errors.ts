/** Errors of the store, each with a sentence a person can act on. */

/** A write that does not fit the state it meets; nothing was changed. */
export class StoreError extends Error {
  constructor(
    readonly status: 404 | 409 | 422,
    readonly code: string,
    message: string,
    readonly detail?: unknown,
  ) {
    super(message);
  }
}

export const noScene = (id: string): StoreError =>
  new StoreError(404, 'no-scene', `There is no scene “${id}”; it may have been deleted.`);

/** The database cannot be used; the message says why and what to do. */
export class OpenError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

export interface Trouble {
  code: string;
  message: string;
}

const TROUBLES: Array<[RegExp, Trouble]> = [
  [
    /^SQLITE_FULL/,
    {
      code: 'disk-full',
      message:
        'The disk is full, so nothing more can be stored. Free some space; what waits is sent again by itself.',
    },
  ],
  [
    /^SQLITE_(READONLY|CANTOPEN|PERM|AUTH)/,
    {
      code: 'read-only',
      message:
        'The database cannot be written: its file or folder is read-only. Make it writable and start again.',
    },
  ],
  [
    /^SQLITE_(BUSY|LOCKED)/,
    {
      code: 'locked',
      message: 'Another program holds the database. Close it; what waits is sent again by itself.',
    },
  ],
  [
    /^SQLITE_(CORRUPT|NOTADB)/,
    {
      code: 'damaged',
      message:
        'The database file is damaged. Stop the server and run “npm run urnsmith -- store check”, then “store restore” with the newest good backup.',
    },
  ],
  [
    /^SQLITE_IOERR/,
    {
      code: 'disk-error',
      message:
        'The disk does not read or write as it should. Check it before going on; what waits is kept in the page.',
    },
  ],
];

/** The fault of the database that an error stands for; null for any other error. */
export function troubleOf(e: unknown): Trouble | null {
  const code = (e as { code?: unknown } | null)?.code;
  if (typeof code !== 'string') return null;
  if (code === 'ENOSPC') return TROUBLES[0][1];
  return TROUBLES.find(([pattern]) => pattern.test(code))?.[1] ?? null;
}

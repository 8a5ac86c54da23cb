/** Opens the database, checks it, and brings it up to date with the numbered migrations. */
import { existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import Database from 'better-sqlite3';
import { ROOT } from '../root';
import type { Db } from './db';
import { OpenError, troubleOf } from './errors';
import { takeLock } from './lock';
import { nestCutters } from './nestCutters';
import { upgradeScenes } from './upgradeScenes';

const MIGRATIONS = join(ROOT, 'server/migrations');
const migrations = readdirSync(MIGRATIONS)
  .filter((n) => n.endsWith('.sql'))
  .sort()
  .map((name) => ({ number: Number.parseInt(name, 10), name }));

/** The part of a migration that SQL alone cannot do. */
const AFTER: Record<number, (db: Db) => void> = { 2: upgradeScenes, 4: nestCutters };

/** System errors for a folder that cannot be made or written. */
const UNWRITABLE = new Set(['EACCES', 'EROFS', 'EPERM', 'ENOTDIR', 'EEXIST']);

export interface OpenOptions {
  /** Look for damaged pages first; takes a moment with large files. */
  check?: boolean;
}

/**
 * @param file path of the SQLite file, or `:memory:`
 * @throws OpenError
 */
export function openDatabase(file: string, { check = false }: OpenOptions = {}): Db {
  try {
    if (file !== ':memory:') mkdirSync(dirname(file), { recursive: true });
    const release = file === ':memory:' ? () => {} : takeLock(file);
    try {
      return opened(file, check, release);
    } catch (e) {
      release();
      throw e;
    }
  } catch (e) {
    if (e instanceof OpenError) throw e;
    const trouble = troubleOf(e);
    const code = (e as { code?: string }).code;
    if (trouble) throw new OpenError(trouble.code, `${file}: ${trouble.message}`);
    if (code && UNWRITABLE.has(code))
      throw new OpenError(
        'read-only',
        `${file} cannot be written. Make its folder writable, or set URNSMITH_DATA to another place.`,
      );
    throw e;
  }
}

function opened(file: string, check: boolean, release: () => void): Db {
  const isNew = !existsSync(file);
  const db = new Database(file);
  try {
    db.pragma('busy_timeout = 4000');
    db.pragma('journal_mode = WAL');
    db.pragma('synchronous = FULL');
    db.pragma('foreign_keys = ON');
    if (check && !isNew) refuseDamage(db, file);
    migrate(db, file);
  } catch (e) {
    db.close();
    throw e;
  }
  const close = db.close.bind(db);
  db.close = () => {
    const closed = close();
    release();
    return closed;
  };
  return db;
}

/** Faults found by SQLite's own check; empty when the file is sound. */
export function damageOf(db: Db): string[] {
  const rows = db.pragma('quick_check(5)') as Array<{ quick_check: string }>;
  return rows.map((r) => r.quick_check).filter((t) => t !== 'ok');
}

function refuseDamage(db: Db, file: string): void {
  const found = damageOf(db);
  if (found.length)
    throw new OpenError(
      'damaged',
      `${file} is damaged (${found[0].replace(/\s+/g, ' ').slice(0, 120)}). Run “npm run urnsmith -- store restore” with the newest backup beside it.`,
    );
}

function migrate(db: Db, file: string): void {
  const at = db.pragma('user_version', { simple: true }) as number;
  const newest = migrations.at(-1)!.number;
  if (at > newest)
    throw new OpenError(
      'newer',
      `${file} was written by a newer Urnsmith (version ${at} of the store, this one knows ${newest}); start that one.`,
    );
  for (const { number, name } of migrations) {
    if (number <= at) continue;
    db.transaction(() => {
      db.exec(readFileSync(join(MIGRATIONS, name), 'utf8'));
      AFTER[number]?.(db);
      db.pragma(`user_version = ${number}`);
    })();
  }
}

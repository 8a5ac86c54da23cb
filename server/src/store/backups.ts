/** Dated backups beside the database: one at the first start of a day, the newest seven kept. */
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Db } from './db';
import { troubleOf } from './errors';

const KEPT = 7;

const folderOf = (database: string): string => join(dirname(database), 'backups');
const nameOf = (database: string, when: string): string =>
  `${basename(database).replace(/\.[^.]*$/, '')}-${when}.sqlite`;

/** Backups of a database, newest first. */
export function backupsOf(database: string): string[] {
  const folder = folderOf(database);
  if (!existsSync(folder)) return [];
  const stem = basename(database).replace(/\.[^.]*$/, '');
  return readdirSync(folder)
    .filter((n) => n.startsWith(`${stem}-`) && /-\d{4}-\d{2}-\d{2}(-\d{6})?\.sqlite$/.test(n))
    .sort()
    .reverse()
    .map((n) => join(folder, n));
}

/** Writes a compact copy; it appears under its name only when it is whole. */
export function backUp(db: Db, target: string): void {
  mkdirSync(dirname(target), { recursive: true });
  const unfinished = `${target}.unfinished`;
  rmSync(unfinished, { force: true });
  db.prepare('VACUUM INTO ?').run(unfinished);
  renameSync(unfinished, target);
}

/** The path of a backup made now. */
export function backupPath(database: string, now = new Date()): string {
  const when = now.toISOString().slice(0, 19).replace('T', '-').replaceAll(':', '');
  return join(folderOf(database), nameOf(database, when));
}

/**
 * The first start of a day leaves a backup; a day without one is no reason not to start.
 * Off by URNSMITH_BACKUPS=off.
 */
export function backUpDaily(db: Db, database: string, now = new Date()): string | null {
  if (database === ':memory:' || process.env.URNSMITH_BACKUPS === 'off') return null;
  if (!db.prepare('SELECT 1 FROM scene LIMIT 1').get()) return null;
  const target = join(folderOf(database), nameOf(database, now.toISOString().slice(0, 10)));
  if (existsSync(target)) return null;
  try {
    backUp(db, target);
    const daily = backupsOf(database).filter((f) => /-\d{4}-\d{2}-\d{2}\.sqlite$/.test(f));
    for (const old of daily.slice(KEPT)) rmSync(old);
    return target;
  } catch (e) {
    rmSync(`${target}.unfinished`, { force: true });
    console.error(`No backup was made today: ${troubleOf(e)?.message ?? (e as Error).message}`);
    return null;
  }
}

/** When a file was last written, for messages. */
export const dateOf = (file: string): string =>
  statSync(file).mtime.toISOString().slice(0, 16).replace('T', ' ');

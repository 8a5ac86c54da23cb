/**
 * One server per database. The lock is a second, empty SQLite file held open in a write transaction: the operating
 * system lets go of it when the process ends, however it ends, so a lock is never left behind.
 */
import Database from 'better-sqlite3';
import { OpenError } from './errors';

/**
 * @returns lets go of the lock
 * @throws OpenError `in-use`
 */
export function takeLock(file: string): () => void {
  const lock = new Database(`${file}.lock`, { timeout: 500 });
  try {
    lock.pragma('journal_mode = DELETE');
    lock.exec('BEGIN EXCLUSIVE');
  } catch (e) {
    lock.close();
    if (!/^SQLITE_BUSY/.test(String((e as { code?: string }).code))) throw e;
    throw new OpenError(
      'in-use',
      `${file} is in use by another Urnsmith server. Close that one, or set URNSMITH_DATA to another file.`,
    );
  }
  return () => lock.close();
}

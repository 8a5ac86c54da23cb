/** Opens the database and brings it up to date with the numbered migrations. */
import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Database from 'better-sqlite3';

export type Db = Database.Database;

const MIGRATIONS = join(dirname(fileURLToPath(import.meta.url)), '../../migrations');

/** @param file path of the SQLite file, or `:memory:` */
export function openDatabase(file: string): Db {
  if (file !== ':memory:') mkdirSync(dirname(file), { recursive: true });
  const db = new Database(file);
  db.pragma('journal_mode = WAL');
  db.pragma('synchronous = FULL');
  db.pragma('foreign_keys = ON');
  db.pragma('busy_timeout = 4000');
  migrate(db);
  return db;
}

function migrate(db: Db): void {
  const at = db.pragma('user_version', { simple: true }) as number;
  for (const name of readdirSync(MIGRATIONS).sort()) {
    const number = Number.parseInt(name, 10);
    if (!name.endsWith('.sql') || !(number > at)) continue;
    db.transaction(() => {
      db.exec(readFileSync(join(MIGRATIONS, name), 'utf8'));
      db.pragma(`user_version = ${number}`);
    })();
  }
}

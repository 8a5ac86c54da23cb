import type Database from 'better-sqlite3';

/** An open database. */
export type Db = Database.Database;

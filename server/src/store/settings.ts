/** Settings of the whole workshop, by name, as JSON. */
import type { Db } from './db';

export class SettingStore {
  constructor(private readonly db: Db) {}

  /** @returns null for what was never set */
  get(name: string): unknown {
    const row = this.db
      .prepare<[string], { value: string }>('SELECT value FROM setting WHERE name = ?')
      .get(name);
    return row ? JSON.parse(row.value) : null;
  }

  set(name: string, value: unknown): void {
    this.db
      .prepare(
        'INSERT INTO setting (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value',
      )
      .run(name, JSON.stringify(value));
  }
}

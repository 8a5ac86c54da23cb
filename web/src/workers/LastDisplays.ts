/** Keeps the displays of the last scenes in the browser, so that a scene is seen again before it is built. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Display } from '@urnsmith/core/build/display';

/** Displays by piece. Pieces of one shape may share theirs. */
export type DisplayList = Array<[piece: string, display: Display]>;

interface Kept {
  scene: string;
  /** Of all that decides how the scene is built. */
  key: string;
  displays: DisplayList;
}

interface Stores extends DBSchema {
  scenes: { key: number; value: Kept; indexes: { scene: string } };
}

/** Scenes kept; the one that was kept longest ago goes first. */
const MOST = 12;

export class LastDisplays {
  private db: Promise<IDBPDatabase<Stores>> | null = null;

  constructor(private readonly name = 'urnsmith-last-displays') {}

  async keep(scene: string, key: string, displays: DisplayList): Promise<void> {
    const tx = (await this.open()).transaction('scenes', 'readwrite');
    for (const k of await tx.store.index('scene').getAllKeys(scene)) await tx.store.delete(k);
    await tx.store.add({ scene, key, displays });
    const keys = await tx.store.getAllKeys();
    for (const k of keys.slice(0, Math.max(0, keys.length - MOST))) await tx.store.delete(k);
    await tx.done;
  }

  /** Nothing where the scene has been changed since, or the browser keeps nothing. */
  async of(scene: string, key: string): Promise<DisplayList> {
    try {
      const kept = await (await this.open()).getFromIndex('scenes', 'scene', scene);
      return kept?.key === key ? kept.displays : [];
    } catch {
      return [];
    }
  }

  private open(): Promise<IDBPDatabase<Stores>> {
    this.db ??= openDB<Stores>(this.name, 1, {
      upgrade: (db) =>
        void db.createObjectStore('scenes', { autoIncrement: true }).createIndex('scene', 'scene'),
    });
    return this.db;
  }
}

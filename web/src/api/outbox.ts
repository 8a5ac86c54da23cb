/**
 * Actions on their way to the server, kept in the browser until the server has it. IndexedDB takes it; as that
 * answers only after a while, each item is first put into local storage, which holds it at once, even if the window
 * closes in the same moment.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { SceneAction } from '@urnsmith/core/document/scene';

/** An action that waits, with the scene it is for and its turn. */
export type Waiting = SceneAction & { scene: string; turn: number };

/** An action the server refused, with the reason. */
export interface Aside {
  id: string;
  scene: string;
  label: string;
  reason: string;
  when: number;
  action: unknown;
}

interface Stores extends DBSchema {
  outbox: { key: string; value: Waiting; indexes: { scene: string } };
  aside: { key: string; value: Aside; indexes: { scene: string } };
  meshes: { key: string; value: Uint8Array };
  /** Whether the server has a kept mesh; apart from the bytes, which are large. */
  meshSent: { key: string; value: boolean };
}

const FRONT = 'urnsmith.outbox.';
/** How long IndexedDB may take for an item, and for a mesh. */
const PATIENCE_MS = 3000;
const LARGE_MS = 60_000;
let turns = 0;

/** Ascends over windows and reloads. */
export const nextTurn = (): number => Date.now() * 1000 + (turns++ % 1000);

/** Local storage, where the browser allows it. */
function front(): Storage | null {
  try {
    return globalThis.localStorage ?? null;
  } catch {
    return null;
  }
}

export class Outbox {
  private db: Promise<IDBPDatabase<Stores>> | null = null;
  /** IndexedDB did not answer when everything was last asked for: there may be more than what was given. */
  unread = false;
  /** Ids known to be held by the browser. */
  private readonly held = new Set<string>();

  /** @param name of the browser's database */
  constructor(private readonly name = 'urnsmith') {}

  /**
   * Puts an item away. It is held at once where local storage takes it; resolves when IndexedDB has it.
   * @returns whether the browser holds it
   */
  async add(item: Waiting): Promise<boolean> {
    const key = FRONT + item.id;
    try {
      front()?.setItem(key, JSON.stringify(item));
      if (front()) this.held.add(item.id);
    } catch {
      // Full: IndexedDB has more room.
    }
    try {
      await this.ask((db) => db.put('outbox', item));
      this.held.add(item.id);
      front()?.removeItem(key);
    } catch {
      // Private windows may refuse storage; what is held is told by `holds`.
    }
    return this.holds(item.id);
  }

  holds(id: string): boolean {
    return this.held.has(id);
  }

  async remove(id: string): Promise<void> {
    this.held.delete(id);
    try {
      await this.ask((db) => db.delete('outbox', id));
    } catch {
      // As above.
    }
    // After the other: a page that ends in between sends it once more, which does no harm.
    front()?.removeItem(FRONT + id);
  }

  /** Everything that waits, of all scenes and windows, in the order it happened. */
  async all(): Promise<Waiting[]> {
    const items = new Map<string, Waiting>();
    const store = front();
    for (let i = 0; store && i < store.length; i++) {
      const key = store.key(i)!;
      if (!key.startsWith(FRONT)) continue;
      try {
        const item = JSON.parse(store.getItem(key)!) as Waiting;
        items.set(item.id, item);
      } catch {
        // Not one of ours.
      }
    }
    try {
      for (const item of await this.ask((db) => db.getAll('outbox'))) items.set(item.id, item);
      this.unread = false;
    } catch {
      // Nothing kept there, or nothing that can be had now.
      this.unread = true;
    }
    for (const id of items.keys()) this.held.add(id);
    return [...items.values()].sort((a, b) => a.turn - b.turn);
  }

  async setAside(item: Aside): Promise<void> {
    try {
      await this.ask((db) => db.put('aside', item));
    } catch {
      // The message is still shown on the page.
    }
  }

  async asides(scene: string): Promise<Aside[]> {
    try {
      return await this.ask((db) => db.getAllFromIndex('aside', 'scene', scene));
    } catch {
      return [];
    }
  }

  async dropAside(id: string): Promise<void> {
    try {
      await this.ask((db) => db.delete('aside', id));
    } catch {
      // Nothing kept there.
    }
  }

  /** @returns false when the browser keeps nothing */
  async keepMesh(hash: string, bytes: Uint8Array): Promise<boolean> {
    try {
      await this.ask(async (db) => {
        const tx = db.transaction(['meshes', 'meshSent'], 'readwrite');
        await tx.objectStore('meshes').put(bytes, hash);
        await tx.objectStore('meshSent').put(false, hash);
        await tx.done;
      }, LARGE_MS);
      return true;
    } catch {
      return false;
    }
  }

  async mesh(hash: string): Promise<Uint8Array | null> {
    try {
      return (await this.ask((db) => db.get('meshes', hash), LARGE_MS)) ?? null;
    } catch {
      return null;
    }
  }

  async meshSent(hash: string): Promise<void> {
    try {
      await this.ask((db) => db.put('meshSent', true, hash));
    } catch {
      // The action is sent again.
    }
  }

  async unsentMeshes(): Promise<string[]> {
    try {
      const [hashes, sent] = await this.ask((db) =>
        Promise.all([db.getAllKeys('meshSent'), db.getAll('meshSent')]),
      );
      return hashes.filter((_, i) => !sent[i]);
    } catch {
      return [];
    }
  }

  /** Lets go of meshes the server has and that nothing waiting names. */
  async tidyMeshes(): Promise<void> {
    try {
      const hashes = await this.ask((db) => db.getAllKeys('meshSent'));
      if (!hashes.length) return;
      const unsent = new Set(await this.unsentMeshes());
      const waiting = JSON.stringify(await this.ask((db) => db.getAll('outbox')));
      for (const hash of hashes)
        if (!unsent.has(hash) && !waiting.includes(hash))
          await this.ask(async (db) => {
            await db.delete('meshes', hash);
            await db.delete('meshSent', hash);
          });
    } catch {
      // Nothing kept there.
    }
  }

  /**
   * Asks IndexedDB; rejects when it does not answer in time. Browsers are known to leave a request without any answer
   * when a tab that had the database open ended badly; then the next try opens it anew.
   */
  private async ask<T>(f: (db: IDBPDatabase<Stores>) => Promise<T>, patience = PATIENCE_MS): Promise<T> {
    const opening = this.open();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<never>((_, reject) => {
      timer = setTimeout(() => {
        if (this.db === opening) this.db = null;
        void opening.then((db) => db.close()).catch(() => {});
        reject(new Error('IndexedDB does not answer'));
      }, patience);
    });
    try {
      return await Promise.race([opening.then(f), late]);
    } finally {
      clearTimeout(timer);
    }
  }

  private open(): Promise<IDBPDatabase<Stores>> {
    this.db ??= openDB<Stores>(this.name, 2, {
      async upgrade(db, from, _, tx) {
        db.createObjectStore('outbox', { keyPath: 'id' }).createIndex('scene', 'scene');
        const aside = db.createObjectStore('aside', { keyPath: 'id' });
        aside.createIndex('scene', 'scene');
        db.createObjectStore('meshes');
        db.createObjectStore('meshSent');
        if (from !== 1) return;
        // Actions left waiting by an earlier version have another form; they are kept so that a person can look at
        // them.
        const old = tx.objectStore('waiting' as never) as unknown as {
          getAll(): Promise<Array<Record<string, unknown>>>;
        };
        for (const item of await old.getAll())
          await aside.put({
            id: crypto.randomUUID(),
            scene: String(item.scene),
            label: String(item.label ?? 'Undo or redo'),
            reason: 'It was done with an earlier version and had not been sent when that was closed.',
            when: Date.now(),
            action: item,
          });
        db.deleteObjectStore('waiting' as never);
      },
    });
    return this.db;
  }
}

export const outbox = new Outbox();

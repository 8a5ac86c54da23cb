/**
 * Saving: every action goes to the server's journal as it happens, one after the other. What has not arrived
 * yet waits in IndexedDB, so closing the window loses nothing; when the server is away, it is asked again.
 */
import { openDB, type IDBPDatabase } from 'idb';
import type { Patch } from '@urnsmith/core/document/patch';
import { HttpError, openScene, postHead, postRevision } from '../api/http';
import { failed, loading, numbered, opened, saveStateChanged } from './documentSlice';
import { store } from './store';

type Waiting =
  | { kind: 'revision'; label: string; forward: Patch; inverse: Patch }
  /** Undo or redo by this many steps, negative for undo. */
  | { kind: 'move'; steps: number };
type Stored = Waiting & { key?: number; scene: string; seq: number };

const RETRY_MS = 2000;

class Saver {
  private db: Promise<IDBPDatabase> | null = null;
  private queue: Stored[] = [];
  private scene = '';
  private seq = 0;
  private history: { undo: number[]; redo: number[] } = { undo: [], redo: [] };
  private running: Promise<void> | null = null;

  /** Opens a scene and sends what was left over from an earlier window. */
  async open(id: string): Promise<void> {
    store.dispatch(loading(id));
    try {
      const left = await this.leftovers(id);
      let state = await openScene(id);
      if (left.length && left[0].seq === state.seq) {
        this.take(id, state);
        this.queue = left;
        await this.drain();
        state = await openScene(id);
      } else if (left.length) await this.forget(left);
      if (store.getState().document.id !== id) return;
      this.take(id, state);
      store.dispatch(opened(state));
    } catch (e) {
      store.dispatch(failed(e instanceof Error ? e.message : String(e)));
    }
  }

  add(action: Waiting): void {
    const item: Stored = { ...action, scene: this.scene, seq: this.seq + this.queue.length };
    this.queue.push(item);
    store.dispatch(saveStateChanged('saving'));
    void this.remember(item).then(() => this.drain());
  }

  /** Resolves when nothing waits any more, or saving stopped. */
  async settled(): Promise<void> {
    while (this.running) await this.running;
  }

  private take(
    id: string,
    state: { seq: number; undo: { number: number }[]; redo: { number: number }[] },
  ): void {
    this.scene = id;
    this.seq = state.seq;
    this.queue = [];
    this.history = { undo: state.undo.map((r) => r.number), redo: state.redo.map((r) => r.number) };
  }

  private drain(): Promise<void> {
    this.running ??= this.sendAll().finally(() => (this.running = null));
    return this.running;
  }

  private async sendAll(): Promise<void> {
    while (this.queue.length) {
      const item = this.queue[0];
      try {
        await this.send(item);
      } catch (e) {
        const status = e instanceof HttpError ? e.fault.status : 0;
        if (status === 409 || status === 404 || status === 422 || status === 400) {
          store.dispatch(saveStateChanged('conflict'));
          return;
        }
        store.dispatch(saveStateChanged('offline'));
        await new Promise((r) => setTimeout(r, RETRY_MS));
        continue;
      }
      this.queue.shift();
      await this.forget([item]);
    }
    store.dispatch(saveStateChanged('saved'));
  }

  private async send(item: Stored): Promise<void> {
    const h = this.history;
    if (item.kind === 'revision') {
      const { label, forward, inverse } = item;
      const saved = await postRevision(item.scene, { seq: this.seq, label, forward, inverse });
      this.seq = saved.seq;
      h.undo.push(saved.number);
      h.redo = [];
      store.dispatch(numbered(saved.number));
      return;
    }
    const next = { undo: [...h.undo], redo: [...h.redo] };
    for (let k = item.steps; k < 0; k++) next.redo.unshift(next.undo.pop()!);
    for (let k = item.steps; k > 0; k--) next.undo.push(next.redo.shift()!);
    const saved = await postHead(item.scene, this.seq, next.undo.at(-1) ?? 0);
    this.seq = saved.seq;
    this.history = next;
  }

  private database(): Promise<IDBPDatabase> {
    this.db ??= openDB('urnsmith', 1, {
      upgrade: (db) => db.createObjectStore('waiting', { keyPath: 'key', autoIncrement: true }),
    });
    return this.db;
  }

  private async remember(item: Stored): Promise<void> {
    try {
      item.key = (await (await this.database()).add('waiting', { ...item })) as number;
    } catch {
      // Private windows may refuse storage; the server still gets the action at once.
    }
  }

  private async forget(items: Stored[]): Promise<void> {
    try {
      const db = await this.database();
      for (const { key } of items) if (key !== undefined) await db.delete('waiting', key);
    } catch {
      // As above.
    }
  }

  private async leftovers(id: string): Promise<Stored[]> {
    try {
      const all = (await (await this.database()).getAll('waiting')) as Stored[];
      return all.filter((w) => w.scene === id);
    } catch {
      return [];
    }
  }
}

export const saver = new Saver();

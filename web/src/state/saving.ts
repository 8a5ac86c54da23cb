/**
 * Saving: every action goes to the server's journal as it happens, one after the other, under an id of its own, so
 * that sending it again does no harm. What has not arrived waits in the outbox; when the server is away, it is asked
 * again. What it refuses is set aside, and what cannot be kept with another window's work becomes a scene of its own.
 */
import { shortened } from '@urnsmith/core/document/names';
import type { SceneAction, SceneEvent } from '@urnsmith/core/document/scene';
import { fetchHistory, HttpError, openScene, postAction, postRecovery, postScene } from '../api/http';
import {
  asideCounted,
  failed,
  headOf,
  loading,
  older,
  opened,
  recoveredAs,
  saveStateChanged,
  synced,
  type DocumentState,
  type SaveState,
} from './documentSlice';
import { sendMeshes } from './meshes';
import { nextTurn, outbox, type Waiting } from './outbox';
import { store } from './store';
import { hearOfScenes, isGone, showLife, thisWindow } from './windows';

/** First and longest wait before something is sent again. */
const RETRY_MS = { first: 150, most: 2500 };
/** How soon IndexedDB is asked again for what it did not give. */
const UNREAD_MS = 2000;
/** Fetch older steps when fewer than these can be undone. */
const FEW = 40;

/** What an action asks for; the saver adds who asks, and when. */
type Asked<A> = A extends unknown ? Omit<A, 'id' | 'window' | 'base'> : never;
export type Action = Asked<SceneAction>;

/** Refusals that mean: another window was there first. */
const CONFLICTS = new Set(['changed-elsewhere', 'went-back', 'out-of-step', 'damaged-scene', 'no-scene']);

/** What became of sending one item. */
type Sent = 'taken' | 'merged' | 'refused';

class Saver {
  /** What this window did that is not with the server yet, of all scenes it had open. */
  private queue: Waiting[] = [];
  private scene = '';
  /** What other windows did up to here is in the document. */
  private base = 0;
  /** The server has something the page does not show. */
  private stale = false;
  private running: Promise<void> | null = null;
  private leftovers: Promise<void> = Promise.resolve();
  private fetching = false;
  private wait = RETRY_MS.first;
  private listening = false;
  /** Called when the document was exchanged under the hands. */
  onExchange: () => void = () => {};

  /** Opens a scene and sends what was left over from earlier windows. */
  async open(id: string): Promise<void> {
    this.listen();
    store.dispatch(loading(id));
    this.scene = id;
    try {
      await this.sendLeftovers(id);
      while (this.queue.some((q) => q.scene === id)) await this.settled();
      const state = await openScene(id);
      if (this.scene !== id) return;
      this.base = state.seq;
      this.stale = false;
      store.dispatch(opened(state));
      store.dispatch(asideCounted((await outbox.asides(id)).length));
      if (outbox.unread) this.sendUnread(id);
    } catch (e) {
      if (this.scene === id) store.dispatch(failed(e instanceof Error ? e.message : String(e)));
    }
  }

  /** Takes an action that was just done; the browser holds it from here on. @returns its id */
  add(action: Action): string {
    const item: Waiting = { ...action, ...this.from(), scene: this.scene, turn: nextTurn() };
    this.queue.push(item);
    const kept = outbox.add(item);
    this.tell('saving');
    void kept.then(() => this.tell());
    this.running ??= this.work().finally(() => (this.running = null));
    return item.id;
  }

  /** Resolves when nothing waits any more, or saving stopped. */
  async settled(): Promise<void> {
    while (this.running) await this.running;
  }

  /** Who asks, under which id, and what it knows. */
  from(): { id: string; window: string; base: number } {
    return { id: crypto.randomUUID(), window: thisWindow, base: this.base };
  }

  /** Brings the page to what the server has; waits while something of its own is on its way. */
  async sync(): Promise<void> {
    const { scene } = this;
    this.stale = true;
    if (!scene || this.queue.some((q) => q.scene === scene)) return;
    try {
      const state = await openScene(scene);
      if (this.scene !== scene || this.queue.some((q) => q.scene === scene)) return;
      this.stale = false;
      this.base = state.seq;
      store.dispatch(synced(state));
      this.onExchange();
    } catch (e) {
      if (isAway(e)) setTimeout(() => void this.sync(), RETRY_MS.most);
    }
  }

  /** Goes to any step of the history by way of the server. */
  goTo(action: string): Promise<void> {
    return this.atServer((scene, from) => {
      const head = headOf(store.getState().document);
      return postAction(scene, { ...from, kind: 'move', from: head, to: action, patch: [] });
    });
  }

  /**
   * Does what only the server can, once everything of this window is there, and shows what came of it.
   * @throws HttpError
   */
  async atServer(act: (scene: string, from: ReturnType<Saver['from']>) => Promise<unknown>): Promise<void> {
    const { scene } = this;
    await this.settled();
    await act(scene, this.from());
    await this.sync();
  }

  /** Older steps, when those at hand run low. */
  async fetchOlder(): Promise<void> {
    const { undo, more, id } = store.getState().document;
    const oldest = undo[0];
    if (!more || undo.length > FEW || this.fetching || !oldest?.number) return;
    this.fetching = true;
    try {
      const page = await fetchHistory(id, { below: oldest.number, patches: true });
      const now = store.getState().document;
      if (now.id === id && now.undo[0] === oldest) store.dispatch(older(page));
    } catch {
      // Asked again at the next undo.
    } finally {
      this.fetching = false;
    }
  }

  /** Sends what closed windows left behind, of every scene or of one. */
  sendLeftovers(scene?: string): Promise<void> {
    const turn = this.leftovers.then(() => this.sendLeft(scene));
    this.leftovers = turn.catch(() => {});
    return turn;
  }

  /** The scene is shown already; what IndexedDB still holds of it is sent as soon as it can be had. */
  private sendUnread(id: string): void {
    setTimeout(() => {
      if (this.scene !== id) return;
      const again = (): void => void (outbox.unread && this.sendUnread(id));
      this.sendLeftovers(id).then(again, again);
    }, UNREAD_MS);
  }

  private async sendLeft(scene?: string): Promise<void> {
    const windows = new Map<string, Waiting[]>();
    for (const item of await outbox.all()) {
      if (item.window === thisWindow || (scene !== undefined && item.scene !== scene)) continue;
      const key = `${item.scene} ${item.window}`;
      windows.set(key, [...(windows.get(key) ?? []), item]);
    }
    for (const left of windows.values()) {
      if (!(await isGone(left[0].window))) continue;
      while (left.length) {
        try {
          await this.send(left, null);
        } catch (e) {
          // Without the server nothing opens; in its trouble the scene may still be looked at.
          if (isAway(e)) throw e;
          break;
        }
      }
    }
  }

  private listen(): void {
    if (this.listening) return;
    this.listening = true;
    showLife();
    hearOfScenes((e: SceneEvent) => {
      const mine = e.scene === this.scene || e.scene === '*';
      if (mine && e.window !== thisWindow && e.seq > this.base) void this.sync();
    });
  }

  /** Sends the queue in turn until it is empty. */
  private async work(): Promise<void> {
    do {
      while (this.queue.length) await this.sendNext();
      this.tell('saved');
      if (this.stale) await this.sync();
      await outbox.tidyMeshes();
    } while (this.queue.length);
  }

  private async sendNext(): Promise<void> {
    const { scene } = this.queue[0];
    try {
      const { document } = store.getState();
      const sent = await this.send(this.queue, document.id === scene ? document : null);
      if (sent !== 'taken' && scene === this.scene) this.stale = true;
      this.wait = RETRY_MS.first;
    } catch (e) {
      if (!(e instanceof HttpError)) throw e;
      this.tell(isAway(e) ? 'offline' : 'trouble', e.fault.message);
      await new Promise((r) => setTimeout(r, this.wait));
      this.wait = Math.min(RETRY_MS.most, 2 * this.wait);
    }
  }

  /**
   * Sends the first of a list and takes it off; with a refusal that concerns them all, all of its scene.
   * @param open the document as this window shows it, if it does
   * @throws HttpError when the server is away or in trouble; nothing was taken off
   */
  private async send(list: Waiting[], open: DocumentState | null): Promise<Sent> {
    const item = list[0];
    try {
      await sendMeshes(item);
      const { scene, turn: _, ...action } = item;
      const { merged, seq } = await postAction(scene, action as SceneAction);
      if (!merged && !this.stale && scene === this.scene && item.window === thisWindow) this.base = seq;
      await this.dealtWith(list, [item]);
      return merged ? 'merged' : 'taken';
    } catch (e) {
      if (!(e instanceof HttpError) || isPassing(e)) throw e;
      if (CONFLICTS.has(e.fault.code)) await this.recover(list, open);
      else {
        await this.setAside(item, e.fault.message);
        await this.dealtWith(list, [item]);
      }
      return 'refused';
    }
  }

  private async dealtWith(list: Waiting[], items: ReadonlyArray<Waiting>): Promise<void> {
    for (const item of items) {
      const at = list.indexOf(item);
      if (at >= 0) list.splice(at, 1);
      await outbox.remove(item.id);
    }
  }

  /** Keeps actions the scene cannot take as a scene of their own. */
  private async recover(list: Waiting[], open: DocumentState | null): Promise<void> {
    const { scene, window, base } = list[0];
    const left = list.filter((i) => i.scene === scene);
    try {
      if (open) {
        // The page knows best what it shows; without it, the server puts it together.
        const name = recoveryName(open.name);
        const { id } = await postScene({ name, document: open.doc });
        store.dispatch(recoveredAs({ id, name }));
      } else {
        const actions = left.map(({ scene: _, turn: __, ...a }) => a as SceneAction);
        store.dispatch(recoveredAs(await postRecovery(scene, { window, base, actions })));
      }
    } catch (e) {
      if (!(e instanceof HttpError) || isPassing(e)) throw e;
      for (const item of left) await this.setAside(item, e.message);
    }
    await this.dealtWith(list, left);
  }

  private async setAside(item: Waiting, reason: string): Promise<void> {
    const { scene, turn: _, ...action } = item;
    const label = item.kind === 'revision' ? item.label : 'Undo or redo';
    await outbox.setAside({ id: item.id, scene, label, reason, when: Date.now(), action });
    if (scene === this.scene) store.dispatch(asideCounted((await outbox.asides(scene)).length));
  }

  private tell(save?: SaveState, trouble?: string): void {
    const now = store.getState().document;
    const waiting = this.queue.length;
    const held = this.queue.filter((q) => outbox.holds(q.id)).length;
    store.dispatch(
      saveStateChanged({ save: save ?? now.save, waiting, held, trouble: trouble ?? now.trouble }),
    );
  }
}

/** The server cannot be reached. */
const isAway = (e: unknown): boolean => e instanceof HttpError && e.fault.status === 0;
/** It may go through later: the server is away, or in trouble. */
const isPassing = (e: HttpError): boolean => e.fault.status === 0 || e.fault.status >= 500;

const recoveryName = (name: string): string =>
  `${shortened(name, 90)} (recovered ${new Date().toISOString().slice(0, 16).replace('T', ' ')})`;

export const saver = new Saver();

/** Saving an open scene: its actions are handed on to be sent, and what others did to it is fetched. */
import type { SceneAction, SceneEvent } from '@urnsmith/core/document/scene';
import { fetchHistory, openScene, postAction } from '../api/http';
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
  type Recovered,
} from './documentSlice';
import { isAway, RETRY_MS, type Hearer, type Outgoing } from './outgoing';
import { nextTurn, outbox } from '../api/outbox';
import type { SceneStore } from './store';
import { thisWindow } from './windows';

/** How soon IndexedDB is asked again for what it did not give, ms. */
const UNREAD_MS = 2000;
/** Fetch older steps when fewer than these can be undone. */
const FEW = 40;

/** The content of an action; the saver adds author and time. */
type Asked<A> = A extends unknown ? Omit<A, 'id' | 'window' | 'base'> : never;
export type Action = Asked<SceneAction>;

export class Saver implements Hearer {
  /** The document includes other windows' actions up to here. */
  private base = 0;
  /** The server has something the page does not show. */
  private stale = false;
  private fetching = false;
  private left = false;
  private readonly endTelling: () => void;

  constructor(
    readonly scene: string,
    private readonly store: SceneStore,
    private readonly outgoing: Outgoing,
  ) {
    this.endTelling = outgoing.tells(this);
  }

  /** The scene is left; what it did is still sent. */
  close(): void {
    this.left = true;
    this.endTelling();
  }

  /** Opens the scene and sends what was left over from earlier windows. */
  async open(): Promise<void> {
    const { scene, store, outgoing } = this;
    store.dispatch(loading(scene));
    try {
      await outgoing.sendLeftovers(scene);
      while (outgoing.holds(scene)) await outgoing.settled();
      const state = await openScene(scene);
      if (this.left) return;
      this.base = state.seq;
      this.stale = false;
      store.dispatch(opened(state));
      await this.asideChanged();
      if (outbox.unread) this.sendUnread();
    } catch (e) {
      if (!this.left) store.dispatch(failed(e instanceof Error ? e.message : String(e)));
    }
  }

  /** Takes an action that was just done. @returns its id */
  add(action: Action): string {
    const from = this.from();
    this.outgoing.add({ ...action, ...from, scene: this.scene, turn: nextTurn() });
    return from.id;
  }

  /** Resolves when nothing waits any more, or sending stopped. */
  settled(): Promise<void> {
    return this.outgoing.settled();
  }

  /** The sender of an action, its id, and the state it was based on. */
  from(): { id: string; window: string; base: number } {
    return { id: crypto.randomUUID(), window: thisWindow, base: this.base };
  }

  /** Brings the page to what the server has; waits while something of its own is on its way. */
  async sync(): Promise<void> {
    const { scene, outgoing } = this;
    this.stale = true;
    if (this.left || outgoing.holds(scene)) return;
    try {
      const state = await openScene(scene);
      if (this.left || outgoing.holds(scene)) return;
      this.stale = false;
      this.base = state.seq;
      this.store.dispatch(synced(state));
    } catch (e) {
      if (isAway(e)) setTimeout(() => void this.sync(), RETRY_MS.most);
    }
  }

  /** Goes to any step of the history by way of the server. */
  goTo(action: string): Promise<void> {
    return this.atServer((scene, from) => {
      const head = headOf(this.store.getState().document);
      return postAction(scene, { ...from, kind: 'move', from: head, to: action, patch: [] });
    });
  }

  /**
   * Does what only the server can, once everything of this window is there, and shows what came of it.
   * @throws HttpError
   */
  async atServer(act: (scene: string, from: ReturnType<Saver['from']>) => Promise<unknown>): Promise<void> {
    await this.settled();
    await act(this.scene, this.from());
    await this.sync();
  }

  /** Older steps, when those at hand run low. */
  async fetchOlder(): Promise<void> {
    const { undo, more } = this.store.getState().document;
    const oldest = undo[0];
    if (!more || undo.length > FEW || this.fetching || !oldest?.number) return;
    this.fetching = true;
    try {
      const page = await fetchHistory(this.scene, { below: oldest.number, patches: true });
      if (this.store.getState().document.undo[0] === oldest) this.store.dispatch(older(page));
    } catch {
      // Asked again at the next undo.
    } finally {
      this.fetching = false;
    }
  }

  shown(): DocumentState | null {
    const { document } = this.store.getState();
    return document.status === 'ready' ? document : null;
  }

  taken(seq: number, merged: boolean): void {
    if (!merged && !this.stale) this.base = seq;
  }

  outdated(): void {
    this.stale = true;
  }

  heard(e: SceneEvent): void {
    const mine = e.scene === this.scene || e.scene === '*';
    if (mine && e.window !== thisWindow && e.seq > this.base) void this.sync();
  }

  told({ save, trouble, waiting, held }: Parameters<Hearer['told']>[0]): void {
    const now = this.store.getState().document;
    this.store.dispatch(
      saveStateChanged({ save: save ?? now.save, waiting, held, trouble: trouble ?? now.trouble }),
    );
  }

  async asideChanged(): Promise<void> {
    this.store.dispatch(asideCounted((await outbox.asides(this.scene)).length));
  }

  recovered(r: Recovered): void {
    this.store.dispatch(recoveredAs(r));
  }

  async drained(): Promise<void> {
    if (this.stale) await this.sync();
  }

  /** The scene is shown already; what IndexedDB still holds of it is sent as soon as it can be had. */
  private sendUnread(): void {
    setTimeout(() => {
      if (this.left) return;
      const again = (): void => void (outbox.unread && this.sendUnread());
      this.outgoing.sendLeftovers(this.scene).then(again, again);
    }, UNREAD_MS);
  }
}

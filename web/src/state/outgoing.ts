/**
 * The way to the server: every action of this window goes to the journal as it happens, one after the other, under an
 * id of its own, so that sending it again does no harm. What has not arrived waits in the outbox; when the server is
 * away, it is asked again. What it refuses is set aside, and what cannot be kept with another window's work becomes a
 * scene of its own. It goes on when the scene the actions belong to is left.
 */
import { shortened } from '@urnsmith/core/document/names';
import type { SceneAction, SceneEvent } from '@urnsmith/core/document/scene';
import { HttpError, postAction, postRecovery, postScene } from '../api/http';
import type { DocumentState, Recovered, SaveState } from './documentSlice';
import { sendMeshes } from './meshes';
import { outbox, type Waiting } from '../api/outbox';
import { hearOfScenes, isGone, showLife, thisWindow } from './windows';

/** First and longest wait before something is sent again, ms. */
export const RETRY_MS = { first: 150, most: 2500 };

/** Refusals that mean: another window was there first. */
const CONFLICTS = new Set(['changed-elsewhere', 'went-back', 'out-of-step', 'damaged-scene', 'no-scene']);

/** An open scene, as far as it is told what becomes of what is sent. */
export interface Hearer {
  readonly scene: string;
  /** The document as the page shows it; null while it does not. */
  shown(): DocumentState | null;
  /** The server has taken an action of this window. */
  taken(seq: number, merged: boolean): void;
  /** The server has something the page does not show. */
  outdated(): void;
  /** Other windows, or the server itself, changed something. */
  heard(e: SceneEvent): void;
  /** How saving stands. */
  told(to: { save?: SaveState; trouble?: string; waiting: number; held: number }): void;
  asideChanged(): Promise<void>;
  recovered(r: Recovered): void;
  /** Everything was sent. */
  drained(): Promise<void>;
}

/** The result of sending one item. */
type Sent = 'taken' | 'merged' | 'refused';

export class Outgoing {
  /** Actions of this window that the server does not have yet, for all scenes it had open. */
  private queue: Waiting[] = [];
  private readonly hearers = new Set<Hearer>();
  /** Scenes made of what could not be kept, while nobody could be told. */
  private untold: Recovered[] = [];
  private running: Promise<void> | null = null;
  private leftovers: Promise<void> = Promise.resolve();
  private wait = RETRY_MS.first;
  private listening = false;

  /** Tells an open scene from here on. @returns what ends it */
  tells(hearer: Hearer): () => void {
    this.listen();
    this.hearers.add(hearer);
    for (const r of this.untold.splice(0)) hearer.recovered(r);
    return () => void this.hearers.delete(hearer);
  }

  /** Takes an action; the browser holds it from here on. */
  add(item: Waiting): void {
    this.queue.push(item);
    const kept = outbox.add(item);
    this.tell('saving');
    void kept.then(() => this.tell());
    this.running ??= this.work().finally(() => (this.running = null));
  }

  holds(scene: string): boolean {
    return this.queue.some((q) => q.scene === scene);
  }

  /** Resolves when nothing waits any more, or sending stopped. */
  async settled(): Promise<void> {
    while (this.running) await this.running;
  }

  /** Sends what closed windows left behind, of every scene or of one. */
  sendLeftovers(scene?: string): Promise<void> {
    const turn = this.leftovers.then(() => this.sendLeft(scene));
    this.leftovers = turn.catch(() => {});
    return turn;
  }

  private of(scene: string): Hearer | undefined {
    return [...this.hearers].find((h) => h.scene === scene);
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
    hearOfScenes((e) => {
      for (const h of this.hearers) h.heard(e);
    });
  }

  /** Sends the queue in turn until it is empty. */
  private async work(): Promise<void> {
    do {
      while (this.queue.length) await this.sendNext();
      this.tell('saved');
      for (const h of [...this.hearers]) await h.drained();
      await outbox.tidyMeshes();
    } while (this.queue.length);
  }

  private async sendNext(): Promise<void> {
    const { scene } = this.queue[0];
    try {
      const sent = await this.send(this.queue, this.of(scene)?.shown() ?? null);
      if (sent !== 'taken') this.of(scene)?.outdated();
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
      if (item.window === thisWindow) this.of(scene)?.taken(seq, merged ?? false);
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
        this.tellRecovered({ id, name });
      } else {
        const actions = left.map(({ scene: _, turn: __, ...a }) => a as SceneAction);
        this.tellRecovered(await postRecovery(scene, { window, base, actions }));
      }
    } catch (e) {
      if (!(e instanceof HttpError) || isPassing(e)) throw e;
      for (const item of left) await this.setAside(item, e.message);
    }
    await this.dealtWith(list, left);
  }

  private tellRecovered(r: Recovered): void {
    if (!this.hearers.size) this.untold.push(r);
    for (const h of this.hearers) h.recovered(r);
  }

  private async setAside(item: Waiting, reason: string): Promise<void> {
    const { scene, turn: _, ...action } = item;
    const label = item.kind === 'revision' ? item.label : 'Undo or redo';
    await outbox.setAside({ id: item.id, scene, label, reason, when: Date.now(), action });
    await this.of(scene)?.asideChanged();
  }

  private tell(save?: SaveState, trouble?: string): void {
    const waiting = this.queue.length;
    const held = this.queue.filter((q) => outbox.holds(q.id)).length;
    for (const h of this.hearers) h.told({ save, trouble, waiting, held });
  }
}

/** The server cannot be reached. */
export const isAway = (e: unknown): boolean => e instanceof HttpError && e.fault.status === 0;
/** The server is unreachable or in trouble; a later try may work. */
const isPassing = (e: HttpError): boolean => e.fault.status === 0 || e.fault.status >= 500;

const recoveryName = (name: string): string =>
  `${shortened(name, 90)} (recovered ${new Date().toISOString().slice(0, 16).replace('T', ' ')})`;

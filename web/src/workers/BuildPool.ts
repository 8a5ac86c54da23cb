/**
 * The worker pool. Every piece belongs to one worker, so its caches stay warm; a piece's newest request wins and
 * older ones waiting behind a running build are dropped.
 */
import * as Comlink from 'comlink';
import { namedOperands } from '@urnsmith/core/document/graph';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Fault } from '@urnsmith/core/mesh/errors';
import { faceLimit } from '../state/faceLimit';
import { patchOf } from './piecesPatch';
import type { Answer, BuildWorker, Question, Reply, Want } from './build.worker';

export interface Progress {
  piece: string;
  label: string;
  done: number;
  total: number;
}

interface Request {
  pieces: Piece[];
  upTo: number;
  want: Want;
}

interface Slot {
  api: Comlink.Remote<BuildWorker>;
  /** The list the worker was last given. */
  given: Piece[] | null;
  running: string | null;
  timer?: ReturnType<typeof setTimeout>;
  waiting: Map<string, Request>;
  request?: Request;
  /** How often in a row its place had a worker that failed. */
  failures: number;
  /** Its worker has failed and is not there. */
  broken?: boolean;
  /** Answers null when the worker is ended, so that no question waits for ever. */
  ended: Promise<null>;
  end: () => void;
}

/** A build that takes longer shows its progress. */
const PATIENCE_MS = 300;

const STOPPED: Fault = {
  code: 'stopped',
  message: 'Building this piece was stopped; what is shown is older than its numbers.',
  fix: 'Change a number, switch off the slow step, or build it again.',
};

const TRIED_AGAIN: Fault = {
  code: 'worker-failed',
  message: 'The geometry worker could not be loaded or broke down; it is being tried again.',
};
const BROKEN: Fault = {
  code: 'stopped',
  message: 'The geometry worker cannot be loaded.',
  fix: 'See that the server is running, then build the piece again or reload the page.',
};
const RETRIES = 4;

export class BuildPool {
  private readonly slots: Slot[];
  private readonly owner = new Map<string, number>();

  constructor(
    size: number,
    private readonly onAnswer: (piece: string, answer: Answer) => void,
    private readonly onProgress: (p: Progress | null) => void,
  ) {
    this.slots = Array.from({ length: size }, () => this.open());
  }

  request(pieces: Piece[], id: string, upTo: number, want: Want): void {
    const slot = this.slots[this.slotOf(pieces, id)];
    slot.waiting.set(id, { pieces, upTo, want });
    void this.work(slot);
  }

  /** Asks the worker that has the piece; answered after what it is at. */
  ask(pieces: Piece[], id: string, question: Question): Promise<Reply | null> {
    const slot = this.slots[this.slotOf(pieces, id)];
    const patch = patchOf(slot.given, pieces);
    slot.given = pieces;
    return Promise.race([slot.api.ask(patch, id, question), slot.ended]);
  }

  /** Nothing is running or waiting. */
  get idle(): boolean {
    return this.slots.every((s) => !s.running && !s.waiting.size);
  }

  /** Ends what is running and all that waits behind it, with a fault that says so. */
  cancel(): void {
    this.onProgress(null);
    for (const s of [...this.slots]) {
      const { running } = s;
      if (!running) continue;
      const waiting = [...s.waiting.keys()];
      this.replace(s);
      for (const id of new Set([running, ...waiting])) this.onAnswer(id, { fault: STOPPED });
    }
  }

  /** Puts a fresh worker in the place of one. */
  private replace(s: Slot): Slot {
    s.end();
    clearTimeout(s.timer);
    const fresh = this.open();
    this.slots[this.slots.indexOf(s)] = fresh;
    return fresh;
  }

  /**
   * A worker could not be loaded, or broke down. What it was at says so; it is tried again, a few times, later each
   * time, and whatever is asked for by then is built.
   */
  private failed(s: Slot): void {
    if (!this.slots.includes(s) || s.broken) return;
    this.onProgress(null);
    s.end();
    clearTimeout(s.timer);
    if (s.running && s.request && !s.waiting.has(s.running)) s.waiting.set(s.running, s.request);
    s.running = null;
    s.broken = true;
    s.failures++;
    const again = s.failures <= RETRIES;
    for (const id of s.waiting.keys()) this.onAnswer(id, { fault: again ? TRIED_AGAIN : BROKEN });
    // What is asked for meanwhile waits here too; after the last try, the next request is one more.
    if (again) setTimeout(() => this.mend(s), 700 * s.failures);
  }

  private mend(s: Slot): void {
    if (!this.slots.includes(s)) return;
    const fresh = this.replace(s);
    fresh.failures = s.failures;
    fresh.waiting = s.waiting;
    void this.work(fresh);
  }

  close(): void {
    for (const s of this.slots) s.end();
  }

  private open(): Slot {
    const raw = new Worker(new URL('./build.worker.ts', import.meta.url), { type: 'module' });
    let tell: (value: null) => void = () => {};
    const ended = new Promise<null>((resolve) => (tell = resolve));
    const end = (): void => {
      raw.terminate();
      tell(null);
    };
    const api = Comlink.wrap<BuildWorker>(raw);
    void api.setLimits({ faces: faceLimit() }).catch(() => {});
    const slot: Slot = { api, given: null, running: null, waiting: new Map(), failures: 0, ended, end };
    raw.onerror = () => this.failed(slot);
    return slot;
  }

  /** Pieces that cut one another share a worker, so a cutter is built once. */
  private slotOf(pieces: Piece[], id: string): number {
    const known = this.owner.get(id);
    if (known !== undefined) return known;
    const host = pieces.find((p) => namedOperands(p).includes(id));
    const load = this.slots.map((_, i) => [...this.owner.values()].filter((o) => o === i).length);
    const slot = host ? this.slotOf(pieces, host.id) : load.indexOf(Math.min(...load));
    this.owner.set(id, slot);
    return slot;
  }

  private async work(slot: Slot): Promise<void> {
    if (slot.broken && slot.failures > RETRIES) return this.mend(slot);
    if (slot.running || slot.broken) return;
    const next = slot.waiting.entries().next().value;
    if (!next) return;
    const [id, request] = next;
    const { pieces, upTo, want } = request;
    slot.waiting.delete(id);
    slot.running = id;
    slot.request = request;
    // Quick builds say nothing; one that takes longer tells what it is at, and can be stopped.
    let at: Progress = { piece: id, label: pieces.find((p) => p.id === id)?.name ?? id, done: 0, total: 1 };
    let slow = false;
    const timer = setTimeout(() => {
      slow = true;
      this.onProgress(at);
    }, PATIENCE_MS);
    const report = Comlink.proxy((done: number, total: number, label: string) => {
      at = { piece: id, label, done, total };
      // What an ended worker had still sent says nothing any more.
      if (slow && this.slots.includes(slot)) this.onProgress(at);
    });
    const patch = patchOf(slot.given, pieces);
    slot.given = pieces;
    slot.timer = timer;
    const answer = await slot.api.build(patch, id, upTo, want, report);
    clearTimeout(timer);
    if (!this.slots.includes(slot)) return;
    slot.running = null;
    slot.failures = 0;
    if (slow) this.onProgress(null);
    this.onAnswer(id, answer);
    void this.work(slot);
  }
}

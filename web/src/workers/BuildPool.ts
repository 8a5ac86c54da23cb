/**
 * The worker pool. Every piece belongs to one worker, so its caches stay warm; a piece's newest request wins and
 * older ones waiting behind a running build are dropped.
 */
import * as Comlink from 'comlink';
import { leansOn } from '@urnsmith/core/document/graph';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Fault } from '@urnsmith/core/mesh/errors';
import type { AsideOfPage } from './aside.worker';
import { faceLimit } from './faceLimit';
import { newStopFlag, STOPPED } from './stopping';
import { patchOf } from './piecesPatch';
import type { Answer, Builder, Job, Want } from './Builder';
import type { Question, Reply } from './questions';

export interface Progress {
  piece: string;
  label: string;
  done: number;
  total: number;
}

interface Request {
  upTo: number;
  want: Want;
}

interface Slot {
  api: Comlink.Remote<Builder>;
  /** The pieces as they are to be built, and as the worker was last given them. */
  pieces: Piece[];
  given: Piece[] | null;
  /** Requests the worker has not answered yet. */
  running: Map<string, Request>;
  /** Its progress, when it tells. */
  at: Progress | null;
  timer?: ReturnType<typeof setTimeout>;
  waiting: Map<string, Request>;
  /** How often in a row its place had a worker that failed. */
  failures: number;
  /** Set to end what is running; null where the worker has to be ended for that. */
  stop: Int32Array | null;
  /** Ends the worker when it does not stop in time. */
  stopping?: ReturnType<typeof setTimeout>;
  /** The worker was asked to stop work that yields to a hand. */
  yielding?: boolean;
  /** It makes ready for a drag, and stops for whatever is asked for. */
  preparing?: boolean;
  /** Its worker has failed and is not there. */
  broken?: boolean;
  /** Answers null when the worker is ended, so that no question waits for ever. */
  ended: Promise<null>;
  end: () => void;
}

/** Builds asked for in one message; the worker answers with those it gets done in a while. */
const AT_ONCE = 64;
/** A build that takes longer shows its progress. */
const PATIENCE_MS = 300;

/** A worker that is asked to stop and has not after this is ended, with what it kept. */
const GRACE_MS = 600;

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
  /** Pieces per slot. */
  private readonly load: number[];
  private readonly asideWorker = new Worker(new URL('./aside.worker.ts', import.meta.url), {
    type: 'module',
  });
  /** Works out and keeps what no hand waits for. */
  readonly aside = Comlink.wrap<AsideOfPage>(this.asideWorker);

  constructor(
    size: number,
    private readonly onAnswer: (piece: string, answer: Answer) => void,
    private readonly onProgress: (p: Progress | null) => void,
  ) {
    this.slots = Array.from({ length: size }, () => this.open());
    this.load = this.slots.map(() => 0);
  }

  request(pieces: Piece[], id: string, upTo: number, want: Want): void {
    const slot = this.slots[this.slotOf(pieces, id)];
    slot.pieces = pieces;
    slot.waiting.set(id, { upTo, want });
    if (slot.preparing && slot.stop) Atomics.store(slot.stop, 0, 1);
    if (want.draft) giveWay(slot);
    // After whatever else is asked for in the same breath.
    queueMicrotask(() => void this.work(slot));
  }

  /** Asks the worker that has the piece; answered after what it is at. */
  ask(pieces: Piece[], id: string, upTo: number | null, question: Question): Promise<Reply | null> {
    const slot = this.slots[this.slotOf(pieces, id)];
    const patch = patchOf(slot.given, pieces);
    slot.given = pieces;
    return Promise.race([slot.api.ask(patch, id, upTo, question), slot.ended]);
  }

  /** Has a worker that is at nothing make ready for pieces that a piece works with to be dragged. */
  async prepare(pieces: Piece[], id: string, moving: string[]): Promise<void> {
    const slot = this.slots[this.slotOf(pieces, id)];
    if (slot.running.size || slot.waiting.size || slot.broken || slot.preparing) return;
    const patch = patchOf(slot.given, pieces);
    slot.given = slot.pieces = pieces;
    slot.preparing = true;
    await Promise.race([slot.api.prepare(patch, id, moving), slot.ended]);
    slot.preparing = false;
    if (slot.stop) Atomics.store(slot.stop, 0, 0);
    void this.work(slot);
  }

  /** Nothing is running or waiting. */
  get idle(): boolean {
    return this.slots.every((s) => !s.running.size && !s.waiting.size);
  }

  /**
   * Ends what is running and all that waits behind it, with a fault that says so. A worker asked to stop keeps what it
   * has built so far; one that does not hear it is ended.
   */
  cancel(): void {
    this.onProgress(null);
    for (const s of [...this.slots]) {
      if (!s.running.size || s.stopping !== undefined) continue;
      const waiting = [...s.waiting.keys()];
      s.waiting.clear();
      for (const id of waiting) this.onAnswer(id, { fault: STOPPED });
      if (!s.stop) {
        this.end(s);
        continue;
      }
      Atomics.store(s.stop, 0, 1);
      s.stopping = setTimeout(() => this.end(s), GRACE_MS);
    }
  }

  /** Puts a fresh worker in the place of one that is at something, which was stopped. */
  private end(s: Slot): void {
    const running = [...s.running.keys()];
    const fresh = this.replace(s);
    fresh.waiting = s.waiting;
    fresh.pieces = s.pieces;
    for (const id of running) this.onAnswer(id, { fault: STOPPED });
    void this.work(fresh);
  }

  /** Puts a fresh worker in the place of one. */
  private replace(s: Slot): Slot {
    s.end();
    clearTimeout(s.timer);
    clearTimeout(s.stopping);
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
    putBack(s);
    s.broken = true;
    s.failures++;
    const again = s.failures <= RETRIES;
    for (const id of s.waiting.keys()) this.onAnswer(id, { fault: again ? TRIED_AGAIN : BROKEN });
    // Requests made meanwhile wait here too; after the last try, the next request is one more.
    if (again) setTimeout(() => this.mend(s), 700 * s.failures);
  }

  private mend(s: Slot): void {
    if (!this.slots.includes(s)) return;
    const fresh = this.replace(s);
    fresh.failures = s.failures;
    fresh.waiting = s.waiting;
    fresh.pieces = s.pieces;
    void this.work(fresh);
  }

  close(): void {
    for (const s of this.slots) s.end();
    this.aside[Comlink.releaseProxy]();
    this.asideWorker.terminate();
  }

  private open(): Slot {
    const progress = new MessageChannel();
    const raw = new Worker(new URL('./build.worker.ts', import.meta.url), { type: 'module' });
    let over: (value: null) => void = () => {};
    const ended = new Promise<null>((resolve) => (over = resolve));
    let done = false;
    const end = (): void => {
      if (done) return;
      done = true;
      // Else whatever holds the worker or the port would hold the pool.
      raw.onerror = null;
      progress.port1.close();
      api[Comlink.releaseProxy]();
      raw.terminate();
      over(null);
    };
    const api = Comlink.wrap<Builder>(raw);
    void api.setLimits({ faces: faceLimit() }).catch(() => {});
    const slot: Slot = {
      api,
      pieces: [],
      given: null,
      running: new Map(),
      at: null,
      waiting: new Map(),
      failures: 0,
      stop: newStopFlag(),
      ended,
      end,
    };
    const tell = (piece: string, done: number, total: number, label: string): void => {
      const slow = slot.at !== null;
      slot.at = { piece, label, done, total };
      // Messages from an ended worker are ignored.
      const heard = this.slots.includes(slot) && slot.stopping === undefined;
      if (slow && slot.timer === undefined && heard) this.onProgress(slot.at);
    };
    progress.port1.onmessage = ({ data }: MessageEvent<Parameters<typeof tell>>) => tell(...data);
    void api.tellProgress(Comlink.transfer(progress.port2, [progress.port2]), slot.stop).catch(() => {});
    this.connect(api);
    raw.onerror = () => this.failed(slot);
    return slot;
  }

  /** Gives a builder a line to the worker for what no hand waits for. */
  private connect(builder: Comlink.Remote<Builder>): void {
    const { port1, port2 } = new MessageChannel();
    void this.aside.connect(Comlink.transfer(port1, [port1]));
    void builder.connect(Comlink.transfer(port2, [port2])).catch(() => {});
  }

  /** Pieces that cut one another share a worker, so a cutter is built once. */
  private slotOf(pieces: Piece[], id: string): number {
    const known = this.owner.get(id);
    if (known !== undefined) return known;
    const host = hostsIn(pieces).get(id);
    const slot = host ? this.slotOf(pieces, host) : this.load.indexOf(Math.min(...this.load));
    this.owner.set(id, slot);
    this.load[slot]++;
    return slot;
  }

  private async work(slot: Slot): Promise<void> {
    if (slot.broken && slot.failures > RETRIES) return this.mend(slot);
    if (slot.running.size || slot.preparing || slot.broken || !this.slots.includes(slot)) return;
    const jobs: Job[] = [];
    // Drafts come first: a hand waits for them.
    const inTurn = [...slot.waiting].sort(([, a], [, b]) => Number(b.want.draft) - Number(a.want.draft));
    for (const [id, request] of inTurn) {
      if (jobs.length === AT_ONCE) break;
      slot.waiting.delete(id);
      slot.running.set(id, request);
      jobs.push({ id, ...request });
    }
    if (!jobs.length) return;
    // Quick builds say nothing; one that takes longer tells what it is at, and can be stopped.
    const first = jobs[0].id;
    const label = slot.pieces.find((p) => p.id === first)?.name ?? first;
    slot.at = { piece: first, label, done: 0, total: 1 };
    const timer = setTimeout(() => {
      slot.timer = undefined;
      if (slot.stopping === undefined) this.onProgress(slot.at);
    }, PATIENCE_MS);
    slot.timer = timer;
    const patch = patchOf(slot.given, slot.pieces);
    slot.given = slot.pieces;
    const answers = await slot.api.build(patch, jobs);
    const slow = slot.timer === undefined;
    clearTimeout(timer);
    if (!this.slots.includes(slot)) return;
    const stopped = (a: Answer): boolean => 'fault' in a && a.fault.code === STOPPED.code;
    // A build that gave way to a hand waits again. One that only completes a draft is asked for again when the hand rests.
    for (const [id, a] of answers)
      if (!slot.yielding || !stopped(a) || slot.running.get(id)?.want.yields) slot.running.delete(id);
    if (slot.stopping !== undefined) {
      clearTimeout(slot.stopping);
      slot.stopping = undefined;
      Atomics.store(slot.stop!, 0, 0);
      for (const id of slot.running.keys()) answers.push([id, { fault: STOPPED }]);
      slot.running.clear();
    }
    const stood = slot.yielding ? answers.filter(([, a]) => !stopped(a)) : answers;
    if (slot.yielding) Atomics.store(slot.stop!, 0, 0);
    slot.yielding = false;
    putBack(slot);
    slot.failures = 0;
    slot.at = null;
    if (slow) this.onProgress(null);
    for (const [id, answer] of stood) this.onAnswer(id, answer);
    void this.work(slot);
  }
}

/** Ends what no hand waits for, and whole builds of what the hand is at, unless a draft is among them. */
function giveWay(s: Slot): void {
  if (!s.stop || s.yielding || s.stopping !== undefined || !s.running.size) return;
  if ([...s.running.values()].some(({ want }) => want.draft)) return;
  s.yielding = true;
  Atomics.store(s.stop, 0, 1);
}

/** Unanswered requests wait again, unless newer ones do. */
function putBack(s: Slot): void {
  for (const [id, request] of s.running) if (!s.waiting.has(id)) s.waiting.set(id, request);
  s.running.clear();
}

/** Per piece that another one works with, that other piece; the first of them. */
function hostsIn(pieces: Piece[]): Map<string, string> {
  let hosts = hostsOf.get(pieces);
  if (!hosts) {
    hostsOf.set(pieces, (hosts = new Map<string, string>()));
    for (const p of pieces) for (const id of leansOn(p)) if (!hosts.has(id)) hosts.set(id, p.id);
  }
  return hosts;
}
const hostsOf = new WeakMap<Piece[], Map<string, string>>();

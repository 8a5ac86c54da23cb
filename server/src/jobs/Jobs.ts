/**
 * Geometry work of the server, in processes of its own: each job has a limit of time and memory, is ended when whoever
 * asked goes away, and small jobs do not wait behind large ones. Jobs and results pass through files in a folder that
 * is theirs alone.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { OperationError, type Fault } from '@urnsmith/core/mesh/errors';
import type { Answer, JobKind, Jobs as Work } from './work';

export interface JobLimits {
  /** Seconds a job may take. */
  seconds: number;
  /** Megabytes of memory a job may take. */
  megabytes: number;
  /** Processes at work at the same time. */
  processes: number;
}

export const JOB_LIMITS: JobLimits = { seconds: 60, megabytes: 1024, processes: 4 };

/** Input beyond which a job counts as large; large ones leave a process to the small. */
const LARGE_BYTES = 4 * 1024 * 1024;
const WATCH_MS = 250;

interface Waiting {
  message: { id: number; kind: JobKind; args: unknown };
  large: boolean;
  signal?: AbortSignal;
  resolve: (r: never) => void;
  reject: (e: Error) => void;
}
interface Slot {
  child: ChildProcess;
  job: Waiting | null;
  /** Why the process is being ended, as a refusal of its job. */
  ended?: OperationError;
  timers: NodeJS.Timeout[];
  /** The process has loaded its code; a job's time counts from here. */
  ready: Promise<void>;
}

export class Jobs {
  private readonly queue: Waiting[] = [];
  private readonly slots = new Set<Slot>();
  private next = 1;
  private stopped = false;

  constructor(private readonly limits: JobLimits = JOB_LIMITS) {}

  /**
   * @param bytes how much there is to work on
   * @throws OperationError of the job itself, or `job-time`, `job-memory`, `job-cancelled`, `job-died`
   */
  run<K extends JobKind>(
    kind: K,
    args: Parameters<Work[K]>[0],
    bytes: number,
    signal?: AbortSignal,
  ): Promise<Awaited<ReturnType<Work[K]>>> {
    return new Promise((resolve, reject) => {
      const job: Waiting = {
        message: { id: this.next++, kind, args },
        large: bytes > LARGE_BYTES,
        signal,
        resolve,
        reject,
      };
      if (signal?.aborted || this.stopped) return reject(cancelled());
      signal?.addEventListener('abort', () => this.cancel(job), { once: true });
      this.queue.push(job);
      this.dispatch();
    });
  }

  memory(): {
    running: number;
    waiting: number;
    processes: number;
    megabytesEach: number;
    secondsEach: number;
  } {
    return {
      running: [...this.slots].filter((s) => s.job).length,
      waiting: this.queue.length,
      processes: this.slots.size,
      megabytesEach: this.limits.megabytes,
      secondsEach: this.limits.seconds,
    };
  }

  async stop(): Promise<void> {
    this.stopped = true;
    for (const job of this.queue.splice(0)) job.reject(cancelled());
    await Promise.all(
      [...this.slots].map(
        (s) =>
          new Promise<void>((resolve) => {
            s.child.once('exit', () => resolve());
            this.end(s, cancelled());
          }),
      ),
    );
  }

  private cancel(job: Waiting): void {
    const at = this.queue.indexOf(job);
    if (at >= 0) {
      this.queue.splice(at, 1);
      job.reject(cancelled());
      return;
    }
    for (const slot of this.slots) if (slot.job === job) this.end(slot, cancelled());
  }

  /** Gives waiting jobs to processes that are free, starting more up to the limit. */
  private dispatch(): void {
    for (let i = 0; i < this.queue.length;) {
      const job = this.queue[i];
      const busy = [...this.slots].filter((s) => s.job);
      const large = busy.filter((s) => s.job!.large).length;
      const most = this.limits.processes;
      if (busy.length >= most) return;
      // The last process is kept for small jobs.
      if (job.large && most > 1 && large >= most - 1) {
        i++;
        continue;
      }
      this.queue.splice(i, 1);
      const free = [...this.slots].find((s) => !s.job && !s.ended) ?? this.start();
      this.give(free, job);
    }
    // One more is kept ready, so that the next small job need not wait for it to load.
    if (this.queue.length || this.slots.size >= this.limits.processes) return;
    if (this.slots.size && [...this.slots].every((s) => s.job || s.ended)) this.start();
  }

  private give(slot: Slot, job: Waiting): void {
    slot.job = job;
    slot.child.send(job.message, (e) => {
      if (e) slot.child.kill('SIGKILL');
    });
    void slot.ready.then(() => {
      if (slot.job === job) this.limit(slot);
    });
  }

  private limit(slot: Slot): void {
    const { seconds, megabytes } = this.limits;
    slot.timers = [
      setTimeout(
        () =>
          this.end(
            slot,
            new OperationError(
              'job-time',
              `This would take longer than ${seconds} s and was stopped.`,
              undefined,
              'Do it in smaller parts, or raise URNSMITH_JOB_SECONDS.',
            ),
          ),
        seconds * 1000,
      ),
      setInterval(() => void this.watch(slot, megabytes), WATCH_MS),
    ];
  }

  /** The system tells a process's memory where it has /proc; elsewhere the limit of the heap must do. */
  private async watch(slot: Slot, megabytes: number): Promise<void> {
    try {
      const pages = Number((await readFile(`/proc/${slot.child.pid}/statm`, 'utf8')).split(' ')[1]);
      if ((pages * 4096) / 1024 ** 2 > megabytes) this.end(slot, outOfMemory(megabytes));
    } catch {
      // Ended meanwhile, or no /proc.
    }
  }

  private end(slot: Slot, why: OperationError): void {
    slot.ended ??= why;
    slot.child.kill('SIGKILL');
  }

  private start(): Slot {
    const child = fork(fileURLToPath(new URL('./worker.mjs', import.meta.url)), {
      execArgv: [`--max-old-space-size=${this.limits.megabytes}`],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    let loaded = (): void => {};
    const ready = new Promise<void>((resolve) => (loaded = resolve));
    const slot: Slot = { child, job: null, timers: [], ready };
    this.slots.add(slot);
    const free = (): Waiting | null => {
      const { job } = slot;
      for (const t of slot.timers) clearTimeout(t);
      slot.timers = [];
      slot.job = null;
      return job;
    };
    child.on('message', (a: Answer | 'ready') => {
      if (a === 'ready') return loaded();
      const job = free();
      if ('result' in a) job?.resolve(a.result as never);
      else job?.reject(errorOf(a.fault));
      this.dispatch();
    });
    child.on('exit', (code) => {
      this.slots.delete(slot);
      const job = free();
      const { megabytes } = this.limits;
      // V8 aborts when its heap is full.
      const died = code === null || code === 134 ? outOfMemory(megabytes) : new OperationError('job-died', 'The work ended unexpectedly; try again.'); // prettier-ignore
      job?.reject(slot.ended ?? died);
      if (!this.stopped) this.dispatch();
    });
    child.on('error', () => child.kill('SIGKILL'));
    return slot;
  }
}

const cancelled = (): OperationError => new OperationError('job-cancelled', 'The work was stopped.');
const outOfMemory = (megabytes: number): OperationError =>
  new OperationError(
    'job-memory',
    `This needs more than ${megabytes} MB of memory and was stopped.`,
    undefined,
    'Do it in smaller parts, or raise URNSMITH_JOB_MB.',
  );
const errorOf = (f: Fault): OperationError =>
  new OperationError(f.code, f.message, f.elements, f.fix, f.piece);

/** Tells views that builds have changed. */
export class Telling {
  private readonly listeners = new Set<() => void>();
  private waiting: ReturnType<typeof setTimeout> | undefined;
  private last = 0;
  private took = 0;
  /** Counts up each time. */
  version = 0;

  readonly subscribe = (f: () => void): (() => void) => {
    this.listeners.add(f);
    return () => this.listeners.delete(f);
  };

  now(): void {
    clearTimeout(this.waiting);
    this.waiting = undefined;
    this.version++;
    const started = performance.now();
    for (const f of this.listeners) f();
    this.last = performance.now();
    this.took = this.last - started;
  }

  /** Answers that come close together are told together: at most half of the time goes into telling. */
  soon(): void {
    if (this.waiting !== undefined) return;
    const due = this.last + Math.min(200, Math.max(8, this.took)) - performance.now();
    if (due <= 0) this.now();
    else this.waiting = setTimeout(() => this.now(), due);
  }
}

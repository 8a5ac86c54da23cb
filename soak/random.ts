/** Seeded random numbers, the same everywhere (xorshift, Marsaglia 2003). */
export class Random {
  private state: number;

  constructor(seed: number) {
    this.state = (Math.imul(seed, 2654435761) ^ 0x9e3779b9) >>> 0 || 1;
  }

  /** From 0, below 1. */
  next(): number {
    let x = this.state;
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.state = x >>> 0;
    return this.state / 2 ** 32;
  }

  between(low: number, high: number): number {
    return low + (high - low) * this.next();
  }

  /** A whole number, both ends included. */
  int(low: number, high: number): number {
    return low + Math.floor(this.next() * (high - low + 1));
  }

  chance(share: number): boolean {
    return this.next() < share;
  }

  of<T>(list: ReadonlyArray<T>): T {
    return list[Math.floor(this.next() * list.length)];
  }
}

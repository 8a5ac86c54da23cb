/** Sets of old elements by code: 0 is none, code i + 1 is old element i alone, codes above stand for several. */
export class OldSets {
  private readonly sets: number[][] = [];
  private readonly codes = new Map<string, number>();

  /** @param count old elements */
  constructor(readonly count: number) {}

  of(code: number): ReadonlyArray<number> {
    if (!code) return [];
    return code <= this.count ? [code - 1] : this.sets[code - this.count - 1];
  }

  /** The code of all that some codes stand for. */
  union(codes: ReadonlyArray<number>): number {
    const first = codes[0] ?? 0;
    if (codes.every((c) => c === first)) return first;
    return this.codeOf([...new Set(codes.flatMap((c) => this.of(c)))]);
  }

  codeOf(old: number[]): number {
    if (!old.length) return 0;
    if (old.length === 1) return old[0] + 1;
    const sorted = old.sort((a, b) => a - b);
    const key = sorted.join();
    let code = this.codes.get(key);
    if (code === undefined) this.codes.set(key, (code = this.sets.push(sorted) + this.count));
    return code;
  }
}

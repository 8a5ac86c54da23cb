/** The values used last, newest first; those that were not used for longest are dropped. */
export class Recent<T> {
  private values: T[] = [];

  /**
   * @param most how many are kept
   * @param bytes memory of a value @param mostBytes of all together; the newest is kept whatever it takes
   */
  constructor(
    private readonly most: number,
    private readonly bytes: (value: T) => number = () => 0,
    private readonly mostBytes = Infinity,
  ) {}

  /** The value that is asked for, which counts as used now. */
  find(is: (value: T) => boolean): T | undefined {
    const at = this.values.findIndex(is);
    if (at < 0) return undefined;
    const value = this.values[at];
    if (at > 0) this.values.unshift(...this.values.splice(at, 1));
    return value;
  }

  add(value: T): T {
    this.values.unshift(value);
    this.values.length = Math.min(this.values.length, this.most);
    let sum = 0;
    const fits = this.values.findIndex((v, i) => (sum += this.bytes(v)) > this.mostBytes && i > 0);
    if (fits > 0) this.values.length = fits;
    return value;
  }

  all(): readonly T[] {
    return this.values;
  }

  drop(value: T): void {
    this.values = this.values.filter((v) => v !== value);
  }
}

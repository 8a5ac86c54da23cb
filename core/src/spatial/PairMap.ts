/**
 * Whole numbers by ordered pairs of whole numbers, none below 0, in flat arrays: open addressing with linear probing
 * (Knuth 1998, The Art of Computer Programming 3, section 6.4, algorithm L). A `Map` would need one number of a pair,
 * too large for a small integer, and keep each as an object.
 */
export class PairMap {
  private keys: Int32Array;
  private values: Int32Array;
  /** Pairs that have a place, those taken out again too. */
  private taken = 0;
  private shift: number;

  /** @param expected how many pairs there will be, about */
  constructor(expected = 8) {
    const bits = Math.max(4, 32 - Math.clz32(2 * expected));
    this.shift = 32 - bits;
    this.keys = new Int32Array(2 << bits).fill(-1);
    this.values = new Int32Array(1 << bits);
  }

  /** −1 when there is none. */
  get(a: number, b: number): number {
    const i = this.place(a, b);
    return this.keys[2 * i] < 0 ? -1 : this.values[i];
  }

  has(a: number, b: number): boolean {
    return this.get(a, b) >= 0;
  }

  set(a: number, b: number, value: number): void {
    const i = this.place(a, b);
    this.values[i] = value;
    if (this.keys[2 * i] >= 0) return;
    this.keys[2 * i] = a;
    this.keys[2 * i + 1] = b;
    if (2 * ++this.taken > this.values.length) this.grow();
  }

  /** @returns the value there was, or −1 */
  delete(a: number, b: number): number {
    const i = this.place(a, b);
    if (this.keys[2 * i] < 0) return -1;
    const was = this.values[i];
    this.values[i] = -1;
    return was;
  }

  /** In no order that means anything. */
  each(call: (a: number, b: number, value: number) => void): void {
    const { keys, values } = this;
    for (let i = 0; i < values.length; i++)
      if (keys[2 * i] >= 0 && values[i] >= 0) call(keys[2 * i], keys[2 * i + 1], values[i]);
  }

  private place(a: number, b: number): number {
    const { keys } = this;
    const mask = this.values.length - 1;
    let i = hash(a, b) >>> this.shift;
    while (keys[2 * i] >= 0 && (keys[2 * i] !== a || keys[2 * i + 1] !== b)) i = (i + 1) & mask;
    return i;
  }

  private grow(): void {
    const larger = new PairMap(this.values.length);
    this.each((a, b, value) => larger.set(a, b, value));
    this.keys = larger.keys;
    this.values = larger.values;
    this.taken = larger.taken;
    this.shift = larger.shift;
  }
}

/** Mixed so that its upper bits tell pairs of near numbers apart. */
function hash(a: number, b: number): number {
  let h = Math.imul(a, 0x9e3779b1) + Math.imul(b, 0x85ebca77);
  h ^= h >>> 15;
  return Math.imul(h, 0x2c1b3c6d);
}

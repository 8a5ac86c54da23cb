/** Open-addressing hash from exact positions to the lowest vertex there. */
export class PositionIndex {
  /** Lowest vertex at the same position, or null when no two vertices coincide. */
  readonly canonical: Int32Array | null;
  private readonly table: Int32Array;
  private readonly shift: number;
  private readonly key = new Float64Array(3);
  private readonly bits = new Uint32Array(this.key.buffer);

  /** @param p 3 numbers per vertex; −0 and 0 are the same place */
  constructor(private readonly p: Float32Array | Float64Array) {
    const V = p.length / 3;
    let log = 4;
    while (1 << log < V * 2) log++;
    this.shift = 32 - log;
    this.table = new Int32Array(1 << log).fill(-1);
    let canonical: Int32Array | null = null;
    for (let v = 0; v < V; v++) {
      const slot = this.slot(p[3 * v], p[3 * v + 1], p[3 * v + 2]);
      const first = this.table[slot];
      if (first < 0) this.table[slot] = v;
      else {
        canonical ??= Int32Array.from({ length: V }, (_, i) => i);
        canonical[v] = first;
      }
    }
    this.canonical = canonical;
  }

  /** The lowest vertex at a position, or −1. */
  find(x: number, y: number, z: number): number {
    return this.table[this.slot(x, y, z)];
  }

  private slot(x: number, y: number, z: number): number {
    // + 0 turns −0 into 0, which compares equal but has other bits.
    this.key[0] = x + 0;
    this.key[1] = y + 0;
    this.key[2] = z + 0;
    const { bits, table, p } = this;
    const h =
      Math.imul(bits[0] ^ Math.imul(bits[1], 0x27d4eb2f), 0x9e3779b1) ^
      Math.imul(bits[2] ^ Math.imul(bits[3], 0x165667b1), 0x85ebca77) ^
      Math.imul(bits[4] ^ Math.imul(bits[5], 0x9e3779b1), 0xc2b2ae3d);
    let slot = Math.imul(h ^ (h >>> 15), 0x27d4eb2f) >>> this.shift;
    const mask = table.length - 1;
    for (;;) {
      const v = table[slot];
      if (v < 0 || (p[3 * v] === x && p[3 * v + 1] === y && p[3 * v + 2] === z)) return slot;
      slot = (slot + 1) & mask;
    }
  }
}

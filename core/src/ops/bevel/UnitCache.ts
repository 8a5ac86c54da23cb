/** Keeps what units of a rounding came to, by all that it depends on. */
import type { KeptShape } from './keptShape';
import { bytesOfMade } from './madeFaces';

interface Item {
  key: Float64Array;
  kept: KeptShape;
  /** The run that used it last. */
  run: number;
}

/** Runs, the last one included, an item is kept for. */
const RUNS = 2;

export class UnitCache {
  private readonly items = new Map<number, Item[]>();
  private run = 0;
  /** Units of the last rounding that were known, and those that were not. */
  last = { known: 0, grown: 0 };
  private now = { known: 0, grown: 0 };

  /** The entry for a key; the key is compared whole. */
  get(key: Float64Array): KeptShape | null {
    const item = this.items.get(hashOf(key))?.find((i) => same(i.key, key));
    if (!item) return null;
    item.run = this.run;
    this.now.known++;
    return item.kept;
  }

  put(key: Float64Array, kept: KeptShape): void {
    const hash = hashOf(key);
    const item = { key, kept, run: this.run };
    this.now.grown++;
    const list = this.items.get(hash);
    if (list) list.push(item);
    else this.items.set(hash, [item]);
  }

  /** A rounding is done: what it and the one before did not use goes. */
  endRun(): void {
    this.run++;
    this.last = this.now;
    this.now = { known: 0, grown: 0 };
    for (const [hash, list] of this.items) {
      const used = list.filter((i) => i.run + RUNS >= this.run);
      if (used.length) this.items.set(hash, used);
      else this.items.delete(hash);
    }
  }

  /** About what it holds, bytes. */
  get bytes(): number {
    let sum = 0;
    for (const list of this.items.values())
      for (const { key, kept } of list)
        sum += key.byteLength + 2 * kept.positions.byteLength + bytesOfMade(kept.made) + BYTES_PER_UNIT;
    return sum;
  }
}

/** About what the rest of a unit takes: what it changes, its edges that stay, what is told of it. */
const BYTES_PER_UNIT = 4000;

/** FNV-1a over 32-bit words. */
function hashOf(key: Float64Array): number {
  const words = new Uint32Array(key.buffer, key.byteOffset, 2 * key.length);
  let h = 0x811c9dc5;
  for (let i = 0; i < words.length; i++) h = Math.imul(h ^ words[i], 0x01000193);
  return h >>> 0;
}

function same(a: Float64Array, b: Float64Array): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i])) return false;
  return true;
}

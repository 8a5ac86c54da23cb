/**
 * The order of a list as a key per item (fractional indexing, as in collaborative editors): putting one item elsewhere
 * changes only its own key, so two who sort at the same time disturb each other as little as can be.
 */
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';

/** Keys grow with every item put between the same two; beyond this length all get fresh ones. */
const LONGEST = 100;

export function isOrderKey(key: unknown): boolean {
  if (typeof key !== 'string' || key.length > 4 * LONGEST) return false;
  try {
    generateKeyBetween(key, null);
    return true;
  } catch {
    return false;
  }
}

/** A key per id, ascending in the order of `ids`; as many as can be are the ones of `old`. */
export function orderKeysFor(
  ids: ReadonlyArray<string>,
  old: Readonly<Record<string, string>>,
): Readonly<Record<string, string>> {
  if (isInOrder(ids, old)) return old;
  const keys = ids.map((id) => (Object.hasOwn(old, id) ? old[id] : null));
  const kept = ascending(keys);
  const out: Record<string, string> = {};
  let before: string | null = null;
  for (let i = 0; i < ids.length;) {
    if (kept.has(i)) {
      out[ids[i]] = before = keys[i]!;
      i++;
      continue;
    }
    let end = i;
    while (end < ids.length && !kept.has(end)) end++;
    const fresh = generateNKeysBetween(before, end < ids.length ? keys[end] : null, end - i);
    if (fresh.some((k) => k.length > LONGEST)) return orderKeysFor(ids, {});
    for (; i < end; i++) out[ids[i]] = fresh[i - (end - fresh.length)];
    before = fresh.at(-1)!;
  }
  return out;
}

/** The keys there are put these ids in this order, and there are no others: as when nothing was sorted, added or taken. */
function isInOrder(ids: ReadonlyArray<string>, old: Readonly<Record<string, string>>): boolean {
  for (let i = 0; i < ids.length; i++) {
    if (!Object.hasOwn(old, ids[i])) return false;
    if (i > 0 && old[ids[i - 1]] >= old[ids[i]]) return false;
  }
  return Object.keys(old).length === ids.length;
}

/** Places of a longest strictly ascending run of keys (Schensted 1961). */
function ascending(keys: ReadonlyArray<string | null>): Set<number> {
  const tails: number[] = [];
  const previous = new Int32Array(keys.length).fill(-1);
  keys.forEach((key, i) => {
    if (key === null) return;
    let [low, high] = [0, tails.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (keys[tails[middle]]! < key) low = middle + 1;
      else high = middle;
    }
    if (low > 0) previous[i] = tails[low - 1];
    tails[low] = i;
  });
  const out = new Set<number>();
  for (let at = tails.at(-1) ?? -1; at >= 0; at = previous[at]) out.add(at);
  return out;
}

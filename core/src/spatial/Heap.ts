/** A binary heap: the item of the smallest key first (Williams 1964). */
export class Heap<T> {
  private readonly items: T[] = [];

  constructor(private readonly key: (item: T) => number) {}

  push(item: T): void {
    const { items, key } = this;
    const k = key(item);
    let i = items.push(item) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (key(items[up]) <= k) break;
      items[i] = items[up];
      i = up;
    }
    items[i] = item;
  }

  /** Takes the first item out; undefined when there is none. */
  pop(): T | undefined {
    const { items, key } = this;
    const top = items[0];
    const last = items.pop();
    if (last === undefined || !items.length) return last;
    const k = key(last);
    let i = 0;
    for (;;) {
      let next = 2 * i + 1;
      if (next >= items.length) break;
      if (next + 1 < items.length && key(items[next + 1]) < key(items[next])) next++;
      if (key(items[next]) >= k) break;
      items[i] = items[next];
      i = next;
    }
    items[i] = last;
    return top;
  }
}

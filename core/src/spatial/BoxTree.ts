/**
 * A tree of boxes over numbered items, for finding those near a place, along a line or in a box. Halves are split at
 * the middle of the longest side of the items' centres (Wald 2007, section 2, without the cost model: queries here
 * are few against one build). All of it lies in four typed arrays; node k's first child is node k + 1.
 */

/** Items in a leaf. */
const LEAF = 4;

export class BoxTree {
  /** 6 numbers per node: least x, y, z, greatest x, y, z. */
  readonly bounds: Float64Array;
  /** Per node: where its items begin in `order`. */
  readonly first: Uint32Array;
  /** Per node: how many items a leaf has, or −(second child) of an inner node. */
  readonly size: Int32Array;
  /** Item numbers, leaf by leaf. */
  readonly order: Uint32Array;
  /** Per node: the next one when what is below it is left out. */
  readonly after: Uint32Array;

  /**
   * Time n log n.
   * @param boxes 6 numbers per item, as in `bounds`
   */
  constructor(private readonly boxes: Float64Array) {
    const n = boxes.length / 6;
    const most = Math.max(1, 2 * n - 1);
    this.order = new Uint32Array(n);
    for (let i = 0; i < n; i++) this.order[i] = i;
    const bounds = new Float64Array(6 * most);
    const first = new Uint32Array(most);
    const size = new Int32Array(most);
    let nodes = 0;
    /** Ranges still to become nodes, and the node whose second child each is. */
    const todo: number[] = n ? [0, n, -1] : [];
    while (todo.length) {
      const parent = todo.pop()!;
      const to = todo.pop()!;
      const from = todo.pop()!;
      const node = nodes++;
      if (parent >= 0) size[parent] = -node;
      first[node] = from;
      size[node] = to - from;
      const m = this.enclose(bounds, node, from, to);
      // The first half is taken next, so it becomes node + 1.
      if (to - from > LEAF) todo.push(m, to, node, from, m, -1);
    }
    this.bounds = bounds.slice(0, 6 * nodes);
    this.first = first.slice(0, nodes);
    this.size = size.slice(0, nodes);
    this.after = new Uint32Array(nodes).fill(nodes);
    for (let k = 0; k < nodes; k++) {
      if (size[k] >= 0) continue;
      this.after[k + 1] = -size[k];
      this.after[-size[k]] = this.after[k];
    }
  }

  /** Whether there is anything in it. */
  get empty(): boolean {
    return this.order.length === 0;
  }

  /** Whether any item's box meets the given one. */
  someIn(lo: ArrayLike<number>, hi: ArrayLike<number>): boolean {
    return this.eachIn(lo, hi, () => true);
  }

  /**
   * Calls back with every item whose box meets the given one, until it is told to stop by a true.
   * @returns whether it was stopped
   */
  eachIn(lo: ArrayLike<number>, hi: ArrayLike<number>, call: (item: number) => boolean | void): boolean {
    const { bounds, size, first, order, after, boxes } = this;
    const [x0, y0, z0, x1, y1, z1] = [lo[0], lo[1], lo[2], hi[0], hi[1], hi[2]];
    for (let node = 0; node < size.length;) {
      if (!meet(bounds, 6 * node, x0, y0, z0, x1, y1, z1)) {
        node = after[node];
        continue;
      }
      const end = first[node] + size[node];
      for (let i = first[node]; i < end; i++)
        if (meet(boxes, 6 * order[i], x0, y0, z0, x1, y1, z1) && call(order[i])) return true;
      node++;
    }
    return false;
  }

  /** Square of the distance from a place to a node's box. */
  farFrom(node: number, p: ArrayLike<number>): number {
    const b = 6 * node;
    let d = 0;
    for (let k = 0; k < 3; k++) {
      const x = Math.max(this.bounds[b + k] - p[k], 0, p[k] - this.bounds[b + 3 + k]);
      d += x * x;
    }
    return d;
  }

  /** Takes the bounds of a range and splits it in two. @returns where the second half begins */
  private enclose(bounds: Float64Array, node: number, from: number, to: number): number {
    const { order, boxes } = this;
    let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    // Sums of both ends: twice the middles.
    let [u0, v0, w0, u1, v1, w1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    for (let i = from; i < to; i++) {
      const o = 6 * order[i];
      const [a, b, c, d, e, f] = [
        boxes[o],
        boxes[o + 1],
        boxes[o + 2],
        boxes[o + 3],
        boxes[o + 4],
        boxes[o + 5],
      ];
      if (a < x0) x0 = a;
      if (b < y0) y0 = b;
      if (c < z0) z0 = c;
      if (d > x1) x1 = d;
      if (e > y1) y1 = e;
      if (f > z1) z1 = f;
      const [u, v, w] = [a + d, b + e, c + f];
      if (u < u0) u0 = u;
      if (u > u1) u1 = u;
      if (v < v0) v0 = v;
      if (v > v1) v1 = v;
      if (w < w0) w0 = w;
      if (w > w1) w1 = w;
    }
    bounds.set([x0, y0, z0, x1, y1, z1], 6 * node);
    const wide = [u1 - u0, v1 - v0, w1 - w0];
    const axis = wide[0] >= wide[1] && wide[0] >= wide[2] ? 0 : wide[1] >= wide[2] ? 1 : 2;
    const half = [u0 + u1, v0 + v1, w0 + w1][axis] / 2;
    let m = from;
    for (let i = from; i < to; i++) {
      const item = order[i];
      if (boxes[6 * item + axis] + boxes[6 * item + axis + 3] >= half) continue;
      order[i] = order[m];
      order[m++] = item;
    }
    // Items with one middle between them are halved by number.
    return m === from || m === to ? (from + to) >> 1 : m;
  }
}

/** Whether a box of a list meets another. */
function meet(
  list: Float64Array,
  b: number,
  x0: number,
  y0: number,
  z0: number,
  x1: number,
  y1: number,
  z1: number,
): boolean {
  return (
    list[b] <= x1 &&
    list[b + 1] <= y1 &&
    list[b + 2] <= z1 &&
    list[b + 3] >= x0 &&
    list[b + 4] >= y0 &&
    list[b + 5] >= z0
  );
}

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

  /**
   * Time n log n.
   * @param boxes 6 numbers per item, as in `bounds`
   */
  constructor(boxes: Float64Array) {
    const n = boxes.length / 6;
    const most = Math.max(1, 2 * n - 1);
    this.order = Uint32Array.from({ length: n }, (_, i) => i);
    const bounds = new Float64Array(6 * most);
    const first = new Uint32Array(most);
    const size = new Int32Array(most);
    let nodes = 0;
    /** Ranges still to become nodes, and the node whose second child each is. */
    const todo: Array<[from: number, to: number, parent: number]> = n ? [[0, n, -1]] : [];
    for (let job = todo.pop(); job; job = todo.pop()) {
      const [from, to, parent] = job;
      const node = nodes++;
      if (parent >= 0) size[parent] = -node;
      first[node] = from;
      size[node] = to - from;
      const m = this.enclose(boxes, bounds, node, from, to);
      // The first half is taken next, so it becomes node + 1.
      if (to - from > LEAF) todo.push([m, to, node], [from, m, -1]);
    }
    this.bounds = bounds.slice(0, 6 * nodes);
    this.first = first.slice(0, nodes);
    this.size = size.slice(0, nodes);
  }

  /** Whether there is anything in it. */
  get empty(): boolean {
    return this.order.length === 0;
  }

  /** Calls back with every item whose box may meet the given one. */
  eachIn(lo: ArrayLike<number>, hi: ArrayLike<number>, call: (item: number) => void): void {
    if (this.empty) return;
    const { bounds, size, first, order } = this;
    const stack = [0];
    while (stack.length) {
      const node = stack.pop()!;
      const b = 6 * node;
      if (
        bounds[b] > hi[0] ||
        bounds[b + 1] > hi[1] ||
        bounds[b + 2] > hi[2] ||
        bounds[b + 3] < lo[0] ||
        bounds[b + 4] < lo[1] ||
        bounds[b + 5] < lo[2]
      )
        continue;
      if (size[node] > 0) for (let i = first[node]; i < first[node] + size[node]; i++) call(order[i]);
      else stack.push(-size[node], node + 1);
    }
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
  private enclose(boxes: Float64Array, bounds: Float64Array, node: number, from: number, to: number): number {
    const { order } = this;
    const b = 6 * node;
    bounds.fill(Infinity, b, b + 3).fill(-Infinity, b + 3, b + 6);
    let [axis, widest, half] = [0, -1, 0];
    for (let k = 0; k < 3; k++) {
      let [least, most] = [Infinity, -Infinity];
      for (let i = from; i < to; i++) {
        const o = 6 * order[i] + k;
        if (boxes[o] < bounds[b + k]) bounds[b + k] = boxes[o];
        if (boxes[o + 3] > bounds[b + 3 + k]) bounds[b + 3 + k] = boxes[o + 3];
        const middle = boxes[o] + boxes[o + 3];
        if (middle < least) least = middle;
        if (middle > most) most = middle;
      }
      if (most - least > widest) [axis, widest, half] = [k, most - least, (least + most) / 2];
    }
    let m = from;
    for (let i = from; i < to; i++) {
      const o = 6 * order[i] + axis;
      if (boxes[o] + boxes[o + 3] >= half) continue;
      [order[i], order[m]] = [order[m], order[i]];
      m++;
    }
    // Items with one middle between them are halved by number.
    return m === from || m === to ? (from + to) >> 1 : m;
  }
}

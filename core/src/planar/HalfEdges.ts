/** A triangulation as half-edges: 3·triangle + side, until edges are flipped. */
export class HalfEdges {
  /** Origin point, next half-edge, twin (−1 on the rim) per half-edge. */
  readonly from: Int32Array;
  readonly next: Int32Array;
  readonly twin: Int32Array;

  constructor(triangles: ArrayLike<number>) {
    const n = triangles.length;
    this.from = Int32Array.from(triangles as ArrayLike<number>);
    this.next = new Int32Array(n);
    this.twin = new Int32Array(n).fill(-1);
    for (let i = 0; i < n; i++) this.next[i] = i % 3 === 2 ? i - 2 : i + 1;
    // Half-edges in order of the points they start from.
    let top = 0;
    for (let i = 0; i < n; i++) top = Math.max(top, this.from[i] + 1);
    const start = new Int32Array(top + 1);
    for (let i = 0; i < n; i++) start[this.from[i] + 1]++;
    for (let p = 0; p < top; p++) start[p + 1] += start[p];
    const order = new Int32Array(n);
    const at = start.slice();
    for (let i = 0; i < n; i++) {
      const a = this.from[i];
      const b = this.to(i);
      // Half-edges of the other end that are already inserted.
      for (let k = start[b]; k < at[b] && this.twin[i] < 0; k++) {
        const j = order[k];
        if (this.twin[j] < 0 && this.to(j) === a) [this.twin[i], this.twin[j]] = [j, i];
      }
      order[at[a]++] = i;
    }
  }

  to(i: number): number {
    return this.from[this.next[i]];
  }
}

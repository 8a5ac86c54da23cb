/**
 * Takes inner edges out of a triangulation, longest first, wherever both sides still join into one simple polygon, and
 * exchanges what is left as long as one edge can stand in for two.
 */
import { onGrid } from './grid';
import type { HalfEdges } from './HalfEdges';

/** @param widest corners a polygon may have @returns loops of point indices */
export function dissolveInner(xy: ArrayLike<number>, h: HalfEdges, widest: number): number[][] {
  const faces = new Dissolver(h, widest);
  const inner: Array<{ i: number; long: number }> = [];
  const grid = onGrid(xy, h);
  const key = (i: number): number => Math.min(h.from[i], h.to(i)) * 0x4000000 + Math.max(h.from[i], h.to(i));
  for (let i = 0; i < h.from.length; i++) {
    if (h.twin[i] <= i) continue;
    const [a, b] = [2 * h.from[i], 2 * h.to(i)];
    inner.push({ i, long: Math.round(Math.hypot(grid[a] - grid[b], grid[a + 1] - grid[b + 1])) });
  }
  inner.sort((p, q) => q.long - p.long || key(p.i) - key(q.i));
  for (const { i } of inner) faces.tryRemove(i);
  // Speed matters more here than the smallest number of edges.
  if (widest === Infinity) faces.improve(inner.map((e) => e.i));
  return faces.loops();
}

/** Work the exchanges may cost at most, in half-edges walked per half-edge of the triangulation. */
const EXCHANGES = 1000;
/** The same altogether: beyond a dozen holes one or two faces more are no loss. */
const MOST_EXCHANGES = 400_000;

/** Faces of a triangulation that grow together as inner edges are taken out, and can be divided again. */
class Dissolver {
  private readonly next: Int32Array;
  private readonly prev: Int32Array;
  private readonly gone: Uint8Array;
  private readonly stamp: Int32Array;
  private stamps = 0;
  private walked = 0;

  constructor(
    private readonly h: HalfEdges,
    private readonly widest: number,
  ) {
    const n = h.from.length;
    this.next = h.next.slice();
    this.prev = new Int32Array(n);
    for (let i = 0; i < n; i++) this.prev[this.next[i]] = i;
    this.gone = new Uint8Array(n);
    let top = 0;
    for (let i = 0; i < n; i++) top = Math.max(top, h.from[i] + 1);
    this.stamp = new Int32Array(top);
  }

  /** Takes an edge out if both its sides then join into one simple polygon. */
  tryRemove(i: number): boolean {
    const j = this.h.twin[i];
    if (this.gone[i] || !this.joinsSimply(i, j)) return false;
    this.remove(i);
    return true;
  }

  private remove(i: number): void {
    const j = this.h.twin[i];
    const { next, prev } = this;
    next[prev[i]] = next[j];
    prev[next[j]] = prev[i];
    next[prev[j]] = next[i];
    prev[next[i]] = prev[j];
    this.gone[i] = this.gone[j] = 1;
  }

  /**
   * Exchanges: where putting one short edge back lets two or more others go, fewer are left. Taking edges out
   * one by one ends in a set from which none can go, not always in the smallest.
   */
  improve(longestFirst: number[]): void {
    const rank = new Int32Array(this.next.length);
    longestFirst.forEach((i, k) => (rank[i] = k));
    const budget = this.walked + Math.min(MOST_EXCHANGES, EXCHANGES * this.next.length);
    for (let again = true; again && this.walked < budget;) {
      again = false;
      if (longestFirst.filter((i) => !this.gone[i]).length < 3) return;
      const standing = new Standing(this.h, this.next, this.gone);
      for (let k = longestFirst.length - 1; k >= 0 && this.walked < budget; k--) {
        const e = longestFirst[k];
        if (!this.gone[e] || !standing.couldSpareTwo(this.intoStart(e), this.intoStart(this.h.twin[e])))
          continue;
        this.putBack(e);
        // The others lie between faces that are as they were, which could not join then either.
        const out = this.inner(e)
          .sort((i, j) => rank[i] - rank[j])
          .filter((i) => i !== e && this.tryRemove(i));
        if (out.length >= 2) {
          again = true;
          break;
        }
        for (const i of out.reverse()) this.putBack(i);
        this.remove(e);
      }
    }
  }

  /** Edges between a face on either side of an edge and another. */
  private inner(e: number): number[] {
    const { twin } = this.h;
    const out = new Set<number>();
    for (const side of [e, twin[e]])
      for (let k = this.next[side]; k !== side; k = this.next[k]) {
        this.walked++;
        if (twin[k] >= 0) out.add(Math.min(k, twin[k]));
      }
    return [...out];
  }

  loops(): number[][] {
    const out: number[][] = [];
    const seen = this.gone.slice();
    for (let i = 0; i < seen.length; i++) {
      if (seen[i]) continue;
      const loop: number[] = [];
      for (let k = i; !seen[k]; k = this.next[k]) {
        loop.push(this.h.from[k]);
        seen[k] = 1;
      }
      out.push(loop);
    }
    return out;
  }

  /** Divides a face again by an edge of the triangulation that was taken out. */
  private putBack(i: number): void {
    const j = this.h.twin[i];
    const p = this.intoStart(i);
    const q = this.intoStart(j);
    const { next, prev } = this;
    const [afterP, afterQ] = [next[p], next[q]];
    next[p] = i;
    prev[i] = p;
    next[i] = afterQ;
    prev[afterQ] = i;
    next[q] = j;
    prev[j] = q;
    next[j] = afterP;
    prev[afterP] = j;
    this.gone[i] = this.gone[j] = 0;
  }

  /** The half-edge still there that comes just before `i` around the point it starts from. */
  private intoStart(i: number): number {
    const { h } = this;
    let p = h.next[h.next[i]];
    while (this.gone[p]) p = h.next[h.next[h.twin[p]]];
    return p;
  }

  /** Two faces may join over an edge if its ends are the only points they share, and they do not grow too wide. */
  private joinsSimply(i: number, j: number): boolean {
    const { from } = this.h;
    const mark = ++this.stamps;
    let corners = 0;
    for (let k = this.next[i]; k !== i; k = this.next[k]) {
      if (k === j) return false;
      this.stamp[from[k]] = mark;
      this.walked++;
      if (++corners > this.widest) return false;
    }
    const a = from[i];
    const b = from[j];
    for (let k = this.next[j]; k !== j; k = this.next[k]) {
      const v = from[k];
      this.walked++;
      if (++corners > this.widest) return false;
      if (v !== a && v !== b && this.stamp[v] === mark) return false;
    }
    return true;
  }
}

/** Faces as they stand between two exchanges: which edge could be put back so that others can go. */
class Standing {
  /** Face of each half-edge, and its place along the face's outline. */
  private readonly face: Int32Array;
  private readonly place: Int32Array;
  /** Per face: the places its edges to other faces start at, and where it has points of each of those faces. */
  private readonly edges: number[][] = [];
  private readonly shared: Array<Map<number, number[]>> = [];

  constructor(
    private readonly h: HalfEdges,
    private readonly next: Int32Array,
    gone: Uint8Array,
  ) {
    const n = next.length;
    this.face = new Int32Array(n).fill(-1);
    this.place = new Int32Array(n);
    const { twin, from } = h;
    const ends = new Set<number>();
    for (let k = 0; k < n; k++) if (!gone[k] && twin[k] >= 0) ends.add(from[k]);
    const at = new Map<number, Array<[face: number, place: number]>>();
    const inner: number[] = [];
    for (let i = 0; i < n; i++) {
      if (gone[i] || this.face[i] >= 0) continue;
      const f = this.edges.push([]) - 1;
      let place = 0;
      this.shared.push(new Map());
      for (let k = i; this.face[k] < 0; k = next[k]) {
        this.face[k] = f;
        this.place[k] = place++;
        if (twin[k] >= 0) inner.push(k);
        if (!ends.has(from[k])) continue;
        const list = at.get(from[k]);
        if (list) list.push([f, this.place[k]]);
        else at.set(from[k], [[f, this.place[k]]]);
      }
    }
    for (const k of inner) this.edges[this.face[k]].push(k);
    for (const list of at.values())
      for (const [f, place] of list)
        for (const [g] of list) {
          if (f === g) continue;
          const places = this.shared[f].get(g);
          if (places) places.push(place);
          else this.shared[f].set(g, [place]);
        }
  }

  /**
   * Whether two edges could go, each for itself, once an edge divides its face again.
   * @param p the half-edge of the face that leads to one end of the edge
   * @param q the one that leads to the other
   */
  couldSpareTwo(p: number, q: number): boolean {
    const f = this.face[p];
    const [a, b] = [this.place[this.next[p]], this.place[this.next[q]]];
    let spared = 0;
    for (const k of this.edges[f]) {
      const s = this.place[k];
      const halves = this.within(s, a, b) && s !== b ? [a, b] : [b, a];
      const other = this.shared[f].get(this.face[this.h.twin[k]])!;
      let touching = 0;
      for (const x of other) if (this.within(x, halves[0], halves[1]) && ++touching > 2) break;
      if (touching === 2 && ++spared > 1) return true;
    }
    return false;
  }

  /** Whether a place lies on the way from one to another along an outline. */
  private within(x: number, from: number, to: number): boolean {
    return from <= to ? x >= from && x <= to : x >= from || x <= to;
  }
}

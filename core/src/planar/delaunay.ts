/**
 * Delaunay triangulation of points within a square. The library is fast, and turns triangles over where points lie nearly
 * in line; then the points are put in one by one, with exact signs (Guibas & Stolfi 1985; Shewchuk 1997).
 */
import Delaunator from 'delaunator';
import { incircle } from 'robust-predicates';
import { turn } from './turn';

export interface Triangulation {
  coords: Float64Array;
  /** 3 points per triangle, clockwise. */
  triangles: Uint32Array;
  /** Per side of a triangle: the side on its other side, or −1. */
  halfedges: Int32Array;
  /** The four corners of the square. */
  hull: Uint32Array;
}

/** @param coords 2 per point; the last four points are the corners of a square around all others, counter-clockwise */
export function delaunay(coords: Float64Array): Triangulation {
  const { triangles, halfedges, hull } = new Delaunator(coords);
  const made = { coords, triangles, halfedges, hull };
  return allClockwise(made) ? made : onePointAtATime(coords);
}

function allClockwise({ coords: xy, triangles }: Triangulation): boolean {
  for (let i = 0; i < triangles.length; i += 3)
    if (turnOf(xy, triangles[i], triangles[i + 1], triangles[i + 2]) >= 0) return false;
  return true;
}

const turnOf = (xy: Float64Array, a: number, b: number, c: number): number =>
  turn(xy[2 * a], xy[2 * a + 1], xy[2 * b], xy[2 * b + 1], xy[2 * c], xy[2 * c + 1]);

/** Points that fall on another are left out. */
export function onePointAtATime(coords: Float64Array): Triangulation {
  const grown = new Insertion(coords);
  for (let p = 0; p < coords.length / 2 - 4; p++) grown.add(p);
  return {
    coords,
    triangles: Uint32Array.from(grown.triangles),
    halfedges: Int32Array.from(grown.halfedges),
    hull: Uint32Array.of(1, 2, 3, 4).map((k) => coords.length / 2 - k),
  };
}

const next = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);

class Insertion {
  readonly triangles: number[];
  readonly halfedges = [-1, -1, 3, 2, -1, -1];
  private last = 0;

  constructor(private readonly xy: Float64Array) {
    const n = xy.length / 2;
    const [a, b, c, d] = [n - 4, n - 3, n - 2, n - 1];
    this.triangles = [a, d, c, a, c, b];
  }

  add(p: number): void {
    const t = this.triangleAt(p);
    const on = [3 * t, 3 * t + 1, 3 * t + 2].filter((h) => this.turnAt(h, p) === 0);
    if (on.length > 1) return;
    if (on.length) this.splitSide(on[0], p);
    else this.splitTriangle(t, p);
  }

  /** Negative inside the triangle of a side, 0 on its line. */
  private turnAt(h: number, p: number): number {
    return turnOf(this.xy, this.triangles[h], this.triangles[next(h)], p);
  }

  /** In a Delaunay triangulation a walk towards the point ends (Devillers, Pion & Teillaud 2002). */
  private triangleAt(p: number): number {
    for (let t = this.last; ;) {
      const out = [3 * t, 3 * t + 1, 3 * t + 2].find((h) => this.turnAt(h, p) > 0);
      if (out === undefined) return (this.last = t);
      t = Math.floor(this.halfedges[out] / 3);
    }
  }

  private set(t: number, a: number, b: number, c: number): void {
    this.triangles[3 * t] = a;
    this.triangles[3 * t + 1] = b;
    this.triangles[3 * t + 2] = c;
  }

  private link(h: number, other: number): void {
    this.halfedges[h] = other;
    if (other >= 0) this.halfedges[other] = h;
  }

  private splitTriangle(t: number, p: number): void {
    const [a, b, c] = this.triangles.slice(3 * t, 3 * t + 3);
    const [, bc, ca] = this.halfedges.slice(3 * t, 3 * t + 3);
    const u = this.triangles.length / 3;
    this.set(t, a, b, p);
    this.set(u, b, c, p);
    this.set(u + 1, c, a, p);
    this.link(3 * u, bc);
    this.link(3 * u + 3, ca);
    this.link(3 * t + 1, 3 * u + 2);
    this.link(3 * u + 1, 3 * u + 5);
    this.link(3 * u + 4, 3 * t + 2);
    this.mend([3 * t, 3 * u, 3 * u + 3]);
  }

  /** A point on a side between two triangles makes four of them. */
  private splitSide(h: number, p: number): void {
    const g = this.halfedges[h];
    const [t, s] = [Math.floor(h / 3), Math.floor(g / 3)];
    const [a, b, c] = [h, next(h), next(next(h))].map((k) => this.triangles[k]);
    const d = this.triangles[next(next(g))];
    const [bc, ca] = [next(h), next(next(h))].map((k) => this.halfedges[k]);
    const [ad, db] = [next(g), next(next(g))].map((k) => this.halfedges[k]);
    const u = this.triangles.length / 3;
    this.set(t, c, a, p);
    this.set(u, b, c, p);
    this.set(s, a, d, p);
    this.set(u + 1, d, b, p);
    this.link(3 * t, ca);
    this.link(3 * u, bc);
    this.link(3 * s, ad);
    this.link(3 * u + 3, db);
    this.link(3 * t + 1, 3 * s + 2);
    this.link(3 * s + 1, 3 * u + 5);
    this.link(3 * u + 4, 3 * u + 2);
    this.link(3 * u + 1, 3 * t + 2);
    this.mend([3 * t, 3 * u, 3 * s, 3 * u + 3]);
  }

  /** Flips sides across from the new point, the third of their triangles, until no circle holds another point. */
  private mend(stack: number[]): void {
    while (stack.length) {
      const h = stack.pop()!;
      const g = this.halfedges[h];
      if (g < 0) continue;
      const [t, s] = [Math.floor(h / 3), Math.floor(g / 3)];
      const [a, b, p] = [h, next(h), next(next(h))].map((k) => this.triangles[k]);
      const d = this.triangles[next(next(g))];
      if (!this.holds(a, b, p, d)) continue;
      const [bp, pa] = [next(h), next(next(h))].map((k) => this.halfedges[k]);
      const [ad, db] = [next(g), next(next(g))].map((k) => this.halfedges[k]);
      this.set(t, a, d, p);
      this.set(s, d, b, p);
      this.link(3 * t, ad);
      this.link(3 * t + 2, pa);
      this.link(3 * s, db);
      this.link(3 * s + 1, bp);
      this.link(3 * t + 1, 3 * s + 2);
      stack.push(3 * t, 3 * s);
    }
  }

  /** Whether the circle through three points, clockwise, holds another. */
  private holds(a: number, b: number, c: number, d: number): boolean {
    const { xy } = this;
    // The library's axis points down: to it they run the other way.
    return (
      incircle(xy[2 * a], xy[2 * a + 1], xy[2 * b], xy[2 * b + 1], xy[2 * c], xy[2 * c + 1], xy[2 * d], xy[2 * d + 1]) < 0 // prettier-ignore
    );
  }
}

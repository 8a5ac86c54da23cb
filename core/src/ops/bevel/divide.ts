/** Divides plates along the rails, and tells what lies between the rims and their rails. */
import { frameFrom, type Frame } from '../../planar/frame';
import { trianglesWithin, type Triangles } from '../../planar/constrainedTriangles';
import { divideRegion } from '../../planar/divideRegion';
import { OperationError } from '../../mesh/errors';
import { dot, lerp, sub, type Vec3 } from '../../mesh/vec3';
import { BoxTree } from '../../spatial/BoxTree';
import { PairMap } from '../../spatial/PairMap';
import type { Points } from './Points';
import type { Rail } from './strips';
import type { Why } from './widths';
import { nextSide, type Surface } from './Surface';

/** Two points of a plate. */
type Segment = [number, number];

interface Piece {
  a: number;
  b: number;
  rail: Rail;
}

interface Division {
  /** Points of the plate, in its plane. */
  ids: number[];
  xy: Float64Array;
  /** 3 places in `ids` per triangle. */
  triangles: number[];
  across: Int32Array;
  /** 1 per side of a triangle that lies on a rail. */
  onRail: Uint8Array;
  /** 1 per triangle that lies between a rim and its rail. */
  taken: Uint8Array;
}

/** Rails that cannot stand together. */
export interface Clash {
  sides: number[];
  /** Share of the width at which they first touch, as far as it is known. */
  share: number;
  at: Vec3;
  why: Why;
}

export class Divider {
  readonly clashes: Clash[] = [];
  private readonly divisions = new Map<number, Division>();
  /** Plates whose rails clash. */
  private readonly failed = new Set<number>();
  private readonly pieces = new Map<number, Piece[]>();
  /** Plate, and triangle in it, by directed piece of an outline or rail. */
  private readonly plateAt: PairMap;
  private readonly triangleAt: PairMap;
  /** The half-edge of the surface each directed piece of an outline lies on. */
  private readonly sideOfPiece: PairMap;
  private readonly blocked: PairMap;
  private readonly frames = new Map<number, Frame>();

  constructor(
    private readonly surface: Surface,
    private readonly points: Points,
    rails: Iterable<Rail>,
    private readonly onLine: ReadonlyMap<number, number[]>,
  ) {
    const expected = surface.from.length >> 3;
    this.plateAt = new PairMap(expected);
    this.triangleAt = new PairMap(expected);
    this.sideOfPiece = new PairMap(expected);
    this.blocked = new PairMap(expected);
    for (const rail of rails)
      for (let k = 0; k + 1 < rail.ids.length; k++) {
        const [a, b] = [rail.ids[k], rail.ids[k + 1]];
        if (a === b) continue;
        const list = this.pieces.get(rail.plates[k]);
        if (list) list.push({ a, b, rail });
        else this.pieces.set(rail.plates[k], [{ a, b, rail }]);
        this.blocked.set(a, b, 1);
        this.blocked.set(b, a, 1);
      }
  }

  /**
   * Takes away what lies between each rounded half-edge and its rail, and the corners that are cut off.
   * @param cutOff rails with a corner on their right
   */
  take(roundedSides: Iterable<number>, cutOff: Iterable<Rail>): void {
    const stack: Array<[number, number]> = [];
    const push = (plate: number, i: number): void => {
      const d = this.divisions.get(plate)!;
      if (d.taken[i]) return;
      d.taken[i] = 1;
      stack.push([plate, i]);
    };
    for (const h of roundedSides) {
      if (!this.division(this.surface.plateOf[this.surface.triangle(h)])) continue;
      for (const [a, b] of this.piecesOf(h)) {
        const at = this.triangleAt.get(a, b);
        if (at >= 0 && !this.blocked.has(a, b)) push(this.plateAt.get(a, b), at);
      }
    }
    for (const { ids, plates } of cutOff)
      plates.forEach((plate, k) => {
        const at = this.division(plate) ? this.triangleAt.get(ids[k + 1], ids[k]) : -1;
        if (at >= 0) push(this.plateAt.get(ids[k + 1], ids[k]), at);
      });
    while (stack.length) {
      const [plate, i] = stack.pop()!;
      const d = this.divisions.get(plate)!;
      for (let k = 3 * i; k < 3 * i + 3; k++) {
        if (d.onRail[k]) continue;
        if (d.across[k] >= 0) push(plate, Math.floor(d.across[k] / 3));
        else this.crossOutline(d.ids[d.triangles[k]], d.ids[d.triangles[nextSide(k)]], push);
      }
    }
    // Past a plate that could not be divided, nothing was taken.
    if (!this.failed.size) this.findLeaks();
  }

  /** Goes on over a piece of a plate's outline, where the sheet does. */
  private crossOutline(a: number, b: number, push: (plate: number, triangle: number) => void): void {
    const side = this.sideOfPiece.get(a, b);
    const other = side < 0 ? -1 : this.surface.across[side];
    if (other < 0 || !this.division(this.surface.plateOf[this.surface.triangle(other)])) return;
    const at = this.triangleAt.get(b, a);
    if (at >= 0) push(this.plateAt.get(b, a), at);
  }

  /** Plates that change: what is left of each, as loops of points. */
  *left(): Generator<{ plate: number; loops: number[][] }> {
    for (const line of this.onLine.keys()) for (const p of this.platesAt(line)) this.division(p);
    for (const [plate, d] of this.divisions) {
      if (!d.taken.includes(1) && !this.hasInserts(plate)) continue;
      const kept: number[] = [];
      for (let i = 0; i < d.taken.length; i++)
        if (!d.taken[i]) kept.push(d.triangles[3 * i], d.triangles[3 * i + 1], d.triangles[3 * i + 2]);
      const loops = kept.length ? divideRegion(d.xy, kept).map((l) => l.map((i) => d.ids[i])) : [];
      yield { plate, loops };
    }
  }

  /** The line of the surface a piece of an outline lies on, or −1. */
  lineOf(a: number, b: number): number {
    const h = this.sideOfPiece.get(a, b);
    return h < 0 ? -1 : this.surface.line[h];
  }

  private hasInserts(plate: number): boolean {
    return this.surface.plates[plate].triangles.some((t) =>
      [0, 1, 2].some((k) => this.onLine.has(this.surface.line[3 * t + k])),
    );
  }

  private platesOfLine: Map<number, number[]> | null = null;
  private platesAt(line: number): number[] {
    if (!this.platesOfLine) {
      this.platesOfLine = new Map();
      const { line: lines, plateOf } = this.surface;
      for (let h = 0; h < lines.length; h++) {
        if (lines[h] < 0 || !this.onLine.has(lines[h])) continue;
        const list = this.platesOfLine.get(lines[h]) ?? [];
        list.push(plateOf[Math.floor(h / 3)]);
        this.platesOfLine.set(lines[h], list);
      }
    }
    return this.platesOfLine.get(line) ?? [];
  }

  /** A rail has what was taken on its right, and what stays on its left. */
  private findLeaks(): void {
    const directed = new PairMap(this.pieces.size);
    for (const list of this.pieces.values()) for (const { a, b } of list) directed.set(a, b, 1);
    for (const list of this.pieces.values())
      for (const { a, b, rail } of list) {
        if (directed.has(b, a)) continue;
        if (this.isTaken(a, b) || this.isTaken(b, a) === false)
          this.clashes.push({
            sides: [rail.side],
            share: 0.8,
            at: lerp(this.points.at(a), this.points.at(b), 0.5),
            why: 'room',
          });
      }
  }

  private isTaken(a: number, b: number): boolean | null {
    const at = this.triangleAt.get(a, b);
    return at < 0 ? null : this.divisions.get(this.plateAt.get(a, b))!.taken[at] === 1;
  }

  private piecesOf(h: number): Array<[number, number]> {
    const s = this.surface;
    const [a, b] = [this.points.vertex(s.from[h]), this.points.vertex(s.to(h))];
    const inner = this.onLine.get(s.line[h]);
    if (!inner) return [[a, b]];
    const along = s.along(h);
    const at = (p: number): number => dot(this.points.at(p), along);
    const all = [a, ...inner.filter((p) => p !== a && p !== b).sort((x, y) => at(x) - at(y)), b];
    return all.slice(1).map((p, i): [number, number] => [all[i], p]);
  }

  private division(plate: number): Division | null {
    const known = this.divisions.get(plate);
    if (known) return known;
    if (this.failed.has(plate)) return null;
    const s = this.surface;
    const local = new Map<number, number>();
    const ids: number[] = [];
    const place = (p: number): number => {
      let i = local.get(p);
      if (i === undefined) local.set(p, (i = ids.push(p) - 1));
      return i;
    };
    const sides: Segment[] = [];
    for (const t of s.plates[plate].triangles)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        if (s.line[h] < 0) continue;
        for (const [a, b] of this.piecesOf(h)) {
          sides.push([place(a), place(b)]);
          this.sideOfPiece.set(a, b, h);
        }
      }
    const pieces = this.pieces.get(plate) ?? [];
    const lines = pieces.map(({ a, b }): Segment => [place(a), place(b)]);
    const frame = this.frameOf(plate);
    const xy = new Float64Array(2 * ids.length);
    ids.forEach((p, i) => xy.set(flat(frame, this.points.at(p)), 2 * i));
    let made: Triangles;
    try {
      made = trianglesWithin(xy, sides, lines);
    } catch (e) {
      if (!(e instanceof OperationError)) throw e;
      this.failed.add(plate);
      this.clashesIn(pieces, lines, sides, xy);
      return null;
    }
    const { corners, across } = made;
    const onRail = new Uint8Array(corners.length);
    const railEnd = new Uint8Array(ids.length);
    for (const [a, b] of lines) railEnd[a] = railEnd[b] = 1;
    for (let k = 0; k < corners.length; k++) {
      const [a, b] = [corners[k], corners[nextSide(k)]];
      // A rail along the outline may be counted to the plate on its other side.
      const mayBe = across[k] < 0 || (railEnd[a] && railEnd[b]);
      onRail[k] = Number(mayBe && this.blocked.has(ids[a], ids[b]));
      if (!onRail[k] && across[k] >= 0) continue;
      this.plateAt.set(ids[a], ids[b], plate);
      this.triangleAt.set(ids[a], ids[b], Math.floor(k / 3));
    }
    const division = {
      ids,
      xy,
      triangles: corners,
      across,
      onRail,
      taken: new Uint8Array(corners.length / 3),
    };
    this.divisions.set(plate, division);
    return division;
  }

  private frameOf(plate: number): Frame {
    let f = this.frames.get(plate);
    if (!f) {
      const p = this.surface.plates[plate];
      const o = this.surface.point(this.surface.from[3 * p.triangles[0]]);
      this.frames.set(plate, (f = frameFrom(o, p.normal)));
    }
    return f;
  }

  /** Rails of a plate that cross one another, or its outline. */
  private clashesIn(pieces: Piece[], lines: Segment[], sides: Segment[], xy: Float64Array): void {
    const middle = (i: number): Vec3 => lerp(this.points.at(pieces[i].a), this.points.at(pieces[i].b), 0.5);
    const before = this.clashes.length;
    const segments = [...lines, ...sides];
    const tree = new BoxTree(boxesOf(xy, segments));
    lines.forEach((line, i) => {
      const { side } = pieces[i].rail;
      const add = (sides: number[], why: Why): void =>
        void this.clashes.push({ sides, share: 0.8, at: middle(i), why });
      let outside = false;
      const box = boxesOf(xy, [line]);
      tree.eachIn(box.subarray(0, 3), box.subarray(3), (k) => {
        const other = k < lines.length ? pieces[k].rail : null;
        if ((other ? k >= i || other === pieces[i].rail : outside) || !crosses(xy, line, segments[k])) return;
        if (other) add([side, other.side], 'strip');
        else outside = true;
      });
      if (outside) add([side], 'edge');
    });
    if (this.clashes.length > before) return;
    // Too near for the triangulation, and not known where: each of them gives way.
    const first = new Map(pieces.map((p, i): [Rail, number] => [p.rail, i]));
    for (const [{ side }, i] of first)
      this.clashes.push({ sides: [side], share: 0.9, at: middle(i), why: 'room' });
  }
}

/** 6 numbers per segment, as a tree of boxes takes them. */
function boxesOf(xy: Float64Array, segments: Segment[]): Float64Array {
  const out = new Float64Array(6 * segments.length);
  segments.forEach(([a, b], i) => {
    for (const k of [0, 1]) {
      out[6 * i + k] = Math.min(xy[2 * a + k], xy[2 * b + k]);
      out[6 * i + 3 + k] = Math.max(xy[2 * a + k], xy[2 * b + k]);
    }
  });
  return out;
}

function flat(f: Frame, p: Vec3): [number, number] {
  const d = sub(p, f.origin);
  return [dot(d, f.u), dot(d, f.v)];
}

function crosses(xy: Float64Array, [a, b]: Segment, [c, d]: Segment): boolean {
  if (a === c || a === d || b === c || b === d) return false;
  const side = (p: number, q: number, r: number): number =>
    (xy[2 * q] - xy[2 * p]) * (xy[2 * r + 1] - xy[2 * p + 1]) -
    (xy[2 * q + 1] - xy[2 * p + 1]) * (xy[2 * r] - xy[2 * p]);
  return side(a, b, c) * side(a, b, d) <= 0 && side(c, d, a) * side(c, d, b) <= 0;
}

/**
 * Faces of different operands that lie in one plane. The kernel decides such cases by rounding noise, which leaves
 * films and crumbs; so they are parted before it sees them, and brought together again in what it gives back.
 *
 * Each cutter's flush faces move along their normals by a hair (1e-8 of the host's size, cutters that lie in each other's
 * faces by different multiples) to the side on which the outcome is the wanted one: a cutter that ends in the host's
 * face goes through it, one that only touches keeps away, solids to be joined reach into each other. This is simulation
 * of simplicity (Edelsbrunner & Mücke 1990) at the level of planes, with the perturbation carried out; points go back
 * to their exact places afterwards (`restore` in rebuild.ts).
 *
 * Ways that lost: the kernel's own symbolic perturbation works where coordinates tie exactly, which a turned body's
 * never do; welding its result by distance left films whose two sides are divided differently.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Bounds } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import type { CutMode } from './boolean';
import { facetsOf, liesInPlane, type Facets } from './facets';
import type { Solid } from './Solid';

/** Two facets in one plane whose boxes meet. Operand a comes before operand b. */
export interface FlushPair {
  a: number;
  facetA: number;
  b: number;
  facetB: number;
  /** They face the same way. */
  same: boolean;
}

/** Where the points of a parted operand go. */
export interface Parted {
  /** For the kernel. */
  apart: Float64Array;
  /** Where they belong: in the planes of the operands before it. */
  target: Float64Array;
}

const NORMAL_CELL = 1 / 32;
const SAME_WAY = 1e-3;

/** Facets of one operand that may meet others, with their boxes: minimum, then maximum. */
interface Near {
  operand: number;
  facets: Facets;
  list: number[];
  box: Float64Array;
}

/** Expected time linear in facets near other operands, plus pairs found. */
export function flushPairs(solids: ReadonlyArray<Solid>): FlushPair[] {
  const { size } = solids[0];
  const reach = TOLERANCE.kernel * size;
  const offsetCell = size / 128;
  const cells = new Map<number, Array<{ near: Near; at: number }>>();
  const out: FlushPair[] = [];
  for (const near of facetsNearOthers(solids, reach)) {
    // Look among the operands before, then add this one's own.
    for (let at = 0; at < near.list.length; at++)
      eachNearCell(near, at, offsetCell, reach, (key) => {
        for (const other of cells.get(key) ?? []) {
          const same = inOnePlane(other.near, other.at, near, at, reach);
          if (same === null) continue;
          const [facetA, facetB] = [other.near.list[other.at], near.list[at]];
          out.push({ a: other.near.operand, facetA, b: near.operand, facetB, same });
        }
      });
    for (let at = 0; at < near.list.length; at++) {
      const key = homeCell(near.facets, near.list[at], offsetCell);
      const cell = cells.get(key);
      if (cell) cell.push({ near, at });
      else cells.set(key, [{ near, at }]);
    }
  }
  return out;
}

function facetsNearOthers(solids: ReadonlyArray<Solid>, reach: number): Near[] {
  return solids.map(({ mesh, bounds }, operand) => {
    const others = solids.filter((s, p) => p !== operand && boundsMeet(s.bounds, bounds, reach));
    const list: number[] = [];
    const facets = facetsOf(mesh);
    if (!others.length) return { operand, facets, list, box: new Float64Array(0) };
    const outside = outsideCodes(mesh, others, reach);
    for (let i = 0; i < facets.face.length; i++) {
      let all = 63;
      for (let c = facets.start[i]; c < facets.start[i + 1]; c++)
        all &= outside[mesh.corners[facets.corners[c]]];
      if (!all) list.push(i);
    }
    const box = new Float64Array(6 * list.length);
    list.forEach((i, at) => layBox(facets, i, box, 6 * at));
    return { operand, facets, list, box };
  });
}

function boundsMeet(a: Bounds, b: Bounds, reach: number): boolean {
  return a.min.every((x, k) => x <= b.max[k] + reach && b.min[k] <= a.max[k] + reach);
}

/** Per point, on which of the six sides of the box around the other operands it lies (Cohen & Sutherland's codes). */
function outsideCodes(mesh: PolyMesh, others: ReadonlyArray<Solid>, reach: number): Uint8Array {
  const p = mesh.positions;
  const out = new Uint8Array(p.length / 3);
  for (let k = 0; k < 3; k++) {
    const lo = Math.min(...others.map((o) => o.bounds.min[k])) - reach;
    const hi = Math.max(...others.map((o) => o.bounds.max[k])) + reach;
    for (let v = 0; v < out.length; v++)
      out[v] |= p[3 * v + k] < lo ? 1 << (2 * k) : p[3 * v + k] > hi ? 2 << (2 * k) : 0;
  }
  return out;
}

function layBox({ mesh, start, corners }: Facets, i: number, box: Float64Array, at: number): void {
  const p = mesh.positions;
  box.fill(Infinity, at, at + 3).fill(-Infinity, at + 3, at + 6);
  for (let c = start[i]; c < start[i + 1]; c++)
    for (let k = 0; k < 3; k++) {
      const x = p[3 * mesh.corners[corners[c]] + k];
      if (x < box[at + k]) box[at + k] = x;
      if (x > box[at + 3 + k]) box[at + 3 + k] = x;
    }
}

function boxesMeet(a: Float64Array, i: number, b: Float64Array, j: number, reach: number): boolean {
  for (let k = 0; k < 3; k++)
    if (a[i + k] > b[j + 3 + k] + reach || b[j + k] > a[i + 3 + k] + reach) return false;
  return true;
}

/** Cells of planes: the sizes of the normal's components, and the distance from the origin. */
const cellOf = (x: number, y: number, z: number, d: number): number => ((d * 64 + x) * 64 + y) * 64 + z;

function homeCell(f: Facets, i: number, offsetCell: number): number {
  const cell = (k: number): number => Math.floor(Math.abs(f.normal[3 * i + k]) / NORMAL_CELL);
  return cellOf(cell(0), cell(1), cell(2), Math.floor(Math.abs(f.offset[i]) / offsetCell));
}

/** Calls `each` with the cells in which a plane that is nearly the same may lie. */
function eachNearCell(
  { facets: f, list, box }: Near,
  at: number,
  offsetCell: number,
  reach: number,
  each: (key: number) => void,
): void {
  const i = list[at];
  let [extent, far] = [0, 0];
  for (let k = 6 * at; k < 6 * at + 3; k++) {
    extent = Math.max(extent, box[k + 3] - box[k]);
    far = Math.max(far, Math.abs(box[k]), Math.abs(box[k + 3]));
  }
  // A small facet knows its plane's direction less well, and the offset follows from that.
  const tilt = Math.min(SAME_WAY, (2 * reach) / (extent || 1));
  const slack = Math.min(reach + 2 * tilt * far, 2 * offsetCell);
  const lo = (x: number, within: number, cell: number): number =>
    Math.floor(Math.max(0, Math.abs(x) - within) / cell);
  const hi = (x: number, within: number, cell: number): number => Math.floor((Math.abs(x) + within) / cell);
  const [nx, ny, nz, d] = [f.normal[3 * i], f.normal[3 * i + 1], f.normal[3 * i + 2], f.offset[i]];
  for (let a = lo(nx, tilt, NORMAL_CELL); a <= hi(nx, tilt, NORMAL_CELL); a++)
    for (let b = lo(ny, tilt, NORMAL_CELL); b <= hi(ny, tilt, NORMAL_CELL); b++)
      for (let c = lo(nz, tilt, NORMAL_CELL); c <= hi(nz, tilt, NORMAL_CELL); c++)
        for (let e = lo(d, slack, offsetCell); e <= hi(d, slack, offsetCell); e++) each(cellOf(a, b, c, e));
}

/** Whether two facets that meet lie in one plane; then whether they face the same way. */
function inOnePlane(a: Near, i: number, b: Near, j: number, reach: number): boolean | null {
  const [f, g, k, l] = [a.facets, b.facets, a.list[i], b.list[j]];
  const cos =
    f.normal[3 * k] * g.normal[3 * l] +
    f.normal[3 * k + 1] * g.normal[3 * l + 1] +
    f.normal[3 * k + 2] * g.normal[3 * l + 2];
  if (Math.abs(cos) < 1 - SAME_WAY * SAME_WAY || !boxesMeet(a.box, 6 * i, b.box, 6 * j, reach)) return null;
  return liesInPlane(f, k, g, l, reach) || liesInPlane(g, l, f, k, reach) ? cos > 0 : null;
}

/** By how much flush faces are parted, as a share of the size. */
const HAIR = 1e-8;

/**
 * Points of the operands that have to move, null for those that stay. The host (operand 0) always stays.
 * @param pairs from `flushPairs`
 */
export function partOperands(
  solids: ReadonlyArray<Solid>,
  pairs: ReadonlyArray<FlushPair>,
  mode: CutMode,
): { parted: Array<Parted | null>; hair: number } {
  const sizes = solids.map((s) => s.size);
  // The kernel's own precision goes by the largest operand.
  let unit = HAIR * Math.max(sizes[0], Math.max(...sizes) / 10);
  const gaps = pairs.map((p) => gapOf(solids, p));
  for (const gap of gaps) unit = Math.max(unit, 4 * Math.abs(gap));
  const level = levelsOf(solids.length, pairs);
  const wish = solids.map(() => new Map<number, Wish>());
  const wishOf = (o: number, facet: number, gap: number): Wish => {
    const w = wish[o].get(facet) ?? { touches: false, throughHost: false, touchesHost: false, gap };
    wish[o].set(facet, w);
    return w;
  };
  pairs.forEach(({ a, facetA, b, facetB, same }, i) => {
    const w = wishOf(b, facetB, gaps[i]);
    if (a === 0) {
      w[same ? 'throughHost' : 'touchesHost'] = true;
      w.gap = gaps[i];
    } else if (!same) w.touches = wishOf(a, facetA, 0).touches = true;
  });
  const parted = solids.map((solid, o) => {
    if (!wish[o].size) return null;
    const targets = new Map([...wish[o]].map(([facet, w]) => [facet, -w.gap]));
    const moves = new Map(
      [...wish[o]].map(([facet, w]) => [facet, wayOf(mode, w) * unit * level[o] - w.gap]),
    );
    return {
      target: movedPoints(solid.mesh, targets),
      apart: movedPoints(solid.mesh, moves),
    };
  });
  return { parted, hair: unit * Math.max(1, ...level) };
}

/** What a facet of a cutter is flush with. */
interface Wish {
  /** A face of another cutter, from the other side. */
  touches: boolean;
  /** A face of the host that faces the same way. */
  throughHost: boolean;
  /** A face of the host, from the other side. */
  touchesHost: boolean;
  /** How far in front of the plane it belongs to it is. */
  gap: number;
}

/** 1: outward, −1: inward. */
function wayOf(mode: CutMode, { touches, throughHost, touchesHost }: Wish): 1 | -1 {
  // What touches must reach in to be joined; what lies in the same face stays behind the host's.
  if (mode === 'union') return touches || touchesHost ? 1 : -1;
  // Through the host's face, but not into one it only touches.
  if (mode === 'subtract') return touchesHost && !throughHost && !touches ? -1 : 1;
  return touches || touchesHost ? -1 : 1;
}

/** Cutters that lie in each other's faces get different levels, as low as possible. */
function levelsOf(count: number, pairs: ReadonlyArray<FlushPair>): number[] {
  const before: Array<Set<number>> = Array.from({ length: count }, () => new Set());
  for (const { a, b } of pairs) if (a > 0) before[b].add(a);
  const level: number[] = [0];
  for (let o = 1; o < count; o++) {
    const taken = new Set([...before[o]].map((p) => level[p]));
    let l = 1;
    while (taken.has(l)) l++;
    level.push(l);
  }
  return level;
}

/** Mean distance of the second facet in front of the first one's plane, along the second's normal. */
function gapOf(solids: ReadonlyArray<Solid>, { a, facetA, b, facetB, same }: FlushPair): number {
  const A = facetsOf(solids[a].mesh);
  const B = facetsOf(solids[b].mesh);
  const { positions, corners } = solids[b].mesh;
  let h = 0;
  for (let c = B.start[facetB]; c < B.start[facetB + 1]; c++) {
    const v = 3 * corners[B.corners[c]];
    for (let k = 0; k < 3; k++) h += A.normal[3 * facetA + k] * positions[v + k];
  }
  const gap = h / (B.start[facetB + 1] - B.start[facetB]) - A.offset[facetA];
  return same ? gap : -gap;
}

/**
 * Moves facets along their normals; facets not named keep their planes where they can. At each point the least move
 * that does so, by weighted least squares.
 * @param by distance per facet
 */
function movedPoints(mesh: PolyMesh, by: ReadonlyMap<number, number>): Float64Array {
  const f = facetsOf(mesh);
  const out = mesh.positions.slice();
  if ([...by.values()].every((d) => d === 0)) return out;
  const slot = new Map<number, number>();
  for (const facet of by.keys())
    for (let c = f.start[facet]; c < f.start[facet + 1]; c++) {
      const v = mesh.corners[f.corners[c]];
      if (!slot.has(v)) slot.set(v, slot.size);
    }
  // Per point the sums Σ w·n·nᵀ (6 numbers) and Σ w·n·by (3).
  const sums = new Float64Array(9 * slot.size);
  for (let i = 0; i < f.face.length; i++) {
    const d = by.get(i);
    const w = d === undefined ? KEPT_WEIGHT : 1;
    const [x, y, z] = [f.normal[3 * i], f.normal[3 * i + 1], f.normal[3 * i + 2]];
    for (let c = f.start[i]; c < f.start[i + 1]; c++) {
      const s = slot.get(mesh.corners[f.corners[c]]);
      if (s === undefined) continue;
      const at = 9 * s;
      sums[at] += w * x * x;
      sums[at + 1] += w * x * y;
      sums[at + 2] += w * x * z;
      sums[at + 3] += w * y * y;
      sums[at + 4] += w * y * z;
      sums[at + 5] += w * z * z;
      if (d) {
        sums[at + 6] += w * x * d;
        sums[at + 7] += w * y * d;
        sums[at + 8] += w * z * d;
      }
    }
  }
  for (const [v, s] of slot) {
    const move = solveSymmetric(sums.subarray(9 * s, 9 * s + 9));
    for (let k = 0; k < 3; k++) out[3 * v + k] += move[k];
  }
  return out;
}
/** How much it counts that a face which is not flush keeps its plane. */
const KEPT_WEIGHT = 0.05;

/** The least x with A·x = b as nearly as can be; A by its six entries (xx, xy, xz, yy, yz, zz), then b. */
function solveSymmetric(s: Float64Array): [number, number, number] {
  const damp = 1e-7 * (s[0] + s[3] + s[5]);
  const [a, b, c, d, e, f] = [s[0] + damp, s[1], s[2], s[3] + damp, s[4], s[5] + damp];
  const [A, B, C] = [d * f - e * e, c * e - b * f, b * e - c * d];
  const [D, E, F] = [a * f - c * c, b * c - a * e, a * d - b * b];
  const det = a * A + b * B + c * C;
  if (!(Math.abs(det) > 0)) return [0, 0, 0];
  const [x, y, z] = [s[6], s[7], s[8]];
  return [(A * x + B * y + C * z) / det, (B * x + D * y + E * z) / det, (C * x + E * y + F * z) / det];
}

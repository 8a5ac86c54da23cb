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
import type { CutMode } from './cutResult';
import { facetsOf } from './facets';
import type { FlushPair } from './flush';
import type { Solid } from './Solid';

/** Moves the points of a parted operand. */
export interface Parted {
  /** For the kernel. */
  apart: Float64Array;
  /** Their targets: in the planes of the earlier operands. */
  target: Float64Array;
}

/** The distance by which flush faces are parted, as a share of the size. */
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

/** The face a cutter's facet is flush with. */
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
  // Touching bodies must overlap to be joined; coplanar faces stay behind the host's.
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

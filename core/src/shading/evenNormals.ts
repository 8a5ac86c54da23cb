/**
 * One normal where surfaces meet that do not hang together: corners nearer to each other than a distance, and looking
 * nearly the same way, share the sum of theirs, each counted by the angle its face has there (Thürmer & Wüthrich 1998).
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { add, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { DisjointSets } from '../mesh/DisjointSets';
import { PointGrid } from '../spatial/PointGrid';
import { shadingNormals } from './shadingNormals';

/** A place and a normal there; how long the normal is, is how much it counts: the face's angle, radians. */
export type NormalAt = readonly [x: number, y: number, z: number, nx: number, ny: number, nz: number];

/** The shading normals at corners, as they count. */
export function normalsAt(mesh: PolyMesh, corners: ReadonlyArray<number>): NormalAt[] {
  const t = topologyOf(mesh);
  const shown = shadingNormals(mesh);
  const at = (c: number): Vec3 => pointOf(mesh.positions, mesh.corners[c]);
  return corners.map((c) => {
    const p = at(c);
    const a = sub(at(nextCorner(mesh, t, c)), p);
    const b = sub(at(prevCorner(mesh, t, c)), p);
    const cos = dot(a, b) / (length(a) * length(b) || 1);
    const n = scale(pointOf(shown, c), Math.acos(Math.min(1, Math.max(-1, cos))));
    return [...p, ...n];
  });
}

export interface EvenOptions {
  /** Corners so near to each other share, mm. */
  within: number;
  /** Unless they look apart by more than this, degrees. */
  apart: number;
}

/**
 * @param beside what counts along, and stays as it is
 * @returns a unit normal per one of `own`. The same normals together give the same ones, whichever of them are own.
 */
export function evened(
  own: ReadonlyArray<NormalAt>,
  beside: ReadonlyArray<NormalAt>,
  o: EvenOptions,
): Vec3[] {
  const all = [...own, ...beside];
  const place = Float64Array.from(all.flatMap((n) => n.slice(0, 3)));
  const toward = all.map((n): Vec3 => [n[3], n[4], n[5]]);
  const units = toward.map(unit);
  const least = Math.cos((o.apart * Math.PI) / 180);
  const grid = new PointGrid(place, o.within);
  const sets = new DisjointSets(all.length);
  for (let i = 0; i < all.length; i++) {
    for (const j of grid.near(pointOf(place, i))) if (dot(units[i], units[j]) >= least) sets.join(i, j);
    grid.add(i);
  }
  const together = new Map<number, number[]>();
  for (let i = 0; i < all.length; i++) {
    const root = sets.find(i);
    together.set(root, [...(together.get(root) ?? []), i]);
  }
  const out: Vec3[] = [];
  for (const members of together.values()) {
    // In an order of their own, so that pieces that share them come to the same sum.
    members.sort((i, j) => inOrder(all[i], all[j]));
    const sum = unit(members.reduce<Vec3>((s, i) => add(s, toward[i]), [0, 0, 0]));
    for (const i of members) if (i < own.length) out[i] = dot(sum, sum) > 0.5 ? sum : units[i];
  }
  return out;
}

function inOrder(a: NormalAt, b: NormalAt): number {
  for (let k = 0; k < 6; k++) if (a[k] !== b[k]) return a[k] - b[k];
  return 0;
}

/** Traces groups of triangles to polygons: faces that were not cut come back as they were. */
import { faceCount } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { add, cross, dot, pointOf, sub, unit, type Vec3 } from '../mesh/vec3';
import { divideRegion } from '../planar/divideRegion';
import { frameFrom } from '../planar/frame';
import { GONE, nextSide } from './cleanTriangles';
import { facetsOf } from './facets';
import type { Groups, Operand } from './Groups';
import { singleRim, withoutFlaps } from './rims';

/** One polygon of the result before assembly. */
export interface Loop {
  group: number;
  operand: number;
  /** The face it stands for. */
  face: number;
  /** Kernel output vertices. */
  points: number[];
  /** The group each side (from a point to the next) was cut from; −1 for a bridge. Null: all from `group`. */
  sides: number[] | null;
  touched: boolean;
}

/** The source faces of the triangles. */
export interface Traced {
  /** Faces that come back as they were: operand and face, in order of operands. */
  keptOperand: Uint16Array;
  keptFace: Uint32Array;
  /** Polygons of faces that were cut. */
  loops: Loop[];
}

/** @param widest corners a polygon may have where a face must be divided */
export function traceLoops(
  g: Groups,
  operands: ReadonlyArray<Operand>,
  positions: Float64Array,
  widest: number,
): Traced {
  const byGroup = new Map<number, number[]>();
  for (let t = 0; t < g.groupOf.length; t++) {
    if (g.groupOf[t] === GONE || !g.touched[g.groupOf[t]]) continue;
    const group = g.joined[g.groupOf[t]];
    const list = byGroup.get(group);
    if (list) list.push(t);
    else byGroup.set(group, [t]);
  }
  const total = operands.reduce((n, { solid }) => n + faceCount(solid.mesh), 0);
  const keptOperand = new Uint16Array(total);
  const keptFace = new Uint32Array(total);
  let kept = 0;
  const loops: Loop[] = [];
  operands.forEach(({ solid }, o) => {
    const { mesh, region } = solid;
    for (let f = 0; f < faceCount(mesh); f++) {
      const group = g.base[o] + region[f];
      if (!g.count[group]) continue;
      if (!g.touched[group]) {
        keptOperand[kept] = o;
        keptFace[kept++] = f;
      } else if (region[f] === f && byGroup.has(group)) {
        const triangles = byGroup.get(group)!;
        const groupOfSide = sidesOf(triangles, g, group);
        for (const points of flatOutlines(triangles, g, positions, operands[o], f, g.flipped[o], widest))
          loops.push({
            group,
            operand: o,
            face: f,
            points,
            sides: groupOfSide?.(points) ?? null,
            touched: true,
          });
      }
    }
  });
  return { keptOperand: keptOperand.subarray(0, kept), keptFace: keptFace.subarray(0, kept), loops };
}

/** For faces that joined: tells the group each side of a polygon was cut from. */
function sidesOf(triangles: number[], g: Groups, group: number): ((points: number[]) => number[]) | null {
  if (triangles.every((t) => g.groupOf[t] === group)) return null;
  const groupOf = new Map<number, number>();
  const inner = new Set<number>();
  for (const t of triangles)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const [u, v] = [g.triVerts[h], g.triVerts[nextSide(h)]];
      groupOf.set(u * g.pointCount + v, g.groupOf[t]);
      if (groupOf.has(v * g.pointCount + u)) inner.add(u * g.pointCount + v).add(v * g.pointCount + u);
    }
  return (points) =>
    points.map((u, i) => {
      const key = u * g.pointCount + points[(i + 1) % points.length];
      return inner.has(key) ? -1 : (groupOf.get(key) ?? -1);
    });
}

/** The polygons one cut face is left as. Where it is not planar they follow the triangles shown of it. */
function flatOutlines(
  triangles: number[],
  g: Groups,
  positions: Float64Array,
  { solid }: Operand,
  face: number,
  flipped: boolean,
  widest: number,
): number[][] {
  const { mesh } = solid;
  const area = areaVectors(mesh);
  const s = flipped ? -1 : 1;
  const along: Vec3 = [s * area[3 * face], s * area[3 * face + 1], s * area[3 * face + 2]];
  const whole = outlines(triangles, g, positions, along, widest);
  const bent = TOLERANCE.kernel * solid.size;
  if (g.idOf[triangles[0]] < faceCount(mesh) || whole.every((points) => isFlat(points, positions, bent)))
    return whole;
  const parts = new Map<number, number[]>();
  for (const t of triangles) parts.set(g.idOf[t], [...(parts.get(g.idOf[t]) ?? []), t]);
  const { normal } = facetsOf(mesh);
  return [...parts].flatMap(([id, part]) => {
    const n = 3 * (id - faceCount(mesh));
    return outlines(part, g, positions, [s * normal[n], s * normal[n + 1], s * normal[n + 2]], widest);
  });
}

/** All points lie in one plane, within a distance. */
function isFlat(points: number[], p: Float64Array, within: number): boolean {
  if (points.length === 3) return true;
  const o = pointOf(p, points[0]);
  let n: Vec3 = [0, 0, 0];
  for (let i = 1; i + 1 < points.length; i++)
    n = add(n, cross(sub(pointOf(p, points[i]), o), sub(pointOf(p, points[i + 1]), o)));
  n = unit(n);
  const heights = points.map((v) => dot(sub(pointOf(p, v), o), n));
  return Math.max(...heights) - Math.min(...heights) <= within;
}

/** The polygons a set of triangles has for its outline, in the plane across the normal. */
function outlines(
  all: number[],
  g: Groups,
  positions: Float64Array,
  normal: Vec3,
  widest: number,
): number[][] {
  const triangles = withoutFlaps(all, g.triVerts);
  if (!triangles.length) return [];
  const single = singleRim(triangles, g.triVerts);
  if (single) return [single];
  const local = new Map<number, number>();
  const ids: number[] = [];
  const tris = triangles.flatMap((t) =>
    [0, 1, 2].map((k) => {
      const v = g.triVerts[3 * t + k];
      let i = local.get(v);
      if (i === undefined) local.set(v, (i = ids.push(v) - 1));
      return i;
    }),
  );
  const frame = frameFrom([0, 0, 0], normal);
  const xy = new Float64Array(2 * ids.length);
  ids.forEach((v, i) => {
    const [x, y, z] = [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]];
    xy[2 * i] = x * frame.u[0] + y * frame.u[1] + z * frame.u[2];
    xy[2 * i + 1] = x * frame.v[0] + y * frame.v[1] + z * frame.v[2];
  });
  return divideRegion(xy, tris, widest).map((loop) => loop.map((i) => ids[i]));
}

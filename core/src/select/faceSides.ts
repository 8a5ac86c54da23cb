/**
 * The sides of a flat face, for distances to them: all faces that lie in one plane and hang together count as one, and
 * holes in it are no sides.
 */
import { faceNormal, sizeOf } from '../mesh/measure';
import { faceCorners, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { dot, pointOf, type Vec3 } from '../mesh/vec3';
import { frameFrom, toPlane } from '../planar/frame';
import { signedArea } from '../planar/contours';

export interface FaceSides {
  /** Outlines that run around the face, counter-clockwise as seen from where it looks, in the piece's frame, mm. */
  loops: Vec3[][];
  facing: Vec3;
}

/** Normals of faces in one plane differ by less, as 1 − cosine; and their points lie this share of the size off it. */
const FLAT = 1e-9;
const OFF_PLANE = 1e-7;

/** @param face the face whose plane is asked for; time linear in the faces of that plane, once the topology is known */
export function sidesOfFace(mesh: PolyMesh, face: number): FaceSides {
  const t = topologyOf(mesh);
  const facing = faceNormal(mesh, face);
  const frame = frameFrom(pointOf(mesh.positions, mesh.corners[mesh.faceStart[face]]), facing);
  const reach = OFF_PLANE * sizeOf(mesh);
  const inPlane = (f: number): boolean =>
    dot(faceNormal(mesh, f), facing) > 1 - FLAT &&
    Math.abs(dot(pointOf(mesh.positions, mesh.corners[mesh.faceStart[f]]), facing) - dot(frame.origin, facing)) < reach; // prettier-ignore
  const taken = new Set([face]);
  /** Corners whose edge parts the face from others, by the point they start at. */
  const border = new Map<number, number[]>();
  for (const f of taken)
    for (const c of faceCorners(mesh, f)) {
      const d = t.twin[c];
      const other = d < 0 ? -1 : t.faceOfCorner[d];
      if (other >= 0 && (taken.has(other) || inPlane(other))) taken.add(other);
      else border.set(mesh.corners[c], [...(border.get(mesh.corners[c]) ?? []), c]);
    }
  const loops: Vec3[][] = [];
  for (const starts of border.values())
    while (starts.length) {
      const loop: Vec3[] = [];
      for (let c = starts.pop(); c !== undefined;) {
        loop.push(pointOf(mesh.positions, mesh.corners[c]));
        c = border.get(mesh.corners[nextCorner(mesh, t, c)])?.pop();
      }
      // Holes run the other way.
      if (signedArea(loop.map((p) => toPlane(frame, p))) > 0) loops.push(loop);
    }
  return { loops, facing };
}

/** Outlines in a plane, 2 numbers a point. */
export type FlatLoops = ReadonlyArray<ReadonlyArray<readonly [number, number]>>;

/** The distances from a place to the first side in a direction of each axis; Infinity where there is none. */
export interface Clearance {
  /** Against the first axis and along it, against the second and along it. */
  low: [number, number];
  high: [number, number];
}

/** @param place of the plane, at least somewhere inside for the distances to mean something */
export function clearanceAt(loops: FlatLoops, place: readonly [number, number]): Clearance {
  const out: Clearance = { low: [Infinity, Infinity], high: [Infinity, Infinity] };
  for (const loop of loops)
    loop.forEach((p, i) => {
      const q = loop[(i + 1) % loop.length];
      for (const a of [0, 1] as const) {
        const b = 1 - a;
        const [from, to] = [p[b] - place[b], q[b] - place[b]];
        // Half open, so that a corner counts once.
        if (from < 0 === to < 0) continue;
        const at = p[a] + ((q[a] - p[a]) * from) / (from - to) - place[a];
        if (at < 0) out.low[a] = Math.min(out.low[a], -at);
        else out.high[a] = Math.min(out.high[a], at);
      }
    });
  return out;
}

/** The middle of the least box around outlines. */
export function middleOfLoops(loops: FlatLoops): [number, number] {
  const all = loops.flat();
  return [0, 1].map((a) => {
    const along = all.map((p) => p[a]);
    const [low, high] = along.reduce(([l, h], x) => [Math.min(l, x), Math.max(h, x)], [Infinity, -Infinity]);
    return (low + high) / 2;
  }) as [number, number];
}

/** Whether an outline lies entirely within others; touching them from inside is within. */
export function liesWithin(outline: FlatLoops[number], loops: FlatLoops): boolean {
  const crosses = outline.some((a, i) => {
    const b = outline[(i + 1) % outline.length];
    return loops.some((loop) => loop.some((p, k) => properlyCross(a, b, p, loop[(k + 1) % loop.length])));
  });
  return !crosses && outline.every((p) => loops.some((loop) => isIn(loop, p)));
}

/** Lengths below this count as touching, mm. */
const TOUCHES = 1e-6;

type Point = readonly [number, number];

function properlyCross(a: Point, b: Point, p: Point, q: Point): boolean {
  const side = (u: Point, v: Point, w: Point): number => {
    const [x, y] = [v[0] - u[0], v[1] - u[1]];
    const off = (x * (w[1] - u[1]) - y * (w[0] - u[0])) / (Math.hypot(x, y) || 1);
    return Math.abs(off) < TOUCHES ? 0 : Math.sign(off);
  };
  return side(a, b, p) * side(a, b, q) < 0 && side(p, q, a) * side(p, q, b) < 0;
}

/** Inside a loop or on it. */
function isIn(loop: ReadonlyArray<Point>, [x, y]: Point): boolean {
  let inside = false;
  for (let i = 0; i < loop.length; i++) {
    const [p, q] = [loop[i], loop[(i + 1) % loop.length]];
    const [dx, dy] = [q[0] - p[0], q[1] - p[1]];
    const along = Math.min(1, Math.max(0, ((x - p[0]) * dx + (y - p[1]) * dy) / (dx * dx + dy * dy || 1)));
    if (Math.hypot(x - p[0] - along * dx, y - p[1] - along * dy) < TOUCHES) return true;
    if (p[1] > y !== q[1] > y && x < p[0] + (dx * (y - p[1])) / dy) inside = !inside;
  }
  return inside;
}

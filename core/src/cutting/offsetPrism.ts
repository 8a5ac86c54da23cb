/**
 * Straight bodies whose faces have moved along their normals: the outline is offset in its plane, and what vanishes or
 * runs into other parts is clipped away by winding numbers (Chen & McMains 2005, "Polygon offsetting by computing winding
 * numbers"). Walls meet in mitres where a corner opens; at others the raw outline goes back over the corner.
 */
import { keepManifold } from '../mesh/makeManifold';
import { faceNormal, sizeOf } from '../mesh/measure';
import { EMPTY_MESH, faceCorners, faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { TOLERANCE } from '../mesh/tolerance';
import { add, dot, pointOf, scale, type Vec3 } from '../mesh/vec3';
import { dividePolygon } from '../planar/dividePolygon';
import { frameFrom, toPlane, type Frame } from '../planar/frame';
import { filledBy, type Pair } from '../planar/united';
import { withBridges } from '../primitives/outlineBody';
import { markSound } from '../solid/Solid';
import { facesOver, type CornerSource, type FaceOver } from './facesOver';
import type { Moved } from './offsetBody';

/** Sines and cosines this near to 0 are 0. */
const SQUARE = 1e-9;
/** Sine of the least angle at which a wall that moves is cut off by the plane of one that stays. */
const SHALLOW = Math.SQRT1_2;

/** A body between two parallel ends, with four-sided walls straight up from one to the other. */
interface Prism {
  frame: Frame;
  low: number;
  high: number;
  /** The faces of each end. */
  bottom: number[];
  top: number[];
  /** Per closed outline: its walls in order, counter-clockwise around the body as seen from its upper end. */
  outlines: Wall[][];
}

interface Wall {
  face: number;
  /** Its corners in the mesh: two along the lower end, then two back along the upper one. */
  corners: number[];
  /** Along the lower end. */
  from: Pair;
  to: Pair;
}

/** A side of a raw outline: a wall, or a way between two. */
interface Side {
  from: Pair;
  wall: Wall;
}

/**
 * @param by per face: how far along its normal, mm; of one sign, or 0 for a face that stays
 * @returns null where nothing is left; undefined where the body is not straight
 */
export function offsetPrism(mesh: PolyMesh, by: (face: number) => number): Moved | null | undefined {
  const prism = prismOf(mesh);
  if (!prism) return undefined;
  const { frame, bottom, top, outlines } = prism;
  // An end is one plane: it moves when any of its faces does.
  const endBy = (faces: number[]): number => by(faces.find(by) ?? faces[0]);
  const [low, high] = [prism.low - endBy(bottom), prism.high + endBy(top)];
  if (!(high - low > TOLERANCE.kernel * sizeOf(mesh))) return null;
  const raw = outlines.map((walls) => rawOutline(walls, by));
  const loops = filledBy(
    raw.map((sides) => sides.map((s) => s.from)),
    'positive',
  );
  if (!loops.length) return null;

  const positions: number[] = [];
  const numbers = new Map<string, number>();
  const pointAt = ([x, y]: Pair): number => {
    const key = `${x},${y}`;
    const known = numbers.get(key);
    if (known !== undefined) return known;
    const flat = add(frame.origin, add(scale(frame.u, x), scale(frame.v, y)));
    for (const z of [low, high]) positions.push(...add(flat, scale(frame.normal, z)));
    numbers.set(key, positions.length / 3 - 2);
    return positions.length / 3 - 2;
  };
  const rims = loops.map((loop) => loop.map((c) => pointAt(c.at)));
  const faces = loops.flatMap((loop, l) =>
    loop.map((corner, i): FaceOver => {
      const k = (i + 1) % loop.length;
      const { wall } = raw[corner.side[0]][corner.side[1]];
      const [a, b] = [rims[l][i], rims[l][k]];
      return { loop: [a, b, b + 1, a + 1], of: wall.face, corners: sourcesOf(wall, corner.at, loop[k].at) };
    }),
  );
  const walls = faces.length;
  for (const loop of dividePolygon(rims, positions, frame.normal)) {
    faces.push({ loop: loop.map((v) => v + 1), of: top[0] });
    faces.push({ loop: [...loop].reverse(), of: bottom[0] });
  }
  const body = withBridges(facesOver(mesh, positions, faces), walls);
  // Where outlines touch in a corner, two walls meet two others along one line.
  const out = numbers.size < rims.flat().length ? keepManifold(body, EMPTY_MESH) : body;
  return { mesh: markSound(out), faceOf: (f) => faces[f].of };
}

/** The corners of a wall that those of a part of it are like. */
function sourcesOf({ from, to, corners: [a, b, c, d] }: Wall, p: Pair, q: Pair): CornerSource[] {
  const [ux, uy] = [to[0] - from[0], to[1] - from[1]];
  const along = ([x, y]: Pair): number =>
    Math.min(1, Math.max(0, ((x - from[0]) * ux + (y - from[1]) * uy) / (ux * ux + uy * uy)));
  const [s, t] = [along(p), along(q)];
  return [[a, b, s], [a, b, t], [d, c, t], [d, c, s]]; // prettier-ignore
}

/** The moved walls of an outline, not clipped yet. */
function rawOutline(walls: ReadonlyArray<Wall>, by: (face: number) => number): Side[] {
  const n = walls.length;
  const out: Side[] = [];
  walls.forEach((wall, i) => {
    const before = walls[(i + n - 1) % n];
    const [first, second] = [before, wall].map((w) => shiftOf(w, by(w.face)));
    const at = wall.from;
    const start: Pair = [at[0] + second[0], at[1] + second[1]];
    const end: Pair = [at[0] + first[0], at[1] + first[1]];
    const turn = turnOf(before, wall) * Math.sign(by(before.face) || by(wall.face));
    const together = by(before.face) === by(wall.face);
    const opens = turn >= -SQUARE;
    const tip = opens && (together || turn > SHALLOW) ? meeting(before, end, wall, start) : null;
    if (tip) out.push({ from: tip, wall });
    else {
      // A wall that goes on in one that stays ends in a step; at other corners the outline goes back over the corner.
      out.push({ from: end, wall: before }, { from: at, wall: before }, { from: start, wall });
    }
  });
  return out.filter(({ from }, i) => {
    const next = out[(i + 1) % out.length].from;
    return from[0] !== next[0] || from[1] !== next[1];
  });
}

function directionOf({ from, to }: Wall): Pair {
  const [x, y] = [to[0] - from[0], to[1] - from[1]];
  const l = Math.hypot(x, y);
  return [x / l, y / l];
}

/** The body lies to the left of its outline. */
function shiftOf(wall: Wall, by: number): Pair {
  const [x, y] = directionOf(wall);
  return [by * y, -by * x];
}

const turnOf = (a: Wall, b: Wall): number => {
  const [u, v] = [directionOf(a), directionOf(b)];
  return u[0] * v[1] - u[1] * v[0];
};

/** The point where the line of one wall through a point meets the line of another. */
function meeting(a: Wall, p: Pair, b: Wall, q: Pair): Pair | null {
  const [u, v] = [directionOf(a), directionOf(b)];
  const det = u[0] * v[1] - u[1] * v[0];
  if (Math.abs(det) <= SQUARE) return nearly(p, q);
  const s = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / det;
  return [p[0] + s * u[0], p[1] + s * u[1]];
}

/** One point of two in the same place but for rounding. */
const nearly = (p: Pair, q: Pair): Pair | null =>
  Math.hypot(p[0] - q[0], p[1] - q[1]) <= SQUARE * Math.hypot(...p) ? p : null;

/** @returns null for a body of another kind */
function prismOf(mesh: PolyMesh): Prism | null {
  const normals = Array.from({ length: faceCount(mesh) }, (_, f) => faceNormal(mesh, f));
  for (const axis of distinct(normals)) {
    if (!normals.every((n) => isAlongOrSquare(dot(n, axis)))) continue;
    const prism = alongAxis(mesh, normals, axis);
    if (prism) return prism;
  }
  return null;
}

const isAlongOrSquare = (cosine: number): boolean => {
  const c = Math.abs(cosine);
  return c <= SQUARE || c >= 1 - SQUARE;
};

/** The first few directions that are not the same or opposite: one of three must be the axis. */
function distinct(normals: ReadonlyArray<Vec3>): Vec3[] {
  const out: Vec3[] = [];
  for (const n of [...normals].reverse()) {
    if (out.some((o) => Math.abs(dot(o, n)) >= 1 - SQUARE)) continue;
    out.push(n);
    if (out.length === 3) break;
  }
  return out;
}

function alongAxis(mesh: PolyMesh, normals: ReadonlyArray<Vec3>, axis: Vec3): Prism | null {
  const frame = frameFrom([0, 0, 0], axis);
  const height = (v: number): number => dot(pointOf(mesh.positions, v), frame.normal);
  let [low, high] = [Infinity, -Infinity];
  for (const v of mesh.corners) [low, high] = [Math.min(low, height(v)), Math.max(high, height(v))];
  const near = SQUARE * sizeOf(mesh);
  const isLow = (v: number): boolean => height(v) - low <= near;
  const isHigh = (v: number): boolean => high - height(v) <= near;
  const bottom: number[] = [];
  const top: number[] = [];
  const wallFrom = new Map<number, { wall: Wall; to: number }>();
  for (let f = 0; f < normals.length; f++) {
    const corners = faceCorners(mesh, f);
    const level = dot(normals[f], axis);
    if (Math.abs(level) > 0.5) {
      if (!corners.every((c) => (level > 0 ? isHigh : isLow)(mesh.corners[c]))) return null;
      (level > 0 ? top : bottom).push(f);
      continue;
    }
    if (corners.length !== 4) return null;
    const first = corners.findIndex(
      (c, k) => isLow(mesh.corners[c]) && isLow(mesh.corners[corners[(k + 1) % 4]]),
    );
    if (first < 0) return null;
    const turned = [0, 1, 2, 3].map((k) => corners[(first + k) % 4]);
    const [a, b, c, d] = turned.map((k) => mesh.corners[k]);
    if (!isHigh(c) || !isHigh(d) || wallFrom.has(a)) return null;
    const [from, to] = [a, b].map((v) => toPlane(frame, pointOf(mesh.positions, v)));
    wallFrom.set(a, { wall: { face: f, corners: turned, from, to }, to: b });
  }
  if (!bottom.length || !top.length) return null;
  const outlines: Wall[][] = [];
  while (wallFrom.size) {
    const [start] = wallFrom.keys();
    const walls: Wall[] = [];
    for (let v = start; ;) {
      const next = wallFrom.get(v);
      if (!next) return null;
      wallFrom.delete(v);
      walls.push(next.wall);
      v = next.to;
      if (v === start) break;
    }
    outlines.push(walls);
  }
  return { frame, low, high, bottom, top, outlines };
}

/** Putting picked points in order: flatten, straighten, space evenly, relax, make round, push along normals. */
import type { Static } from 'typebox';
import { withPoints } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';
import { eigen } from '../mesh/offset';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { addScaled, cross, distance, dot, lerp, pointOf, sub, unit, type Vec3 } from '../mesh/vec3';
import { islandsOf, pointsOf, type Selection } from '../select/selection';
import { choice, count, flag, length, params, share, vector } from './fields';
import { counted, type Operation } from './operation';
import { middleOfPoints } from './transformElements';

/** Best plane through points: their mean, and the direction they vary in least (principal axes, Pearson 1901). */
export function bestPlane(mesh: PolyMesh, points: ReadonlyArray<number>): { at: Vec3; n: Vec3 } {
  const at = middleOfPoints(mesh, points);
  const m = new Array<number>(9).fill(0);
  for (const v of points) {
    const d = sub(pointOf(mesh.positions, v), at);
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) m[3 * i + j] += d[i] * d[j];
  }
  const { values, vectors } = eigen(m);
  return { at, n: vectors[values.indexOf(Math.min(...values))] };
}

const flattenSchema = params({
  onto: choice('Onto', ['best', 'x', 'y', 'z', 'direction'], 'best'),
  direction: vector('Direction', [0, 1, 0], 1, ''),
  strength: share('Strength', 1),
});
type FlattenParams = Required<Static<typeof flattenSchema>> & {
  onto: string;
  direction: Vec3;
  strength: number;
};

export const flatten: Operation<FlattenParams> = {
  kind: 'flatten',
  title: 'Flatten',
  on: ['vertex', 'edge', 'face'],
  params: flattenSchema,
  run(mesh, selection, p) {
    const positions = mesh.positions.slice();
    const points = pointsOf(mesh, selection);
    const best = bestPlane(mesh, points);
    const axes: Record<string, Vec3> = {
      x: [1, 0, 0],
      y: [0, 1, 0],
      z: [0, 0, 1],
      direction: unit(p.direction),
    };
    const n = p.onto === 'best' ? best.n : axes[p.onto];
    for (const v of points) {
      const at = pointOf(mesh.positions, v);
      positions.set(addScaled(at, n, -p.strength * dot(sub(at, best.at), n)), 3 * v);
    }
    return {
      mesh: withPoints(mesh, positions),
      selection,
      report: `Flattened ${counted(points.length, 'point')}.`,
    };
  },
};

/** Picked points in order along picked edges (or edges between picked points). */
interface Row {
  points: number[];
  closed: boolean;
}

function rowsOf(mesh: PolyMesh, s: Selection): Row[] {
  const t = topologyOf(mesh);
  const among = new Set(pointsOf(mesh, s));
  const next = new Map<number, number[]>();
  const edges = s.kind === 'edge' ? s.indices : Array.from({ length: t.edgeCount }, (_, e) => e);
  for (const e of edges) {
    const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
    if (!among.has(a) || !among.has(b)) continue;
    for (const [x, y] of [[a, b], [b, a]]) next.set(x, [...(next.get(x) ?? []), y]); // prettier-ignore
  }
  const rows: Row[] = [];
  const seen = new Set<number>();
  const starts = [...next.keys()].sort((a, b) => next.get(a)!.length - next.get(b)!.length || a - b);
  for (const s0 of starts) {
    if (seen.has(s0)) continue;
    if (next.get(s0)!.length > 2)
      throw new OperationError(
        'no-row',
        'The picked elements branch, so they are no single row.',
        { domain: 'vertex', indices: [s0] },
        'Pick rows or loops that do not touch each other.',
      );
    const points = [s0];
    seen.add(s0);
    for (let v = s0; ;) {
      const on = next.get(v)!.find((w) => !seen.has(w));
      if (on === undefined) {
        rows.push({ points, closed: points.length > 2 && next.get(v)!.includes(s0) });
        break;
      }
      if (next.get(on)!.length > 2)
        throw new OperationError(
          'no-row',
          'The picked elements branch, so they are no single row.',
          { domain: 'vertex', indices: [on] },
          'Pick rows or loops that do not touch each other.',
        );
      seen.add(on);
      points.push((v = on));
    }
  }
  if (!rows.length)
    throw new OperationError(
      'no-row',
      'No two picked points are neighbours, so there is no row.',
      undefined,
      'Pick a row of points or edges.',
    );
  return rows;
}

export const straighten: Operation = {
  kind: 'straighten',
  title: 'Straighten',
  on: ['edge', 'vertex'],
  params: params({}),
  run(mesh, selection) {
    const rows = rowsOf(mesh, selection);
    const positions = mesh.positions.slice();
    for (const { points, closed } of rows) {
      if (closed)
        throw new OperationError(
          'closed-row',
          'A closed loop has no ends to straighten between.',
          { domain: 'vertex', indices: points },
          'Leave one edge of it out.',
        );
      const [a, b] = [pointOf(mesh.positions, points[0]), pointOf(mesh.positions, points[points.length - 1])];
      const along = sub(b, a);
      for (const v of points.slice(1, -1)) {
        const s = dot(sub(pointOf(mesh.positions, v), a), along) / (dot(along, along) || 1);
        positions.set(lerp(a, b, Math.min(1, Math.max(0, s))), 3 * v);
      }
    }
    return {
      mesh: withPoints(mesh, positions),
      selection,
      report: `Straightened ${counted(rows.length, 'row')}.`,
    };
  },
};

export const spaceEvenly: Operation = {
  kind: 'spaceEvenly',
  title: 'Space evenly',
  on: ['edge', 'vertex'],
  params: params({}),
  run(mesh, selection) {
    const rows = rowsOf(mesh, selection);
    const positions = mesh.positions.slice();
    for (const { points, closed } of rows) {
      const curve = new Curve(
        points.map((v) => pointOf(mesh.positions, v)),
        closed,
      );
      const last = closed ? points.length : points.length - 1;
      points.forEach((v, k) => {
        if (k > 0 && (closed || k < last)) positions.set(curve.at((k / last) * curve.length), 3 * v);
      });
    }
    return {
      mesh: withPoints(mesh, positions),
      selection,
      report: `Spaced ${counted(rows.length, 'row')} evenly.`,
    };
  },
};

/** A centripetal Catmull–Rom curve through points (Yuksel, Schaefer, Keyser 2011), measured along its length. */
class Curve {
  private readonly samples: Array<{ far: number; at: Vec3 }> = [];
  readonly length: number;

  constructor(points: Vec3[], closed: boolean) {
    const n = points.length;
    const P = (k: number): Vec3 => {
      if (closed) return points[((k % n) + n) % n];
      if (k < 0) return addScaled(points[0], sub(points[1], points[0]), -1);
      if (k >= n) return addScaled(points[n - 1], sub(points[n - 2], points[n - 1]), -1);
      return points[k];
    };
    let far = 0;
    let before = points[0];
    this.samples.push({ far, at: before });
    for (let k = 0; k + (closed ? 0 : 1) < n; k++)
      for (let i = 1; i <= STEPS; i++) {
        const at = catmullRom(P(k - 1), P(k), P(k + 1), P(k + 2), i / STEPS);
        far += distance(before, at);
        this.samples.push({ far, at });
        before = at;
      }
    this.length = far;
  }

  at(far: number): Vec3 {
    let [lo, hi] = [0, this.samples.length - 1];
    while (hi - lo > 1) {
      const mid = (lo + hi) >> 1;
      if (this.samples[mid].far <= far) lo = mid;
      else hi = mid;
    }
    const [a, b] = [this.samples[lo], this.samples[hi]];
    return lerp(a.at, b.at, (far - a.far) / (b.far - a.far || 1));
  }
}
const STEPS = 32;

function catmullRom(p0: Vec3, p1: Vec3, p2: Vec3, p3: Vec3, s: number): Vec3 {
  const gap = (a: Vec3, b: Vec3): number => Math.max(1e-9, Math.sqrt(distance(a, b)));
  const t1 = gap(p0, p1);
  const t2 = t1 + gap(p1, p2);
  const t3 = t2 + gap(p2, p3);
  const t = t1 + s * (t2 - t1);
  const mix = (a: Vec3, b: Vec3, ta: number, tb: number): Vec3 => lerp(a, b, (t - ta) / (tb - ta));
  const a1 = mix(p0, p1, 0, t1);
  const a2 = mix(p1, p2, t1, t2);
  const a3 = mix(p2, p3, t2, t3);
  return mix(mix(a1, a2, 0, t2), mix(a2, a3, t1, t3), t1, t2);
}

const relaxSchema = params({ strength: share('Strength', 0.5), rounds: count('Rounds', 10, 1, 500) });
type RelaxParams = Required<Static<typeof relaxSchema>> & { strength: number; rounds: number };

export const relax: Operation<RelaxParams> = {
  kind: 'relax',
  title: 'Relax',
  on: ['vertex', 'edge', 'face'],
  params: relaxSchema,
  run(mesh, selection, p) {
    const t = topologyOf(mesh);
    const points = pointsOf(mesh, selection);
    const picked = new Set(points);
    const neighbours = new Map<number, number[]>(points.map((v) => [v, []]));
    const rim = new Set<number>();
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
      neighbours.get(a)?.push(b);
      neighbours.get(b)?.push(a);
      if (t.edgeUse[e] === 1) rim.add(a).add(b);
    }
    // The border of the patch holds: points with a neighbour outside it, and open rims.
    const inner = points.filter((v) => !rim.has(v) && neighbours.get(v)!.every((w) => picked.has(w)));
    if (!inner.length)
      throw new OperationError(
        'no-inside',
        'The picked patch has no point inside its border, so nothing can relax.',
        { domain: 'vertex', indices: points },
        'Grow the selection.',
      );
    let now = mesh.positions.slice();
    for (let r = 0; r < p.rounds; r++) {
      const next = now.slice();
      for (const v of inner) {
        const list = neighbours.get(v)!;
        for (let k = 0; k < 3; k++) {
          let sum = 0;
          for (const w of list) sum += now[3 * w + k];
          next[3 * v + k] += p.strength * (sum / list.length - now[3 * v + k]);
        }
      }
      now = next;
    }
    return {
      mesh: withPoints(mesh, now),
      selection,
      report: `Relaxed ${counted(inner.length, 'point')}; the border held.`,
    };
  },
};

const roundSchema = params({
  radius: length('Radius', 0, 0),
  flat: flag('In one plane', true),
  even: flag('Evenly spaced', true),
});
type RoundParams = Required<Static<typeof roundSchema>> & { radius: number; flat: boolean; even: boolean };

/** A radius of 0 keeps the mean distance of each border from its middle. */
export const makeRound: Operation<RoundParams> = {
  kind: 'makeRound',
  title: 'Make round',
  on: ['face', 'edge', 'vertex'],
  params: roundSchema,
  run(mesh, selection, p) {
    const positions = mesh.positions.slice();
    const rows =
      selection.kind === 'face'
        ? bordersOf(mesh, selection)
        : rowsOf(mesh, selection)
            .filter((r) => r.closed)
            .map((r) => r.points);
    if (!rows.length)
      throw new OperationError(
        'no-loop',
        'No closed loop is picked, so nothing can be made round.',
        { domain: selection.kind, indices: [...selection.indices] },
        'Pick faces, or a closed loop of edges.',
      );
    for (const points of rows) roundRow(mesh, points, p, positions);
    return {
      mesh: withPoints(mesh, positions),
      selection,
      report: `Made ${counted(rows.length, 'loop')} round.`,
    };
  },
};

/** The border of every island of faces, in order. */
function bordersOf(mesh: PolyMesh, s: Selection): number[][] {
  const t = topologyOf(mesh);
  return islandsOf(mesh, s).flatMap((faces) => {
    const mine = new Set(faces);
    const edges: number[] = [];
    for (const f of faces)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        if (t.twin[c] < 0 || !mine.has(t.faceOfCorner[t.twin[c]])) edges.push(t.edgeOfCorner[c]);
    return rowsOf(mesh, { kind: 'edge', indices: edges })
      .filter((r) => r.closed)
      .map((r) => r.points);
  });
}

function roundRow(mesh: PolyMesh, points: number[], p: RoundParams, out: Float64Array): void {
  const { at, n } = bestPlane(mesh, points);
  const from = points.map((v) => sub(pointOf(mesh.positions, v), at));
  const flat = from.map((d) => addScaled(d, n, -dot(d, n)));
  const radius = p.radius > 0 ? p.radius : flat.reduce((r, d) => r + Math.sqrt(dot(d, d)), 0) / flat.length;
  const u = unit(flat[0]);
  const w = cross(n, u);
  const angles = unwrapped(flat.map((d) => Math.atan2(dot(d, w), dot(d, u))));
  const sense = Math.sign(angles[angles.length - 1] - angles[0]) || 1;
  // Evenly spaced, the whole ring is turned so that its points travel least.
  const step = (sense * 2 * Math.PI) / points.length;
  const start = angles.reduce((s, a, k) => s + a - k * step, 0) / points.length;
  points.forEach((v, k) => {
    const a = p.even ? start + k * step : angles[k];
    const to = addScaled(addScaled(at, u, radius * Math.cos(a)), w, radius * Math.sin(a));
    out.set(p.flat ? to : addScaled(to, n, dot(from[k], n)), 3 * v);
  });
}

function unwrapped(angles: number[]): number[] {
  const out = [angles[0]];
  for (let k = 1; k < angles.length; k++) {
    let a = angles[k];
    while (a - out[k - 1] > Math.PI) a -= 2 * Math.PI;
    while (a - out[k - 1] < -Math.PI) a += 2 * Math.PI;
    out.push(a);
  }
  return out;
}

const pushSchema = params({ distance: length('Distance', 1) });
type PushParams = Required<Static<typeof pushSchema>> & { distance: number };

export const push: Operation<PushParams> = {
  kind: 'push',
  title: 'Push along normals',
  on: ['vertex', 'edge', 'face'],
  params: pushSchema,
  run(mesh, selection, p) {
    const t = topologyOf(mesh);
    const area = areaVectors(mesh);
    const positions = mesh.positions.slice();
    const points = pointsOf(mesh, selection);
    for (const v of points) {
      const sum: Vec3 = [0, 0, 0];
      for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
        for (let k = 0; k < 3; k++) sum[k] += area[3 * t.faceOfCorner[t.vertexCorners[i]] + k];
      positions.set(addScaled(pointOf(mesh.positions, v), unit(sum), p.distance), 3 * v);
    }
    return {
      mesh: withPoints(mesh, positions),
      selection,
      report: `Pushed ${counted(points.length, 'point')}.`,
    };
  },
};

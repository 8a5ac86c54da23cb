/** Rows of picked points: straightened between their ends, or spaced evenly along the curve they follow. */
import { withPoints } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { TOLERANCE } from '../mesh/tolerance';
import { addScaled, distance, dot, lerp, pointOf, sub, unit, type Vec3 } from '../mesh/vec3';
import { pointsOf, selectionOf, type Selection } from '../select/selection';
import { movedRows } from './changed';
import { flag, params } from './fields';
import { counted, defineOperation } from './operation';
import { onSheet } from './tool';

/** Picked points in order along picked edges (or edges between picked points). */
export interface Row {
  points: number[];
  closed: boolean;
}

export function rowsOf(mesh: PolyMesh, s: Selection): Row[] {
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
    refuseBranch(next, s0);
    const points = [s0];
    seen.add(s0);
    for (let v = s0; ;) {
      const on = next.get(v)!.find((w) => !seen.has(w));
      if (on === undefined) {
        rows.push({ points, closed: points.length > 2 && next.get(v)!.includes(s0) });
        break;
      }
      refuseBranch(next, on);
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

function refuseBranch(next: ReadonlyMap<number, number[]>, v: number): void {
  if (next.get(v)!.length > 2)
    throw new OperationError(
      'no-row',
      'The picked elements branch, so they are not a single row.',
      { domain: 'vertex', indices: [v] },
      'Pick rows or loops that do not touch each other.',
    );
}

export const straighten = defineOperation({
  kind: 'straighten',
  title: 'Straighten',
  on: ['edge', 'vertex'],
  params: params({}),
  example: onSheet({
    op: 'straighten',
    select: { rule: 'within', of: 'edges', min: [-1, -1, -20], max: [1, 1, 20] },
  }),
  tools: [{ words: 'line align' }],
  refuses: ['no-row', 'closed-row'],
  says: ({ rows }) => `Straightened ${counted(rows, 'row')}.`,
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
      const at = points.map((v) => pointOf(mesh.positions, v));
      const shares = sharesOfLine(at);
      for (let k = 1; k < points.length - 1; k++)
        positions.set(lerp(at[0], at[at.length - 1], shares[k]), 3 * points[k]);
    }
    return {
      mesh: withPoints(mesh, positions),
      selection,
      counts: {
        rows: movedRows(
          mesh,
          positions,
          rows.map((r) => r.points),
        ),
      },
    };
  },
});

/**
 * Targets for the points of a row on the line between its ends, 0…1: each to its nearest place. Where that would put
 * neighbours out of order, which folds the faces beside the row, all go by their share of the row's length instead.
 */
function sharesOfLine(at: Vec3[]): number[] {
  const last = at.length - 1;
  const along = sub(at[last], at[0]);
  const nearest = at.map((p) => dot(sub(p, at[0]), along) / (dot(along, along) || 1));
  nearest[last] = 1;
  if (nearest.every((s, k) => k === 0 || s - nearest[k - 1] > TOLERANCE.weld)) return nearest;
  const far = [0];
  for (let k = 1; k <= last; k++) far.push(far[k - 1] + distance(at[k - 1], at[k]));
  return far.map((s) => s / (far[last] || 1));
}

const spaceSchema = params({ between: flag('Between parallel loops', false) });

/**
 * Along each row by itself, or the rows that lead across parallel loops from the first to the last: then the loops come
 * to lie evenly between the outer two, on the curve the surface follows there.
 */
export const spaceEvenly = defineOperation({
  kind: 'spaceEvenly',
  title: 'Space evenly',
  on: ['edge', 'vertex'],
  params: spaceSchema,
  example: onSheet({
    op: 'spaceEvenly',
    select: { rule: 'within', of: 'edges', min: [-1, -1, -20], max: [1, 1, 20] },
  }),
  tools: [{ words: 'distribute even' }],
  refuses: ['no-row', 'closed-row', 'no-loops-beside'],
  says: ({ rows }) => `Spaced ${counted(rows, 'row')} evenly.`,
  run(mesh, selection, p) {
    const rows = rowsOf(mesh, p.between ? edgesAcross(mesh, selection) : selection);
    const positions = mesh.positions.slice();
    for (const { points, closed } of rows.flatMap((row) => betweenCorners(mesh, row))) {
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
      counts: {
        rows: movedRows(
          mesh,
          positions,
          rows.map((r) => r.points),
        ),
      },
    };
  },
});

/** A row turns a corner where it turns by more than this, degrees: that point stays, or the row would leave its faces. */
const CORNER = 45;

/** The runs of a row between its corners; the row itself where it has none. */
function betweenCorners(mesh: PolyMesh, { points, closed }: Row): Array<Pick<Row, 'points' | 'closed'>> {
  const n = points.length;
  const at = (k: number): Vec3 => pointOf(mesh.positions, points[(k + n) % n]);
  const isCorner = (k: number): boolean => {
    if (!closed && (k === 0 || k === n - 1)) return true;
    const [a, b] = [unit(sub(at(k), at(k - 1))), unit(sub(at(k + 1), at(k)))];
    return dot(a, b) < Math.cos((CORNER * Math.PI) / 180);
  };
  const corners = points.flatMap((_, k) => (isCorner(k) ? [k] : []));
  if (!corners.length) return [{ points, closed }];
  const ends = closed ? [...corners, corners[0] + n] : corners;
  return ends.slice(1).map((to, i) => ({
    points: Array.from({ length: to - ends[i] + 1 }, (_, k) => points[(ends[i] + k) % n]),
    closed: false,
  }));
}

/**
 * Edges that lead from one picked loop to the next.
 * @throws OperationError `no-loops-beside` when no two picked loops are neighbours
 */
function edgesAcross(mesh: PolyMesh, s: Selection): Selection {
  const t = topologyOf(mesh);
  const along = new Set(s.kind === 'edge' ? s.indices : []);
  const on = new Set(pointsOf(mesh, s));
  const across = Array.from({ length: t.edgeCount }, (_, e) => e).filter(
    (e) => !along.has(e) && on.has(t.edges[2 * e]) && on.has(t.edges[2 * e + 1]),
  );
  if (!along.size || !across.length)
    throw new OperationError(
      'no-loops-beside',
      'No two picked loops are neighbours.',
      { domain: s.kind, indices: [...s.indices] },
      'Pick the edges of at least three parallel loops.',
    );
  return selectionOf('edge', across);
}

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

/**
 * Slide: picked runs of edges move along the edges beside them, picked points along the one of their edges that leads
 * a given way; by a share of each or by an even distance.
 */
import { withPoints } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { edgesAt, nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { OperationError, warn } from '../mesh/errors';
import { distance, dot, lerp, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { pointsOf, type Selection } from '../select/selection';
import { movedOf } from './changed';
import { choice, length, params, planeNormal, share, vector } from './fields';
import { counted, defineOperation } from './operation';
import { onSheet } from './tool';

const schema = params({
  by: choice('Slide by', ['share', 'distance'], 'share'),
  share: share('Share', 0, -1, 1),
  distance: length('Distance', 0),
  toward: vector('Points go toward', [1, 0, 0], 1, ''),
});

export const slide = defineOperation({
  kind: 'slide',
  title: 'Slide',
  on: ['edge', 'vertex'],
  params: schema,
  example: onSheet({
    op: 'slide',
    select: { rule: 'within', of: 'edges', min: [-1, -1, -20], max: [1, 1, 20] },
    share: 0.5,
  }),
  tools: [
    {
      start: (hand) => ({ share: 0.25, ...(hand.kind === 'vertex' && { toward: hand.right() }) }),
      ring: { edge: 3, point: 3 },
    },
  ],
  shows: {
    share: (p) => p.by === 'share',
    distance: (p) => p.by === 'distance',
    toward: (_, on) => on === 'vertex',
  },
  pulls(mesh, selection, p) {
    const amount = p.by === 'share' ? p.share : p.distance;
    const [v] = pointsOf(mesh, selection);
    const to = railsOf(mesh, selection, p).get(v)?.[amount >= 0 ? 0 : 1];
    if (to === undefined) return [];
    const [zero, end] = [pointOf(mesh.positions, v), pointOf(mesh.positions, to)];
    const along = scale(unit(sub(end, zero)), amount >= 0 ? 1 : -1);
    return [{ key: p.by, zero, along, rate: p.by === 'share' ? 1 / (distance(zero, end) || 1) : 1 }];
  },
  refuses: ['no-rails', 'no-direction'],
  says: ({ points }) => `Slid ${counted(points, 'point')}.`,
  run(mesh, selection, p) {
    const { positions: before } = mesh;
    const rails = railsOf(mesh, selection, p);
    const positions = mesh.positions.slice();
    const amount = p.by === 'share' ? p.share : p.distance;
    const clamped: number[] = [];
    for (const v of pointsOf(mesh, selection)) {
      const to = rails.get(v)?.[amount >= 0 ? 0 : 1];
      if (to === undefined) continue;
      const [a, b] = [pointOf(before, v), pointOf(before, to)];
      const s = p.by === 'share' ? Math.abs(p.share) : Math.abs(p.distance) / (distance(a, b) || 1);
      // Never onto the neighbour: the faces between would have no area.
      if (s > LIMIT) clamped.push(v);
      positions.set(lerp(a, b, Math.min(LIMIT, s)), 3 * v);
    }
    return {
      mesh: withPoints(mesh, positions),
      selection,
      counts: { points: movedOf(mesh, positions, [...rails.keys()]).length },
      warnings: clamped.length
        ? [
            warn(
              'stopped',
              `${counted(clamped.length, 'point')} stopped short of a neighbour.`,
              'vertex',
              clamped,
            ),
          ]
        : undefined,
    };
  },
});

const LIMIT = 0.999;

/** Per point the neighbours it slides to: by positive and by negative amounts. */
type Rails = Map<number, [number?, number?]>;

const railsOf = (mesh: PolyMesh, { kind, indices }: Selection, p: { toward: Vec3 }): Rails =>
  kind === 'edge' ? railsBeside(mesh, indices) : railsAlong(mesh, indices, planeNormal(p.toward));

/** Along its own edges, the one that leads most toward a unit direction and the one that leads most away from it. */
function railsAlong(mesh: PolyMesh, points: ReadonlyArray<number>, toward: Vec3): Rails {
  const t = topologyOf(mesh);
  const picked = new Set(points);
  const rails: Rails = new Map();
  for (const v of points) {
    const at = pointOf(mesh.positions, v);
    let [most, least] = [0, 0];
    const rail: [number?, number?] = [];
    for (const e of edgesAt(mesh, v)) {
      const to = t.edges[2 * e] === v ? t.edges[2 * e + 1] : t.edges[2 * e];
      // Points that slide toward one another would pass.
      if (picked.has(to)) continue;
      const way = dot(unit(sub(pointOf(mesh.positions, to), at)), toward);
      if (way > most) [most, rail[0]] = [way, to];
      if (way < least) [least, rail[1]] = [way, to];
    }
    if (rail.length) rails.set(v, rail);
  }
  if (!rails.size)
    throw new OperationError(
      'no-rails',
      'The picked points have no edges to slide along that way.',
      { domain: 'vertex', indices: [...points] },
      'Pick points whose neighbours are not all picked too.',
    );
  return rails;
}

/** Along the edges beside runs: on the left and on the right of a run's direction. */
function railsBeside(mesh: PolyMesh, edges: ReadonlyArray<number>): Rails {
  const t = topologyOf(mesh);
  const rails: Rails = new Map();
  const picked = new Set(edges);
  const done = new Set<number>();
  const put = (v: number, side: 0 | 1, to: number): void => {
    const r = rails.get(v) ?? [];
    r[side] ??= to;
    rails.set(v, r);
  };
  const follow = (e: number, from: number): number => {
    // Left of the direction from → to lies the face whose corner starts at `from`.
    let c = t.cornerOfEdge[e];
    if (mesh.corners[c] !== from && t.twin[c] >= 0) c = t.twin[c];
    const forward = mesh.corners[c] === from;
    const sides: Array<[number, 0 | 1]> = [[c, forward ? 0 : 1]];
    if (t.twin[c] >= 0) sides.push([t.twin[c], forward ? 1 : 0]);
    for (const [k, side] of sides) {
      const [before, after] = [prevCorner(mesh, t, k), nextCorner(mesh, t, nextCorner(mesh, t, k))];
      if (!picked.has(t.edgeOfCorner[before])) put(mesh.corners[k], side, mesh.corners[before]);
      if (!picked.has(t.edgeOfCorner[nextCorner(mesh, t, k)]))
        put(mesh.corners[nextCorner(mesh, t, k)], side, mesh.corners[after]);
    }
    return t.edges[2 * e] === from ? t.edges[2 * e + 1] : t.edges[2 * e];
  };
  for (const first of edges) {
    if (done.has(first)) continue;
    for (const start of [t.edges[2 * first + 1], t.edges[2 * first]]) {
      // The second walk goes back from the first edge, so its sides are swapped by its direction.
      const back = start === t.edges[2 * first];
      let [e, v] = [first, start];
      for (;;) {
        if (!done.has(e) || e === first) {
          const other = t.edges[2 * e] === v ? t.edges[2 * e + 1] : t.edges[2 * e];
          follow(e, back ? v : other);
        }
        done.add(e);
        const on = edgesAt(mesh, v).find((x) => picked.has(x) && !done.has(x));
        if (on === undefined) break;
        v = t.edges[2 * on] === v ? t.edges[2 * on + 1] : t.edges[2 * on];
        e = on;
      }
    }
  }
  if (!rails.size)
    throw new OperationError(
      'no-rails',
      'The picked edges have no edges beside them to slide along.',
      { domain: 'edge', indices: [...edges] },
      'Pick a loop with faces on both sides.',
    );
  return rails;
}

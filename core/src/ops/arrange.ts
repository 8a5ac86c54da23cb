/** Putting picked points in order: flatten, relax, push along normals. */
import { withPoints } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';
import { eigen } from '../mesh/offset';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { addScaled, dot, pointOf, sub, unit, type Vec3 } from '../mesh/vec3';
import { pointsOf } from '../select/selection';
import { movedOf } from './changed';
import { choice, count, length, params, share, vector } from './fields';
import { counted, defineOperation } from './operation';
import { middleOfPoints } from './transformElements';
import { onBox, onSheet } from './tool';

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

export const flatten = defineOperation({
  kind: 'flatten',
  title: 'Flatten',
  on: ['vertex', 'edge', 'face'],
  params: flattenSchema,
  example: onBox({ op: 'flatten', select: { points: [0, 1, 2, 4] } }),
  tools: [
    { at: ['face', 'vertex'], words: 'planar align level', ring: { point: 6 } },
    {
      id: 'flattenView',
      title: 'Flatten onto the view',
      short: 'Flatten to view',
      at: ['face', 'vertex'],
      start: (hand) => ({ onto: 'direction', direction: hand.eye() }),
    },
  ],
  shows: { direction: (p) => p.onto === 'direction' },
  refuses: ['no-direction'],
  says: ({ points }) => `Flattened ${counted(points, 'point')}.`,
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
      counts: { points: movedOf(mesh, positions, points).length },
    };
  },
});

const relaxSchema = params({ strength: share('Strength', 0.5), rounds: count('Rounds', 10, 1, 500) });

export const relax = defineOperation({
  kind: 'relax',
  title: 'Relax',
  on: ['vertex', 'edge', 'face'],
  params: relaxSchema,
  example: onSheet({ op: 'relax', select: { rule: 'all', of: 'points' } }),
  tools: [{ at: ['vertex'], words: 'smooth' }],
  refuses: ['no-inside'],
  says: ({ points }) => `Relaxed ${counted(points, 'point')}; the border held.`,
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
      counts: { points: movedOf(mesh, now, inner).length },
    };
  },
});

const pushSchema = params({ distance: length('Distance', 1) });

/** Unit normal at a point: of the faces around it, by their areas. */
function pushDirection(mesh: PolyMesh, v: number): Vec3 {
  const t = topologyOf(mesh);
  const area = areaVectors(mesh);
  const sum: Vec3 = [0, 0, 0];
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
    for (let k = 0; k < 3; k++) sum[k] += area[3 * t.faceOfCorner[t.vertexCorners[i]] + k];
  return unit(sum);
}

export const push = defineOperation({
  kind: 'push',
  title: 'Push along normals',
  on: ['vertex', 'edge', 'face'],
  params: pushSchema,
  example: onBox({ op: 'push', select: { rule: 'all', of: 'points' }, distance: 2 }),
  tools: [
    {
      at: ['vertex'],
      short: 'Push',
      words: 'inflate shrink',
      start: (hand) => ({ distance: hand.share(0.01) }),
    },
  ],
  pulls(mesh, selection) {
    const [v] = pointsOf(mesh, selection);
    return [{ key: 'distance', zero: pointOf(mesh.positions, v), along: pushDirection(mesh, v), rate: 1 }];
  },
  says: ({ points }) => `Pushed ${counted(points, 'point')}.`,
  run(mesh, selection, p) {
    const positions = mesh.positions.slice();
    const points = pointsOf(mesh, selection);
    for (const v of points)
      positions.set(addScaled(pointOf(mesh.positions, v), pushDirection(mesh, v), p.distance), 3 * v);
    return {
      mesh: withPoints(mesh, positions),
      selection,
      counts: { points: movedOf(mesh, positions, points).length },
    };
  },
});

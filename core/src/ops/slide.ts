/** Slide: picked runs of edges move along the edges beside them, by a share of each or by an even distance. */
import type { Static } from 'typebox';
import { withPoints } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { distance, lerp, pointOf } from '../mesh/vec3';
import { pointsOf } from '../select/selection';
import { choice, length, params, share } from './fields';
import { counted, type Operation } from './operation';

const schema = params({
  by: choice('Slide by', ['share', 'distance'], 'share'),
  share: share('Share', 0, -1, 1),
  distance: length('Distance', 0),
});
type Params = Required<Static<typeof schema>> & { by: 'share' | 'distance'; share: number; distance: number };

export const slide: Operation<Params> = {
  kind: 'slide',
  title: 'Slide',
  on: ['edge'],
  params: schema,
  run(mesh, selection, p) {
    const rails = railsOf(mesh, selection.indices);
    const positions = mesh.positions.slice();
    const amount = p.by === 'share' ? p.share : p.distance;
    let clamped = 0;
    for (const v of pointsOf(mesh, selection)) {
      const to = rails.get(v)?.[amount >= 0 ? 0 : 1];
      if (to === undefined) continue;
      const [a, b] = [pointOf(mesh.positions, v), pointOf(mesh.positions, to)];
      const s = p.by === 'share' ? Math.abs(p.share) : Math.abs(p.distance) / (distance(a, b) || 1);
      // Never onto the neighbour: the faces between would have no area.
      if (s > LIMIT) clamped++;
      positions.set(lerp(a, b, Math.min(LIMIT, s)), 3 * v);
    }
    return {
      mesh: withPoints(mesh, positions),
      selection,
      report: `Slid ${counted(rails.size, 'point')}.`,
      warning: clamped ? `${counted(clamped, 'point')} stopped short of a neighbour.` : undefined,
    };
  },
};

const LIMIT = 0.999;

/** Per point the neighbours it slides to, on the left and on the right of the run's direction. */
function railsOf(mesh: PolyMesh, edges: ReadonlyArray<number>): Map<number, [number?, number?]> {
  const t = topologyOf(mesh);
  const rails = new Map<number, [number?, number?]>();
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

function edgesAt(mesh: PolyMesh, v: number): number[] {
  const t = topologyOf(mesh);
  const out = new Set<number>();
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
    out.add(t.edgeOfCorner[t.vertexCorners[i]]).add(t.edgeOfCorner[prevCorner(mesh, t, t.vertexCorners[i])]);
  return [...out];
}

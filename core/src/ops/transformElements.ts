/**
 * Move, turn and size picked elements: in the piece's frame or a frame given with the action, about the selection's
 * middle, each island's own, or a point; softly, with points in reach following by their share.
 */
import { warn, type Warning } from '../mesh/errors';
import { Type } from 'typebox';
import { withPoints } from '../mesh/MeshDraft';
import { vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { sizeOf } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { transformMatrix } from '../mesh/transform';
import { pointOf, type Vec3 } from '../mesh/vec3';
import { convertSelection, islandsOf, pointsOf, selectionOf, type Selection } from '../select/selection';
import { FALLOFFS, softWeights } from '../select/soft';
import { movedPoints } from './changed';
import { choice, length, params, vector } from './fields';
import { layOnto, WAYS } from './layOnto';
import { mergePoints } from './mergePoints';
import { type CompleteParams, counted, defineOperation } from './operation';
import { PointGrid } from '../spatial/PointGrid';
import { SurfaceSchema, type Surface } from '../primitives/base';
import { onBox } from './tool';

const n = Type.Number({ minimum: -1.0001, maximum: 1.0001 });
const schema = params({
  move: vector('Move', [0, 0, 0]),
  turn: vector('Turn', [0, 0, 0], 36000, '°'),
  size: vector('Size', [1, 1, 1], 1000, '×'),
  about: choice('About', ['middle', 'each', 'point'], 'middle'),
  point: vector('Point', [0, 0, 0]),
  /** Three unit axes, x first: the frame move, turn and size are meant in. */
  frame: Type.Array(n, { minItems: 9, maxItems: 9, title: 'Frame', default: [1, 0, 0, 0, 1, 0, 0, 0, 1] }),
  reach: length('Soft reach', 0, 0),
  falloff: choice('Falloff', FALLOFFS, 'smooth'),
  along: choice('Reach along', ['straight', 'surface'], 'straight'),
  /** The same on the other side of the piece's middle plane across this axis. */
  symmetry: choice('Symmetry', ['none', 'x', 'y', 'z'], 'none'),
  /** Moved points are drawn onto another mesh by their share. */
  // The one parameter without a default: no surface is nothing to lie on.
  surface: Type.Unsafe<Surface | undefined>(SurfaceSchema),
  lay: choice('Lie on it', WAYS, 'nearest'),
  direction: vector('Direction', [0, 1, 0]),
  /** Moved points that come this near to one that was not are welded to it. */
  weld: length('Weld nearer than', 0, 0),
});
type Params = CompleteParams<typeof schema>;

export const transformElements = defineOperation({
  kind: 'transform',
  title: 'Move, turn, size',
  on: ['face', 'edge', 'vertex'],
  params: schema,
  example: onBox({ op: 'transform', select: { rule: 'facing', direction: [0, 1, 0] }, move: [0, 5, 0] }),
  tools: [],
  shows: {
    point: false,
    frame: false,
    surface: false,
    lay: (p) => p.surface !== undefined,
    direction: (p) => p.surface !== undefined && p.lay === 'along',
    falloff: (p) => p.reach !== 0,
    along: (p) => p.reach !== 0,
    weld: (p) => p.weld !== 0,
  },
  refuses: ['no-direction', 'nothing-left'],
  says: ({ points, welded }) => `Moved ${counted(points, 'point')}${welded ? `, welded ${welded}` : ''}.`,
  run(mesh, selection, p, meshOf) {
    const positions = mesh.positions.slice();
    const all = pointsOf(mesh, selection);
    const groups = p.about === 'each' ? islandPoints(mesh, selection) : [all];
    const onto = p.surface && layOnto(p.surface, p.lay, p.direction, meshOf);
    const missed: number[] = [];
    const drawn = (v: number, share: number): void => {
      const at = pointOf(positions, v);
      const to = onto!(at);
      if (!to) missed.push(v);
      else for (let k = 0; k < 3; k++) positions[3 * v + k] = at[k] + share * (to[k] - at[k]);
    };
    for (const points of groups) {
      const about = p.about === 'point' ? p.point : middleOfPoints(mesh, points);
      const soft = p.reach > 0 ? softWeights(mesh, points, p) : null;
      const whole = soft ? null : placed(p, about, 1);
      for (const v of soft ? soft.keys() : points) {
        if (soft?.[v] === 0) continue;
        (whole ?? placed(p, about, soft![v]))(positions, v, mesh.positions);
        if (onto) drawn(v, soft?.[v] ?? 1);
      }
    }
    const unmatched = p.symmetry === 'none' ? [] : mirrorMoves(mesh, positions, 'xyz'.indexOf(p.symmetry));
    const moved = withPoints(mesh, positions);
    const welded = p.weld > 0 ? weldOntoOthers(moved, selection, all, p.weld) : null;
    const warnings: Warning[] = [];
    if (unmatched.length)
      warnings.push(
        warn(
          'unmatched',
          `${counted(unmatched.length, 'point')} had no counterpart on the other side.`,
          'vertex',
          unmatched,
        ),
      );
    if (missed.length)
      warnings.push(
        warn('missed', `${counted(missed.length, 'point')} found no surface that way.`, 'vertex', missed),
      );
    return {
      mesh: welded?.mesh ?? moved,
      selection: welded?.selection ?? selection,
      counts: { points: movedPoints(mesh, positions), welded: welded?.count ?? 0 },
      warnings,
    };
  },
});

/** Welds points to the nearest one that is not of them and lies within reach; null when there is none. */
function weldOntoOthers(
  mesh: PolyMesh,
  selection: Selection,
  points: ReadonlyArray<number>,
  reach: number,
): { mesh: PolyMesh; selection: Selection; count: number } | null {
  const own = new Set(points);
  const others = Array.from({ length: vertexCount(mesh) }, (_, v) => v).filter((v) => !own.has(v));
  const grid = new PointGrid(mesh.positions, reach);
  for (const v of others) grid.add(v);
  const onto = new Map<number, number[]>();
  for (const v of points) {
    const w = grid.nearest(pointOf(mesh.positions, v));
    if (w === null) continue;
    const list = onto.get(w);
    if (list) list.push(v);
    else onto.set(w, [w, v]);
  }
  if (!onto.size) return null;
  const groups = [...onto.values()];
  const merged = mergePoints(mesh, groups, ([w]) => pointOf(mesh.positions, w));
  const picked = selectionOf(
    'vertex',
    points.map(merged.now).filter((v) => v >= 0),
  );
  return {
    mesh: merged.mesh,
    selection: convertSelection(merged.mesh, picked, selection.kind),
    count: groups.reduce((n, g) => n + g.length - 1, 0),
  };
}

/**
 * Moves the counterpart of every moved point the same way across the plane through the piece's origin; points on the
 * plane stay on it. Where both sides were moved, each keeps its own move.
 * @returns moved points that have no counterpart
 */
function mirrorMoves(mesh: PolyMesh, positions: Float64Array, axis: number): number[] {
  const from = mesh.positions;
  const grain = Math.max(1e-9, sizeOf(mesh) * TOLERANCE.straight);
  const key = (v: number, s: number): string =>
    [0, 1, 2].map((k) => Math.round(((k === axis ? s : 1) * from[3 * v + k]) / grain) + 0).join();
  const moved: number[] = [];
  const at = new Map<string, number>();
  for (let v = 0; 3 * v < from.length; v++) {
    at.set(key(v, 1), v);
    if ([0, 1, 2].some((k) => positions[3 * v + k] !== from[3 * v + k])) moved.push(v);
  }
  const own = new Set(moved);
  const unmatched: number[] = [];
  for (const v of moved) {
    const other = at.get(key(v, -1));
    if (other === v) positions[3 * v + axis] = from[3 * v + axis];
    else if (other === undefined) unmatched.push(v);
    else if (!own.has(other))
      for (let k = 0; k < 3; k++) positions[3 * other + k] = (k === axis ? -1 : 1) * positions[3 * v + k];
  }
  return unmatched;
}

/** Points of each island; a point of two islands goes with the first. */
function islandPoints(mesh: PolyMesh, s: Selection): number[][] {
  const taken = new Set<number>();
  return islandsOf(mesh, s).map((indices) =>
    pointsOf(mesh, { kind: s.kind, indices }).filter((v) => !taken.has(v) && taken.add(v)),
  );
}

/** Middle of the points' bounds would jump with outliers; the mean is what the hand expects. */
export function middleOfPoints(mesh: PolyMesh, points: ReadonlyArray<number>): Vec3 {
  const out: Vec3 = [0, 0, 0];
  for (const v of points) for (let k = 0; k < 3; k++) out[k] += mesh.positions[3 * v + k] / points.length;
  return out;
}

/** The transform by a share: a part of the way, of the turn and of the size. */
function placed(
  p: Params,
  about: Vec3,
  share: number,
): (out: Float64Array, v: number, from: Float64Array) => void {
  const m = transformMatrix({
    move: [0, 0, 0],
    turn: p.turn.map((x) => x * share) as Vec3,
    size: p.size.map((x) => 1 + (x - 1) * share) as Vec3,
  });
  const f = p.frame;
  return (out, v, from) => {
    const d = [0, 1, 2].map((k) => from[3 * v + k] - about[k]);
    const local = [0, 1, 2].map((i) => f[3 * i] * d[0] + f[3 * i + 1] * d[1] + f[3 * i + 2] * d[2]);
    const done = [0, 1, 2].map(
      (i) => m[i] * local[0] + m[4 + i] * local[1] + m[8 + i] * local[2] + p.move[i] * share,
    );
    for (let k = 0; k < 3; k++)
      out[3 * v + k] = about[k] + f[k] * done[0] + f[3 + k] * done[1] + f[6 + k] * done[2];
  };
}

/** The place and axes of the handles of picked elements, found once for a cage and a selection. */
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix, determinant, type Matrix } from '@urnsmith/core/mesh/transform';
import { addScaled, cross, pointOf, sub, unit, type Vec3 } from '@urnsmith/core/mesh/vec3';
import type { CageShape } from '@urnsmith/core/build/cage';
import { picksOf, type ElementLevel } from './handSlice';
import { piecesById } from './selectors';
import type { RootState } from './store';
import type { Built, WholeCage } from '../workers/builds';

export const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** The same result for the same arguments as last time, for each first argument. */
function lastOne<A extends [object, ...unknown[]], R>(f: (...args: A) => R): (...args: A) => R {
  const known = new WeakMap<object, { args: A; result: R }>();
  return (...args) => {
    let last = known.get(args[0]);
    if (!last || last.args.some((a, k) => a !== args[k]))
      known.set(args[0], (last = { args, result: f(...args) }));
    return last.result;
  };
}

/** The place and axes of handles; without a matrix they follow the view's axes. */
export interface Handle {
  at: [number, number, number];
  matrix: Matrix | null;
}

/** The handles' place while elements are picked: at their middle or the chosen pivot, along the chosen frame. */
export function elementHandle(s: RootState, builds: { get(id: string): Built | undefined }): Handle | null {
  const { active, picked, level, tool } = s.hand;
  const { elements } = s.settings;
  const { peg } = s.view;
  const cage = active === null ? undefined : builds.get(active)?.cage;
  if (level === 'piece' || !active || !cage || !picked.length) return null;
  const m = worldMatrix(piecesById(s), active);
  const at = middleOfAll(s, level, builds);
  if (!at) return null;
  const frames = {
    world: () => IDENTITY,
    piece: () => m,
    grid: () => s.view.gridFrame ?? IDENTITY,
    own: () => ownFrame(cage, level, picked, m),
    view: () => null,
  };
  const matrix = frames[elements.frame]();
  // A move goes from the middle whatever turns and sizes go about.
  if (tool !== 'move' && elements.about === 'pivot') return { at: applyMatrix(m, [0, 0, 0]), matrix };
  if (tool !== 'move' && elements.about === 'peg' && peg) return { at: [peg[12], peg[13], peg[14]], matrix };
  return { at, matrix };
}

/** The middle of all picked points of the pieces in hand, in the world. */
function middleOfAll(
  s: RootState,
  level: ElementLevel,
  builds: { get(id: string): Built | undefined },
): Vec3 | null {
  let n = 0;
  let sum: Vec3 = [0, 0, 0];
  for (const [id, picked] of Object.entries(picksOf(s.hand))) {
    const cage = builds.get(id)?.cage;
    const at = cage && middleOfPicked(cage, level, picked);
    if (!at) continue;
    const points = pointsOfPicked(cage.shape, level, picked).length;
    sum = addScaled(sum, applyMatrix(worldMatrix(piecesById(s), id), at), points);
    n += points;
  }
  return n ? [sum[0] / n, sum[1] / n, sum[2] / n] : null;
}

/**
 * Points of the picked elements, each once, ascending; the same list while cage and selection are the same. Plain loops:
 * a box may pick tens of thousands at the first go.
 */
export const pointsOfPicked = lastOne(
  (shape: CageShape, level: ElementLevel, picked: ReadonlyArray<number>): Uint32Array => {
    const { edges, corners, faceStart } = shape;
    const marks = new Uint8Array(shape.counts.points);
    let n = 0;
    for (let k = 0; k < picked.length; k++) {
      const i = picked[k];
      const [from, to] =
        level === 'point'
          ? [i, i + 1]
          : level === 'edge'
            ? [2 * i, 2 * i + 2]
            : [faceStart[i], faceStart[i + 1]];
      for (let at = from; at < to; at++) {
        const v = level === 'point' ? at : level === 'edge' ? edges[at] : corners[at];
        // Removed elements lose their mark.
        if (marks[v] === 0) n += marks[v] = 1;
      }
    }
    const out = new Uint32Array(n);
    for (let v = 0, at = 0; at < n; v++) if (marks[v] === 1) out[at++] = v;
    return out;
  },
);

/** In the frame of the piece; null when what was picked is no more. */
const middleOfPicked = lastOne(
  (cage: WholeCage, level: ElementLevel, picked: ReadonlyArray<number>): Vec3 | null => {
    const points = pointsOfPicked(cage.shape, level, picked);
    let [x, y, z] = [0, 0, 0];
    for (const v of points) {
      x += cage.positions[3 * v];
      y += cage.positions[3 * v + 1];
      z += cage.positions[3 * v + 2];
    }
    const n = points.length;
    return n ? [x / n, y / n, z / n] : null;
  },
);

/** Sum of the area vectors of the picked faces, or of the faces at picked edges or points; in the frame of the piece. */
const facingOfPicked = lastOne(
  ({ positions, shape }: WholeCage, level: ElementLevel, picked: ReadonlyArray<number>): Vec3 => {
    const n: Vec3 = [0, 0, 0];
    const add = (f: number): void => {
      const [s, e] = [shape.faceStart[f], shape.faceStart[f + 1]];
      const o = pointOf(positions, shape.corners[s]);
      for (let c = s + 1; c + 1 < e; c++) {
        const a = pointOf(positions, shape.corners[c]);
        const b = pointOf(positions, shape.corners[c + 1]);
        cross(sub(a, o), sub(b, o)).forEach((x, k) => (n[k] += x));
      }
    };
    if (level === 'face') picked.forEach(add);
    else {
      const on = new Set(picked);
      const at = level === 'edge' ? shape.edgeOfCorner : shape.corners;
      for (let f = 0; f + 1 < shape.faceStart.length; f++)
        if (at.subarray(shape.faceStart[f], shape.faceStart[f + 1]).some((x) => on.has(x))) add(f);
    }
    return n;
  },
);

/** The mean normal of what is picked as Y, the run of the first edge as X; exactly so for one edge alone. In the world. */
export function ownFrame(
  cage: WholeCage,
  level: ElementLevel,
  picked: ReadonlyArray<number>,
  m: Matrix,
): Matrix {
  const n = facingOfPicked(cage, level, picked);
  // Area vectors go by the cofactors of a matrix, whatever it stretches; one that mirrors turns them inward.
  const columns = [0, 4, 8].map((k): Vec3 => [m[k], m[k + 1], m[k + 2]]);
  const cofactors = columns.map((_, k) => cross(columns[(k + 1) % 3], columns[(k + 2) % 3]));
  const outward = Math.sign(determinant(m));
  const up = unit(
    cofactors.reduce((sum: Vec3, column, k) => addScaled(sum, column, outward * n[k]), [0, 0, 0]),
  );
  let along: Vec3 = Math.abs(up[0]) < 0.9 ? [1, 0, 0] : [0, 0, 1];
  if (level === 'edge') {
    const { edges } = cage.shape;
    const end = (k: 0 | 1): Vec3 => applyMatrix(m, pointOf(cage.positions, edges[2 * picked[0] + k]));
    along = unit(sub(end(1), end(0)));
  }
  const z = unit(cross(along, up));
  // Without a normal, or with one along the edge, the piece's own axes are as good as any.
  if (z.every((x) => x === 0)) return m;
  const [x, y] = level === 'edge' && picked.length === 1 ? [along, cross(z, along)] : [cross(up, z), up];
  return [...x, 0, ...y, 0, ...z, 0, 0, 0, 0, 1] as Matrix;
}

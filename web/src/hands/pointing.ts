/** Finds elements under the pointer, in a box or inside a lasso; visible ones only, or through the whole depth. */
import { Line3, Vector3, type Raycaster } from 'three';
import type { Look, ScreenOutline } from '@urnsmith/core/select/inside';
import type { ElementLevel } from '../state/handSlice';
import type { CageView } from '../viewport/CageView';
import type { Stage } from '../viewport/Stage';
import type { SnapScene } from './snapping';

/** The pointer over the stage, with what it may snap to. */
export interface Pointing {
  stage: Stage;
  snaps: SnapScene;
  x: number;
  y: number;
  /** Snapping is turned the other way. */
  free: boolean;
  shift: boolean;
}

export interface PointedAt {
  element: number;
  /** How far along the line of sight its piece is met; Infinity beside it. */
  depth: number;
  /** Pixels from the pointer to it as drawn. */
  off: number;
  /** On the surface, in the piece's frame. */
  at: [number, number, number];
  face: number;
}

/** Projects a point of the cage, pixels from the canvas's top left; NaN behind the camera. */
export function projector(stage: Stage, view: CageView): (v: number) => [number, number] {
  const p = view.cage!.positions;
  const { camera } = stage.rig;
  camera.updateMatrixWorld();
  const m = camera.projectionMatrix
    .clone()
    .multiply(camera.matrixWorldInverse)
    .multiply(view.group.matrix).elements;
  const [w, h] = [stage.box.width, stage.box.height];
  return (v) => {
    const [x, y, z] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
    const d = m[3] * x + m[7] * y + m[11] * z + m[15];
    if (d <= 0) return [NaN, NaN];
    return [
      (((m[0] * x + m[4] * y + m[8] * z + m[12]) / d + 1) / 2) * w,
      ((1 - (m[1] * x + m[5] * y + m[9] * z + m[13]) / d) / 2) * h,
    ];
  };
}

/** The element under the pointer: of the face that is hit, the nearest edge or point within reach; else any near one. */
export function elementAt(
  stage: Stage,
  view: CageView,
  level: ElementLevel,
  x: number,
  y: number,
  radius: number,
): PointedAt | null {
  const shape = view.cage?.shape;
  if (!shape) return null;
  view.ensureTree();
  const hit = hitSurface(stage.aim(x, y), view);
  if (level === 'face')
    return hit ? { element: hit.face, at: hit.at, face: hit.face, depth: hit.depth, off: 0 } : null;
  const box = stage.box;
  const nearest = (list: Iterable<number>, far: (i: number) => number): PointedAt | null => {
    let best = -1;
    let least = radius;
    for (const i of list) {
      if (level === 'edge' && shape.parts?.between[i]) continue;
      const d = far(i);
      // Where elements overlap, the one nearer to the eye wins.
      const over = best >= 0 && Math.abs(d - least) < 0.5;
      if (over ? depth(i) > depth(best) : d < least) [best, least] = [i, d];
    }
    return best < 0
      ? null
      : {
          element: best,
          at: hit?.at ?? middleOf(view, level, best),
          face: hit?.face ?? -1,
          depth: hit?.depth ?? Infinity,
          off: least,
        };
  };
  const toEye = stage.rig.back.clone().transformDirection(view.group.matrix.clone().invert());
  const depth = (i: number): number => toEye.dot(new Vector3(...middleOf(view, level, i)));
  const px = x - box.left;
  const py = y - box.top;
  const drawn = projector(stage, view);
  const far =
    level === 'point'
      ? (v: number): number => {
          const [ax, ay] = drawn(v);
          return Math.hypot(ax - px, ay - py);
        }
      : (e: number): number => segmentFar(drawn(shape.edges[2 * e]), drawn(shape.edges[2 * e + 1]), px, py);
  if (hit) {
    const [s, t] = [shape.faceStart[hit.face], shape.faceStart[hit.face + 1]];
    const own = level === 'point' ? shape.corners.subarray(s, t) : shape.edgeOfCorner.subarray(s, t);
    return nearest(own, far);
  }
  return nearest(range(level === 'point' ? view.cage!.positions.length / 3 : shape.edges.length / 2), far);
}

/** The element that is hit first among the pieces in hand, else the nearest one beside them. */
export function elementAmong(
  stage: Stage,
  level: ElementLevel,
  x: number,
  y: number,
  radius: number,
): (PointedAt & { piece: string }) | null {
  let best: (PointedAt & { piece: string }) | null = null;
  for (const [piece, view] of stage.cages.all()) {
    const at = elementAt(stage, view, level, x, y, radius);
    if (at && (!best || at.depth < best.depth || (at.depth === best.depth && at.off < best.off)))
      best = { ...at, piece };
  }
  return best;
}

function* range(n: number): Iterable<number> {
  for (let i = 0; i < n; i++) yield i;
}

function middleOf(view: CageView, level: ElementLevel, i: number): [number, number, number] {
  const { positions: p, shape } = view.cage!;
  const [a, b] = level === 'point' ? [i, i] : [shape.edges[2 * i], shape.edges[2 * i + 1]];
  return [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k]) / 2) as [number, number, number];
}

/** Pixels from a place to an edge as drawn. */
export function segmentFar(
  [ax, ay]: [number, number],
  [bx, by]: [number, number],
  x: number,
  y: number,
): number {
  const [dx, dy] = [bx - ax, by - ay];
  const s = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(ax + s * dx - x, ay + s * dy - y);
}

/** The edge of a pointed quad nearest to the place, or the one next to it; null for other faces. */
export function edgeBeside(view: CageView, { face, at }: PointedAt, next: boolean): number | null {
  const cage = view.cage;
  if (!cage || face < 0) return null;
  const { faceStart, edgeOfCorner, edges } = cage.shape;
  const start = faceStart[face];
  if (faceStart[face + 1] - start !== 4) return null;
  const place = new Vector3(...at);
  const end = (v: number): Vector3 => new Vector3().fromArray(cage.positions, 3 * v);
  const far = (c: number): number => {
    const e = edgeOfCorner[c];
    const line = new Line3(end(edges[2 * e]), end(edges[2 * e + 1]));
    return line.closestPointToPoint(place, true, new Vector3()).distanceTo(place);
  };
  const nearest = [0, 1, 2, 3].reduce((best, k) => (far(start + k) < far(start + best) ? k : best));
  return edgeOfCorner[start + ((nearest + Number(next)) % 4)];
}

/** Hits of the line of sight with the cage, nearest first; only one when the first is enough. */
export function allHits(
  stage: Stage,
  view: CageView,
  x: number,
  y: number,
): Array<{ face: number; point: Vector3 }> {
  view.ensureTree();
  const ray = stage.aim(x, y);
  ray.firstHitOnly = false;
  const hits = hitsOf(ray, view);
  ray.firstHitOnly = true;
  return hits;
}

function hitsOf(ray: Raycaster, view: CageView): Array<{ face: number; point: Vector3; depth: number }> {
  view.surface.matrixWorld.copy(view.group.matrix);
  const hits: ReturnType<Raycaster['intersectObject']> = [];
  view.surface.raycast(ray, hits);
  return hits
    .sort((a, b) => a.distance - b.distance)
    .filter((h) => typeof h.faceIndex === 'number')
    .map((h) => ({ face: view.cage!.shape.faceOfTriangle[h.faceIndex!], point: h.point, depth: h.distance }));
}

function hitSurface(
  ray: Raycaster,
  view: CageView,
): { face: number; at: [number, number, number]; depth: number } | null {
  const hit = hitsOf(ray, view)[0];
  if (!hit) return null;
  const local = hit.point.clone().applyMatrix4(view.group.matrix.clone().invert());
  return { face: hit.face, at: local.toArray(), depth: hit.depth };
}

export type Outline = Array<{ x: number; y: number }>;

/** An outline in client pixels, and how the piece is looked at, as the core wants them. */
export function asLook(
  stage: Stage,
  view: CageView,
  outline: Outline,
): { outline: ScreenOutline; look: Look } {
  const box = stage.box;
  const { rig } = stage;
  rig.apply();
  rig.camera.updateMatrixWorld();
  const toEye = rig.camera.matrixWorldInverse.clone().multiply(view.group.matrix).toArray();
  const { parallel } = rig;
  // Pixels per millimetre at depth 1, or at any depth.
  const up = rig.camera.projectionMatrix.elements[5];
  const scale = (up * box.height) / 2;
  return {
    outline: outline.map((p) => [p.x - box.left, p.y - box.top]),
    look: { toEye, scale, parallel, width: box.width, height: box.height },
  };
}

/** Which element is meant: under the pointer, in a box, inside a lasso; seen only, or through the whole depth. */
import { Vector3, type Raycaster } from 'three';
import type { ElementLevel } from '../state/benchSlice';
import type { CageView } from './CageView';
import { segmentFar } from './snapping';
import type { Stage } from './Stage';

export interface PointedAt {
  element: number;
  /** On the surface, in the piece's frame. */
  at: [number, number, number];
  face: number;
}

/** Pixel x and y per point, from the canvas's top left; NaN behind the camera. */
export function projectAll(stage: Stage, view: CageView): Float32Array {
  const p = view.cage!.positions;
  const { camera } = stage.rig;
  camera.updateMatrixWorld();
  const m = camera.projectionMatrix
    .clone()
    .multiply(camera.matrixWorldInverse)
    .multiply(view.group.matrix).elements;
  const [w, h] = [stage.canvas.clientWidth, stage.canvas.clientHeight];
  const out = new Float32Array((2 * p.length) / 3);
  for (let i = 0, j = 0; i < p.length; i += 3, j += 2) {
    const [x, y, z] = [p[i], p[i + 1], p[i + 2]];
    const d = m[3] * x + m[7] * y + m[11] * z + m[15];
    if (d <= 0) {
      out[j] = out[j + 1] = NaN;
      continue;
    }
    out[j] = (((m[0] * x + m[4] * y + m[8] * z + m[12]) / d + 1) / 2) * w;
    out[j + 1] = ((1 - (m[1] * x + m[5] * y + m[9] * z + m[13]) / d) / 2) * h;
  }
  return out;
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
  if (level === 'face') return hit ? { element: hit.face, at: hit.at, face: hit.face } : null;
  const box = stage.canvas.getBoundingClientRect();
  const screen = projectAll(stage, view);
  const nearest = (list: Iterable<number>, far: (i: number) => number): PointedAt | null => {
    let best = -1;
    let least = radius;
    for (const i of list) {
      const d = far(i);
      // Of elements drawn over each other, the one nearer to the eye is meant.
      const over = best >= 0 && Math.abs(d - least) < 0.5;
      if (over ? depth(i) > depth(best) : d < least) [best, least] = [i, d];
    }
    return best < 0
      ? null
      : { element: best, at: hit?.at ?? middleOf(view, level, best), face: hit?.face ?? -1 };
  };
  const toEye = stage.rig.back.clone().transformDirection(view.group.matrix.clone().invert());
  const depth = (i: number): number => toEye.dot(new Vector3(...middleOf(view, level, i)));
  const px = x - box.left;
  const py = y - box.top;
  const far =
    level === 'point'
      ? (v: number): number => Math.hypot(screen[2 * v] - px, screen[2 * v + 1] - py)
      : (e: number): number => segmentFar(screen, shape.edges[2 * e], shape.edges[2 * e + 1], px, py);
  if (hit) {
    const [s, t] = [shape.faceStart[hit.face], shape.faceStart[hit.face + 1]];
    const own = level === 'point' ? shape.corners.subarray(s, t) : shape.edgeOfCorner.subarray(s, t);
    return nearest(own, far);
  }
  return nearest(range(level === 'point' ? screen.length / 2 : shape.edges.length / 2), far);
}

function* range(n: number): Iterable<number> {
  for (let i = 0; i < n; i++) yield i;
}

function middleOf(view: CageView, level: ElementLevel, i: number): [number, number, number] {
  const { positions: p, shape } = view.cage!;
  const [a, b] = level === 'point' ? [i, i] : [shape.edges[2 * i], shape.edges[2 * i + 1]];
  return [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k]) / 2) as [number, number, number];
}

/** Where the line of sight meets the cage, nearest first; one answer when the first is all that is wanted. */
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

function hitsOf(ray: Raycaster, view: CageView): Array<{ face: number; point: Vector3 }> {
  view.surface.matrixWorld.copy(view.group.matrix);
  const hits: ReturnType<Raycaster['intersectObject']> = [];
  view.surface.raycast(ray, hits);
  return hits
    .sort((a, b) => a.distance - b.distance)
    .filter((h) => typeof h.faceIndex === 'number')
    .map((h) => ({ face: view.cage!.shape.faceOfTriangle[h.faceIndex!], point: h.point }));
}

function hitSurface(ray: Raycaster, view: CageView): { face: number; at: [number, number, number] } | null {
  const hit = hitsOf(ray, view)[0];
  if (!hit) return null;
  const local = hit.point.clone().applyMatrix4(view.group.matrix.clone().invert());
  return { face: hit.face, at: local.toArray() };
}

export type Outline = Array<{ x: number; y: number }>;

/** Elements whose middle lies inside an outline on the screen (client pixels). */
export function elementsInside(
  stage: Stage,
  view: CageView,
  level: ElementLevel,
  outline: Outline,
  through: boolean,
): number[] {
  const cage = view.cage;
  if (!cage) return [];
  const box = stage.canvas.getBoundingClientRect();
  const poly = outline.map((p) => ({ x: p.x - box.left, y: p.y - box.top }));
  const screen = projectAll(stage, view);
  const { shape, positions } = cage;
  const out: number[] = [];
  const members = (i: number): ArrayLike<number> =>
    level === 'point'
      ? [i]
      : level === 'edge'
        ? [shape.edges[2 * i], shape.edges[2 * i + 1]]
        : shape.corners.subarray(shape.faceStart[i], shape.faceStart[i + 1]);
  const n =
    level === 'point'
      ? positions.length / 3
      : level === 'edge'
        ? shape.edges.length / 2
        : shape.faceStart.length - 1;
  const seen = through ? null : new Sight(stage, view);
  const facing = seen && facingElements(view, level, n, seen);
  const bounds = boundsOf(poly);
  for (let i = 0; i < n; i++) {
    const m = members(i);
    let [x, y] = [0, 0];
    for (let k = 0; k < m.length; k++) {
      x += screen[2 * m[k]] / m.length;
      y += screen[2 * m[k] + 1] / m.length;
    }
    if (x < bounds.l || x > bounds.r || y < bounds.t || y > bounds.b || !within(poly, x, y)) continue;
    if (seen && !(facing![i] && seen.reaches(m))) continue;
    out.push(i);
  }
  return out;
}

function boundsOf(poly: Outline): { l: number; r: number; t: number; b: number } {
  const xs = poly.map((p) => p.x);
  const ys = poly.map((p) => p.y);
  return { l: Math.min(...xs), r: Math.max(...xs), t: Math.min(...ys), b: Math.max(...ys) };
}

function within(poly: Outline, x: number, y: number): boolean {
  let odd = false;
  for (let i = 0, j = poly.length - 1; i < poly.length; j = i++) {
    const [a, b] = [poly[i], poly[j]];
    if (a.y > y !== b.y > y && x < ((b.x - a.x) * (y - a.y)) / (b.y - a.y) + a.x) odd = !odd;
  }
  return odd;
}

/** Elements with a face turned to the eye beside them. */
function facingElements(view: CageView, level: ElementLevel, n: number, seen: Sight): Uint8Array {
  const { shape } = view.cage!;
  const out = new Uint8Array(n);
  for (let f = 0; f + 1 < shape.faceStart.length; f++) {
    const [s, e] = [shape.faceStart[f], shape.faceStart[f + 1]];
    if (!seen.faces(shape.corners, s, e)) continue;
    if (level === 'face') out[f] = 1;
    else for (let c = s; c < e; c++) out[level === 'edge' ? shape.edgeOfCorner[c] : shape.corners[c]] = 1;
  }
  return out;
}

/** Whether a place on the piece is seen: nothing of the piece lies between it and the eye. */
class Sight {
  private readonly eye = new Vector3();
  private readonly eyeLocal: Vector3;
  private readonly parallel: boolean;

  constructor(
    private readonly stage: Stage,
    private readonly view: CageView,
  ) {
    view.ensureTree();
    const { rig } = stage;
    this.parallel = rig.parallel;
    const inverse = view.group.matrix.clone().invert();
    this.eyeLocal = this.parallel
      ? rig.back.clone().transformDirection(inverse)
      : new Vector3().setFromMatrixPosition(rig.camera.matrixWorld).applyMatrix4(inverse);
  }

  /** A face turned to the eye; one seen edge-on is not seen. */
  faces(corners: Uint32Array, from: number, to: number): boolean {
    const p = this.view.cage!.positions;
    const o = 3 * corners[from];
    let [nx, ny, nz] = [0, 0, 0];
    for (let c = from + 1; c + 1 < to; c++) {
      const [a, b] = [3 * corners[c], 3 * corners[c + 1]];
      const [ax, ay, az] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]];
      const [bx, by, bz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]];
      nx += ay * bz - az * by;
      ny += az * bx - ax * bz;
      nz += ax * by - ay * bx;
    }
    const e = this.eyeLocal;
    // A direction in a parallel view, a place in perspective.
    const [dx, dy, dz] = this.parallel ? [e.x, e.y, e.z] : [e.x - p[o], e.y - p[o + 1], e.z - p[o + 2]];
    const cos = nx * dx + ny * dy + nz * dz;
    return cos > 1e-3 * Math.hypot(nx, ny, nz) * Math.hypot(dx, dy, dz);
  }

  reaches(points: ArrayLike<number>): boolean {
    const p = this.view.cage!.positions;
    const at = new Vector3();
    for (let k = 0; k < points.length; k++)
      at.add(new Vector3(p[3 * points[k]], p[3 * points[k] + 1], p[3 * points[k] + 2]));
    at.divideScalar(points.length).applyMatrix4(this.view.group.matrix);
    const screen = this.stage.project(at);
    if (!screen) return false;
    const box = this.stage.canvas.getBoundingClientRect();
    const ray = this.stage.aim(screen.x + box.left, screen.y + box.top);
    const hit = hitSurface(ray, this.view);
    if (!hit) return true;
    this.eye.copy(ray.ray.origin);
    const far = this.eye.distanceTo(at);
    const hitAt = new Vector3(...hit.at).applyMatrix4(this.view.group.matrix);
    // A pixel or two of depth: on a slope, the ray through a place meets the surface just beside it.
    return this.eye.distanceTo(hitAt) >= far - 3 * this.stage.rig.pixelSize(at);
  }
}

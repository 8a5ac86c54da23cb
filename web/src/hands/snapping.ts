/**
 * Snap targets under the pointer: points, edge middles, edges and faces of everything that does not move, and the
 * peg. A point is better than a middle, a middle than an edge, an edge than a face.
 */
import { Matrix4, Vector3 } from 'three';
import type { SnapKind } from '../state/elementSettings';
import type { CageView } from '../viewport/CageView';
import { allHits, projector, segmentFar } from './pointing';
import type { Stage } from '../viewport/Stage';

export interface Snap {
  kind: Exclude<SnapKind, 'grid'>;
  /** In the world. */
  at: Vector3;
}

export interface SnapScene {
  kinds: ReadonlyArray<SnapKind>;
  /** Pixels. */
  radius: number;
  /** Pieces that move along, or whose cage is looked at instead. */
  without: ReadonlySet<string>;
  /** Points of the cage that move. */
  moving: ReadonlySet<number> | null;
  peg: Vector3 | null;
}

type Segment = [Vector3, Vector3];

/** @param x, y client pixels */
export function snapAt(stage: Stage, x: number, y: number, scene: SnapScene): Snap | null {
  const wants = (k: SnapKind): boolean => scene.kinds.includes(k);
  const screen = pixels(stage, x, y);
  if (wants('peg') && scene.peg && screen(scene.peg) <= scene.radius) return { kind: 'peg', at: scene.peg };
  const own = scene.moving ? stillOfCage(stage, stage.cage, x, y, scene) : NOTHING;
  const others = wants('point') || wants('middle') || wants('edge') || wants('face') ? outlineUnder(stage, x, y, scene) : NOTHING; // prettier-ignore
  const edges = [...own.edges, ...others.edges];
  const nearest = (places: Vector3[], radius: number): Vector3 | null => {
    let [best, least]: [Vector3 | null, number] = [null, radius];
    for (const p of places) {
      const d = screen(p);
      if (d < least) [best, least] = [p, d];
    }
    return best;
  };
  const finders: Array<[Snap['kind'], () => Vector3 | null]> = [
    ['point', () => nearest([...own.points, ...edges.flat()], scene.radius)],
    ['middle', () => nearest(edges.map(([a, b]) => a.clone().lerp(b, 0.5)), scene.radius)],
    ['edge', () => nearest(edges.map((e) => onSegment(stage, e, x, y)), scene.radius * 0.75)],
    ['face', () => own.face ?? others.face],
  ]; // prettier-ignore
  for (const [kind, find] of finders) {
    const at = wants(kind) ? find() : null;
    if (at) return { kind, at };
  }
  return null;
}

/** How far off the pointer a place in the world is drawn, pixels. */
function pixels(stage: Stage, x: number, y: number): (p: Vector3) => number {
  const box = stage.box;
  return (p) => {
    const at = stage.project(p);
    return at ? Math.hypot(at.x + box.left - x, at.y + box.top - y) : Infinity;
  };
}

interface Still {
  points: Vector3[];
  edges: Segment[];
  face: Vector3 | null;
}
const NOTHING: Still = { points: [], edges: [], face: null };

/** Around the pointer too, as shares of the radius: just beside a piece its rim is meant. */
const ROUND: Array<[number, number]> = [
  [0, 0],
  ...[0.55, 1.05].flatMap((r) =>
    Array.from({ length: 12 }, (_, k): [number, number] => [
      r * Math.cos((k * Math.PI) / 6),
      r * Math.sin((k * Math.PI) / 6),
    ]),
  ),
];

/** The outline of the face of another piece under the pointer, or just beside it. */
function outlineUnder(stage: Stage, x: number, y: number, { radius, without }: SnapScene): Still {
  for (const [dx, dy] of ROUND) {
    const hit = stage.faceAt(x + dx * radius, y + dy * radius, without);
    if (hit) return { points: [], edges: hit.outline, face: dx || dy ? null : hit.point };
  }
  return NOTHING;
}

/** Elements of the cage near the pointer that do not move and are not hidden. */
function stillOfCage(stage: Stage, view: CageView, x: number, y: number, scene: SnapScene): Still {
  const cage = view.cage;
  if (!cage) return NOTHING;
  const { shape, positions } = cage;
  const moving = scene.moving!;
  const box = stage.box;
  const drawn = projector(stage, view);
  const [px, py] = [x - box.left, y - box.top];
  const matrix = new Matrix4().copy(view.group.matrix);
  const world = (v: number): Vector3 =>
    new Vector3(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]).applyMatrix4(matrix);
  const stays = (f: number): boolean => {
    for (let c = shape.faceStart[f]; c < shape.faceStart[f + 1]; c++)
      if (moving.has(shape.corners[c])) return false;
    return true;
  };
  const surface = (cx: number, cy: number): Vector3 | null => {
    const hit = allHits(stage, view, cx, cy).find((h) => stays(h.face));
    return hit ? hit.point : null;
  };
  const eye = new Vector3().setFromMatrixPosition(stage.rig.camera.matrixWorld);
  const seen = (p: Vector3): boolean => {
    const at = stage.project(p);
    const hit = at && surface(at.x + box.left, at.y + box.top);
    if (!hit) return at !== null;
    const back = stage.rig.back;
    // In a parallel view depth counts along the view, in perspective from the eye.
    const far = (q: Vector3): number => (stage.rig.parallel ? -q.dot(back) : q.distanceTo(eye));
    return far(hit) >= far(p) - 3 * stage.rig.pixelSize(p);
  };
  const points: Vector3[] = [];
  for (let v = 0; v < positions.length / 3; v++) {
    if (moving.has(v)) continue;
    const [ax, ay] = drawn(v);
    // Behind the eye nothing compares.
    if (!(Math.hypot(ax - px, ay - py) <= scene.radius)) continue;
    const p = world(v);
    if (seen(p)) points.push(p);
  }
  const edges: Segment[] = [];
  for (let e = 0; 2 * e < shape.edges.length; e++) {
    const [a, b] = [shape.edges[2 * e], shape.edges[2 * e + 1]];
    if (moving.has(a) || moving.has(b) || !(segmentFar(drawn(a), drawn(b), px, py) <= scene.radius)) continue;
    const edge: Segment = [world(a), world(b)];
    if (seen(onSegment(stage, edge, x, y))) edges.push(edge);
  }
  return { points, edges, face: surface(x, y) };
}

/** The place of an edge nearest to the line of sight. */
export function onSegment(stage: Stage, [a, b]: Segment, x: number, y: number): Vector3 {
  const ray = stage.rig.ray(stage.pointer(x, y));
  const at = new Vector3();
  ray.distanceSqToSegment(a, b, undefined, at);
  return at;
}

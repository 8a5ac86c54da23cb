/** Places points drawn on the stage, in the frame of the piece in hand (of the world without one). */
import { Matrix4, Plane, Vector3 } from 'three';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import { elementAt } from './pointing';
import { snapAt, type SnapScene } from './snapping';
import type { Stage } from '../viewport/Stage';

type Place = [number, number, number];

export interface DrawRules {
  /** Pixels. */
  radius: number;
  /** Degrees: stretches run at multiples of it; 0 leaves them free. */
  angle: number;
  /** Points of the line so far. */
  line: ReadonlyArray<Place>;
}

/** On the piece's surface: snapped to a point, an edge's middle or an edge when near one; else beside the piece. */
export function pointOnPiece(stage: Stage, x: number, y: number, rules: DrawRules): Place | null {
  const cage = stage.cage.cage;
  if (!cage) return null;
  const { positions: p, shape } = cage;
  const point = (v: number): Place => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const face = elementAt(stage, stage.cage, 'face', x, y, rules.radius);
  if (rules.angle && rules.line.length) {
    const corners = face ? Array.from(shape.corners.subarray(shape.faceStart[face.face], shape.faceStart[face.face + 1]), point) : null; // prettier-ignore
    const at = face?.at ?? besideThePiece(stage, x, y);
    return at && ontoRim(stage, atAngle(stage, at, corners, rules), corners, rules);
  }
  const v = elementAt(stage, stage.cage, 'point', x, y, rules.radius);
  if (v) return point(v.element);
  const e = elementAt(stage, stage.cage, 'edge', x, y, rules.radius * 0.75);
  if (!e) return face?.at ?? besideThePiece(stage, x, y);
  const [a, b] = [point(shape.edges[2 * e.element]), point(shape.edges[2 * e.element + 1])];
  const middle = a.map((q, k) => (q + b[k]) / 2) as Place;
  if (isNear(stage, middle, x, y, rules.radius)) return middle;
  if (!face) return null;
  const s = shareAlong(a, b, face.at);
  return a.map((q, k) => q + s * (b[k] - q)) as Place;
}

/** Share of an edge nearest to a place. */
export function shareAlong(a: Place, b: Place, at: Place): number {
  const d = b.map((q, k) => q - a[k]);
  const s =
    d.reduce((sum, q, k) => sum + q * (at[k] - a[k]), 0) / (d.reduce((sum, q) => sum + q * q, 0) || 1);
  return Math.min(1, Math.max(0, s));
}

/** Beside the piece a line may begin and end too: on the plane through what is looked at. */
function besideThePiece(stage: Stage, x: number, y: number): Place {
  return stage.onSight(x, y).applyMatrix4(localOf(stage)).toArray();
}

const localOf = (stage: Stage): Matrix4 => new Matrix4().copy(stage.cage.group.matrix).invert();

/**
 * The stretch turned to the nearest multiple of the angle, in the plane of the face: counted from the stretch before, or
 * from the face's longest side; beside the piece from the level of the screen.
 */
function atAngle(stage: Stage, at: Place, corners: Place[] | null, { line, angle }: DrawRules): Place {
  const from = new Vector3(...line[line.length - 1]);
  const back = stage.rig.back.clone().transformDirection(localOf(stage));
  const normal = corners ? newell(corners) : back;
  const along = new Vector3();
  if (line.length > 1) along.copy(from).sub(new Vector3(...line[line.length - 2]));
  else if (corners) along.copy(longest(corners));
  else along.crossVectors(stage.rig.up, stage.rig.back).transformDirection(localOf(stage));
  along.projectOnPlane(normal).normalize();
  const side = new Vector3().crossVectors(normal, along);
  const d = new Vector3(...at).sub(from).projectOnPlane(normal);
  const step = (angle * Math.PI) / 180;
  const turn = Math.round(Math.atan2(d.dot(side), d.dot(along)) / step) * step;
  const way = along.multiplyScalar(Math.cos(turn)).addScaledVector(side, Math.sin(turn));
  return from.addScaledVector(way, d.dot(way)).toArray();
}

/** A stretch that ends near a side of the face ends on it. */
function ontoRim(stage: Stage, at: Place, corners: Place[] | null, { line, radius }: DrawRules): Place {
  const from = new Vector3(...line[line.length - 1]);
  const way = new Vector3(...at).sub(from);
  if (!corners || way.lengthSq() === 0) return at;
  const across = new Vector3().crossVectors(newell(corners), way).normalize();
  const reach = radius * stage.rig.pixelSize(new Vector3(...at).applyMatrix4(stage.cage.group.matrix));
  const size = stage.cage.group.matrix.getMaxScaleOnAxis();
  let [best, least] = [at, reach / size];
  corners.forEach((c, k) => {
    const a = new Vector3(...c);
    const b = new Vector3(...corners[(k + 1) % corners.length]);
    const [da, db] = [a.clone().sub(from).dot(across), b.clone().sub(from).dot(across)];
    if (da * db > 0 || da === db) return;
    const meets = a.lerp(b, da / (da - db));
    const far = meets.distanceTo(new Vector3(...at));
    if (far < least) [best, least] = [meets.toArray(), far];
  });
  return best;
}

function newell(corners: Place[]): Vector3 {
  const n = new Vector3();
  const o = new Vector3(...corners[0]);
  for (let k = 1; k + 1 < corners.length; k++)
    n.add(new Vector3(...corners[k]).sub(o).cross(new Vector3(...corners[k + 1]).sub(o)));
  return n.normalize();
}

function longest(corners: Place[]): Vector3 {
  const sides = corners.map((a, k) =>
    new Vector3(...corners[(k + 1) % corners.length]).sub(new Vector3(...a)),
  );
  return sides.reduce((a, b) => (b.lengthSq() > a.lengthSq() + 1e-9 ? b : a));
}

/** Whether a place in the piece's frame is drawn within reach of the pointer. */
export function isNear(stage: Stage, local: Place, x: number, y: number, radius: number): boolean {
  const at = stage.project(new Vector3(...local).applyMatrix4(stage.cage.group.matrix));
  const box = stage.box;
  return at !== null && Math.hypot(at.x + box.left - x, at.y + box.top - y) <= radius;
}

/**
 * For a face drawn freely, in the world: on what the drag of a point would snap to, on a surface, or on the grid.
 * @param frame of the grid
 * @param step mm; 0 for anywhere on it
 */
export function pointInSpace(
  stage: Stage,
  x: number,
  y: number,
  scene: SnapScene,
  frame: Matrix | null,
  step: number,
): Vector3 | null {
  const snap = snapAt(stage, x, y, { ...scene, kinds: ['peg', 'point', 'middle', 'edge', 'face'] });
  if (snap) return snap.at;
  const seat = frame ? new Matrix4().fromArray(frame) : new Matrix4();
  const up = new Vector3().setFromMatrixColumn(seat, 1);
  const plane = new Plane().setFromNormalAndCoplanarPoint(up, new Vector3().setFromMatrixPosition(seat));
  const at = stage.rig.ray(stage.pointer(x, y)).intersectPlane(plane, new Vector3());
  if (!at) return null;
  const local = at.applyMatrix4(seat.clone().invert());
  if (step) local.set(Math.round(local.x / step) * step, 0, Math.round(local.z / step) * step);
  local.y = 0;
  return local.applyMatrix4(seat);
}

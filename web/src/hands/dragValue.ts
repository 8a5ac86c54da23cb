/** How far a drag of handles or of what they hold has gone, from where the pointer was and is. */
import { Plane, Vector3, type Ray } from 'three';
import type { Grip } from '../viewport/Gizmo';
import type { Snap } from './snapping';

export interface DragStart {
  grip: Grip;
  /** Unit axes of the handles, in the world. */
  axes: Vector3[];
  pivot: Vector3;
  /** The place that meets what is snapped to. */
  held: Vector3;
}

/** How far a drag has gone: along the axes (mm), about an axis (degrees), or as factors. */
export interface DragValue {
  tool: Grip['tool'];
  axes: number[];
  move: [number, number, number];
  degrees: number;
  factors: [number, number, number];
  /** The snap target of a move. */
  met?: Snap['kind'];
}

/** The pointer's start and current place, in pixels, and the grabbed places in the world. */
export interface Course {
  grabbed: Vector3;
  now: Vector3;
  from: { x: number; y: number };
  at: { x: number; y: number };
}

/** The start of a drag. */
export interface Steps {
  /** The drag moves in steps, or snaps to what it meets. */
  on: boolean;
  met: Snap | null;
  /** mm; 0 leaves moves free where nothing is met. */
  grid: number;
  /** Degrees. */
  angle: number;
  /** Size of a pixel at the pivot, mm. */
  pixel: number;
}

export function dragValue(start: DragStart, axes: number[], course: Course, steps: Steps): DragValue {
  const { tool } = start.grip;
  const value: DragValue = { tool, axes, move: [0, 0, 0], degrees: 0, factors: [1, 1, 1] };
  if (tool === 'move') {
    value.move = moved(start, axes, course, steps);
    if (steps.met) value.met = steps.met.kind;
  } else if (tool === 'turn') {
    value.axes = [axes[0]];
    const degrees = turned(start, axes[0], course);
    value.degrees = steps.on
      ? Math.round(degrees / steps.angle) * steps.angle
      : Math.round(degrees * 10) / 10;
  } else value.factors = resized(start, axes, course, steps.on ? 0.1 : 0.01);
  return value;
}

function moved(start: DragStart, axes: number[], { grabbed, now }: Course, steps: Steps): DragValue['move'] {
  const { on, met, grid, pixel } = steps;
  const d = met ? met.at.clone().sub(start.held) : now.clone().sub(grabbed);
  return start.axes.map((a, i) => {
    if (axes.length < 3 && !axes.includes(i)) return 0;
    const along = d.dot(a);
    if (met) return along;
    return on && grid ? Math.round(along / grid) * grid : tidy(along, pixel);
  }) as DragValue['move'];
}

function turned(start: DragStart, axis: number, { grabbed, now }: Course): number {
  const a = grabbed.clone().sub(start.pivot);
  const b = now.clone().sub(start.pivot);
  const n = start.axes[axis];
  return (Math.atan2(new Vector3().crossVectors(a, b).dot(n), a.dot(b)) * 180) / Math.PI;
}

function resized(start: DragStart, axes: number[], course: Course, step: number): DragValue['factors'] {
  const { grabbed, now, from, at } = course;
  const quantize = (f: number): number => Math.max(0.01, Math.round(f / step) * step);
  if (axes.length === 3) {
    const f = quantize(Math.exp((at.x - from.x - (at.y - from.y)) / 160));
    return [f, f, f];
  }
  return start.axes.map((a, i) => {
    if (!axes.includes(i)) return 1;
    const was = grabbed.clone().sub(start.pivot).dot(a);
    return Math.abs(was) < 1e-6 ? 1 : quantize(now.clone().sub(start.pivot).dot(a) / was);
  }) as DragValue['factors'];
}

/** The place a drag has hold of: on the axis, on the plane of two axes, or facing the viewer. */
export function grabbedAt(
  sight: Ray,
  back: Vector3,
  { grip, axes: all, pivot }: DragStart,
  axes: number[],
): Vector3 {
  if (grip.tool !== 'turn' && axes.length === 1)
    return nearestOnAxis(sight.origin, sight.direction, pivot, all[axes[0]]);
  const across = [0, 1, 2].find((k) => !axes.includes(k));
  const normal = grip.tool === 'turn' ? all[axes[0]] : axes.length === 2 ? all[across!] : back;
  const plane = new Plane().setFromNormalAndCoplanarPoint(normal, pivot);
  return sight.intersectPlane(plane, new Vector3()) ?? pivot.clone();
}

/** Rounds to what a pixel can tell: no drag ends on 12.000381. */
function tidy(x: number, pixel: number): number {
  const step = 10 ** Math.floor(Math.log10(Math.max(1e-4, pixel)));
  return Number((Math.round(x / step) * step).toFixed(6));
}

export function nearestOnAxis(origin: Vector3, direction: Vector3, pivot: Vector3, axis: Vector3): Vector3 {
  const w = origin.clone().sub(pivot);
  const b = direction.dot(axis);
  const denominator = 1 - b * b;
  if (denominator < 1e-6) return pivot.clone();
  const t = (w.dot(axis) - b * w.dot(direction)) / denominator;
  return pivot.clone().addScaledVector(axis, t);
}

/** Repeat: copies of the piece in a line or around an axis; where they touch they can become one body. */
import { withoutTraces } from '../mesh/traces';
import { Type } from 'typebox';
import { joinMeshes } from '../ops/join';
import { refuseTooMany } from '../ops/operation';
import { OperationError, warn, type Warning } from '../mesh/errors';
import { boundsOf } from '../mesh/measure';
import { allMade } from '../mesh/lineage';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import {
  applyMatrix,
  cosSin,
  IDENTITY,
  invert,
  multiply,
  transformMesh,
  type Matrix,
} from '../mesh/transform';
import {
  addScaled,
  cross,
  distance,
  dot,
  length,
  lerp,
  pointOf,
  scale,
  sub,
  unit,
  type Vec3,
} from '../mesh/vec3';
import { cut } from '../solid/boolean';
import { partOf } from '../watch';
import { isSound, markSound } from '../solid/Solid';
import type { ModelHandle } from '../handle';
import { aboutOf, aboutParams } from './about';
import { defineStep } from './define';

const AXES = ['x', 'y', 'z'] as const;

export const repeat = defineStep({
  kind: 'repeat',
  title: 'Repeat',
  lane: 'Repeat',
  example: { kind: 'repeat', pattern: 'radial', count: 12, axis: 'y', angle: 360, about: 'piece' },
  params: {
    pattern: Type.Union([Type.Literal('linear'), Type.Literal('radial')], {
      title: 'Pattern',
      default: 'linear',
    }),
    count: Type.Integer({ title: 'Count', unit: '', minimum: 1, maximum: 1000, default: 3 }),
    offset: Type.Optional(
      Type.Tuple([offset('X'), offset('Y'), offset('Z')], {
        title: 'Offset',
        unit: 'mm',
        default: [10, 0, 0],
      }),
    ),
    spacing: Type.Optional(
      Type.Union([Type.Literal('step'), Type.Literal('gap'), Type.Literal('fit')], {
        title: 'Offset is',
        default: 'step',
      }),
    ),
    axis: Type.Optional(
      Type.Union([Type.Literal('x'), Type.Literal('y'), Type.Literal('z')], { title: 'Axis', default: 'y' }),
    ),
    angle: Type.Optional(
      Type.Number({ title: 'Part of a circle', unit: '°', minimum: -360, maximum: 360, default: 360 }),
    ),
    radius: Type.Optional(Type.Number({ title: 'Radius', unit: 'mm', minimum: 0, maximum: 1e6, default: 0 })),
    ...aboutParams,
    merge: Type.Optional(Type.Boolean({ title: 'Merge copies that touch', default: false })),
  },
  fields: [
    { key: 'pattern', wide: true, begins: clearRadius },
    { key: 'count' },
    { key: 'offset', when: (s) => s.pattern === 'linear' },
    {
      key: 'spacing',
      when: (s) => s.pattern === 'linear',
      hints: { step: 'From a copy to the next', gap: 'Between copies', fit: 'From the first to the last' },
    },
    { key: 'axis', when: (s) => s.pattern === 'radial' },
    { key: 'angle', when: (s) => s.pattern === 'radial' },
    { key: 'radius', when: (s) => s.pattern === 'radial' },
    { key: 'about', as: 'about', when: (s) => s.pattern === 'radial' },
    { key: 'merge' },
  ],
  adds: [
    {
      title: 'Repeat, live',
      words: 'array copies pattern radial circular linear row',
      step: { kind: 'repeat', pattern: 'linear', count: 3, offset: [10, 0, 0] },
    },
  ],
  handles: (step, frame) => (step.pattern === 'linear' ? handlesInLine(step) : handlesAround(step, frame)),
  guides: (step, frame, size) => (step.pattern === 'radial' ? axisLine(step, frame, size) : []),
  label: ({ pattern, count }) => `${count} ${pattern === 'radial' ? 'around' : 'in line'}`,
  about: aboutOf,
  run(mesh, step, { frame, limits, watch }) {
    const key = `× ${step.count}`;
    if (!faceCount(mesh))
      return { mesh, key, warnings: [warn('nothing-there', 'There is nothing to repeat.')] };
    refuseTooMany({ title: repeat.title }, faceCount(mesh) * step.count, limits.faces);
    const places = step.pattern === 'linear' ? inLine(mesh, step) : around(step, frame);
    const warnings = liesOnItself(mesh, places) ? [inOnePlace(places.length)] : undefined;
    const copies = places.map((m, k) => {
      watch((0.5 * k) / places.length);
      const copy = transformMesh(mesh, m);
      return k ? allMade(copy, 'copy', () => k) : copy;
    });
    if (step.merge && copies.length > 1) {
      const [first, ...others] = copies.map((copy, k) => ({
        mesh: copy,
        name: `copy ${k + 1}`,
        id: `copy${k}`,
      }));
      return {
        mesh: withoutTraces(cut(first, others, 'union', true, Infinity, partOf(watch, 0.5, 1)).mesh),
        key,
        warnings,
      };
    }
    const out = joinMeshes(copies);
    const meet = copies.length > 1 && boxesMeet(copies);
    if (isSound(mesh) && !meet) markSound(out);
    return { mesh: out, key, warnings };
  },
});

function offset(title: string) {
  return Type.Number({ title, minimum: -1e6, maximum: 1e6 });
}

interface Line {
  count: number;
  offset?: [number, number, number];
  spacing?: 'step' | 'gap' | 'fit';
}

function inLine(mesh: PolyMesh, { count, offset = [10, 0, 0], spacing = 'step' }: Line): Matrix[] {
  const along = unit(offset);
  if (spacing !== 'fit' && !length(offset))
    throw new OperationError(
      'no-direction',
      'The copies would all lie in one place.',
      undefined,
      'Give the offset a length.',
    );
  const step =
    spacing === 'step'
      ? offset
      : spacing === 'gap'
        ? scale(along, length(offset) + extentAlong(mesh, along))
        : scale(offset, count > 1 ? 1 / (count - 1) : 0);
  return Array.from({ length: count }, (_, k) => moveBy(scale(step as Vec3, k)));
}

/** The first step, the last copy, and one more: pulled, they change the distance, the whole length, the count. */
function handlesInLine({ count, offset = [10, 0, 0], spacing = 'step' }: Line): ModelHandle[] {
  const reach = length(offset);
  const along = unit(offset);
  if (!reach || count < 2) return [];
  /** A length of so many offsets, pulled at its end. */
  const handle = (label: string, offsets: number): ModelHandle => ({
    key: 'offset',
    label,
    at: scale(offset, offsets),
    along,
    rate: 1,
    derived: {
      value: reach * offsets,
      put: (v) => ({ offset: scale(along, v / offsets).map((x) => Number(x.toFixed(6)) + 0) }),
    },
  });
  if (spacing === 'gap') return [handle('gap', 1)];
  if (spacing === 'fit') return [handle('last', 1), countInLine(scale(offset, 1 / (count - 1)), count)];
  return [handle('first', 1), ...(count > 2 ? [handle('last', count - 1)] : []), countInLine(offset, count)];
}

const countInLine = (step: Vec3, count: number): ModelHandle => ({
  key: 'count',
  label: 'count',
  at: scale(step, count - 0.5),
  along: unit(step),
  rate: 1 / length(step),
});

function extentAlong(mesh: PolyMesh, along: Vec3): number {
  let [lo, hi] = [Infinity, -Infinity];
  for (let v = 0; 3 * v < mesh.positions.length; v++) {
    const h = dot(pointOf(mesh.positions, v), along);
    lo = Math.min(lo, h);
    hi = Math.max(hi, h);
  }
  return hi - lo;
}

interface Circle {
  count: number;
  axis?: 'x' | 'y' | 'z';
  angle?: number;
  radius?: number;
}

/** The radius, pulled outward at the first copy, and the count, pulled on from the last. */
function handlesAround(step: Circle, frame: Matrix): ModelHandle[] {
  const { count, angle = 360 } = step;
  const places = around(step, frame);
  const [first, last] = [originOf(places[0]), originOf(places[count - 1])];
  const { center, axis, outward } = axisOf(step, frame);
  const spoke = sub(last, center);
  const arm = sub(spoke, scale(axis, dot(spoke, axis)));
  const reach = length(arm);
  // On the axis there is nothing to pull outward, and no way round.
  if (reach < 1e-9) return [];
  const arc = (Math.abs(angle) * Math.PI * reach) / 180 / count;
  return [
    { key: 'radius', label: 'radius', at: first, along: outward, rate: 1 },
    {
      key: 'count',
      label: 'count',
      at: last,
      along: unit(scale(cross(axis, arm), Math.sign(angle) || 1)),
      rate: 1 / arc,
    },
  ];
}

const originOf = (m: Matrix): Vec3 => [m[12], m[13], m[14]];

/** The axis of a frame that copies stand around, and the direction a radius moves them. */
function axisOf({ axis = 'y' }: Circle, frame: Matrix): { center: Vec3; axis: Vec3; outward: Vec3 } {
  const k = AXES.indexOf(axis);
  const along = (i: number): Vec3 => unit([frame[4 * i], frame[4 * i + 1], frame[4 * i + 2]]);
  return { center: originOf(frame), axis: along(k), outward: along((k + 1) % 3) };
}

/** Copies around the middle of their own box stand in one place. */
function liesOnItself(mesh: PolyMesh, places: ReadonlyArray<Matrix>): boolean {
  if (places.length < 2) return false;
  const { min, max } = boundsOf(mesh);
  const [first, second] = places.map((m) => applyMatrix(m, lerp(min, max, 0.5)));
  return distance(first, second) < 1e-6 * distance(min, max);
}

const inOnePlace = (copies: number): Warning =>
  warn(
    'in-one-place',
    `All ${copies} copies lie in one place: the axis goes through the middle of the piece. Give it a radius.`,
  );

/** Around a piece's own axis it needs a radius: one at which its copies clear each other. */
function clearRadius(
  step: Circle & Line & { pattern: string; about?: unknown },
  size: Vec3,
): { radius?: number } {
  const { pattern, count, axis = 'y', radius, about = 'piece', offset = [10, 0, 0], spacing = 'step' } = step;
  if (pattern !== 'radial' || radius || about !== 'piece' || count < 2) return {};
  // The size is that of the row it was.
  const one = size.map((x, k) => {
    const row = Math.abs(offset[k]) * (spacing === 'step' ? count - 1 : spacing === 'fit' ? 1 : 0);
    return spacing === 'gap' ? (offset[k] ? x / count : x) : Math.max(0, x - row);
  });
  const k = AXES.indexOf(axis);
  const across = Math.hypot(one[(k + 1) % 3], one[(k + 2) % 3]);
  return { radius: Number(((1.1 * across) / 2 / Math.sin(Math.PI / count)).toPrecision(2)) };
}

/** A stretch of the axis, a little longer than the piece. */
function axisLine(step: Circle, frame: Matrix, size: number): Array<[Vec3, Vec3]> {
  const { center, axis } = axisOf(step, frame);
  return [[addScaled(center, axis, -0.7 * size), addScaled(center, axis, 0.7 * size)]];
}

/** A whole circle is divided by the count; a part of one runs from the first copy to the last. */
function around({ count, axis = 'y', angle = 360, radius = 0 }: Circle, frame: Matrix): Matrix[] {
  const k = AXES.indexOf(axis);
  const step = Math.abs(angle) === 360 ? angle / count : count > 1 ? angle / (count - 1) : 0;
  const out: Vec3 = [0, 0, 0];
  out[(k + 1) % 3] = radius;
  // Turned in the frame, so the copies stand around its axis; sizes of the frame do not count.
  const plain = withoutSize(frame);
  return Array.from({ length: count }, (_, i) =>
    multiply(multiply(plain, multiply(turnBy(k, i * step), moveBy(out))), invert(plain)),
  );
}

function withoutSize(m: Matrix): Matrix {
  const out = [...m];
  for (let c = 0; c < 3; c++) {
    const u = unit([m[4 * c], m[4 * c + 1], m[4 * c + 2]]);
    for (let r = 0; r < 3; r++) out[4 * c + r] = u[r];
  }
  return out;
}

const moveBy = ([x, y, z]: Vec3): Matrix => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];

function turnBy(axis: number, degrees: number): Matrix {
  const [c, s] = cosSin(degrees);
  const [a, b] = [(axis + 1) % 3, (axis + 2) % 3];
  const out = [...IDENTITY];
  out[5 * a] = c;
  out[4 * a + b] = s;
  out[4 * b + a] = -s;
  out[5 * b] = c;
  return out;
}

function boxesMeet(meshes: ReadonlyArray<PolyMesh>): boolean {
  const boxes = meshes.map(boundsOf).sort((a, b) => a.min[0] - b.min[0]);
  return boxes.some((a, i) => {
    for (let j = i + 1; j < boxes.length && boxes[j].min[0] <= a.max[0]; j++)
      if ([1, 2].every((k) => a.min[k] <= boxes[j].max[k] && boxes[j].min[k] <= a.max[k])) return true;
    return false;
  });
}

/**
 * Extrude: picked faces move out and draw walls behind them. As one region, or each face by itself; along the
 * region's mean normal, along each face's own (so that all move by the same distance), or along an axis.
 *
 * Where a closed body's faces are pushed so far that the result would pass through itself or lie on itself, the swept
 * body is taken off (or added) as a solid instead: pushing to the far side or through it opens a clean passage, and no
 * inside-out wall stays. A group that faces every way, a whole body or a closed band, has no one direction: its faces
 * move along their own normals.
 */
import { withoutTraces } from '../mesh/traces';
import { checkMesh } from '../mesh/checkMesh';
import { facesTouch } from '../inspect/facesTouch';
import { selfCrossings } from '../inspect/selfCross';
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCount, meshFromLoops, type PolyMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import { areaVectors, eulerCharacteristic, faceNormal, shellCount, volume } from '../mesh/measure';
import { displacement } from '../mesh/offset';
import { isClosed, nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { add, dot, scale, unit, type Vec3 } from '../mesh/vec3';
import { islandsOf, selectionOf } from '../select/selection';
import { cut } from '../solid/boolean';
import { kernelReady } from '../solid/kernel';
import { choice, flag, length, params, vector } from './fields';
import { layBeside } from './layBeside';
import { type CompleteParams, type OperationResult, counted, defineOperation } from './operation';
import { centroid, standing } from './pulls';
import { onBox } from './tool';

const schema = params({
  distance: length('Distance', 10),
  by: choice('Faces move', ['region', 'each'], 'region'),
  along: choice('Along', ['normal', 'own', 'axis'], 'normal'),
  axis: vector('Axis', [0, 1, 0], 1, ''),
  passage: flag('Open a passage when pushed through', true),
});
type Params = CompleteParams<typeof schema>;

export const extrude = defineOperation({
  kind: 'extrude',
  title: 'Extrude',
  on: ['face'],
  params: schema,
  example: onBox({ op: 'extrude', select: { rule: 'facing', direction: [0, 1, 0] }, distance: 5 }),
  tools: [
    {
      start: (hand) => ({ distance: hand.share(0.05) }),
      words: 'pull push raise',
      ring: { face: 0 },
      next: { face: 0 },
    },
    {
      id: 'extrudeEach',
      title: 'Extrude each face',
      short: 'Extrude each',
      start: (hand) => ({ distance: hand.share(0.05, true), by: 'each' }),
    },
    {
      id: 'extrudePeg',
      title: 'Extrude along the peg',
      short: 'Extrude along peg',
      start: (hand) => ({ distance: hand.share(0.05), along: 'axis', axis: hand.peg() }),
    },
  ],
  shows: { axis: (p) => p.along === 'axis' },
  pulls(mesh, selection, p) {
    const [first] = selection.indices;
    const alone = p.by === 'each' || p.along === 'own';
    const faces = alone ? [first] : islandsOf(mesh, selection).find((g) => g.includes(first))!;
    const { middle, normal } = standing(mesh, faces);
    const along = p.along === 'axis' ? unit(p.axis) : normal;
    const one = along
      ? { zero: middle, along }
      : { zero: centroid(mesh, first), along: faceNormal(mesh, first) };
    return [{ key: 'distance', ...one, rate: 1 }];
  },
  refuses: ['nothing-left', 'open-operand', 'folded-operand', 'crossed-operand', 'bad-operand'],
  says: ({ faces, through, passage }) =>
    `Extruded ${counted(faces, 'face')}.${through ? (passage ? ' It went through, and opened a passage.' : ' It went through, and cut a notch.') : ''}`,
  run(mesh, selection, p) {
    const groups = p.by === 'each' ? selection.indices.map((f) => [f]) : islandsOf(mesh, selection);
    const result = raise(mesh, groups, p);
    const counts = { faces: selection.indices.length };
    if (p.passage && p.along !== 'own' && kernelReady() && isClosed(mesh) && volume(mesh) > 0) {
      const before = selfCrossings(mesh).edges.length;
      const tops = new Set(result.selection.indices);
      if (!before && (selfCrossings(result.mesh).edges.length || facesTouch(result.mesh, tops))) {
        const through = sweepAway(mesh, groups, p);
        if (through && !faceCount(through.mesh))
          throw new OperationError(
            'nothing-left',
            'Pushed that far, nothing of the piece would be left.',
            { domain: 'face', indices: [...selection.indices] },
            'Push it less far.',
          );
        if (through && checkMesh(through.mesh).closed)
          return {
            ...through,
            counts: { ...counts, through: 1, passage: holes(through.mesh) > holes(mesh) ? 1 : 0 },
          };
      }
    }
    return { ...result, counts };
  },
});

/** How many holes go through the bodies of a closed mesh: the sum of their genus. */
const holes = (mesh: PolyMesh): number => shellCount(mesh) - eulerCharacteristic(mesh) / 2;

/** Unit direction of a group of faces: the axis, or its mean normal by area; null where that comes to nothing. */
function directionOf(mesh: PolyMesh, faces: ReadonlyArray<number>, p: Params): Vec3 | null {
  if (p.along === 'axis') return unit(p.axis);
  const a = areaVectors(mesh);
  const sum: Vec3 = [0, 0, 0];
  let all = 0;
  for (const f of faces) {
    for (let k = 0; k < 3; k++) sum[k] += a[3 * f + k];
    all += Math.hypot(a[3 * f], a[3 * f + 1], a[3 * f + 2]);
  }
  return Math.hypot(...sum) > NO_DIRECTION * all ? unit(sum) : null;
}
/** Share of a group's area below which the sum of its area vectors is rounding noise, or might as well be. */
const NO_DIRECTION = 1e-4;

/** Every group moved, with walls along its border. */
function raise(mesh: PolyMesh, groups: number[][], p: Params): OperationResult {
  const t = topologyOf(mesh);
  const draft = new MeshDraft(mesh);
  const group = new Int32Array(faceCount(mesh)).fill(-1);
  groups.forEach((list, i) => list.forEach((f) => (group[f] = i)));
  const directions = groups.map((list) => directionOf(mesh, list, p));
  const inGroup = (c: number, g: number): boolean => c >= 0 && group[t.faceOfCorner[c]] === g;
  // Around a point, the faces of a group may fall into several fans; each fan gets its own copy of the point.
  const copyOf = new Int32Array(mesh.corners.length).fill(-1);
  for (let c0 = 0; c0 < mesh.corners.length; c0++) {
    const g = group[t.faceOfCorner[c0]];
    if (g < 0 || copyOf[c0] >= 0) continue;
    const fan = fanOf(mesh, c0, g, inGroup);
    const v = mesh.corners[c0];
    const whole = fan.closed && fan.corners.length === t.vertexStart[v + 1] - t.vertexStart[v];
    const d = shift(mesh, fan.corners, directions[g], p);
    const to = add(draft.at(v), d);
    let point = v;
    if (whole) draft.movePoint(v, to);
    else point = draft.addPoint(to, v);
    for (const c of fan.corners) copyOf[c] = point;
  }
  const tops: number[] = [];
  for (let f = 0; f < group.length; f++) {
    if (group[f] < 0) continue;
    draft.dropFace(f);
    const corners = range(mesh.faceStart[f], mesh.faceStart[f + 1]);
    draft.addFace({
      loop: corners.map((c) => copyOf[c]),
      face: f,
      corners,
      edges: corners.map((c) => t.edgeOfCorner[c]),
    });
    tops.push(tops.length);
  }
  for (let f = 0; f < group.length; f++) {
    if (group[f] < 0) continue;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (inGroup(t.twin[c], group[f])) continue;
      const d = nextCorner(mesh, t, c);
      const beyond = t.twin[c] >= 0 ? t.faceOfCorner[t.twin[c]] : f;
      draft.addFace({
        loop: [mesh.corners[c], mesh.corners[d], copyOf[d], copyOf[c]],
        face: beyond,
        corners: [c, d, d, c],
        edges: [t.edgeOfCorner[c], -1, -1, -1],
        made: { role: 'wall', other: f },
      });
    }
  }
  const out = draft.finish();
  const walls = range(out.firstNewFace + tops.length, faceCount(out.mesh));
  layBeside(mesh, out.mesh, walls);
  return {
    mesh: out.mesh,
    selection: selectionOf(
      'face',
      tops.map((i) => out.firstNewFace + i),
    ),
    counts: {},
  };
}

const range = (from: number, to: number): number[] => Array.from({ length: to - from }, (_, i) => from + i);

/** The corners around a point that hang together by faces of one group, in order. */
function fanOf(
  mesh: PolyMesh,
  start: number,
  g: number,
  inGroup: (c: number, g: number) => boolean,
): { corners: number[]; closed: boolean } {
  const t = topologyOf(mesh);
  const corners = [start];
  for (let c = start; ;) {
    const next = t.twin[prevCorner(mesh, t, c)];
    if (!inGroup(next, g)) break;
    if (next === start) return { corners, closed: true };
    corners.push((c = next));
  }
  for (let c = start; ;) {
    const tw = t.twin[c];
    if (!inGroup(tw, g)) break;
    corners.unshift((c = nextCorner(mesh, t, tw)));
  }
  return { corners, closed: false };
}

function shift(mesh: PolyMesh, fan: number[], direction: Vec3 | null, p: Params): Vec3 {
  if (p.along !== 'own' && direction) return scale(direction, p.distance);
  const { faceOfCorner } = topologyOf(mesh);
  return displacement(fan.map((c) => ({ n: faceNormal(mesh, faceOfCorner[c]), h: p.distance })));
}

/** The body each group sweeps, taken off or added as a solid; null when a group has no one direction. */
function sweepAway(mesh: PolyMesh, groups: number[][], p: Params): OperationResult | null {
  const adds: PolyMesh[] = [];
  const takes: PolyMesh[] = [];
  for (const faces of groups) {
    const along = directionOf(mesh, faces, p);
    const normal = directionOf(mesh, faces, { ...p, along: 'normal' });
    if (!along || !normal) return null;
    const facing = Math.sign(dot(normal, along)) * p.distance;
    (facing > 0 ? adds : takes).push(sweptBody(mesh, faces, scale(along, p.distance), facing > 0));
  }
  let out = mesh;
  for (const [bodies, mode] of [
    [takes, 'subtract'],
    [adds, 'union'],
  ] as const)
    if (bodies.length && faceCount(out))
      out = cut(
        { mesh: out, name: 'piece' },
        bodies.map((b, i) => ({ mesh: b, name: 'swept body', id: `swept ${i}` })),
        mode,
      ).mesh;
  return { mesh: withoutTraces(out), selection: { kind: 'face', indices: [] }, counts: {} };
}

function sweptBody(mesh: PolyMesh, faces: ReadonlyArray<number>, by: Vec3, outward: boolean): PolyMesh {
  const t = topologyOf(mesh);
  const local = new Map<number, number>();
  const points: Vec3[] = [];
  const picked = new Set(faces);
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = mesh.corners[c];
      if (!local.has(v))
        local.set(
          v,
          points.push([mesh.positions[3 * v], mesh.positions[3 * v + 1], mesh.positions[3 * v + 2]]) - 1,
        );
    }
  const n = points.length;
  for (let i = 0; i < n; i++) points.push(add(points[i], by));
  const loops: number[][] = [];
  for (const f of faces) {
    const loop = range(mesh.faceStart[f], mesh.faceStart[f + 1]).map((c) => local.get(mesh.corners[c])!);
    // Outward the moved faces are the lid; inward the faces as they are.
    loops.push(
      outward ? loop.map((i) => i + n) : loop,
      outward ? [...loop].reverse() : loop.map((i) => i + n).reverse(),
    );
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (t.twin[c] >= 0 && picked.has(t.faceOfCorner[t.twin[c]])) continue;
      const a = local.get(mesh.corners[c])!;
      const b = local.get(mesh.corners[nextCorner(mesh, t, c)])!;
      loops.push(outward ? [a, b, b + n, a + n] : [b, a, a + n, b + n]);
    }
  }
  return meshFromLoops(points, loops);
}

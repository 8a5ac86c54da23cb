/**
 * Mirror: the side that is kept of each plane, and its image, welded along one line of points on the plane. Faces that
 * lie in the plane are left out, so a solid stays a solid.
 */
import { Type } from 'typebox';
import { joinMeshes } from '../ops/join';
import { planeSlice } from '../ops/planeSlice';
import { runInside } from '../ops/operation';
import { keepManifold } from '../mesh/makeManifold';
import { OperationError } from '../mesh/errors';
import { allMade } from '../mesh/lineage';
import { sizeOf } from '../mesh/measure';
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCount, makeMesh, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { copyLayers } from '../mesh/layers';
import { topologyOf } from '../mesh/Topology';
import { TOLERANCE } from '../mesh/tolerance';
import { transformMesh, IDENTITY, type Matrix } from '../mesh/transform';
import { addScaled, dot, pointOf, scale, unit, type Vec3 } from '../mesh/vec3';
import { aboutOf, aboutParams } from './about';
import { defineStep } from './define';

const AXES = ['x', 'y', 'z'] as const;

export const mirror = defineStep({
  kind: 'mirror',
  title: 'Mirror',
  lane: 'Repeat',
  example: { kind: 'mirror', axes: ['x'], about: 'piece', keep: 'positive' },
  params: {
    axes: Type.Array(Type.Union([Type.Literal('x'), Type.Literal('y'), Type.Literal('z')]), {
      title: 'Across',
      minItems: 1,
      maxItems: 3,
      uniqueItems: true,
      default: ['x'],
    }),
    ...aboutParams,
    keep: Type.Optional(
      Type.Union([Type.Literal('positive'), Type.Literal('negative')], {
        title: 'Keep',
        default: 'positive',
      }),
    ),
  },
  fields: [{ key: 'axes' }, { key: 'about', as: 'about' }, { key: 'keep' }],
  adds: [
    {
      title: 'Mirror, live',
      words: 'symmetry reflect flip half',
      step: { kind: 'mirror', axes: ['x'], about: 'piece', keep: 'positive' },
    },
  ],
  label: ({ axes }) => `Mirror ${axes.join(', ').toUpperCase()}`,
  about: aboutOf,
  guides: ({ axes }, frame, size) => axes.flatMap((a) => planeOutline(frame, AXES.indexOf(a), 0.6 * size)),
  run(mesh, { axes, keep = 'positive' }, { frame }) {
    const point: Vec3 = [frame[12], frame[13], frame[14]];
    let out = mesh;
    let cut = 0;
    for (const axis of AXES.filter((a) => axes.includes(a))) {
      const k = AXES.indexOf(axis);
      const along = unit([frame[4 * k], frame[4 * k + 1], frame[4 * k + 2]]);
      const normal = keep === 'positive' ? along : scale(along, -1);
      const half = kept(out, point, normal);
      if (half !== out) cut++;
      out = withImage(half, point, normal, 1 << k);
    }
    return { mesh: out, key: `${axes.join(' ')}${cut ? ' · cut' : ''}` };
  },
});

/** A square in the plane across an axis of a frame, with its diagonals. @param half its half side, mm */
function planeOutline(frame: Matrix, k: number, half: number): Array<[Vec3, Vec3]> {
  const along = (i: number): Vec3 => unit([frame[4 * i], frame[4 * i + 1], frame[4 * i + 2]]);
  const [u, v] = [along((k + 1) % 3), along((k + 2) % 3)];
  const center: Vec3 = [frame[12], frame[13], frame[14]];
  const at = (x: number, y: number): Vec3 => addScaled(addScaled(center, u, x * half), v, y * half);
  const corners = [at(-1, -1), at(1, -1), at(1, 1), at(-1, 1)];
  return [
    ...corners.map((p, i): [Vec3, Vec3] => [p, corners[(i + 1) % 4]]),
    [corners[0], corners[2]],
    [corners[1], corners[3]],
  ];
}

/** The part in front of a plane. */
function kept(mesh: PolyMesh, point: Vec3, normal: Vec3): PolyMesh {
  const reach = sizeOf(mesh) * TOLERANCE.straight;
  let [lo, hi] = [Infinity, -Infinity];
  for (let v = 0; v < vertexCount(mesh); v++) {
    const h = dot(pointOf(mesh.positions, v), normal) - dot(point, normal);
    lo = Math.min(lo, h);
    hi = Math.max(hi, h);
  }
  if (hi <= reach)
    throw new OperationError(
      'nothing-left',
      'Nothing of the piece lies on the side that is kept.',
      undefined,
      'Keep the other side, or move the piece across the plane.',
    );
  if (lo >= -reach) return mesh;
  const all = { kind: 'face' as const, indices: Array.from({ length: faceCount(mesh) }, (_, f) => f) };
  return runInside(planeSlice, mesh, all, { point, normal, keep: 'front', cap: false }).mesh;
}

/** A half and its image, with the points on the plane in common. @param bit tells images across one plane from others */
function withImage(half: PolyMesh, point: Vec3, normal: Vec3, bit: number): PolyMesh {
  const reach = sizeOf(half) * TOLERANCE.straight;
  const V = vertexCount(half);
  const positions = half.positions.slice();
  const onPlane = new Uint8Array(V);
  for (let v = 0; v < V; v++) {
    const h = dot(pointOf(positions, v), normal) - dot(point, normal);
    if (Math.abs(h) > reach) continue;
    onPlane[v] = 1;
    for (let k = 0; k < 3; k++) positions[3 * v + k] -= h * normal[k];
  }
  const open = withoutFacesIn({ ...half, positions }, onPlane);
  const image = allMade(
    transformMesh(open.mesh, reflection(point, normal)),
    'image',
    (before) => before | bit,
  );
  return keepManifold(welded(joinMeshes([open.mesh, image]), open.onPlane), half);
}

/** Faces all of whose points lie in the plane would be walls inside. */
function withoutFacesIn(mesh: PolyMesh, onPlane: Uint8Array): { mesh: PolyMesh; onPlane: Uint8Array } {
  const draft = new MeshDraft(mesh);
  let dropped = 0;
  for (let f = 0; f < faceCount(mesh); f++) {
    const loop = mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]);
    if (!loop.every((v) => onPlane[v])) continue;
    draft.dropFace(f);
    dropped++;
  }
  if (!dropped) return { mesh, onPlane };
  const out = draft.finish();
  const kept = new Uint8Array(vertexCount(out.mesh));
  for (let v = 0; v < onPlane.length; v++) if (out.point(v) >= 0) kept[out.point(v)] = onPlane[v];
  return { mesh: out.mesh, onPlane: kept };
}

/** The second half of the points gives way to the first where they lie on the plane. */
function welded(both: PolyMesh, onPlane: Uint8Array): PolyMesh {
  const V = onPlane.length;
  const to = new Int32Array(2 * V);
  const source: number[] = [];
  for (let v = 0; v < 2 * V; v++) to[v] = v >= V && onPlane[v - V] ? to[v - V] : source.push(v) - 1;
  const positions = new Float64Array(3 * source.length);
  source.forEach((v, i) => positions.set(both.positions.subarray(3 * v, 3 * v + 3), 3 * i));
  const corners = both.corners.map((v) => to[v]);
  const bare = makeMesh(positions, both.faceStart, corners);
  const [was, is] = [topologyOf(both), topologyOf(bare)];
  const edges = Int32Array.from(is.cornerOfEdge, (c: number) => was.edgeOfCorner[c]);
  return makeMesh(positions, both.faceStart, corners, {
    ...both.layers,
    vertex: copyLayers(both.layers.vertex, Int32Array.from(source)),
    edge: copyLayers(both.layers.edge, edges),
  });
}

/** Across the plane through a point (Householder 1958). */
function reflection(point: Vec3, n: Vec3): Matrix {
  const out = [...IDENTITY];
  for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) out[4 * c + r] -= 2 * n[r] * n[c];
  const d = 2 * dot(point, n);
  for (let r = 0; r < 3; r++) out[12 + r] = d * n[r];
  return out;
}

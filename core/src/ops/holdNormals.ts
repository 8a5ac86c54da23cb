/** Shading normals by hand: at the corners of what is picked they are held toward something, or let go of again. */
import { Type, type Static } from 'typebox';
import { SurfaceSchema, type Surface } from '../primitives/base';
import type { PolyMesh } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { add, cross, dot, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { OperationError } from '../mesh/errors';
import { transformMesh, type Matrix } from '../mesh/transform';
import { pointsOf, type Selection } from '../select/selection';
import { castNormals } from '../shading/castNormals';
import { cornerNormals } from '../shading/cornerNormals';
import { shadingNormals } from '../shading/shadingNormals';
import { evened, normalsAt } from '../shading/evenNormals';
import { PointGrid } from '../spatial/PointGrid';
import { bestPlane } from './arrange';
import { angle, choice, count, flag, length, params, planeNormal, share, vector } from './fields';
import { counted, defineOperation, type MeshOf } from './operation';
import { onBox } from './tool';

const n = Type.Number({ minimum: -1e6, maximum: 1e6 });

const schema = params({
  to: choice(
    'Toward',
    [
      'face',
      'together',
      'plane',
      'smooth',
      'even',
      'at',
      'away',
      'direction',
      'turn',
      'mirror',
      'cast',
      'free',
      'release',
    ],
    'face',
  ),
  strength: share('Strength', 1),
  rounds: count('Rounds', 3, 1, 100),
  holdBorder: flag('Hold the border', true),
  point: vector('Point', [0, 0, 0]),
  direction: vector('Direction', [0, 1, 0], 1, ''),
  degrees: angle('Turned by', 0),
  across: choice('Across', ['x', 'y', 'z'], 'x'),
  within: length('Nearer than', 0.01, 0),
  apart: angle('Unless apart by', 60, 0, 180),
  way: choice('Way', ['nearest', 'along'], 'nearest'),
  reach: length('Reach', 5, 0.001),
  // The surface to cast from; the one parameter without a default.
  surface: Type.Unsafe<Surface | undefined>(SurfaceSchema),
  // Normals of other pieces that count along: places and directions, in the frame of the piece.
  beside: Type.Array(Type.Tuple([n, n, n, n, n, n]), { title: 'Beside', default: [] }),
});

export const holdNormals = defineOperation({
  kind: 'holdNormals',
  title: 'Hold normals',
  setsNormals: true,
  on: ['face', 'edge', 'vertex'],
  params: schema,
  example: onBox(
    { op: 'holdNormals', select: { rule: 'all', of: 'faces' }, to: 'away', strength: 0.5 },
    { op: 'holdNormals', select: { rule: 'facing', direction: [0, 1, 0] } },
  ),
  tools: [
    { id: 'normalsFace', title: 'Shade each face flat', short: 'Each flat', at: ['face'], words: 'normals flatten hold face' }, // prettier-ignore
    {
      id: 'normalsTogether',
      title: 'Shade the faces as one plane',
      short: 'As one plane',
      at: ['face'],
      words: 'normals flatten average common',
      start: () => ({ to: 'together' }),
    },
    {
      id: 'normalsSmooth',
      title: 'Smooth the shading',
      short: 'Smooth shading',
      words: 'normals average blend soften',
      start: () => ({ to: 'smooth' }),
    },
    {
      id: 'normalsEven',
      title: 'Even out the shading where pieces meet',
      short: 'Even out',
      words: 'normals join panels seam weld across objects',
      start: () => ({ to: 'even' }),
      beside: 'normals',
    },
    {
      id: 'normalsTurn',
      title: "Turn the shading about the peg's axis",
      short: 'Turn shading',
      words: 'normals rotate bend lean',
      start: (hand) => ({ to: 'turn', direction: hand.peg(), degrees: 15 }),
    },
    {
      id: 'normalsMirror',
      title: 'Mirror the shading',
      short: 'Mirror shading',
      words: 'normals symmetry copy other side',
      start: () => ({ to: 'mirror' }),
    },
    {
      id: 'normalsAxis',
      title: "Shade along the peg's axis",
      short: 'Shade along peg',
      words: 'normals aim direction up foliage',
      start: (hand) => ({ to: 'direction', direction: hand.peg() }),
    },
    {
      id: 'normalsCast',
      title: 'Cast the shading from another piece in hand',
      short: 'Cast shading',
      words: 'normals transfer project copy surface',
      start: () => ({ to: 'cast' }),
      surface: 'other',
    },
    {
      id: 'normalsFree',
      title: 'Blend toward the shading without holds',
      short: 'Blend to free',
      words: 'normals old original mix automatic',
      start: () => ({ to: 'free', strength: 0.5 }),
    },
    {
      id: 'normalsRelease',
      title: 'Release held normals',
      short: 'Release',
      words: 'normals reset clear automatic release',
      start: () => ({ to: 'release' }),
    },
  ],
  shows: {
    strength: (p) => p.to !== 'release',
    rounds: (p) => p.to === 'smooth',
    holdBorder: (p) => p.to === 'smooth',
    point: (p) => p.to === 'at' || p.to === 'away',
    direction: (p) => p.to === 'direction' || p.to === 'turn',
    degrees: (p) => p.to === 'turn',
    across: (p) => p.to === 'mirror',
    within: (p) => p.to === 'even' || p.to === 'mirror',
    apart: (p) => p.to === 'even',
    way: (p) => p.to === 'cast',
    reach: (p) => p.to === 'cast',
    surface: false,
    beside: false,
  },
  refuses: ['no-direction', 'no-other-side', 'no-surface'],
  says: ({ corners }, { to }) =>
    to === 'release'
      ? `Let go of ${counted(corners, 'held normal')}.`
      : `Held ${counted(corners, 'normal')}.`,
  run(mesh, selection, p, meshOf) {
    const corners = cornersOf(mesh, selection);
    const before = mesh.layers.corner.normal?.data;
    const data = before ? Float32Array.from(before) : new Float32Array(3 * mesh.corners.length);
    let changed = corners.length;
    if (p.to === 'release') {
      const heldAt = (c: number): boolean =>
        data[3 * c] !== 0 || data[3 * c + 1] !== 0 || data[3 * c + 2] !== 0;
      changed = corners.filter(heldAt).length;
      for (const c of corners) data.fill(0, 3 * c, 3 * c + 3);
    } else {
      const shown = shadingNormals(mesh);
      const toward = towardOf(mesh, selection, corners, shown, p, meshOf);
      for (const c of corners) {
        const [own, to] = [pointOf(shown, c), toward(c)];
        if (!to) {
          changed--;
          continue;
        }
        const mixed = unit([0, 1, 2].map((k) => own[k] + p.strength * (to[k] - own[k])) as Vec3);
        // Opposite ones have no middle: then it stays.
        data.set(dot(mixed, mixed) > 0.5 ? mixed : own, 3 * c);
      }
    }
    return {
      mesh: {
        ...mesh,
        layers: { ...mesh.layers, corner: { ...mesh.layers.corner, normal: { size: 3, data } } },
      },
      selection,
      counts: { corners: changed },
    };
  },
});

/** Corners of faces; those at both ends of edges, on both sides; those around points. */
export function cornersOf(mesh: PolyMesh, { kind, indices }: Selection): number[] {
  const t = topologyOf(mesh);
  const out = new Set<number>();
  for (const i of indices)
    if (kind === 'face') for (let c = mesh.faceStart[i]; c < mesh.faceStart[i + 1]; c++) out.add(c);
    else if (kind === 'vertex')
      for (let k = t.vertexStart[i]; k < t.vertexStart[i + 1]; k++) out.add(t.vertexCorners[k]);
    else
      for (const c of [t.cornerOfEdge[i], t.twin[t.cornerOfEdge[i]]])
        if (c >= 0) out.add(c).add(nextCorner(mesh, t, c));
  return [...out].sort((a, b) => a - b);
}

type Toward = Required<Omit<Static<typeof schema>, 'surface'>> & { surface?: Surface };

/** The direction a corner's normal is held toward, unit length; null where it stays as it is. */
function towardOf(
  mesh: PolyMesh,
  selection: Selection,
  corners: ReadonlyArray<number>,
  shown: Float32Array,
  p: Toward,
  meshOf: MeshOf,
): (corner: number) => Vec3 | null {
  if (p.to === 'cast') return castFrom(mesh, corners, p, meshOf);
  if (p.to === 'free') {
    const free = cornerNormals(withoutHeld(mesh));
    return (c) => pointOf(free, c);
  }
  if (p.to === 'smooth') return smoothed(mesh, corners, shown, p);
  if (p.to === 'mirror') return mirrored(mesh, corners, shown, p);
  if (p.to === 'turn') {
    const axis = planeNormal(p.direction);
    return (c) => turnedAbout(pointOf(shown, c), axis, (p.degrees * Math.PI) / 180);
  }
  if (p.to === 'even') {
    const even = evened(normalsAt(mesh, corners), p.beside, p);
    const ofCorner = new Map(corners.map((c, i) => [c, even[i]]));
    return (c) => ofCorner.get(c)!;
  }
  return targets(mesh, selection, p);
}

function withoutHeld(mesh: PolyMesh): PolyMesh {
  const { normal: _, ...corner } = mesh.layers.corner;
  return { ...mesh, layers: { ...mesh.layers, corner } };
}

/**
 * The shading normal of another surface there; null where it is out of reach.
 * @throws OperationError `no-surface` when none is given, or no corner finds it
 */
function castFrom(
  mesh: PolyMesh,
  corners: ReadonlyArray<number>,
  { surface, way, reach }: Toward,
  meshOf: MeshOf,
): (corner: number) => Vec3 | null {
  if (!surface)
    throw new OperationError(
      'no-surface',
      'There is no surface to cast from.',
      undefined,
      'Take one other piece in hand as well, without picks on it.',
    );
  const own = meshOf(surface.base);
  const source = surface.place ? transformMesh(own, surface.place as Matrix) : own;
  const { faceOfCorner } = topologyOf(mesh);
  const { normals, took } = castNormals(mesh, source, {
    way,
    reach,
    turn: 90,
    strength: 1,
    hard: 'keep',
    faces: [...new Set(corners.map((c) => faceOfCorner[c]))],
  });
  if (!corners.some((c) => took[c]))
    throw new OperationError(
      'no-surface',
      `No corner of the picks finds the surface within ${reach} mm.`,
      { domain: 'vertex', indices: [...new Set(corners.map((c) => mesh.corners[c]))] },
      'Raise the reach, or go along the normals.',
    );
  return (c) => (took[c] ? pointOf(normals, c) : null);
}

/** Rodrigues 1840. */
function turnedAbout(v: Vec3, axis: Vec3, radians: number): Vec3 {
  const [cos, sin] = [Math.cos(radians), Math.sin(radians)];
  return unit(add(add(scale(v, cos), scale(cross(axis, v), sin)), scale(axis, dot(axis, v) * (1 - cos))));
}

/**
 * Normals of the corners at the mirrored place, mirrored; of several there the one whose face looks most alike.
 * @throws OperationError `no-other-side` when no picked corner has any
 */
function mirrored(
  mesh: PolyMesh,
  corners: ReadonlyArray<number>,
  shown: Float32Array,
  { across, within }: Toward,
): (corner: number) => Vec3 | null {
  const t = topologyOf(mesh);
  const axis = 'xyz'.indexOf(across);
  const flip = (v: Vec3): Vec3 => v.map((x, k) => (k === axis ? -x : x)) as Vec3;
  const grid = new PointGrid(mesh.positions, within);
  for (let v = 0; v < mesh.positions.length / 3; v++) grid.add(v);
  const areas = areaVectors(mesh);
  const facing = (c: number): Vec3 => unit(pointOf(areas, t.faceOfCorner[c]));
  const found = new Map<number, Vec3>();
  for (const c of corners) {
    const v = grid.nearest(flip(pointOf(mesh.positions, mesh.corners[c])));
    if (v === null) continue;
    const own = flip(facing(c));
    let [best, most] = [-1, -Infinity];
    for (let k = t.vertexStart[v]; k < t.vertexStart[v + 1]; k++) {
      const like = dot(facing(t.vertexCorners[k]), own);
      if (like > most) [best, most] = [t.vertexCorners[k], like];
    }
    if (best >= 0) found.set(c, flip(pointOf(shown, best)));
  }
  if (!found.size)
    throw new OperationError(
      'no-other-side',
      `Nothing lies opposite the picks within ${within} mm.`,
      { domain: 'vertex', indices: [...new Set(corners.map((c) => mesh.corners[c]))] },
      'Choose another axis, or raise the distance.',
    );
  return (c) => found.get(c) ?? null;
}

/** Areas that cancel to less than this share look no way. */
const NO_WAY = 1e-6;

function targets(mesh: PolyMesh, selection: Selection, p: Toward): (corner: number) => Vec3 {
  const t = topologyOf(mesh);
  const areas = areaVectors(mesh);
  const faceNormal = (c: number): Vec3 => unit(pointOf(areas, t.faceOfCorner[c]));
  const at = (c: number): Vec3 => pointOf(mesh.positions, mesh.corners[c]);
  if (p.to === 'face') return faceNormal;
  if (p.to === 'direction') {
    const direction = planeNormal(p.direction);
    return () => direction;
  }
  if (p.to === 'at' || p.to === 'away') {
    const sign = p.to === 'at' ? 1 : -1;
    return (c) => {
      const way = unit(sub(p.point, at(c)));
      return dot(way, way) > 0.5 ? (way.map((x) => sign * x) as Vec3) : faceNormal(c);
    };
  }
  const sum: Vec3 = [0, 0, 0];
  let total = 0;
  for (const f of new Set(cornersOf(mesh, selection).map((c) => t.faceOfCorner[c]))) {
    total += Math.hypot(...pointOf(areas, f));
    for (let k = 0; k < 3; k++) sum[k] += areas[3 * f + k];
  }
  const common = unit(sum);
  if (!(Math.hypot(...sum) > NO_WAY * total))
    throw new OperationError(
      'no-direction',
      'The normals of the picked faces cancel out, so they have no common normal.',
      { domain: 'face', indices: selection.kind === 'face' ? [...selection.indices] : [] },
      'Pick the faces of one side.',
    );
  if (p.to === 'together') return () => common;
  const { n } = bestPlane(mesh, pointsOf(mesh, selection));
  const facing = dot(n, common) < 0 ? (n.map((x) => -x) as Vec3) : n;
  return () => facing;
}

/**
 * Normals of corners, each round those of all corners that share one with the mean of those next to them on their faces.
 */
function smoothed(
  mesh: PolyMesh,
  corners: ReadonlyArray<number>,
  shown: Float32Array,
  { rounds, holdBorder }: { rounds: number; holdBorder: boolean },
): (corner: number) => Vec3 {
  const t = topologyOf(mesh);
  const picked = new Set(corners);
  const shared = (c: number): number[] => {
    const v = mesh.corners[c];
    const own = pointOf(shown, c);
    const out: number[] = [];
    for (let k = t.vertexStart[v]; k < t.vertexStart[v + 1]; k++)
      if (dot(own, pointOf(shown, t.vertexCorners[k])) > SHARED) out.push(t.vertexCorners[k]);
    return out;
  };
  const groups = new Map<number, number[]>();
  for (const c of corners) {
    const all = shared(c);
    // At the border of what is picked a normal is shared with corners that stay as they are.
    if (!groups.has(all[0]) && !(holdBorder && all.some((d) => !picked.has(d)))) groups.set(all[0], all);
  }
  let now = Float64Array.from(shown);
  for (let r = 0; r < rounds; r++) {
    const next = now.slice();
    for (const all of groups.values()) {
      const sum: Vec3 = [0, 0, 0];
      for (const c of all)
        for (const d of [c, nextCorner(mesh, t, c), prevCorner(mesh, t, c)])
          for (let k = 0; k < 3; k++) sum[k] += now[3 * d + k];
      const mean = unit(sum);
      if (dot(mean, mean) > 0.5) for (const c of all) if (picked.has(c)) next.set(mean, 3 * c);
    }
    now = next;
  }
  return (c) => pointOf(now, c);
}

/** Cosine above which corners at a point share their normal. */
const SHARED = Math.cos((0.1 * Math.PI) / 180);

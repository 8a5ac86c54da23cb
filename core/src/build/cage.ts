/** The cage: a base mesh as a viewer needs it to draw, point at and count its elements. */
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { triangulate } from '../planar/triangulate';
import { bridgedRegions } from '../solid/Solid';
import { valences } from '../select/measure';

export interface Cage {
  /** 3 numbers per point. */
  positions: Float32Array;
  /** How each face counts for shading, where any was told. */
  ranks: Uint8Array | null;
  /** The part that does not change while points move; null when it is the same as last time. */
  shape: CageShape | null;
}

export interface CageShape {
  /** Points and faces of the mesh. */
  faceStart: Uint32Array;
  corners: Uint32Array;
  /** Two points per edge. */
  edges: Uint32Array;
  edgeOfCorner: Uint32Array;
  openEdge: Uint8Array;
  /** Faces a cut divided for their holes: the lowest face of each whole, and the edges between its parts. */
  parts: { whole: Int32Array; between: Uint8Array } | null;
  /** Three points per triangle, and the face each is of. */
  triangles: Uint32Array;
  faceOfTriangle: Uint32Array;
  /** First triangle of each face, and the number of triangles. */
  triangleStart: Uint32Array;
  counts: CageCounts;
}

export interface CageCounts {
  points: number;
  edges: number;
  faces: number;
  /** Faces by corner count, points by valence, faces by material: value and number, most common first. */
  corners: Array<[number, number]>;
  valence: Array<[number, number]>;
  material: Array<[number, number]>;
  open: number;
}

/** @param before the mesh last sent, to leave out what did not change */
export function cageOf(mesh: PolyMesh, before: PolyMesh | null): Cage {
  const positions = Float32Array.from(mesh.positions);
  const rank = mesh.layers.face.rank?.data;
  const ranks = rank ? Uint8Array.from(rank) : null;
  // A moved point may change how an n-gon falls into triangles, so those are kept only while drawing allows it.
  if (before && before.corners === mesh.corners && before.faceStart === mesh.faceStart)
    return { positions, ranks, shape: null };
  const t = topologyOf(mesh);
  const tri = triangulate(mesh);
  return {
    positions,
    ranks,
    shape: {
      faceStart: mesh.faceStart.slice(),
      corners: mesh.corners.slice(),
      edges: t.edges.slice(),
      edgeOfCorner: t.edgeOfCorner.slice(),
      openEdge: Uint8Array.from(t.edgeUse, (n: number) => Number(n === 1)),
      parts: partsOf(mesh),
      triangles: Uint32Array.from(tri.corners, (c: number) => mesh.corners[c]),
      faceOfTriangle: tri.face.slice(),
      triangleStart: startsOf(tri.face, faceCount(mesh)),
      counts: countsOf(mesh),
    },
  };
}

/** Buffers to move between threads. */
export const cageBuffers = (c: Cage): ArrayBuffer[] =>
  [
    c.positions,
    ...(c.ranks ? [c.ranks] : []),
    ...(c.shape
      ? [
          c.shape.faceStart,
          c.shape.corners,
          c.shape.edges,
          c.shape.edgeOfCorner,
          c.shape.openEdge,
          c.shape.triangles,
          c.shape.faceOfTriangle,
          c.shape.triangleStart,
          ...(c.shape.parts ? [c.shape.parts.whole, c.shape.parts.between] : []),
        ]
      : []),
  ].map((a) => a.buffer as ArrayBuffer);

/** The start of each face's run in a list that names faces in ascending order. */
function startsOf(faceOf: Uint32Array, faces: number): Uint32Array {
  const start = new Uint32Array(faces + 1);
  for (const f of faceOf) start[f + 1]++;
  for (let f = 0; f < faces; f++) start[f + 1] += start[f];
  return start;
}

function partsOf(mesh: PolyMesh): CageShape['parts'] {
  const bridge = mesh.layers.edge.bridge?.data;
  if (!bridge?.some((b) => b)) return null;
  return { whole: bridgedRegions(mesh), between: Uint8Array.from(bridge, (b) => (b ? 1 : 0)) };
}

function countsOf(mesh: PolyMesh): CageCounts {
  const t = topologyOf(mesh);
  const corners = tally(faceCount(mesh), (f) => mesh.faceStart[f + 1] - mesh.faceStart[f]);
  const n = valences(mesh);
  const material = mesh.layers.face.material?.data;
  return {
    points: n.length,
    edges: t.edgeCount,
    faces: faceCount(mesh),
    corners,
    valence: tally(n.length, (v) => n[v]),
    material: material ? tally(material.length, (f) => material[f]) : [],
    open: t.edgeUse.reduce((sum, use) => sum + Number(use === 1), 0),
  };
}

function tally(n: number, value: (i: number) => number): Array<[number, number]> {
  const counts = new Map<number, number>();
  for (let i = 0; i < n; i++) counts.set(value(i), (counts.get(value(i)) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
}

/**
 * The mesh value. Immutable by convention: nothing in Urnsmith writes to the arrays of a mesh after
 * `makeMesh` returned it, so meshes can be shared, cached by identity and moved between threads.
 */
import { type LayerSet, type Layers, emptyLayers } from './layers';

export interface PolyMesh {
  /** Vertex positions, 3 numbers each, millimetres in the piece's own frame. */
  readonly positions: Float64Array;
  /** Face i owns corners faceStart[i] … faceStart[i+1]−1; length F+1. */
  readonly faceStart: Uint32Array;
  /** Vertex index per corner; corners run counter-clockwise seen from outside. */
  readonly corners: Uint32Array;
  readonly layers: Layers;
}

export type { LayerSet, Layers };

/** Makes a mesh value. `layers` may be partial; absent sets are empty. */
export function makeMesh(
  positions: Float64Array,
  faceStart: Uint32Array,
  corners: Uint32Array,
  layers: Partial<Layers> = {},
): PolyMesh {
  return { positions, faceStart, corners, layers: { ...emptyLayers(), ...layers } };
}

/** Makes a mesh from nested arrays: points as [x, y, z], faces as loops of vertex indices. */
export function meshFromLoops(
  points: ReadonlyArray<readonly [number, number, number]>,
  faces: ReadonlyArray<ReadonlyArray<number>>,
  layers: Partial<Layers> = {},
): PolyMesh {
  const positions = new Float64Array(points.length * 3);
  points.forEach((p, i) => positions.set(p, i * 3));
  const faceStart = new Uint32Array(faces.length + 1);
  faces.forEach((f, i) => (faceStart[i + 1] = faceStart[i] + f.length));
  const corners = new Uint32Array(faceStart[faces.length]);
  faces.forEach((f, i) => corners.set(f, faceStart[i]));
  return makeMesh(positions, faceStart, corners, layers);
}

export const EMPTY_MESH: PolyMesh = makeMesh(new Float64Array(0), new Uint32Array(1), new Uint32Array(0));

export const vertexCount = (m: PolyMesh): number => m.positions.length / 3;
export const faceCount = (m: PolyMesh): number => m.faceStart.length - 1;
export const cornerCount = (m: PolyMesh): number => m.corners.length;

/** Memory of its arrays, layers included, bytes. */
export function bytesOf({ positions, faceStart, corners, layers }: PolyMesh): number {
  let sum = positions.byteLength + faceStart.byteLength + corners.byteLength;
  for (const set of Object.values(layers) as LayerSet[])
    for (const { data } of Object.values(set)) sum += data.byteLength;
  return sum;
}

/** Number of triangles the mesh falls into: the sum over faces of (corners − 2). */
export const triangleCount = (m: PolyMesh): number => m.corners.length - 2 * faceCount(m);

/** The vertex indices of one face, in order. */
export function faceLoop(m: PolyMesh, face: number): number[] {
  return Array.from(m.corners.subarray(m.faceStart[face], m.faceStart[face + 1]));
}

/** The corners of one face, in order. */
export const faceCorners = (m: PolyMesh, face: number): number[] =>
  Array.from({ length: m.faceStart[face + 1] - m.faceStart[face] }, (_, k) => m.faceStart[face] + k);

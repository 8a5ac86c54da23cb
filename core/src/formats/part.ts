/** Parts to export: built meshes with a name, a placement and a colour. */
import { type PolyMesh, faceCount, triangleCount, vertexCount } from '../mesh/PolyMesh';
import { multiply, transformMesh, type Matrix } from '../mesh/transform';
import { shadingNormals } from '../shading/shadingNormals';

export interface Part {
  name: string;
  mesh: PolyMesh;
  /** From the mesh's frame to the world. */
  matrix: Matrix;
  /** `#rrggbb` */
  color?: string;
}

export const UNITS = { mm: 1, cm: 0.1, m: 0.001, in: 1 / 25.4 } as const;
export type Unit = keyof typeof UNITS;

export interface ExportOptions {
  /** Length of one file unit. */
  unit: Unit;
  /** The file axis that points up. */
  up: 'y' | 'z';
}

/** From the world, in mm with Y up, to file coordinates. */
export function fileFrame({ unit, up }: ExportOptions): Matrix {
  const s = UNITS[unit];
  return up === 'z'
    ? [s, 0, 0, 0, 0, 0, s, 0, 0, -s, 0, 0, 0, 0, 0, 1]
    : [s, 0, 0, 0, 0, s, 0, 0, 0, 0, s, 0, 0, 0, 0, 1];
}

/** A part in file coordinates with its shading normals held per corner, so that nothing is lost on the way. */
export function placedForExport(part: Part, options: ExportOptions): PolyMesh {
  const normals = shadingNormals(part.mesh);
  const held: PolyMesh = {
    ...part.mesh,
    layers: {
      ...part.mesh.layers,
      corner: { ...part.mesh.layers.corner, normal: { size: 3, data: normals } },
    },
  };
  return transformMesh(held, multiply(fileFrame(options), part.matrix));
}

export interface PartCounts {
  points: number;
  faces: number;
  triangles: number;
}
export const countsOf = (mesh: PolyMesh): PartCounts => ({
  points: vertexCount(mesh),
  faces: faceCount(mesh),
  triangles: triangleCount(mesh),
});

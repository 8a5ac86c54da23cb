/**
 * Shading normals by weights. Corners are grouped around each vertex into smooth fans, divided at hard edges (marked, or
 * sharper than an angle); within a fan the faces count as `FanWeights` says.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { unitFaceNormals } from './cornerWeights';
import { FanWeights, type FanOptions } from './FanWeights';
import { eachFan } from './fans';
import { addBorders, hardCorners, type Borders } from './hardEdges';
import { allHeld, overlayHeld } from './heldNormals';

export interface NormalOptions extends FanOptions, Borders {
  /** Edges sharper than this are hard; degrees between face normals. */
  hardAngle: number;
  /** Keep held normals (corner layer `normal`) where present. */
  keepHeld: boolean;
}
export const NORMAL_DEFAULTS: NormalOptions = {
  hardAngle: 30,
  weight: 'angle',
  standing: null,
  cutOff: 0,
  alike: 0,
  hardSeams: false,
  hardMaterials: false,
  keepHeld: true,
};

/**
 * Unit normal per corner, 3 numbers each. Linear in corners: each fan is walked once.
 * @param only corners to compute, whole vertices at a time (all corners around each); the rest stays zero
 */
export function cornerNormals(
  mesh: PolyMesh,
  options: Partial<NormalOptions> = {},
  only?: Uint32Array,
): Float32Array {
  const o = { ...NORMAL_DEFAULTS, ...options };
  const held = o.keepHeld ? mesh.layers.corner.normal?.data : undefined;
  if (held && allHeld(held)) return Float32Array.from(held);
  const out = new Float32Array(3 * mesh.corners.length);
  const hard = hardCorners(mesh, topologyOf(mesh), unitFaceNormals(mesh).normals, o.hardAngle);
  if (o.hardSeams || o.hardMaterials) addBorders(mesh, topologyOf(mesh), hard, o);
  const weights = new FanWeights(mesh, o, only);
  eachFan(mesh, hard, (fan, size) => weights.write(out, fan, size), only);
  if (held) overlayHeld(held, out);
  return out;
}

/** The normals step: writes the chosen shading normals into the mesh as held normals. */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { RANK } from '../mesh/layers';
import { cornerNormals, type NormalWeight } from '../shading/cornerNormals';

export interface ShadeOptions {
  hardAngle: number;
  weight: NormalWeight;
  rank: boolean;
  cutOff: number;
}

/**
 * With `rank`, faces left over from before rounding lead or stay plain and the strips and patches a bevel made
 * follow, so large flat faces keep their true normal to the corner. Works on the built mesh as a whole: marks
 * an earlier cut carried over are weighed in as the surface's own normals.
 */
export function shade(mesh: PolyMesh, o: ShadeOptions): PolyMesh {
  const normals = cornerNormals(mesh, {
    hardAngle: o.hardAngle,
    weight: o.weight,
    useRank: o.rank,
    cutOff: o.cutOff,
    keepHeld: true,
  });
  return {
    ...mesh,
    layers: { ...mesh.layers, corner: { ...mesh.layers.corner, normal: { size: 3, data: normals } } },
  };
}

/** How many faces lead, are plain, follow. */
export function rankCounts(mesh: PolyMesh): { lead: number; plain: number; follow: number } {
  const rank = mesh.layers.face.rank?.data;
  const out = { lead: 0, plain: 0, follow: 0 };
  for (let f = 0; f < faceCount(mesh); f++) {
    const r = rank?.[f] ?? RANK.plain;
    if (r === RANK.lead) out.lead++;
    else if (r === RANK.follow) out.follow++;
    else out.plain++;
  }
  return out;
}

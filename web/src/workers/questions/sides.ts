/** The sides of a flat face of a piece: as it is built, or as it is before one of its steps. */
import type { AnchorTarget } from '@urnsmith/core/select/anchor';
import { findBorn } from '@urnsmith/core/select/born';
import { sidesOfFace, type FaceSides } from '@urnsmith/core/select/faceSides';
import { treeOf } from '@urnsmith/core/spatial/TriangleTree';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { defineQuestion } from './define';

interface Sides {
  /** Steps of the piece before, in lane order; all of them when left out. */
  upTo?: number;
  /** A place on the face, in the piece's frame; or what an anchor holds to. */
  on: { point: Vec3 } | { target: AnchorTarget };
}

export const sides = defineQuestion(
  'sides',
  ({ upTo, on }: Sides, { id, evaluator }): { sides: FaceSides | null } => {
    const { mesh } = evaluator.build(id, undefined, upTo);
    const face =
      'point' in on ? treeOf(mesh).nearest(on.point)?.face : findBorn(mesh, on.target).selection.indices[0];
    return { sides: face === undefined ? null : sidesOfFace(mesh, face) };
  },
  { aboutBase: true },
);

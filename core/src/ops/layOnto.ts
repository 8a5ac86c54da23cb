/** Drawing points onto the surface of another mesh: by the nearest way, along a direction, or toward its middle. */
import type { Surface } from '../primitives/base';
import { boundsOf } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { applyMatrix, invert, type Matrix } from '../mesh/transform';
import { sub, type Vec3 } from '../mesh/vec3';
import { treeOf } from '../spatial/TriangleTree';
import { planeNormal } from './fields';
import type { MeshOf } from './operation';

export const WAYS = ['nearest', 'along', 'center'] as const;
export type Way = (typeof WAYS)[number];

/**
 * @param direction for `along`, in the piece's frame; either way along it
 * @returns where a point of the piece comes to lie; null where the way does not meet the surface
 * @throws OperationError `no-direction`
 */
export function layOnto(
  surface: Surface,
  way: Way,
  direction: Vec3,
  meshOf: MeshOf,
): (at: Vec3) => Vec3 | null {
  const mesh: PolyMesh = meshOf(surface.base);
  const place = (surface.place ?? IDENTITY) as Matrix;
  const back = invert(place);
  const tree = treeOf(mesh);
  const origin = applyMatrix(back, [0, 0, 0]);
  const along = way === 'along' ? sub(applyMatrix(back, planeNormal(direction)), origin) : null;
  const { min, max } = boundsOf(mesh);
  const middle = min.map((x, k) => (x + max[k]) / 2) as Vec3;
  return (at) => {
    const local = applyMatrix(back, at);
    const outward = sub(local, middle);
    const found =
      way === 'nearest'
        ? tree.nearest(local)
        : along
          ? tree.meets(local, along, true)
          : outward.some((x) => x !== 0)
            ? tree.meets(middle, outward)
            : null;
    return found && applyMatrix(place, found.at);
  };
}

const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

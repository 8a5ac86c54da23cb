/** A flat sheet facing up, divided into a grid. */
import { Type } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { length, segments } from './fields';
import { LoopBuilder } from './LoopBuilder';
import { definePrimitive } from './define';

export const plane = definePrimitive({
  kind: 'plane',
  title: 'Plane',
  words: 'sheet quad',
  ring: { add: 7 },
  params: {
    width: length('Width', 100),
    depth: length('Depth', 100),
    segments: Type.Optional(segments(2, 512)),
  },
  build: (p) => planeMesh(p.width, p.depth, p.segments as [number, number]),
  handles: (p) => [
    { key: 'width', label: 'width', at: [p.width / 2, 0, 0], along: [1, 0, 0], rate: 2 },
    { key: 'depth', label: 'depth', at: [0, 0, p.depth / 2], along: [0, 0, 1], rate: 2 },
  ],
  key: (p, n) => `${n(p.width)} × ${n(p.depth)}`,
});

function planeMesh(w: number, d: number, [nx, nz]: [number, number]): PolyMesh {
  const b = new LoopBuilder();
  const at = (i: number, k: number): number =>
    b.shared(`${i},${k}`, () => [w * (i / nx - 0.5), 0, d * (0.5 - k / nz)]);
  for (let k = 0; k < nz; k++)
    for (let i = 0; i < nx; i++) {
      const [u0, u1] = [i / nx, (i + 1) / nx];
      const [v0, v1] = [k / nz, (k + 1) / nz];
      b.face(
        [at(i, k), at(i + 1, k), at(i + 1, k + 1), at(i, k + 1)],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
      );
    }
  return b.mesh();
}

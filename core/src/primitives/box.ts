/** A box, its faces divided into a grid. */
import { Type } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { length, segments } from './fields';
import { LoopBuilder } from './LoopBuilder';
import { definePrimitive } from './define';

export const box = definePrimitive({
  kind: 'box',
  title: 'Box',
  words: 'cube block brick',
  ring: { add: 0 },
  next: { add: 0 },
  params: {
    width: length('Width', 100),
    height: length('Height', 100),
    depth: length('Depth', 100),
    segments: Type.Optional(segments(3, 256)),
  },
  build: (p) => boxMesh(p.width, p.height, p.depth, p.segments as [number, number, number]),
  foot: (p) => p.height / 2,
  handles: (p) => [
    { key: 'width', label: 'width', at: [p.width / 2, 0, 0], along: [1, 0, 0], rate: 2 },
    { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
    { key: 'depth', label: 'depth', at: [0, 0, p.depth / 2], along: [0, 0, 1], rate: 2 },
  ],
  key: (p, n) => `${n(p.width)} × ${n(p.height)} × ${n(p.depth)}`,
});

export function boxMesh(w: number, h: number, d: number, [nx, ny, nz]: [number, number, number]): PolyMesh {
  const b = new LoopBuilder();
  const at = (i: number, j: number, k: number): number =>
    b.shared(`${i},${j},${k}`, () => [w * (i / nx - 0.5), h * (j / ny - 0.5), d * (k / nz - 0.5)]);
  const grid = (nu: number, nv: number, corner: (u: number, v: number) => number): void => {
    for (let v = 0; v < nv; v++)
      for (let u = 0; u < nu; u++)
        b.face(
          [corner(u, v), corner(u + 1, v), corner(u + 1, v + 1), corner(u, v + 1)],
          [
            [u / nu, v / nv],
            [(u + 1) / nu, v / nv],
            [(u + 1) / nu, (v + 1) / nv],
            [u / nu, (v + 1) / nv],
          ],
        );
  };
  grid(nx, ny, (u, v) => at(u, v, nz));
  grid(nx, ny, (u, v) => at(nx - u, v, 0));
  grid(nz, ny, (u, v) => at(nx, v, nz - u));
  grid(nz, ny, (u, v) => at(0, v, u));
  grid(nx, nz, (u, v) => at(u, ny, nz - v));
  grid(nx, nz, (u, v) => at(u, 0, v));
  return b.mesh();
}

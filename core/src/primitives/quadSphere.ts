/** A cube blown up to a ball: all quads, no poles. */
import { Type } from 'typebox';
import { makeMesh, type PolyMesh } from '../mesh/PolyMesh';
import { count, length } from './fields';
import { boxMesh } from './box';
import { definePrimitive } from './define';

export const quadSphere = definePrimitive({
  kind: 'quadSphere',
  title: 'Quad sphere',
  words: 'ball cube round',
  ring: { add: 6 },
  params: {
    radius: length('Radius', 50),
    divisions: Type.Optional(count('Divisions', 8, 1, 128)),
  },
  build: (p) => quadSphereMesh(p.radius, p.divisions),
  foot: (p) => p.radius,
  handles: (p) => [{ key: 'radius', label: 'radius', at: [p.radius, 0, 0], along: [1, 0, 0], rate: 1 }],
  key: (p, n) => `ø ${n(p.radius * 2)}`,
});

/** Grid lines at equal angles. */
function quadSphereMesh(r: number, n: number): PolyMesh {
  const cube = boxMesh(2, 2, 2, [n, n, n]);
  const p = cube.positions.slice();
  for (let i = 0; i < p.length; i += 3) {
    const q = [0, 1, 2].map((k) => (Math.abs(p[i + k]) >= 1 ? p[i + k] : Math.tan((p[i + k] * Math.PI) / 4)));
    const l = r / Math.hypot(q[0], q[1], q[2]);
    for (let k = 0; k < 3; k++) p[i + k] = q[k] * l;
  }
  const data = new Float32Array(3 * cube.corners.length);
  cube.corners.forEach((v, c) => {
    for (let k = 0; k < 3; k++) data[3 * c + k] = p[3 * v + k] / r;
  });
  const corner = { ...cube.layers.corner, surface: { size: 3, data } };
  return makeMesh(p, cube.faceStart, cube.corners, { ...cube.layers, corner });
}

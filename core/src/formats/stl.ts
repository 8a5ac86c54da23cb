/** Binary STL, out: triangles with their facet normals. */
import { triangulate } from '../planar/triangulate';
import { defineFormat } from './define';
import { placedForExport, type ExportOptions, type Part } from './part';

export const stl = defineFormat({
  extension: 'stl',
  about: 'Triangles for printing; no normals, no UVs.',
  media: 'model/stl',
  keeps: { polygons: false, normals: false, uvs: false, materials: false },
  unit: 'mm',
  write: writeStl,
});

function writeStl(parts: Part[], o: ExportOptions): Uint8Array {
  const meshes = parts.map((p) => placedForExport(p, o));
  const count = meshes.reduce((n, m) => n + triangulate(m).face.length, 0);
  const bytes = new Uint8Array(84 + 50 * count);
  bytes.set(new TextEncoder().encode(`Urnsmith unit ${o.unit} ${o.up} up`).subarray(0, 79));
  const view = new DataView(bytes.buffer);
  view.setUint32(80, count, true);
  let at = 84;
  for (const m of meshes) {
    const t = triangulate(m);
    for (let i = 0; i < t.face.length; i++) {
      const p = [0, 1, 2].map((k) => {
        const v = 3 * m.corners[t.corners[3 * i + k]];
        return [m.positions[v], m.positions[v + 1], m.positions[v + 2]];
      });
      const a = p[1].map((x, k) => x - p[0][k]);
      const b = p[2].map((x, k) => x - p[0][k]);
      const n = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
      const l = Math.hypot(...n) || 1;
      for (const row of [n.map((x) => x / l), ...p])
        for (const x of row) {
          view.setFloat32(at, x, true);
          at += 4;
        }
      at += 2;
    }
  }
  return bytes;
}

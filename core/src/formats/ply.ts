/** Binary little-endian PLY, out: n-gons over vertices split where normals, or what else they carry, differ. */
import { faceCount } from '../mesh/PolyMesh';
import { drawableOf } from './drawable';
import { defineFormat } from './define';
import { placedForExport, type ExportOptions, type Part } from './part';

export const ply = defineFormat({
  extension: 'ply',
  about: 'Polygons with point normals.',
  media: 'application/octet-stream',
  keeps: { polygons: true, normals: true, uvs: false, materials: false },
  unit: 'mm',
  write: writePly,
});

function writePly(parts: Part[], o: ExportOptions): Uint8Array {
  const items = parts.map((p) => {
    const mesh = placedForExport(p, o);
    return { mesh, d: drawableOf(mesh) };
  });
  const vertices = items.reduce((n, i) => n + i.d.positions.length / 3, 0);
  const bent = items.some((i) => i.d.bent);
  const open = items.some((i) => i.d.openness);
  const stride = 24 + (bent ? 12 : 0) + (open ? 3 : 0);
  const faces = items.reduce((n, i) => n + faceCount(i.mesh), 0);
  const corners = items.reduce((n, i) => n + i.mesh.corners.length, 0);
  const header = new TextEncoder().encode(
    [
      'ply',
      'format binary_little_endian 1.0',
      `comment Urnsmith, unit ${o.unit}, ${o.up} up`,
      `element vertex ${vertices}`,
      ...['x', 'y', 'z', 'nx', 'ny', 'nz'].map((n) => `property float ${n}`),
      ...(bent ? ['bent_x', 'bent_y', 'bent_z'].map((n) => `property float ${n}`) : []),
      ...(open ? ['red', 'green', 'blue'].map((n) => `property uchar ${n}`) : []),
      `element face ${faces}`,
      'property list uint uint vertex_indices',
      'end_header',
      '',
    ].join('\n'),
  );
  const bytes = new Uint8Array(header.length + stride * vertices + 4 * faces + 4 * corners);
  bytes.set(header);
  const view = new DataView(bytes.buffer);
  let at = header.length;
  for (const { d } of items)
    for (let i = 0; i < d.positions.length; i += 3) {
      // A part without bent normals has those it is shaded with, and without openness nothing is dark.
      for (const numbers of bent ? [d.positions, d.normals, d.bent ?? d.normals] : [d.positions, d.normals])
        for (let k = 0; k < 3; k++, at += 4) view.setFloat32(at, numbers[i + k], true);
      if (open)
        for (let k = 0; k < 3; k++, at++) view.setUint8(at, Math.round(255 * (d.openness?.[i / 3] ?? 1)));
    }
  let first = 0;
  for (const { mesh, d } of items) {
    for (let f = 0; f < faceCount(mesh); f++) {
      view.setUint32(at, mesh.faceStart[f + 1] - mesh.faceStart[f], true);
      at += 4;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++, at += 4)
        view.setUint32(at, first + d.vertexOfCorner[c], true);
    }
    first += d.positions.length / 3;
  }
  return bytes;
}

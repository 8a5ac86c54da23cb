/** Writes binary little-endian PLY: n-gons over vertices split where normals differ. */
import { faceCount } from '../mesh/PolyMesh';
import { drawableOf } from './drawable';
import { placedForExport, type ExportOptions, type Part } from './part';

export function writePly(parts: Part[], o: ExportOptions): Uint8Array {
  const items = parts.map((p) => {
    const mesh = placedForExport(p, o);
    return { mesh, d: drawableOf(mesh) };
  });
  const vertices = items.reduce((n, i) => n + i.d.positions.length / 3, 0);
  const faces = items.reduce((n, i) => n + faceCount(i.mesh), 0);
  const corners = items.reduce((n, i) => n + i.mesh.corners.length, 0);
  const header = new TextEncoder().encode(
    [
      'ply',
      'format binary_little_endian 1.0',
      `comment Urnsmith, unit ${o.unit}, ${o.up} up`,
      `element vertex ${vertices}`,
      ...['x', 'y', 'z', 'nx', 'ny', 'nz'].map((n) => `property float ${n}`),
      `element face ${faces}`,
      'property list uint uint vertex_indices',
      'end_header',
      '',
    ].join('\n'),
  );
  const bytes = new Uint8Array(header.length + 24 * vertices + 4 * faces + 4 * corners);
  bytes.set(header);
  const view = new DataView(bytes.buffer);
  let at = header.length;
  for (const { d } of items)
    for (let i = 0; i < d.positions.length; i += 3) {
      for (let k = 0; k < 3; k++) view.setFloat32(at + 4 * k, d.positions[i + k], true);
      for (let k = 0; k < 3; k++) view.setFloat32(at + 12 + 4 * k, d.normals[i + k], true);
      at += 24;
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

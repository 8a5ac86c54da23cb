/** Wavefront OBJ, in and out. */
import { defineFormat } from './define';
import { OBJ_LIMITS, readObj } from './readObj';
import { writeObj } from './writeObj';

export const obj = defineFormat({
  extension: 'obj',
  about: 'Polygons as they are, with n-gons, corner normals and UVs.',
  media: 'model/obj',
  mediaToo: ['text/plain'],
  keeps: { polygons: true, normals: true, uvs: true, materials: false },
  unit: 'mm',
  most: OBJ_LIMITS.bytes,
  write: (parts, o) => new TextEncoder().encode(writeObj(parts, o)),
  read: readObj,
});

/** Binary glTF 2.0. */
import { defineFormat } from './define';
import { writeGltf } from './writeGltf';

export const glb = defineFormat({
  extension: 'glb',
  about: 'Binary glTF 2.0: triangles, shading normals, UVs and materials in one file.',
  media: 'model/gltf-binary',
  keeps: { polygons: false, normals: true, uvs: true, materials: true },
  unit: 'm',
  up: 'y',
  write: (parts, o) => writeGltf(parts, o, true),
});

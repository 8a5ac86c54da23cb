/** glTF 2.0 as JSON. */
import { defineFormat } from './define';
import { writeGltf } from './writeGltf';

export const gltf = defineFormat({
  extension: 'gltf',
  about: 'glTF 2.0 as readable JSON with its buffer inside.',
  media: 'model/gltf+json',
  keeps: { polygons: false, normals: true, uvs: true, materials: true },
  unit: 'm',
  up: 'y',
  write: (parts, o) => writeGltf(parts, o, false),
});

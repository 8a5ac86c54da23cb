/** Writes parts in any format. */
import { writeGltf } from './writeGltf';
import { writeObj } from './writeObj';
import { writePly } from './writePly';
import { writeStl } from './writeStl';
import type { ExportOptions, Format, Part } from './part';

export async function writeParts(parts: Part[], o: ExportOptions): Promise<Uint8Array> {
  switch (o.format) {
    case 'glb':
    case 'gltf':
      return writeGltf(parts, o);
    case 'obj':
      return new TextEncoder().encode(writeObj(parts, o));
    case 'stl':
      return writeStl(parts, o);
    case 'ply':
      return writePly(parts, o);
  }
}

export const MEDIA_TYPES: Record<Format, string> = {
  glb: 'model/gltf-binary',
  gltf: 'model/gltf+json',
  obj: 'model/obj',
  stl: 'model/stl',
  ply: 'application/octet-stream',
};

/** Writes glTF 2.0, binary or JSON with its buffer inside, through glTF-Transform. */
import {
  Document,
  WebIO,
  type Accessor,
  type Material,
  type Mesh,
  type TypedArray,
} from '@gltf-transform/core';
import type { PolyMesh } from '../mesh/PolyMesh';
import { IDENTITY, invert, isAlike, multiply, transformMatrix, transformOf } from '../mesh/transform';
import { drawableOf } from './drawable';
import { fileFrame, placedForExport, type ExportOptions, type Part } from './part';

/** @param binary GLB, else JSON with its buffer inside */
export async function writeGltf(parts: Part[], o: ExportOptions, binary: boolean): Promise<Uint8Array> {
  const doc = new Document();
  doc.getRoot().getAsset().generator = 'Urnsmith';
  const buffer = doc.createBuffer();
  const scene = doc.createScene('Scene');
  doc.getRoot().setDefaultScene(scene);
  const materials = new Map<string, Material>();
  const materialOf = (color: string): Material => {
    let m = materials.get(color);
    if (!m) {
      m = doc
        .createMaterial(color)
        .setBaseColorFactor(linearColor(color))
        .setRoughnessFactor(0.6)
        .setMetallicFactor(0);
      materials.set(color, m);
    }
    return m;
  };
  const shapeOf = (part: Part): Mesh | null => {
    const d = drawableOf(placedForExport(part, o));
    if (!d.indices.length) return null;
    const small = d.positions.length / 3 < 65535;
    const accessor = (type: 'SCALAR' | 'VEC2' | 'VEC3', array: TypedArray): Accessor =>
      doc.createAccessor().setType(type).setArray(array).setBuffer(buffer);
    const primitive = doc
      .createPrimitive()
      .setIndices(accessor('SCALAR', small ? Uint16Array.from(d.indices) : d.indices))
      .setAttribute('POSITION', accessor('VEC3', d.positions))
      .setAttribute('NORMAL', accessor('VEC3', d.normals))
      .setMaterial(materialOf(part.color ?? DEFAULT_COLOR));
    if (d.uvs) primitive.setAttribute('TEXCOORD_0', accessor('VEC2', flipV(d.uvs)));
    // Attributes the standard has no name for begin with a line (glTF 2.0, section 3.7.2.1).
    if (d.bent) primitive.setAttribute('_BENT_NORMAL', accessor('VEC3', d.bent));
    if (d.openness) primitive.setAttribute('COLOR_0', accessor('VEC3', grey(d.openness)));
    return doc.createMesh(part.name).addPrimitive(primitive);
  };
  const shared = new Map<string, Mesh | null>();
  const uses = new Map<PolyMesh, number>();
  for (const { mesh } of parts) uses.set(mesh, (uses.get(mesh) ?? 0) + 1);
  const meshes = [...uses.keys()];
  const frame = fileFrame(o);
  for (const part of parts) {
    const place = multiply(multiply(frame, part.matrix), invert(frame));
    // Parts of one mesh, as twins are, share it; a place that shears has no node of its own.
    if (uses.get(part.mesh)! > 1 && isAlike(transformMatrix(transformOf(place)), place)) {
      const key = `${meshes.indexOf(part.mesh)} ${part.color ?? DEFAULT_COLOR}`;
      if (!shared.has(key)) shared.set(key, shapeOf({ ...part, matrix: IDENTITY }));
      const mesh = shared.get(key)!;
      if (mesh)
        scene.addChild(
          doc
            .createNode(part.name)
            .setMesh(mesh)
            .setMatrix(place as never),
        );
      continue;
    }
    const mesh = shapeOf(part);
    if (mesh) scene.addChild(doc.createNode(part.name).setMesh(mesh));
  }
  const io = new WebIO();
  if (binary) return io.writeBinary(doc);
  const { json, resources } = await io.writeJSON(doc, { basename: 'scene' });
  for (const b of json.buffers ?? []) {
    const bytes = b.uri ? resources[b.uri] : undefined;
    if (bytes) b.uri = `data:application/octet-stream;base64,${toBase64(bytes)}`;
  }
  return new TextEncoder().encode(JSON.stringify(json));
}

export const DEFAULT_COLOR = '#b9bdb2';

/** glTF colours are linear; `#rrggbb` is sRGB (IEC 61966-2-1). */
function linearColor(hex: string): [number, number, number, number] {
  const channel = (k: number): number => {
    const c = parseInt(hex.slice(k, k + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  };
  return [channel(1), channel(3), channel(5), 1];
}

/** One share as a linear colour. */
const grey = (shares: Float32Array): Float32Array =>
  Float32Array.from({ length: 3 * shares.length }, (_, i) => shares[Math.floor(i / 3)]);

/** glTF counts V downward. */
const flipV = (uv: Float32Array): Float32Array => uv.map((x, i) => (i % 2 ? 1 - x : x));

function toBase64(bytes: Uint8Array): string {
  let s = '';
  for (let i = 0; i < bytes.length; i += 8192) s += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(s);
}

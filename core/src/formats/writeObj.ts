/** Writes Wavefront OBJ: n-gons as they are, corner normals and UVs. */
import { type PolyMesh, faceCount, vertexCount } from '../mesh/PolyMesh';
import { placedForExport, type ExportOptions, type Part } from './part';

export function writeObj(parts: Part[], o: ExportOptions): string {
  const lines = ['# Urnsmith', `# unit ${o.unit}, ${o.up} up`];
  const offset = { v: 1, vt: 1, vn: 1 };
  for (const part of parts) {
    const mesh = placedForExport(part, o);
    if (!faceCount(mesh)) continue;
    lines.push(`o ${part.name.replace(/\s+/g, '_')}`);
    writePart(mesh, lines, offset);
  }
  return lines.join('\n') + '\n';
}

function writePart(mesh: PolyMesh, lines: string[], offset: { v: number; vt: number; vn: number }): void {
  const p = mesh.positions;
  for (let v = 0; v < vertexCount(mesh); v++)
    lines.push(`v ${num(p[3 * v])} ${num(p[3 * v + 1])} ${num(p[3 * v + 2])}`);
  const uv = mesh.layers.corner.uv?.data;
  const uvIds = uv ? distinct(uv, 2, (a) => lines.push(`vt ${num(a[0])} ${num(a[1])}`)) : null;
  const n = mesh.layers.corner.normal.data;
  const normalIds = distinct(n, 3, (a) => lines.push(`vn ${num(a[0])} ${num(a[1])} ${num(a[2])}`));
  for (let f = 0; f < faceCount(mesh); f++) {
    const words = ['f'];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      words.push(
        `${mesh.corners[c] + offset.v}/${uvIds ? uvIds.ids[c] + offset.vt : ''}/${normalIds.ids[c] + offset.vn}`,
      );
    lines.push(words.join(' '));
  }
  offset.v += vertexCount(mesh);
  offset.vt += uvIds?.count ?? 0;
  offset.vn += normalIds.count;
}

function distinct(
  data: ArrayLike<number>,
  size: number,
  write: (a: number[]) => void,
): { ids: Uint32Array; count: number } {
  const seen = new Map<string, number>();
  const ids = new Uint32Array(data.length / size);
  for (let i = 0; i < ids.length; i++) {
    const a = Array.from({ length: size }, (_, k) => data[size * i + k]);
    const key = a.join();
    let id = seen.get(key);
    if (id === undefined) {
      seen.set(key, (id = seen.size));
      write(a);
    }
    ids[i] = id;
  }
  return { ids, count: seen.size };
}

/** Shortest decimal that reads back to within a billionth. */
const num = (x: number): string => String(Number(x.toPrecision(10)));

/** The layer under or over a part of a solid's surface. */
import { selfCrossings } from '../inspect/selfCross';
import type { Bounds } from '../mesh/measure';
import { partOf } from '../mesh/part';
import { copyLayers } from '../mesh/layers';
import { makeMesh, type PolyMesh } from '../mesh/PolyMesh';
import { separateFans, type Separation } from '../mesh/separateFans';
import { planesMove, thickened } from '../mesh/thickened';
import { markSound } from '../solid/Solid';

/** Faces this much further off than the layer is thick can still lean into it. */
const LEAN = 3;

/**
 * A solid between two offsets of a host's surface, of all faces near a box.
 * @param inner @param outer along the normals, mm
 * @returns why not, where no face is near or the offsets go through each other
 */
export function slabNear(
  host: PolyMesh,
  near: Bounds,
  inner: number,
  outer: number,
): PolyMesh | 'none near' | 'crossing' {
  const reach = LEAN * Math.max(Math.abs(inner), Math.abs(outer));
  const picked = new Uint8Array(host.faceStart.length - 1);
  for (let f = 0; f < picked.length; f++) picked[f] = Number(isNear(host, f, near, reach));
  if (!picked.includes(1)) return 'none near';
  const part = partOf(host, picked);
  // Sheets that touch in a point only are plates of their own.
  const apart = separateFans(part.mesh);
  const sheet = apart ? withCorners(part.mesh, apart) : part.mesh;
  const vertexOf = (v: number): number => part.vertexOf[apart ? apart.source[v] : v];
  const all = Array.from({ length: sheet.faceStart.length - 1 }, (_, f) => f);
  const { mesh } = thickened(sheet, all, inner, outer, (v) => planesMove(host, vertexOf(v))).out;
  if (selfCrossings(mesh).edges.length) return 'crossing';
  return markSound(mesh);
}

function withCorners(mesh: PolyMesh, { corners, source }: Separation): PolyMesh {
  const positions = new Float64Array(3 * source.length);
  source.forEach((v, i) => positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * i));
  return makeMesh(positions, mesh.faceStart, corners, {
    ...mesh.layers,
    vertex: copyLayers(mesh.layers.vertex, source),
    edge: {},
  });
}

function isNear(mesh: PolyMesh, f: number, { min, max }: Bounds, reach: number): boolean {
  for (let k = 0; k < 3; k++) {
    let [lo, hi] = [Infinity, -Infinity];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const x = mesh.positions[3 * mesh.corners[c] + k];
      lo = Math.min(lo, x);
      hi = Math.max(hi, x);
    }
    if (lo > max[k] + reach || hi < min[k] - reach) return false;
  }
  return true;
}

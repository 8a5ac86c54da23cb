/** The layer under or over a part of a solid's surface. */
import { selfCrossings } from '../inspect/selfCross';
import { copyLayers } from '../mesh/layers';
import { boundsOf } from '../mesh/measure';
import { shellsOf } from '../mesh/shells';
import { partOf } from '../mesh/part';
import { faceCount, faceLoop, makeMesh, type PolyMesh } from '../mesh/PolyMesh';
import { separateFans, type Separation } from '../mesh/separateFans';
import { planesMove, thickened } from '../mesh/thickened';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { IDENTITY_TRANSFORM, transformMatrix, transformMesh } from '../mesh/transform';
import { pointOf, type Vec3 } from '../mesh/vec3';
import { buildPrimitive } from '../primitives';
import type { CutResult } from '../solid/cutResult';
import { bridgedRegions, markSound } from '../solid/Solid';

/** Faces within so many thicknesses of what the cutter covers can lean into the layer there. */
const LEAN = 3;
/** Another end for a sheet, in the same unit: odd, so that it does not end on a plane of the host. */
const CLIPS = [3.0371, 4.3137, 6.1173];

/** Cuts a part of the host out, with its faces told as a cut tells them. */
type Clip = (box: PolyMesh) => CutResult;

/** The parts of a host's faces that lie in a cutter, and the face of the host each is part of. */
interface Covered {
  mesh: PolyMesh;
  hostFace: ArrayLike<number>;
}

/**
 * A solid between two offsets of a host's surface, of the faces a cutter covers and those around them: of whole faces, or
 * where the ends of these go through each other, of what a box around the covered parts cuts out of them.
 * @param inner @param outer along the normals, mm
 * @returns null where the offsets go through each other
 */
export function slabUnder(
  host: PolyMesh,
  covered: Covered,
  inner: number,
  outer: number,
  clip: Clip,
): PolyMesh | null {
  const thickness = Math.max(Math.abs(inner), Math.abs(outer));
  const whole = ofWholeFaces(host, covered, inner, outer);
  if (whole) return whole;
  for (const lean of CLIPS) {
    const part = sheetAround(host, covered, clip(boxAround(covered.mesh, lean * thickness)));
    // Sheets that touch in a point only are plates of their own.
    const apart = separateFans(part);
    const clipped = between(apart ? withCorners(part, apart) : part, inner, outer);
    if (clipped) return clipped;
  }
  return null;
}

function between(
  sheet: PolyMesh,
  inner: number,
  outer: number,
  shift?: (vertex: number) => Vec3,
): PolyMesh | null {
  const all = Array.from({ length: faceCount(sheet) }, (_, f) => f);
  const { mesh } = thickened(sheet, all, inner, outer, shift).out;
  return selfCrossings(mesh).edges.length ? null : markSound(mesh);
}

function ofWholeFaces(host: PolyMesh, covered: Covered, inner: number, outer: number): PolyMesh | null {
  const { picked, boxes } = facesAround(host, covered, LEAN * Math.max(Math.abs(inner), Math.abs(outer)));
  const part = partOf(host, picked);
  // Sheets that touch in a point only are plates of their own.
  const apart = separateFans(part.mesh);
  const sheet = apart ? withCorners(part.mesh, apart) : part.mesh;
  const vertexOf = (v: number): number => part.vertexOf[apart ? apart.source[v] : v];
  // Faces beside the sheet count near the layer; further away only its own faces move, whatever stands there.
  const counts = (v: number): boolean => {
    const p = pointOf(host.positions, v);
    return boxes.some(({ lo, hi }) => p.every((x, k) => x >= lo[k] && x <= hi[k]));
  };
  const shift = (v: number): Vec3 =>
    counts(vertexOf(v)) ? planesMove(host, vertexOf(v)) : planesMove(sheet, v);
  return between(sheet, inner, outer, shift);
}

/** Around a part of what is covered, and what leans into its layer. */
interface Box {
  lo: number[];
  hi: number[];
}

/** The faces that are covered, and those reached from them over edges that come near what is covered. */
function facesAround(
  host: PolyMesh,
  { mesh, hostFace }: { mesh: PolyMesh; hostFace: ArrayLike<number> },
  reach: number,
): { picked: Uint8Array; boxes: Box[] } {
  const boxes: Box[] = [];
  const t = topologyOf(host);
  const picked = new Uint8Array(host.faceStart.length - 1);
  const { ofFace, count } = shellsOf(mesh);
  const region = bridgedRegions(host);
  for (let s = 0; s < count; s++) {
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    boxes.push({ lo, hi });
    const stack: number[] = [];
    const seen = new Set<number>();
    const push = (f: number): void => {
      if (seen.has(f)) return;
      seen.add(f);
      stack.push(f);
      picked[f] = 1;
    };
    const touched = new Set<number>();
    for (let f = 0; f < ofFace.length; f++) {
      if (ofFace[f] !== s) continue;
      touched.add(region[hostFace[f]]);
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        for (let k = 0; k < 3; k++) {
          const x = mesh.positions[3 * mesh.corners[c] + k];
          lo[k] = Math.min(lo[k], x - reach);
          hi[k] = Math.max(hi[k], x + reach);
        }
    }
    // A cut tells of a face with holes only that it is a part of it: any of those near are meant.
    for (let f = 0; f < picked.length; f++) if (touched.has(region[f]) && isNear(host, f, lo, hi)) push(f);
    while (stack.length) {
      const f = stack.pop()!;
      for (let c = host.faceStart[f]; c < host.faceStart[f + 1]; c++) {
        const [p, q] = [c, nextCorner(host, t, c)].map((x) => pointOf(host.positions, host.corners[x]));
        if (p.some((x, k) => Math.max(x, q[k]) < lo[k] || Math.min(x, q[k]) > hi[k])) continue;
        // All around both ends, so that no sheet hangs on by a point.
        for (const v of [host.corners[c], host.corners[nextCorner(host, t, c)]])
          if (pointOf(host.positions, v).every((x, k) => x >= lo[k] && x <= hi[k]))
            for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
              push(t.faceOfCorner[t.vertexCorners[i]]);
        if (t.twin[c] >= 0) push(t.faceOfCorner[t.twin[c]]);
      }
    }
  }
  return { picked, boxes };
}

/** Whether the box around a face meets another. */
function isNear(mesh: PolyMesh, f: number, lo: number[], hi: number[]): boolean {
  const loop = faceLoop(mesh, f);
  return [0, 1, 2].every((k) => {
    const along = loop.map((v) => mesh.positions[3 * v + k]);
    return Math.max(...along) >= lo[k] && Math.min(...along) <= hi[k];
  });
}

function boxAround(mesh: PolyMesh, reach: number): PolyMesh {
  const { min, max } = boundsOf(mesh);
  const [width, height, depth] = max.map((x, k) => x - min[k] + 2 * reach);
  const box = buildPrimitive({ primitive: 'box', width, height, depth });
  const move = max.map((x, k) => (x + min[k]) / 2) as Vec3;
  return markSound(transformMesh(box, transformMatrix({ ...IDENTITY_TRANSFORM, move })));
}

/** Covered faces of the host within the box, and all faces connected to them there. */
function sheetAround(
  host: PolyMesh,
  covered: Covered,
  { mesh, operandOfFace, sourceFace }: CutResult,
): PolyMesh {
  // A cut tells of a face with holes only that it is a part of it.
  const region = bridgedRegions(host);
  const touched = new Set(Array.from(covered.hostFace, (f) => region[f]));
  const t = topologyOf(mesh);
  const picked = new Uint8Array(faceCount(mesh));
  const stack: number[] = [];
  const push = (f: number): void => {
    if (picked[f] || operandOfFace[f]) return;
    picked[f] = 1;
    stack.push(f);
  };
  for (let f = 0; f < picked.length; f++)
    if (!operandOfFace[f] && touched.has(region[sourceFace[f]])) push(f);
  while (stack.length) {
    const f = stack.pop()!;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (t.twin[c] >= 0) push(t.faceOfCorner[t.twin[c]]);
  }
  return partOf(mesh, picked).mesh;
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

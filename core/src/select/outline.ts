/** The outline of picked faces, or of picked edges that run round closed: contours in their plane, and that plane. */
import { OperationError } from '../mesh/errors';
import { nextCorner, topologyOf } from '../mesh/Topology';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Matrix } from '../mesh/transform';
import { add, addScaled, cross, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { frameFrom, toPlane } from '../planar/frame';
import { convertSelection, type Selection } from './selection';

export interface PickedOutline {
  /** In the form the outline primitive takes. */
  contours: Array<Array<[number, number]>>;
  /** Y out of the faces, the origin in the middle of the outline, in the frame of the mesh. */
  frame: Matrix;
  /** How far the furthest point lies off the plane, mm. */
  off: number;
}

/** @throws OperationError `no-outline` when the picks do not run round anything */
export function outlineOf(mesh: PolyMesh, picked: Selection): PickedOutline {
  const loops = picked.kind === 'face' ? bordersOf(mesh, picked.indices) : closedRuns(mesh, picked);
  const rings = loops.map((l) => l.map((v) => pointOf(mesh.positions, v)));
  const area = rings.reduce((sum, ring) => add(sum, areaOf(ring)), [0, 0, 0] as Vec3);
  if (!loops.length || !(length(area) > 0)) throw noOutline();
  const normal = unit(area);
  const all = rings.flat();
  const flat = frameFrom(all[0], normal);
  const xy = rings.map((ring) => ring.map((p) => toPlane(flat, p)));
  const middle = [0, 1].map((k) => {
    const along = xy.flat().map((p) => p[k]);
    return (Math.min(...along) + Math.max(...along)) / 2;
  });
  const height = all.map((p) => dot(sub(p, all[0]), normal));
  const mean = (Math.min(...height) + Math.max(...height)) / 2;
  const at = addScaled(addScaled(addScaled(flat.origin, flat.u, middle[0]), flat.v, middle[1]), normal, mean);
  const z = scale(flat.v, -1);
  return {
    contours: xy.map((c) => c.map(([x, y]): [number, number] => [tidy(x - middle[0]), tidy(y - middle[1])])),
    frame: [...flat.u, 0, ...normal, 0, ...z, 0, ...at, 1],
    off: Math.max(...height) - mean,
  };
}

const tidy = (x: number): number => Number(x.toFixed(6)) + 0;

const noOutline = (): OperationError =>
  new OperationError(
    'no-outline',
    'The picks do not run round anything.',
    undefined,
    'Pick faces with a border, or edges that run round closed.',
  );

/** Twice the area vector of a ring. */
const areaOf = (ring: Vec3[]): Vec3 =>
  ring.reduce((sum, p, i) => add(sum, cross(sub(p, ring[0]), sub(ring[(i + 1) % ring.length], ring[0]))), [
    0, 0, 0,
  ] as Vec3);

/** Borders of faces as rings of vertices, the faces on their left. */
function bordersOf(mesh: PolyMesh, faces: ReadonlyArray<number>): number[][] {
  const t = topologyOf(mesh);
  const inside = new Set(faces);
  const beyond = (c: number): boolean => t.twin[c] < 0 || !inside.has(t.faceOfCorner[t.twin[c]]);
  const seen = new Set<number>();
  const out: number[][] = [];
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const ring: number[] = [];
      for (let at = c; beyond(at) && !seen.has(at);) {
        seen.add(at);
        ring.push(mesh.corners[at]);
        at = nextCorner(mesh, t, at);
        while (!beyond(at)) at = nextCorner(mesh, t, t.twin[at]);
      }
      if (ring.length > 2) out.push(ring);
    }
  return out;
}

/** Picked edges as rings of vertices; each has to meet two at both its ends. */
function closedRuns(mesh: PolyMesh, picked: Selection): number[][] {
  const t = topologyOf(mesh);
  const edges = convertSelection(mesh, picked, 'edge').indices;
  const at = new Map<number, number[]>();
  for (const e of edges)
    for (const v of [t.edges[2 * e], t.edges[2 * e + 1]]) {
      const list = at.get(v);
      if (list) list.push(e);
      else at.set(v, [e]);
    }
  if ([...at.values()].some((list) => list.length !== 2)) throw noOutline();
  const left = new Set(edges);
  const out: number[][] = [];
  for (const first of edges) {
    if (!left.has(first)) continue;
    const ring: number[] = [];
    let v = t.edges[2 * first];
    for (let e: number | undefined = first; e !== undefined && left.delete(e);) {
      ring.push(v);
      v = t.edges[2 * e] === v ? t.edges[2 * e + 1] : t.edges[2 * e];
      e = at.get(v)!.find((x) => left.has(x));
    }
    out.push(ring);
  }
  return facingAlike(mesh, out);
}

/** Rings turned so that none takes from what another encloses: their direction does not tell, their nesting will. */
function facingAlike(mesh: PolyMesh, rings: number[][]): number[][] {
  const areas = rings.map((r) => areaOf(r.map((v) => pointOf(mesh.positions, v))));
  const widest = areas.reduce((a, b) => (length(b) > length(a) ? b : a), areas[0]);
  return rings.map((r, i) => (dot(areas[i], widest) < 0 ? [...r].reverse() : r));
}

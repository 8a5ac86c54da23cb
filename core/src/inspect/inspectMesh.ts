/** Checks a mesh the way its readers will see it: structure, narrow faces, folds and crossings. */
import { checkMesh, LIMIT, type Finding, type MeshCheck } from '../mesh/checkMesh';
import { areaVectors, facesWithoutArea, sizeOf } from '../mesh/measure';
import { partOf } from '../mesh/part';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { cross, dot, length, pointOf, sub, type Vec3 } from '../mesh/vec3';
import { triangulate } from '../planar/triangulate';
import { eachCrossing } from './selfCross';

/** The gap between two single-precision numbers, as a share of the number. */
const SPACING = 2 ** -23;
/** Crossings shallower than this share of the size come from slightly bent faces or from rounding. */
const DEEP = 1e-5;
/** Two faces fold onto each other when the angle between them is smaller than this, radians. */
const FOLDED = 1e-4;

/** Time n log n in triangles. */
export function inspectMesh(mesh: PolyMesh): MeshCheck {
  const check = checkMesh(mesh);
  if (
    check.findings.some(
      (f) => f.code === 'bad-structure' || f.code === 'few-corners' || f.code === 'not-finite',
    )
  )
    return check;
  const findings = [
    ...check.findings,
    ...found(
      'narrow-face',
      'face',
      'a face is narrower than single precision can hold there',
      narrowFaces(mesh),
    ),
    ...found('fold', 'edge', 'two faces fold back onto each other at an edge', folds(mesh)),
    ...found('crossing', 'edge', 'an edge passes through a face', deepCrossings(mesh)),
  ];
  return {
    valid: findings.every((f) => f.code === 'open-edge'),
    closed: findings.length === 0,
    findings,
  };
}

function found(
  code: Finding['code'],
  domain: 'edge' | 'face',
  message: string,
  elements: number[],
): Finding[] {
  return elements.length ? [{ code, domain, message, elements: elements.slice(0, LIMIT), count: elements.length }] : []; // prettier-ignore
}

/** Faces that have an area but are narrower than the spacing of single-precision numbers at their place. */
function narrowFaces(mesh: PolyMesh): number[] {
  const t = topologyOf(mesh);
  const areas = areaVectors(mesh);
  const without = new Set(facesWithoutArea(mesh));
  const out: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    let [far, longest] = [0, 0];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const [p, q] = [c, nextCorner(mesh, t, c)].map((x) => pointOf(mesh.positions, mesh.corners[x]));
      far = Math.max(far, ...p.map(Math.abs));
      longest = Math.max(longest, length(sub(p, q)));
    }
    const area = Math.hypot(areas[3 * f], areas[3 * f + 1], areas[3 * f + 2]) / 2;
    if (area < SPACING * far * longest && !without.has(f)) out.push(f);
  }
  return out;
}

/** Edges at which one face turns back over the other. */
function folds(mesh: PolyMesh): number[] {
  const t = topologyOf(mesh);
  const areas = areaVectors(mesh);
  const normal = (f: number): Vec3 => [areas[3 * f], areas[3 * f + 1], areas[3 * f + 2]];
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    const [n, m] = [normal(t.faceOfCorner[c]), normal(t.faceOfCorner[t.twin[c]])];
    const size = length(n) * length(m);
    if (size > 0 && dot(n, m) < 0 && length(cross(n, m)) < FOLDED * size) out.push(e);
  }
  return out;
}

/**
 * Edges that pass through faces, where bodies do not just touch.
 * @param changed 1 per face: only what has to do with one of these is looked at; everything when left out
 */
export function deepCrossings(mesh: PolyMesh, changed?: Uint8Array): number[] {
  const least = DEEP * sizeOf(mesh);
  if (!changed) return crossingsOver(mesh, least);
  const near = facesNear(mesh, changed);
  const part = partOf(mesh, near);
  const edges = crossingsOver(
    part.mesh,
    least,
    changed.filter((_, f) => near[f]),
  );
  const { cornerOfEdge } = topologyOf(part.mesh);
  const { edgeOfCorner } = topologyOf(mesh);
  return edges.map((e) => edgeOfCorner[part.cornerOf[cornerOfEdge[e]]]);
}

function crossingsOver(mesh: PolyMesh, least: number, changed?: Uint8Array): number[] {
  const { edges } = topologyOf(mesh);
  const { corners } = triangulate(mesh);
  const at = (v: number): Vec3 => pointOf(mesh.positions, v);
  const out = new Set<number>();
  eachCrossing(
    mesh,
    (e, _, i) => {
      if (out.has(e)) return;
      const triangle = [0, 1, 2].map((k) => at(mesh.corners[corners[3 * i + k]]));
      if (depth(at(edges[2 * e]), at(edges[2 * e + 1]), triangle) > least) out.add(e);
    },
    changed,
  );
  return [...out];
}

/** 1 per face whose box meets the box around some of them. */
function facesNear(mesh: PolyMesh, some: Uint8Array): Uint8Array {
  const { positions: p, corners, faceStart } = mesh;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let f = 0; f < some.length; f++)
    for (let c = faceStart[f]; some[f] && c < faceStart[f + 1]; c++)
      for (let k = 0; k < 3; k++) {
        const x = p[3 * corners[c] + k];
        if (x < lo[k]) lo[k] = x;
        if (x > hi[k]) hi[k] = x;
      }
  const out = new Uint8Array(some.length);
  for (let f = 0; f < some.length; f++) {
    let meets = true;
    for (let k = 0; meets && k < 3; k++) {
      let [least, most] = [Infinity, -Infinity];
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        const x = p[3 * corners[c] + k];
        if (x < least) least = x;
        if (x > most) most = x;
      }
      meets = least <= hi[k] && most >= lo[k];
    }
    out[f] = Number(meets);
  }
  return out;
}

/** How far a segment would have to move so that it no longer passes through a triangle. */
function depth(a: Vec3, b: Vec3, [p, q, r]: Vec3[]): number {
  const n = cross(sub(q, p), sub(r, p));
  const l = length(n);
  if (!(l > 0)) return 0;
  const [above, below] = [dot(n, sub(a, p)) / l, dot(n, sub(b, p)) / l];
  const share = above / (above - below);
  const x = a.map((v, k) => v + (b[k] - v) * share) as Vec3;
  const sides = [[p, q], [q, r], [r, p]] as const; // prettier-ignore
  const inside = sides.map(([u, v]) => dot(n, cross(sub(v, u), sub(x, u))) / (l * length(sub(v, u))));
  return Math.min(Math.abs(above), Math.abs(below), ...inside);
}

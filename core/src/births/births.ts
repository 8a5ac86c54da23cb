/**
 * Births: names of faces that hold while the numbers of a build change. A face is named by what made it, from the
 * faces it was made of and, where one became several, by the faces beside each and their order in space; after
 * Capoyleas, Chen & Hoffmann 1996 (generic naming) and Kripac 1997 (persistent naming), on polygon meshes.
 *
 * The layer `birth` holds three codes a face: its family, which parts of one face share; its maker, which is the way of
 * steps that led to it; and its own name. What is made of faces is named after their families, so that it does not
 * matter how a face with holes happens to be divided.
 */
import { madeOf, untracked, withMade } from '../mesh/lineage';
import { MADE_SIZE, ROLES } from '../mesh/made';
import { pointOf, type Vec3 } from '../mesh/vec3';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { hashAll, hashOf, hashOfText } from './hash';
import { CAME_FROM, cameFromLayer } from './cameFrom';
import type { Makers } from './Makers';

const SIZE = 3;
const CUT = ROLES.indexOf('cut');
const [FAMILY, MAKER, NAME] = [0, 1, 2];

const layerOf = (mesh: PolyMesh): Uint32Array | undefined =>
  mesh.layers.face.birth?.data as Uint32Array | undefined;

const withLayer = (mesh: PolyMesh, data: Uint32Array): PolyMesh => ({
  ...mesh,
  layers: { ...mesh.layers, face: { ...mesh.layers.face, birth: { size: SIZE, data } } },
});

/** The name of a face of a build; 0 when the mesh is of none. */
export const nameOf = (mesh: PolyMesh, f: number): number => layerOf(mesh)?.[SIZE * f + NAME] ?? 0;

/** The name that parts of one face share; 0 when the mesh is of no build. */
export const familyOf = (mesh: PolyMesh, f: number): number => layerOf(mesh)?.[SIZE * f + FAMILY] ?? 0;

/** The code of what led to a face, for `Makers.story`; 0 when the mesh is of no build. */
export const makerOf = (mesh: PolyMesh, f: number): number => layerOf(mesh)?.[SIZE * f + MAKER] ?? 0;

/** A base as it comes: each face is named by its place in the mesh. @param by who made it, as makers name it */
export function baseBirths(mesh: PolyMesh, by: string, makers: Makers): PolyMesh {
  const maker = makers.add(by, []);
  const data = new Uint32Array(SIZE * faceCount(mesh));
  for (let f = 0; f < faceCount(mesh); f++) {
    data[SIZE * f + FAMILY] = data[SIZE * f + NAME] = hashOf(f);
    data[SIZE * f + MAKER] = maker;
  }
  return withLayer(mesh, data);
}

/** Prepares the input of a step or an operation so that the faces it makes can be named afterwards. */
export function expecting(mesh: PolyMesh): PolyMesh {
  let out = expected.get(mesh);
  if (!out) expected.set(mesh, (out = layerOf(mesh) ? withMade(mesh) : mesh));
  return out;
}
/** The same mesh each time, so that what is known of it is known again. */
const expected = new WeakMap<PolyMesh, PolyMesh>();

/**
 * Names the faces of a result. Linear in faces, and in n log n for those of one name.
 * @param out what was made of a mesh from `expecting`, or of one that is tracked
 * @param key of the step among those of its piece; the same in copies of the piece
 * @param by who made it, as makers name it
 */
export function giveBirths(out: PolyMesh, key: string, by: string, makers: Makers): PolyMesh {
  const before = layerOf(out);
  const made = madeOf(out);
  const mesh = untracked(out);
  if (!before || !made) return mesh;
  const step = hashOfText(key);
  const data = before.slice();
  /** New makers by the old ones of the faces on both sides, the lower first. */
  const grown = new Map<number, Map<number, number>>();
  for (let i = 0, m = 0; i < data.length; i += SIZE, m += MADE_SIZE) {
    const [role, which, other, beside] = [made[m], made[m + 1], made[m + 2], made[m + 3]];
    const [family, maker] = [data[i + FAMILY], data[i + MAKER]];
    // A face from nowhere was made here, whatever it was made as.
    if (!role && family) {
      if (which) data[i + FAMILY] = hashOf(family, which);
      continue;
    }
    data[i + FAMILY] = hashOf(step, role, which, Math.min(family, other), Math.max(family, other));
    const [low, high] = maker < beside ? [maker, beside] : [beside, maker];
    let withLow = grown.get(low);
    if (!withLow) grown.set(low, (withLow = new Map()));
    let next = withLow.get(high);
    if (next === undefined)
      withLow.set(high, (next = makers.add(by, [...new Set([low, high])].filter(Boolean), role === CUT)));
    data[i + MAKER] = next;
  }
  tellApart(mesh, data);
  return withCameFrom(withLayer(mesh, data), makers);
}

/** With the layer that tells where faces come from; none where all are of a base. */
function withCameFrom(mesh: PolyMesh, makers: Makers): PolyMesh {
  const from = new Map<number, number>();
  let [last, is, any] = [-1, 0, 0];
  const data = new Uint8Array(faceCount(mesh));
  for (let f = 0; f < data.length; f++) {
    const maker = makerOf(mesh, f);
    if (maker !== last) {
      let known = from.get(maker);
      if (known === undefined) from.set(maker, (known = makers.cameFrom(maker)));
      [last, is] = [maker, known];
    }
    data[f] = is;
    any |= is;
  }
  const { [CAME_FROM]: before, ...face } = mesh.layers.face;
  if (!any && !before) return mesh;
  return { ...mesh, layers: { ...mesh.layers, face: any ? { ...face, ...cameFromLayer(data) } : face } };
}

/** How often faces are told apart by those beside them before their order in space decides. */
const ROUNDS = 4;
/** Along this no two edges of a grid lie alike. */
const ALONG: Vec3 = [0.7548776662, 0.5698402909, 0.3247179572];

/** Gives faces of one family names of their own: by the families beside them, else by order along a fixed direction. */
function tellApart(mesh: PolyMesh, data: Uint32Array): void {
  const names = new Uint32Array(faceCount(mesh));
  for (let f = 0; f < names.length; f++) names[f] = data[SIZE * f + FAMILY];
  let shared = sharedNames(names);
  const beside = new Uint32Array(largestFace(mesh));
  for (let round = 0; round < ROUNDS && shared.length; round++) {
    const t = topologyOf(mesh);
    const fresh = shared.map((group) =>
      group.map((f) => {
        let count = 0;
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
          if (t.twin[c] >= 0) beside[count++] = names[t.faceOfCorner[t.twin[c]]];
        return hashOf(names[f], hashAll(inOrderOnce(beside.subarray(0, count))));
      }),
    );
    shared.forEach((group, i) => group.forEach((f, k) => (names[f] = fresh[i][k])));
    shared = sharedNames(names, shared.flat());
  }
  for (const group of shared) {
    const far = new Map(group.map((f) => [f, placeAlong(mesh, f)]));
    group.sort((a, b) => far.get(a)! - far.get(b)! || a - b);
    group.forEach((f, k) => (names[f] = hashOf(names[f], k)));
  }
  for (let f = 0; f < names.length; f++) data[SIZE * f + NAME] = names[f];
}

/** Numbers in ascending order, each once; written over. */
function inOrderOnce(list: Uint32Array): Uint32Array {
  list.sort();
  let count = 0;
  for (let i = 0; i < list.length; i++) if (!i || list[i] !== list[i - 1]) list[count++] = list[i];
  return list.subarray(0, count);
}

function largestFace(mesh: PolyMesh): number {
  let most = 0;
  for (let f = 0; f < faceCount(mesh); f++) most = Math.max(most, mesh.faceStart[f + 1] - mesh.faceStart[f]);
  return most;
}

/** Groups of faces of one name. @param among only these are looked at */
function sharedNames(names: Uint32Array, among?: number[]): number[][] {
  const sorted = among ? Uint32Array.from(among, (f) => names[f]) : names.slice();
  sorted.sort();
  const groups = new Map<number, number[]>();
  for (let i = 1; i < sorted.length; i++) if (sorted[i] === sorted[i - 1]) groups.set(sorted[i], []);
  if (!groups.size) return [];
  if (among) for (const f of among) groups.get(names[f])?.push(f);
  else for (let f = 0; f < names.length; f++) groups.get(names[f])?.push(f);
  return [...groups.values()];
}

function placeAlong(mesh: PolyMesh, f: number): number {
  let sum = 0;
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
    const p = pointOf(mesh.positions, mesh.corners[c]);
    sum += p[0] * ALONG[0] + p[1] * ALONG[1] + p[2] * ALONG[2];
  }
  return sum / (mesh.faceStart[f + 1] - mesh.faceStart[f]);
}

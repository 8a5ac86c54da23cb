/**
 * Smoothing that does not take a surface through itself: where a level would, the edges of the faces that meet are made
 * sharp, so that they stay where they are, until nothing crosses. With sharp edges all round a flat face stays as it is,
 * so this ends in the worst case with what was given.
 */
import { edgeLines } from '../inspect/edgeLines';
import { eachCrossing } from '../inspect/selfCross';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { UNWATCHED, type Watch } from '../watch';
import { subdivideOnce } from './catmullClark';
import { withCrease } from './withCrease';

/** Rounds after which what still crosses is left. */
const ROUNDS = 24;
/** Meshes of more corners are so fine that another level hardly moves anything. */
const FINE = 80_000;
/** More levels than there ever are. */
const FOR_GOOD = 10;

/** A mesh before a level is made of it. */
interface Level {
  mesh: PolyMesh;
  /** Edges that are kept sharp. */
  held: Set<number>;
}

/**
 * Several levels. Time n log n in faces for each round of each level; one round where nothing crosses.
 * @param finish what becomes of the last level, with the same faces
 * @returns the mesh, and the edges kept sharp for this: 6 numbers each
 */
export function subdivideCalmly(
  mesh: PolyMesh,
  levels: number,
  watch: Watch = UNWATCHED,
  finish = (m: PolyMesh): PolyMesh => m,
): { mesh: PolyMesh; held: Float64Array } {
  const stack: Level[] = [{ mesh, held: new Set() }];
  let rounds = 0;
  while (stack.length <= levels) {
    const k = stack.length - 1;
    const { mesh: from, held } = stack[k];
    watch(4 ** (k - levels));
    const made = subdivideOnce(held.size ? withCrease(from, [...held], FOR_GOOD) : from, k > 0);
    const fine = stack.length === levels ? finish(made) : made;
    const faces = from.corners.length > FINE || rounds > ROUNDS ? [] : facesThatCross(from, fine);
    if (!faces.length || !holdBack(stack, k, faces)) stack.push({ mesh: fine, held: new Set() });
    else rounds++;
  }
  const lines = stack.flatMap((l) => [...edgeLines(l.mesh, [...l.held])]);
  return { mesh: stack[levels].mesh, held: Float64Array.from(lines) };
}

/** Faces of a mesh that go through something when a level is made of it. */
function facesThatCross(mesh: PolyMesh, fine: PolyMesh): number[] {
  const { faceOfCorner } = topologyOf(mesh);
  const t = topologyOf(fine);
  const faces = new Set<number>();
  // A level makes a face per corner, in their order.
  eachCrossing(fine, (e, f) => {
    const c = t.cornerOfEdge[e];
    for (const x of [f, t.faceOfCorner[c], t.twin[c] < 0 ? f : t.faceOfCorner[t.twin[c]]])
      faces.add(faceOfCorner[x]);
  });
  return [...faces];
}

/** Keeps faces of a level as they are, or those they were made of; the stack ends there. @returns whether that is new */
function holdBack(stack: Level[], level: number, faces: number[]): boolean {
  for (let k = level; k >= 0; k--) {
    const { mesh, held } = stack[k];
    const { edgeOfCorner } = topologyOf(mesh);
    const before = held.size;
    for (const f of faces)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) held.add(edgeOfCorner[c]);
    if (held.size > before) {
      stack.length = k + 1;
      return true;
    }
    if (!k) break;
    const { faceOfCorner } = topologyOf(stack[k - 1].mesh);
    faces = [...new Set(faces.map((f) => faceOfCorner[f]))];
  }
  return false;
}

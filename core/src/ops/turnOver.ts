/** Turn over picked faces, or make whole shells face outward. */
import { MeshDraft } from '../mesh/MeshDraft';
import { faceCorners, type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { pointOf } from '../mesh/vec3';
import { selectionOf } from '../select/selection';
import { params } from './fields';
import { counted, defineOperation } from './operation';
import { onBox, onSheet } from './tool';

function turned(mesh: PolyMesh, faces: Iterable<number>): { mesh: PolyMesh; faces: number[] } {
  const t = topologyOf(mesh);
  const draft = new MeshDraft(mesh);
  let n = 0;
  for (const f of faces) {
    const corners = faceCorners(mesh, f).reverse();
    draft.dropFace(f);
    draft.addFace({
      loop: corners.map((c) => mesh.corners[c]),
      face: f,
      corners,
      // The side that leaves a corner now ran into it before.
      edges: corners.map((_, k) => t.edgeOfCorner[corners[(k + 1) % corners.length]]),
    });
    n++;
  }
  const out = draft.finish();
  return { mesh: out.mesh, faces: Array.from({ length: n }, (_, i) => out.firstNewFace + i) };
}

export const turnOver = defineOperation({
  kind: 'turnOver',
  title: 'Turn over',
  on: ['face'],
  params: params({}),
  example: onSheet({ op: 'turnOver', select: { rule: 'all', of: 'faces' } }),
  tools: [{ words: 'flip reverse normals invert' }],
  says: ({ faces }) => `Turned ${counted(faces, 'face')} over.`,
  run(mesh, selection) {
    const out = turned(mesh, selection.indices);
    return {
      mesh: out.mesh,
      selection: selectionOf('face', out.faces),
      counts: { faces: out.faces.length },
    };
  },
});

export const faceOutward = defineOperation({
  kind: 'faceOutward',
  title: 'Face outward',
  on: ['face'],
  params: params({}),
  example: onBox(
    { op: 'turnOver', select: { rule: 'all', of: 'faces' } },
    { op: 'faceOutward', select: { rule: 'last' } },
  ),
  tools: [{ words: 'flip normals outside' }],
  says: ({ faces }) => `Turned ${counted(faces, 'face')} to look outward.`,
  idle: 'All faces look outward already.',
  run(mesh) {
    const over = inwardFaces(mesh);
    if (!over.length) return { mesh, selection: selectionOf('face', []), counts: { faces: 0 } };
    const out = turned(mesh, over);
    return {
      mesh: out.mesh,
      selection: selectionOf('face', out.faces),
      counts: { faces: over.length },
    };
  },
});

/** Faces to turn: within a shell those that disagree with the first, and the whole shell if it is inside out. */
function inwardFaces(mesh: PolyMesh): number[] {
  const t = topologyOf(mesh);
  const users = new Map<number, number[]>();
  for (let c = 0; c < mesh.corners.length; c++) {
    const list = users.get(t.edgeOfCorner[c]);
    if (list) list.push(c);
    else users.set(t.edgeOfCorner[c], [c]);
  }
  const flip = new Int8Array(faceCount(mesh));
  const out: number[] = [];
  for (let f = 0; f < flip.length; f++) {
    if (flip[f]) continue;
    flip[f] = 1;
    const shell = [f];
    for (let i = 0; i < shell.length; i++) {
      const g = shell[i];
      for (let c = mesh.faceStart[g]; c < mesh.faceStart[g + 1]; c++) {
        const list = users.get(t.edgeOfCorner[c])!;
        if (list.length !== 2) continue;
        const d = list[0] === c ? list[1] : list[0];
        const h = t.faceOfCorner[d];
        if (flip[h]) continue;
        const agree = mesh.corners[c] === mesh.corners[nextCorner(mesh, t, d)];
        flip[h] = agree ? flip[g] : (-flip[g] as 1 | -1);
        shell.push(h);
      }
    }
    const inside = signedVolume(mesh, shell, flip) < 0;
    for (const g of shell) if (flip[g] < 0 !== inside) out.push(g);
  }
  return out.sort((a, b) => a - b);
}

function signedVolume(mesh: PolyMesh, faces: number[], flip: Int8Array): number {
  let sum = 0;
  const o = pointOf(mesh.positions, mesh.corners[mesh.faceStart[faces[0]]]);
  for (const f of faces) {
    const s = mesh.faceStart[f];
    for (let c = s + 1; c + 1 < mesh.faceStart[f + 1]; c++) {
      const [a, b, d] = [s, c, c + 1].map((k) =>
        pointOf(mesh.positions, mesh.corners[k]).map((x, i) => x - o[i]),
      );
      sum +=
        flip[f] *
        (a[0] * (b[1] * d[2] - b[2] * d[1]) +
          a[1] * (b[2] * d[0] - b[0] * d[2]) +
          a[2] * (b[0] * d[1] - b[1] * d[0]));
    }
  }
  return sum;
}

/** Picking on 500 000 faces: a line of sight, and everything seen inside a box, against one look at every point. */
import { torus } from './operations';
import { baseBirths } from '@urnsmith/core/births/births';
import { Makers } from '@urnsmith/core/births/Makers';
import { bornOf, findBorn } from '@urnsmith/core/select/born';
import { elementCount, selectionOf } from '@urnsmith/core/select/selection';
import { faceCount, type PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { buildTopology, topologyOf } from '@urnsmith/core/mesh/Topology';
import { triangulate } from '@urnsmith/core/planar/triangulate';
import { insideOutline, type Look } from '@urnsmith/core/select/inside';
import { TriangleTree } from '@urnsmith/core/spatial/TriangleTree';
import { compare, ms, ratio, row } from './report';

const look: Look = {
  toEye: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, -160, 1],
  scale: 1000,
  parallel: false,
  width: 800,
  height: 600,
};
const whole = [[0, 0], [800, 0], [800, 600], [0, 600]] as const; // prettier-ignore

/** The reference: every point brought into the picture once. */
function lookAtAll(m: PolyMesh, out: Float64Array): void {
  const p = m.positions;
  for (let i = 0; i < p.length; i += 3) {
    const s = look.scale / (160 - p[i + 2]);
    out[i] = 400 + s * p[i];
    out[i + 1] = 300 - s * p[i + 1];
    out[i + 2] = 1 / (160 - p[i + 2]);
  }
}

export function picking(): void {
  foundAgain();
  console.log('\nEverything seen inside a box, against one look at every point (20k, 100k, 500k faces)');
  row('elements', ['box', 'every point', 'ratio']);
  for (const faces of [20_000, 100_000, 500_000]) {
    const ring = torus(faces);
    topologyOf(ring);
    triangulate(ring);
    const out = new Float64Array(ring.positions.length);
    for (const kind of ['face', 'vertex'] as const) {
      const [a, b] = compare(
        () => insideOutline(ring, kind, whole, look, false),
        () => lookAtAll(ring, out),
        7,
      );
      row(`${faceCount(ring)} faces, ${kind === 'face' ? 'faces' : 'points'}`, [ms(a), ms(b), ratio(a, b)]);
    }
  }
  console.log('\nA line of sight into the tree, against looking at every point once');
  row('faces', ['a thousand lines', 'tree', 'every point']);
  for (const faces of [20_000, 100_000, 500_000]) {
    const ring = torus(faces);
    triangulate(ring);
    const start = performance.now();
    const tree = new TriangleTree(ring);
    const built = performance.now() - start;
    const out = new Float64Array(ring.positions.length);
    const [a, b] = compare(
      () => {
        for (let k = 0; k < 1000; k++) tree.meets([(k % 37) - 18, (k % 23) - 11, 160], [0.01, 0.02, -1]);
      },
      () => lookAtAll(ring, out),
      7,
    );
    row(String(faceCount(ring)), [ms(a), ms(built), ms(b)]);
  }
}

/** Picks of a step of edits by hand, against building what hangs together in the mesh once. */
function foundAgain(): void {
  console.log('\nA thousand picks by birth found again, against the adjacency of the mesh (asked: 2)');
  row('elements', ['found', 'adjacency', 'ratio']);
  for (const faces of [20_000, 100_000, 500_000]) {
    const ring = baseBirths(torus(faces), 'ring', new Makers());
    topologyOf(ring);
    for (const kind of ['face', 'edge', 'vertex'] as const) {
      const n = elementCount(ring, kind);
      const picks = bornOf(ring, selectionOf(kind, Array.from({ length: 1000 }, (_, k) => Math.floor((k * n) / 1000)))); // prettier-ignore
      const [a, b] = compare(() => findBorn(ring, picks), () => buildTopology(ring), 7); // prettier-ignore
      row(`${faceCount(ring)} faces, ${kind === 'vertex' ? 'points' : `${kind}s`}`, [
        ms(a),
        ms(b),
        ratio(a, b),
      ]);
    }
  }
}

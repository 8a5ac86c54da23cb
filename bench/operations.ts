/** Each direct operation on a few faces of a large mesh, against one copying pass of the same mesh. */
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { runOperation } from '@urnsmith/core/ops/operation';
import { makeMesh, faceCount, type PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { topologyOf } from '@urnsmith/core/mesh/Topology';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { convertSelection, selectionOf, type Selection } from '@urnsmith/core/select/selection';
import { middleOf } from '@urnsmith/core/select/measure';
import { edgeLoop } from '@urnsmith/core/select/walks';
import { faceNormal } from '@urnsmith/core/mesh/measure';
import { sub, unit } from '@urnsmith/core/mesh/vec3';
import { softWeights } from '@urnsmith/core/select/soft';
import { subdivideOnce } from '@urnsmith/core/subdivide/catmullClark';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { compare, ms, ratio, row } from './report';

/** Parameters that an operation needs, besides its defaults, to have an effect on a torus. */
const PARAMS: Record<string, Record<string, unknown>> = {
  transform: { move: [0, 0.1, 0] },
  extrude: { distance: 0.01, passage: false },
  inset: { thickness: 0.005 },
  bevel: { width: 0.002 },
  supportLoops: { distance: 0.002 },
  slide: { share: 0.2 },
  drawFace: { points: [[90, 0, 0], [91, 0, 0], [91, 0, 1]] },
  weld: { to: 'middle' },
  mirrorOnce: { normal: [0, 1, 0], point: [0, 99, 0] },
}; // prettier-ignore

/** Operations that need a hole, or triangles, to act. */
const NEEDS: Record<string, (m: PolyMesh, s: Selection) => { mesh: PolyMesh; selection: Selection }> = {
  fill: (m, s) => hole(m, s),
  extrudeEdges: (m, s) => hole(m, s),
  bridge: (m) => ({ mesh: m, selection: selectionOf('face', [0, Math.floor(faceCount(m) / 2)]) }),
  // Two opposite corners of a face; three points in a row.
  connect: (m) => ({ mesh: m, selection: selectionOf('vertex', [m.corners[0], m.corners[2]]) }),
  straighten: (m) => row3(m),
  spaceEvenly: (m) => row3(m),
  pairTriangles: (m, s) => {
    const { mesh, selection } = runOperation(OPERATIONS.triangulate, m, s, {});
    return { mesh, selection };
  },
};

function hole(m: PolyMesh, s: Selection): { mesh: PolyMesh; selection: Selection } {
  const { mesh } = runOperation(OPERATIONS.deleteFaces, m, s, {});
  const t = topologyOf(mesh);
  return {
    mesh,
    selection: selectionOf(
      'edge',
      [...t.edgeUse.entries()].flatMap(([e, n]) => (n === 1 ? [e] : [])),
    ),
  };
}

function row3(m: PolyMesh): { mesh: PolyMesh; selection: Selection } {
  return { mesh: m, selection: selectionOf('edge', edgeLoop(m, 0).edges.slice(0, 3)) };
}

/** A line, or a plane, across the first face. */
function acrossFace(kind: string, m: PolyMesh): Record<string, unknown> {
  const at = middleOf(m, 'face', 0);
  const n = faceNormal(m, 0);
  const [a, b] = [middleOf(m, 'edge', 0), middleOf(m, 'edge', 2)];
  if (kind === 'knife') return { lines: [[a, b]], view: n.map((x) => -x) };
  if (kind === 'planeSlice') return { point: at, normal: unit(sub(a, b)) };
  return {};
}

const copied = (m: PolyMesh): PolyMesh =>
  makeMesh(m.positions.slice(), m.faceStart.slice(), m.corners.slice(), m.layers);

export function torus(faces: number): PolyMesh {
  const n = Math.round(Math.sqrt(faces));
  return buildPrimitive({ primitive: 'torus', radius: 50, tubeRadius: 20, sides: n, tubeSides: n });
}

export function operations(): void {
  console.log(
    '\nOperations on 4 neighbouring faces, adjacency known, against one copying pass (2k, 20k, 200k faces)',
  );
  row('operation', ['2k', '20k', '200k', '200k ÷ pass']);
  const meshes = [2000, 20000, 200000].map(torus);
  for (const op of Object.values(OPERATIONS)) {
    const cells: string[] = [];
    let last = '';
    for (const whole of meshes) {
      const n = Math.round(Math.sqrt(faceCount(whole)));
      const faces = selectionOf('face', [0, 1, n, n + 1]);
      const { mesh, selection } = (NEEDS[op.kind] ?? ((m, s) => ({ mesh: m, selection: s })))(whole, faces);
      const fitting = op.on.includes(selection.kind)
        ? selection
        : convertSelection(mesh, selection, op.on[0]);
      topologyOf(mesh);
      const params = { ...PARAMS[op.kind], ...acrossFace(op.kind, whole) };
      try {
        const [ours, pass] = compare(
          () => void runOperation(op, mesh, fitting, params),
          () => void copied(mesh),
          faceCount(whole) > 100000 ? 3 : 7,
          1,
        );
        cells.push(ms(ours));
        last = ratio(ours, pass);
      } catch (e) {
        if (!(e instanceof OperationError)) throw e;
        cells.push(e.code);
      }
    }
    row(op.kind, [...cells, last]);
  }
}

export function subdivision(): void {
  console.log('\nCatmull–Clark, one level, against a linear interpolation pass over what comes out');
  row('quads out', ['level', 'pass', 'ratio', 'quads per second']);
  for (const faces of [2000, 20000, 100000]) {
    const m = torus(faces);
    topologyOf(m);
    const out = subdivideOnce(m);
    const pass = (): void => {
      const p = out.positions;
      const half = new Float64Array(p.length);
      for (let c = 0; c < out.corners.length; c++)
        for (let k = 0; k < 3; k++) half[3 * out.corners[c] + k] += p[3 * out.corners[c] + k] / 4;
    };
    const [ours, linear] = compare(() => void subdivideOnce(m), pass, 7);
    row(String(faceCount(out)), [
      ms(ours),
      ms(linear),
      ratio(ours, linear),
      Math.round((faceCount(out) / ours) * 1000),
    ]);
  }
}

export function softness(): void {
  console.log('\nSoft selection of one point with a tenth of the piece in reach (work of one drag frame)');
  row('points', ['straight', 'surface', 'one pass over positions']);
  for (const faces of [1000, 10000, 100000]) {
    const m = torus(faces);
    const soft = { reach: 14, falloff: 'smooth' as const };
    softWeights(m, [0], { ...soft, along: 'surface' });
    const [straight, surface] = compare(
      () => void softWeights(m, [0], { ...soft, along: 'straight' }),
      () => void softWeights(m, [0], { ...soft, along: 'surface' }),
      7,
    );
    const [pass] = compare(
      () => void m.positions.map((x) => x + 1),
      () => {},
      7,
    );
    row(String(m.positions.length / 3), [ms(straight), ms(surface), ms(pass)]);
  }
}

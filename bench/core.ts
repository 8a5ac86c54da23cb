/** Benchmarks of the core: each a ratio against a named reference in the same run, over three sizes. */
import { BufferAttribute, BufferGeometry } from 'three';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { makeMesh, faceCount, triangleCount, type PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { buildTopology, topologyOf } from '@urnsmith/core/mesh/Topology';
import { transformMatrix, transformMesh } from '@urnsmith/core/mesh/transform';
import { triangulate } from '@urnsmith/core/planar/triangulate';
import { RANK } from '@urnsmith/core/mesh/layers';
import { cornerNormals } from '@urnsmith/core/shading/cornerNormals';
import { shadingFaults } from '@urnsmith/core/shading/faults';
import { residual } from '@urnsmith/core/shading/residual';
import { shade } from '@urnsmith/core/steps/shade';
import { cut } from '@urnsmith/core/solid/boolean';
import { kernel, loadKernel } from '@urnsmith/core/solid/kernel';
import { manyCutters } from './manyCutters';
import { casting } from './casting';
import { operations, softness, subdivision } from './operations';
import { picking } from './picking';
import { roundings } from './rounding';
import { compare, fresh, ms, ratio, row } from './report';

function cuts(): void {
  console.log('\nCut step against the raw kernel on the same triangles (bound 1.6×)');
  row('host triangles', ['cut', 'kernel', 'ratio']);
  for (const rings of [32, 90, 256]) {
    const host = buildPrimitive({ primitive: 'sphere', radius: 50, sides: rings, rings });
    const move = transformMatrix({ move: [31, 17, 9], turn: [11, 23, 37], size: [1, 1, 1] });
    const tool = transformMesh(
      buildPrimitive({ primitive: 'sphere', radius: 30, sides: rings, rings }),
      move,
    );
    const raw = (m: PolyMesh): { vertProperties: Float32Array; triVerts: Uint32Array } => ({
      vertProperties: Float32Array.from(m.positions),
      triVerts: Uint32Array.from(triangulate(m).corners, (c) => m.corners[c]),
    });
    const [a, b] = [raw(host), raw(tool)];
    const k = kernel();
    const runKernel = (): void => {
      const solids = [a, b].map((x) => new k.Manifold(new k.Mesh({ numProp: 3, ...x })));
      const out = k.Manifold.difference(solids);
      out.getMesh();
      for (const s of [...solids, out]) s.delete();
    };
    const [ours, theirs] = compare(
      () =>
        void cut(
          { mesh: fresh(host), name: 'host' },
          [{ mesh: fresh(tool), name: 'tool', id: 'tool' }],
          'subtract',
        ),
      runKernel,
      rings > 200 ? 9 : rings > 50 ? 25 : 80,
    );
    row(String(triangleCount(host)), [ms(ours), ms(theirs), ratio(ours, theirs)]);
  }
}

function topology(): void {
  console.log('\nTopology build against one linear pass over the corners');
  row('corners', ['build', 'pass', 'ratio']);
  for (const n of [50, 160, 500]) {
    const m = buildPrimitive({ primitive: 'plane', width: 100, depth: 100, segments: [n, n] });
    const pass = (): number => {
      const copy = new Uint32Array(m.corners.length);
      let sum = 0;
      for (let f = 0; f < faceCount(m); f++)
        for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) {
          copy[c] = m.corners[c];
          sum += m.positions[3 * m.corners[c]];
        }
      return sum + copy[0];
    };
    const [ours, linear] = compare(
      () => void buildTopology(m),
      () => void pass(),
      15,
    );
    row(String(m.corners.length), [ms(ours), ms(linear), ratio(ours, linear)]);
  }
}

function normals(): void {
  console.log('\nShading normals against three’s computeVertexNormals on the same triangles (bound 2×)');
  row('corners', ['normals', 'three', 'ratio']);
  for (const n of [60, 200, 408]) {
    const quads = buildPrimitive({ primitive: 'torus', radius: 50, tubeRadius: 20, sides: n, tubeSides: n });
    const t = triangulate(quads);
    const corners = Uint32Array.from(t.corners, (c) => quads.corners[c]);
    const m = makeMesh(
      quads.positions,
      Uint32Array.from({ length: t.face.length + 1 }, (_, i) => 3 * i),
      corners,
    );
    topologyOf(m);
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(Float32Array.from(m.positions), 3));
    g.setIndex(new BufferAttribute(corners, 1));
    const [ours, theirs] = compare(
      () => void cornerNormals(m, { weight: 'area' }),
      () => {
        g.deleteAttribute('normal');
        g.computeVertexNormals();
      },
      11,
    );
    row(String(corners.length), [ms(ours), ms(theirs), ratio(ours, theirs)]);
  }
}

function shadings(): void {
  console.log(
    '\nThe normals step with rank and cut-off (bound 1.3×), and what is shaded wrong, against area weights alone',
  );
  row('corners', ['weights', 'step', 'ratio', 'figures', 'ratio', 'faults', 'ratio']);
  for (const n of [75, 240, 500]) {
    const torus = buildPrimitive({ primitive: 'torus', radius: 50, tubeRadius: 20, sides: n, tubeSides: n });
    const data = Uint8Array.from({ length: n * n }, (_, f) => (f % 3 ? RANK.plain : RANK.follow));
    const face = { ...torus.layers.face, rank: { size: 1, data } };
    const m = { ...torus, layers: { ...torus.layers, face } };
    topologyOf(m);
    const step = { weight: 'area', hardAngle: 40, rank: true, cutOff: 0.1 } as const;
    const [weights, shaded] = compare(() => void cornerNormals(m, { weight: 'area' }), () => void shade(m, step), 7); // prettier-ignore
    const [, figures] = compare(() => void cornerNormals(m, { weight: 'area' }), () => void residual(m), 7); // prettier-ignore
    const [, faults] = compare(() => void cornerNormals(m, { weight: 'area' }), () => void shadingFaults(m), 7); // prettier-ignore
    row(String(m.corners.length), [ms(weights), ms(shaded), ratio(shaded, weights), ms(figures), ratio(figures, weights), ms(faults), ratio(faults, weights)]); // prettier-ignore
  }
}

await loadKernel();
cuts();
manyCutters();
topology();
roundings();
normals();
shadings();
casting();
operations();
subdivision();
softness();
picking();

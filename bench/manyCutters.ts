/** Many cutters: the whole cut against the kernel's own batch, and a hand at one of them against the whole cut. */
import type { Piece } from '@urnsmith/core/document/schema';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { IDENTITY_TRANSFORM, transformMatrix, transformMesh } from '@urnsmith/core/mesh/transform';
import { bevel } from '@urnsmith/core/ops/bevel/bevel';
import { UnitCache } from '@urnsmith/core/ops/bevel/UnitCache';
import { triangulate } from '@urnsmith/core/planar/triangulate';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import { rimEdges } from '@urnsmith/core/select/edges';
import { kernel } from '@urnsmith/core/solid/kernel';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { ms, ratio, row } from './report';

/** A plate with bores in a square; the one in the middle stands a little aside. */
function plate(n: number, aside: number): Piece[] {
  const side = Math.round(Math.sqrt(n));
  const at = (k: number): number => (k - side / 2 + 0.5) * 20;
  const cutters = Array.from({ length: n }, (_, i): Piece => {
    const by = i === n >> 1 ? aside : 0;
    return {
      id: `c${i}`,
      base: { primitive: 'cylinder', radius: 5, height: 30, sides: 24 },
      transform: { move: [at(i % side) + by, 0, at(Math.floor(i / side))] },
    };
  });
  return [
    {
      id: 'a',
      base: { primitive: 'box', width: side * 20, height: 10, depth: side * 20 },
      steps: [{ id: 's', kind: 'cut', mode: 'subtract', cutters: cutters.map((c) => c.id) }],
    },
    ...cutters,
  ];
}

const median = (list: number[]): number => list.sort((a, b) => a - b)[list.length >> 1];

/** The same cut by the kernel alone: operands given as triangles, all subtracted at once, the triangles taken back. */
function batch(pieces: Piece[]): () => void {
  const [host, ...cutters] = pieces.map((p) =>
    transformMesh(
      buildPrimitive(p.base as Primitive),
      transformMatrix({ ...IDENTITY_TRANSFORM, ...p.transform }),
    ),
  );
  const raw = (mesh: PolyMesh): { vertProperties: Float32Array; triVerts: Uint32Array } => ({
    vertProperties: Float32Array.from(mesh.positions),
    triVerts: Uint32Array.from(triangulate(mesh).corners, (c) => mesh.corners[c]),
  });
  const all = [host, ...cutters].map(raw);
  const k = kernel();
  return () => {
    const solids = all.map((x) => new k.Manifold(new k.Mesh({ numProp: 3, ...x })));
    const out = k.Manifold.difference(solids);
    out.getMesh();
    for (const s of [...solids, out]) s.delete();
  };
}

const timed = (run: () => void): number => {
  const start = performance.now();
  run();
  return performance.now() - start;
};

export function manyCutters(): void {
  console.log('\nMany cutters (bounds: cut 1.5× the kernel alone; one of 700 moved 0.07× all anew)');
  row('cutters', ['all anew', 'kernel', 'ratio', 'one moved', 'of all']);
  for (const n of [10, 100, 700]) {
    const whole: number[] = [];
    const theirs: number[] = [];
    const moved: number[] = [];
    for (let round = 0; round < 7; round++) {
      const e = new Evaluator({ blob: refuse, file: refuse });
      const build = (aside: number, draft: boolean): number => {
        e.setPieces(plate(n, aside));
        return timed(() => void e.build('a', undefined, Infinity, draft));
      };
      const first = build(0, false);
      const alone = timed(batch(plate(n, 0)));
      // The first move makes what is kept; it is what those after it go on from.
      build(0.1, true);
      const after = [0.2, 0.3, 0.4].map((x) => build(x + 0.01 * round, true));
      if (round < 2) continue;
      whole.push(first);
      theirs.push(alone);
      moved.push(...after);
    }
    const [all, kernelAlone, one] = [whole, theirs, moved].map(median);
    row(String(n), [ms(all), ms(kernelAlone), ratio(all, kernelAlone), ms(one), ratio(one, all)]);
  }
  roundedToo();
}

/** The same with all rims rounded, while a hand is at one of them: only its rims are grown again. */
function roundedToo(): void {
  console.log('\nMany cutters, all rims rounded (bounds: all 3× the cut; one of 700 moved 0.07× all anew)');
  row('cutters', ['the cut', 'all anew', 'ratio', 'one moved', 'of all', 'kept, MB']);
  for (const n of [10, 100, 700]) {
    const whole: number[] = [];
    const cuts: number[] = [];
    const moved: number[] = [];
    let bytes = 0;
    for (let round = 0; round < (n > 100 ? 2 : 5); round++) {
      const e = new Evaluator({ blob: refuse, file: refuse });
      const cache = new UnitCache();
      const build = (aside: number, draft: boolean): [cut: number, all: number] => {
        e.setPieces(plate(n, aside));
        const start = performance.now();
        const { mesh } = e.build('a', undefined, Infinity, draft);
        const cut = performance.now() - start;
        bevel(mesh, rimEdges(mesh), { width: 1, segments: 2 }, undefined, cache);
        return [cut, performance.now() - start];
      };
      const [cut, all] = build(0, false);
      cuts.push(cut);
      whole.push(all);
      // The first move makes what is kept of the cut; it is what those after it go on from.
      build(0.1, true);
      moved.push(...[0.2, 0.3, 0.4].map((x) => build(x + 0.01 * round, true)[1]));
      bytes = cache.bytes;
    }
    const [cutAlone, all, one] = [cuts, whole, moved].map(median);
    row(String(n), [
      ms(cutAlone),
      ms(all),
      ratio(all, cutAlone),
      ms(one),
      ratio(one, all),
      (bytes / 1e6).toFixed(1),
    ]);
  }
}

function refuse(): never {
  throw new Error('These pieces rest on primitives.');
}

/** The counts that operations tell are those of what really changed, counted here from the meshes alone. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { sizeOf } from '../src/mesh/measure';
import { faceCount, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { OPERATIONS } from '../src/ops';
import { runOperation, sentenceOf, type AnyOperation, type Counts } from '../src/ops/operation';
import { loadKernel } from '../src/solid/kernel';
import { drawn, paramsFor, selectionFor, shapes, type Draw } from './anyOperation';
import './seed';
import { runs } from './effort';

beforeAll(() => loadKernel());

const OPS = OPERATIONS as unknown as Record<string, AnyOperation>;

interface Difference {
  points: number;
  faces: number;
  edges: number;
  /** Points at another place, where none were added or lost. */
  moved: number;
  layer(domain: 'edge' | 'face', names: string[]): number;
}

function difference(a: PolyMesh, b: PolyMesh): Difference {
  const still = 1e-9 * sizeOf(a);
  const far = (v: number): boolean =>
    [0, 1, 2].some((k) => Math.abs(b.positions[3 * v + k] - a.positions[3 * v + k]) > still);
  const all = (n: number): number[] => Array.from({ length: n }, (_, i) => i);
  return {
    points: vertexCount(b) - vertexCount(a),
    faces: faceCount(b) - faceCount(a),
    edges: topologyOf(b).edgeCount - topologyOf(a).edgeCount,
    moved: vertexCount(a) === vertexCount(b) ? all(vertexCount(a)).filter(far).length : 0,
    layer: (domain, names) =>
      all(domain === 'edge' ? topologyOf(a).edgeCount : faceCount(a)).filter((i) =>
        names.some((n) => (a.layers[domain][n]?.data[i] ?? 0) !== (b.layers[domain][n]?.data[i] ?? 0)),
      ).length,
  };
}

type Law = (counts: Counts, d: Difference, before: PolyMesh, params: Record<string, unknown>) => void;
const moved: Law = ({ points }, d) => expect(points).toBe(d.moved);
/** Some are told exactly where some point has moved. */
const some =
  (key: string): Law =>
  (counts, d) =>
    expect(counts[key] > 0).toBe(d.moved > 0);

const LAWS: Record<string, Law> = {
  flatten: moved,
  relax: moved,
  push: moved,
  slide: moved,
  transform: (counts, d, ...rest) => (counts.welded ? expect(d.points).toBeLessThan(0) : moved(counts, d, ...rest)),
  straighten: some('rows'),
  spaceEvenly: some('rows'),
  makeRound: some('loops'),
  deleteFaces: ({ faces }, d) => expect(d.faces).toBe(-faces),
  keepFaces: ({ faces }, d, before) => expect(faceCount(before) + d.faces).toBe(faces),
  copyFaces: ({ faces }, d) => expect(d.faces).toBe(faces),
  extrudeEdges: ({ edges }, d) => expect(d.faces).toBe(edges),
  drawFace: (_, d) => expect(d.faces).toBe(1),
  fill: ({ faces }, d) => expect(d.faces).toBe(faces),
  fan: ({ faces, into }, d) => expect(d.faces).toBe(into - faces),
  triangulate: ({ faces, triangles }, d) => expect(d.faces).toBe(triangles - faces),
  pairTriangles: ({ quads }, d) => expect(d.faces).toBe(-quads),
  thicken: ({ faces, rims }, d) => expect(d.faces).toBe(faces + rims),
  openAlong: ({ points }, d) => expect(d.points).toBe(points),
  connect: ({ edges }, d) => expect(d.edges - d.points).toBe(edges),
  bevel: ({ edges }, d) => expect(edges > 0).toBe(d.faces > 0),
  supportLoops: ({ edges }, d) => expect(edges > 0).toBe(d.faces > 0),
  mark: ({ edges }, d, _, { marks }) => expect(edges).toBe(d.layer('edge', marks as string[])),
  rank: ({ faces }, d) => expect(faces).toBe(d.layer('face', ['rank'])),
  weigh: ({ faces }, d) => expect(faces).toBe(d.layer('face', ['weight'])),
}; // prettier-ignore

describe('what an operation says it did', () => {
  it('is counted from what changed, on random picks of random shapes', () => {
    const tried = new Map<string, number>();
    const draws = drawn.filter((d: Draw) => d.op in LAWS);
    fc.assert(
      fc.property(draws, fc.nat(shapes.length - 1), fc.boolean(), (d, shape, twice) => {
        const op = OPS[d.op];
        const params = paramsFor(d);
        let mesh = shapes[shape];
        let result: ReturnType<typeof runOperation>;
        try {
          // The same once more finds most of it done already.
          if (twice) mesh = runOperation(op, mesh, selectionFor(mesh, d), params).mesh;
          result = runOperation(op, mesh, selectionFor(mesh, d), params);
        } catch {
          return;
        }
        const complete = Object.fromEntries(
          Object.entries(op.params.properties as Record<string, { default?: unknown }>).map(([k, f]) => [k, params[k as never] ?? f.default]),
        );
        LAWS[d.op](result.counts, difference(mesh, result.mesh), mesh, complete);
        tried.set(d.op, (tried.get(d.op) ?? 0) + 1);
        if (Object.values(result.counts).every((n) => n === 0))
          expect(sentenceOf(op, result.counts, params)).toBe(op.idle ?? 'Nothing changed.');
      }),
      { numRuns: runs(500, 20_000) },
    );
    // Few of them never found a pick they take.
    expect([...tried.values()].filter((n) => n > 3).length).toBeGreaterThan(20);
  }); // prettier-ignore
});

/** Maps that operations return for the elements they were given. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { ElementKind } from '../src/mesh/elements';
import { OperationError } from '../src/mesh/errors';
import { ElementMap, type ElementMaps } from '../src/mesh/lineage';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { OPERATIONS } from '../src/ops';
import { runOperation } from '../src/ops/operation';
import { buildPrimitive } from '../src/primitives';
import { elementCount, pointsOf } from '../src/select/selection';
import { sharpEdges } from '../src/select/edges';
import { loadKernel } from '../src/solid/kernel';
import { drawn, paramsFor, selectionFor, shapes, type Draw } from './anyOperation';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const KINDS: ElementKind[] = ['vertex', 'edge', 'face'];

/** Where an element is, to the bit; the same for the same element wherever it starts. */
function placesOf(mesh: PolyMesh, kind: ElementKind): string[] {
  const at = (v: number): string => mesh.positions.subarray(3 * v, 3 * v + 3).join();
  return Array.from({ length: elementCount(mesh, kind) }, (_, i) => {
    if (kind !== 'face') return pointsOf(mesh, { kind, indices: [i] }).map(at).sort().join('|'); // prettier-ignore
    const loop = Array.from(mesh.corners.subarray(mesh.faceStart[i], mesh.faceStart[i + 1]), at);
    const first = loop.indexOf([...loop].sort()[0]);
    return [...loop.slice(first), ...loop.slice(0, first)].join('|');
  });
}

/** These copy, mirror, flip or weld, so other elements end up where old ones were. */
const putsOthersThere = ({ op, pick }: Draw): boolean =>
  ['copyFaces', 'mirrorOnce', 'turnOver', 'weld', 'collapse'].includes(op) ||
  (op === 'transform' && pick === 3);

/** Runs a drawn operation; null when it refuses. */
function attempt(mesh: PolyMesh, d: Draw) {
  try {
    return runOperation(OPERATIONS[d.op], mesh, selectionFor(mesh, d), paramsFor(d));
  } catch (e) {
    if (e instanceof OperationError) return null;
    throw e;
  }
}

describe('maps of every operation', () => {
  it('have an entry for each element, of old ones that its points came from', () => {
    const acted = new Set<string>();
    // Rims to fill and to bridge as well.
    const open = buildPrimitive({ primitive: 'cylinder', radius: 8, height: 20, sides: 10, caps: 'none' });
    const all = [...shapes, open];
    fc.assert(
      fc.property(drawn, fc.nat(all.length - 1), (d, shape) => {
        const before = all[shape];
        const out = attempt(before, d);
        if (!out) return;
        acted.add(d.op);
        const { maps, mesh } = out;
        const wrong: string[] = [];
        for (const kind of KINDS) {
          const map = maps[kind];
          if (map.size !== elementCount(mesh, kind)) wrong.push(`${kind}: ${map.size} entries`);
          if (map.before !== elementCount(before, kind)) wrong.push(`${kind}: of ${map.before}`);
          for (let i = 0; i < map.size; i++) {
            const old = map.of(i);
            if (!old.length) continue;
            if (old.some((o, k) => o >= map.before || (k > 0 && o <= old[k - 1]))) wrong.push(`${kind} ${i}: ${old}`); // prettier-ignore
            if (kind === 'vertex') continue;
            const came = new Set(pointsOf(mesh, { kind, indices: [i] }).flatMap((v) => maps.vertex.of(v)));
            const meets = pointsOf(before, { kind, indices: old }).some((v) => came.has(v));
            if (!meets) wrong.push(`${kind} ${i} does not touch ${old}`);
          }
        }
        expect([d.op, wrong.slice(0, 3)]).toEqual([d.op, []]);
      }),
      { numRuns: runs(600, 2400), seed: 5 },
    );
    expect([...acted].sort()).toEqual(Object.keys(OPERATIONS).sort());
  });

  it('lead from what stayed to itself', () => {
    let stayed = 0;
    fc.assert(
      fc.property(drawn, fc.nat(shapes.length - 1), (d, shape) => {
        const before = shapes[shape];
        if (putsOthersThere(d)) return;
        const out = attempt(before, d);
        if (!out) return;
        for (const kind of KINDS) {
          const old = new Map(placesOf(before, kind).map((p, i) => [p, i]));
          placesOf(out.mesh, kind).forEach((place, i) => {
            const o = old.get(place);
            if (o === undefined || out.maps[kind].isMade(i)) return;
            expect([d.op, kind, i, out.maps[kind].of(i).includes(o)]).toEqual([d.op, kind, i, true]);
            stayed++;
          });
        }
      }),
      { numRuns: 300, seed: 11 },
    );
    expect(stayed).toBeGreaterThan(10_000);
  });

  it('put together along many operations still lead to where things were', () => {
    let followed = 0;
    fc.assert(
      fc.property(
        fc.nat(shapes.length - 1),
        fc.array(drawn, { minLength: 20, maxLength: 20 }),
        (shape, draws) => {
          const base = shapes[shape];
          let mesh = base;
          let maps: ElementMaps = {
            vertex: ElementMap.identity(elementCount(base, 'vertex')),
            edge: ElementMap.identity(elementCount(base, 'edge')),
            face: ElementMap.identity(elementCount(base, 'face')),
          };
          for (const d of draws) {
            if (putsOthersThere(d) || faceCount(mesh) > 600) continue;
            const out = attempt(mesh, d);
            if (!out) continue;
            mesh = out.mesh;
            maps = {
              vertex: maps.vertex.then(out.maps.vertex),
              edge: maps.edge.then(out.maps.edge),
              face: maps.face.then(out.maps.face),
            };
          }
          for (const kind of KINDS) {
            const old = new Map(placesOf(base, kind).map((p, i) => [p, i]));
            placesOf(mesh, kind).forEach((place, i) => {
              const o = old.get(place);
              if (o === undefined || maps[kind].isMade(i)) return;
              expect([kind, i, maps[kind].of(i).includes(o)]).toEqual([kind, i, true]);
              followed++;
            });
          }
        },
      ),
      { numRuns: runs(20, 60), seed: 3 },
    );
    expect(followed).toBeGreaterThan(runs(330, 1000));
  });
});

describe('following elements', () => {
  const box = buildPrimitive({ primitive: 'box', width: 20, height: 14, depth: 10, segments: [3, 2, 2] });

  it('finds the moved face and not its walls', () => {
    const out = runOperation(OPERATIONS.extrude, box, { kind: 'face', indices: [4] }, { distance: 3 });
    expect(out.maps.face.follow([4])).toEqual(out.selection.indices);
    const beside = faceCount(out.mesh) - 1;
    expect(out.maps.face.isMade(beside)).toBe(true);
  });

  it('finds both halves of a divided edge, and the one face of several', () => {
    const cut = runOperation(OPERATIONS.ringCut, box, { kind: 'edge', indices: [0] }, { count: 1 });
    expect(cut.maps.edge.follow([0])).toHaveLength(2);
    const t = topologyOf(box);
    const c = t.cornerOfEdge[0];
    const two = [t.faceOfCorner[c], t.faceOfCorner[t.twin[c]]];
    const one = runOperation(OPERATIONS.dissolve, box, { kind: 'face', indices: two }, {});
    expect(one.maps.face.of(one.maps.face.follow([two[1]])[0])).toEqual([...two].sort((a, b) => a - b));
  });

  it('of a face that is gone finds none', () => {
    const out = runOperation(OPERATIONS.deleteFaces, box, { kind: 'face', indices: [4] }, {});
    expect(out.maps.face.follow([4])).toEqual([]);
    expect(out.maps.face.follow([5])).toEqual([4]);
  });

  it('a second bevel picks what it made', () => {
    const first = runOperation(OPERATIONS.bevel, box, { kind: 'edge', indices: [0] }, { width: 0.5, segments: 2 }); // prettier-ignore
    const t = topologyOf(first.mesh);
    const made = new Set(first.selection.indices);
    expect(made.size).toBeGreaterThanOrEqual(2);
    // One that ends in a corner of the box: in the middle of a straight run a single edge has no width at either end.
    const isCorner = (v: number): boolean =>
      [10, 7, 5].every((x, k) => Math.abs(first.mesh.positions[3 * v + k]) === x);
    const free = sharpEdges(first.mesh, 60).find((e) => {
      const c = t.cornerOfEdge[e];
      const isFree = !made.has(t.faceOfCorner[c]) && !made.has(t.faceOfCorner[t.twin[c]]);
      return isFree && [0, 1].some((k) => isCorner(t.edges[2 * e + k]));
    })!;
    const second = runOperation(OPERATIONS.bevel, first.mesh, { kind: 'edge', indices: [free] }, { width: 0.5, segments: 3 }); // prettier-ignore
    expect(second.selection.indices.length).toBeGreaterThanOrEqual(3);
    expect(second.selection.indices.every((f) => second.maps.face.isMade(f))).toBe(true);
  });
});

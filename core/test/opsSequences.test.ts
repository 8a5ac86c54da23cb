/** Random sequences of all operations on random meshes keep every invariant, and come back when undone. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { ActionRun, type Action } from '../src/actions/actions';
import { encodeMesh } from '../src/formats/meshBlob';
import { checkMesh } from '../src/mesh/checkMesh';
import { LAYER_KINDS } from '../src/mesh/layerKinds';
import type { Domain, Layer } from '../src/mesh/layers';
import { OperationError } from '../src/mesh/errors';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { OPERATIONS } from '../src/ops';
import { REFUSALS, runOperation, sentenceOf } from '../src/ops/operation';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { listed } from '../src/select/rules';
import { drawn, paramsFor, selectionFor, shapes } from './anyOperation';
import { elementCount } from '../src/select/selection';
import { loadKernel } from '../src/solid/kernel';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

/** Operations defined to open a mesh, or to leave loose faces. */
const OPENS = new Set([
  'openAlong',
  'drawFace',
  'deleteFaces',
  'keepFaces',
  'splitApart',
  'copyFaces',
  'planeSlice',
  'turnOver',
  'mirrorOnce',
  'thicken',
]);

/** Findings that are no fault of an operation on this input. */
function faults(mesh: PolyMesh, opened: boolean): string[] {
  return checkMesh(mesh)
    .findings.map((f) => f.code)
    .filter((c) => !(opened && (c === 'open-edge' || c === 'folded-edge')) && c !== 'zero-area');
}

/** The layer an operation sets. */
const SETS: Record<string, string> = { rank: 'rank', weigh: 'weight' };

describe('random sequences of operations', () => {
  it('keep a mesh sound and closed, and refuse with a sentence', () => {
    const acted = new Map<string, number>();
    fc.assert(
      fc.property(
        fc.nat(shapes.length - 1),
        fc.array(drawn, { minLength: 1, maxLength: 5 }),
        (shape, draws) => {
          let mesh = shapes[shape];
          let opened = checkMesh(mesh).findings.length > 0;
          for (const d of draws) {
            if (faceCount(mesh) > 3000) return;
            try {
              const out = runOperation(OPERATIONS[d.op], mesh, selectionFor(mesh, d), paramsFor(d));
              opened ||= OPENS.has(d.op);
              expect([d.op, faults(out.mesh, opened)]).toEqual([d.op, []]);
              for (const i of out.selection.indices)
                expect(i).toBeLessThan(elementCount(out.mesh, out.selection.kind));
              expect(sentenceOf(OPERATIONS[d.op], out.counts, paramsFor(d))).toMatch(
                /^[A-Z](?!.*(undefined|NaN)).*\.$/,
              );
              acted.set(d.op, (acted.get(d.op) ?? 0) + 1);
              mesh = out.mesh;
            } catch (e) {
              if (!(e instanceof OperationError)) throw e;
              expect(e.message).toMatch(/[.!]$/);
              expect([...REFUSALS, ...(OPERATIONS[d.op].refuses ?? [])]).toContain(e.code);
            }
          }
        },
      ),
      { numRuns: runs(150, 600), seed: 20261128 },
    );
    // The test is about all of them: none may only ever refuse.
    expect([...acted.keys()].sort()).toEqual(Object.keys(OPERATIONS).sort());
  });

  it('give the same bytes again, and those of before when taken back', () => {
    fc.assert(
      fc.property(
        fc.nat(shapes.length - 1),
        fc.array(drawn, { minLength: 2, maxLength: 4 }),
        (shape, draws) => {
          const base = shapes[shape];
          const run = new ActionRun();
          const actions: Action[] = [];
          const bytes: Uint8Array[] = [encodeMesh(base)];
          for (const d of draws) {
            const { mesh } = run.run(base, actions);
            actions.push({ op: d.op, select: listed(selectionFor(mesh, d)), ...paramsFor(d) });
            bytes.push(encodeMesh(run.run(base, actions).mesh));
          }
          expect(encodeMesh(new ActionRun().run(base, actions).mesh)).toEqual(bytes[bytes.length - 1]);
          for (let k = actions.length; k >= 0; k--)
            expect(encodeMesh(run.run(base, actions.slice(0, k)).mesh)).toEqual(bytes[k]);
        },
      ),
      { numRuns: runs(20, 60), seed: 7 },
    );
  });
});

describe('layers', () => {
  /** Every layer of the registry with values that can be told apart, and two that are in none. */
  function layered(m: PolyMesh): PolyMesh {
    const counts = {
      vertex: m.positions.length / 3,
      edge: topologyOf(m).edgeCount,
      corner: m.corners.length,
      face: faceCount(m),
    };
    const layers: Record<Domain, Record<string, Layer>> = { vertex: {}, edge: {}, corner: {}, face: {} };
    const put = (on: Domain, name: string, size: number, at: (i: number, k: number) => number): void => {
      const data = Float32Array.from({ length: counts[on] * size }, (_, i) => at((i / size) | 0, i % size));
      layers[on][name] = { size, data };
    };
    for (const { name, on, size, value } of LAYER_KINDS)
      if (value === 'code') put(on, name, size, (i) => 1 + (i % 2));
      else if (value === 'number') put(on, name, size, (i) => (i % 5) / 4);
      else put(on, name, size, (i, k) => (k === i % 3 ? 1 : 0));
    put('vertex', 'warmth', 1, (i) => i % 7);
    put('face', 'mossiness', 2, (i) => i % 3);
    return { ...m, layers };
  }
  const rangeOf = (l: Layer): [number, number] => [Math.min(0, ...l.data), Math.max(0, ...l.data)];

  it('go through every operation by the word of their registry, known or not', () => {
    const acted = new Set<string>();
    // Rims to fill and to bridge as well.
    const open: Primitive = { primitive: 'cylinder', radius: 8, height: 20, sides: 10, caps: 'none' };
    const all = [...shapes, buildPrimitive(open)];
    fc.assert(
      fc.property(drawn, fc.nat(shapes.length), (d, shape) => {
        const before = layered(all[shape]);
        let after: PolyMesh;
        try {
          // No two points of these lie near each other.
          const params = d.op === 'weld' ? { to: 'middle' } : paramsFor(d);
          after = runOperation(OPERATIONS[d.op], before, selectionFor(before, d), params).mesh;
        } catch (e) {
          if (!(e instanceof OperationError)) throw e;
          return;
        }
        acted.add(d.op);
        const wrong: string[] = [];
        for (const { name, on, size, value } of LAYER_KINDS) {
          const layer = after.layers[on][name];
          if (!layer) continue;
          const [lo, hi] = rangeOf(before.layers[on][name]);
          if (layer.size !== size) wrong.push(`${name}: size`);
          // A rank is set to one of its own words, a weight to a number of its own.
          if (value === 'code' && SETS[d.op] !== name && layer.data.some((x) => x < 0 || x > hi || x % 1))
            wrong.push(`${name}: no code`);
          if (value === 'direction')
            for (let i = 0; i < layer.data.length; i += 3) {
              const l = Math.hypot(...layer.data.subarray(i, i + 3));
              if (l > 1e-12 && Math.abs(l - 1) > 1e-5) wrong.push(`${name}: length ${l}`);
            }
          // UVs are laid on beside an edge, and a strength can be set.
          if (value === 'number' && name !== 'uv' && d.op !== 'mark')
            if (layer.data.some((x) => x < lo - 1e-6 || x > hi + 1e-6)) wrong.push(`${name}: out of range`);
        }
        for (const [on, name] of [
          ['vertex', 'warmth'],
          ['face', 'mossiness'],
        ] as const) {
          const layer = after.layers[on][name];
          const [lo, hi] = rangeOf(before.layers[on][name]);
          if (!layer || layer.data.some((x) => x < lo - 1e-5 || x > hi + 1e-5)) wrong.push(`${name} is lost`);
        }
        expect([d.op, wrong.slice(0, 3)]).toEqual([d.op, []]);
      }),
      { numRuns: 1500 },
    );
    expect([...acted].sort()).toEqual(Object.keys(OPERATIONS).sort());
  });
});

/** Every operation by hand warns when it makes the mesh cross itself, and only then. */
import fc from 'fast-check';
import { beforeAll, expect, it } from 'vitest';
import '../src/planar/withClipper';
import { OperationError } from '../src/mesh/errors';
import { sizeOf } from '../src/mesh/measure';
import { topologyOf } from '../src/mesh/Topology';
import { OPERATIONS } from '../src/ops';
import { runOperation, type TrackedResult } from '../src/ops/operation';
import { loadKernel } from '../src/solid/kernel';
import { drawn, paramsFor, selectionFor, shapes, type Draw } from './anyOperation';
import { deepestCrossing } from './crossings';
import { runs } from './effort';

beforeAll(() => loadKernel());

/** Operations that move far what they are given. */
const MOVE = ['transform', 'extrude', 'thicken', 'bridge', 'inset', 'mirrorOnce', 'collapse', 'slide'].filter(
  (op) => op in OPERATIONS,
);

/** Moves across the piece. */
const paramsOf = (d: Draw): Record<string, unknown> =>
  d.op === 'transform' ? { move: [d.amount, d.amount / 2, -d.amount / 3] } : paramsFor(d);

it('every operation tells where it makes the mesh pass through itself', () => {
  let crossed = 0;
  fc.assert(
    fc.property(
      fc.nat(shapes.length - 1),
      drawn,
      fc.constantFrom(...MOVE),
      fc.integer({ min: -40, max: 40 }),
      (shape, any, op, amount) => {
        // prettier-ignore
        const d = { ...any, ...(amount > -30 && { op, amount }) };
        const mesh = shapes[shape];
        let out: TrackedResult;
        try {
          out = runOperation(OPERATIONS[d.op], mesh, selectionFor(mesh, d), paramsOf(d));
        } catch (e) {
          if (e instanceof OperationError) return;
          throw e;
        }
        const deep = deepestCrossing(out.mesh) / sizeOf(out.mesh);
        const told = out.warnings?.find((w) => w.code === 'crosses');
        if (deep > 2e-5) {
          crossed++;
          expect(told, `${d.op}, ${deep} deep`).toBeDefined();
          const { edgeCount } = topologyOf(out.mesh);
          expect(told!.elements!.indices.length).toBeGreaterThan(0);
          for (const e of told!.elements!.indices) expect(e).toBeLessThan(edgeCount);
        } else if (deep < 5e-6) expect(told, `${d.op}, ${deep} deep`).toBeUndefined();
      },
    ),
    { numRuns: runs(200, 5000) },
  );
  // The law is about some of them.
  expect(crossed).toBeGreaterThan(20);
});

/** Numbers pulled on the model: where one is shown is where the action has put what it measures. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyAction } from '../src/actions/actions';
import { OperationError } from '../src/mesh/errors';
import { faceNormal } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { edgesAt, topologyOf } from '../src/mesh/Topology';
import { addScaled, distance, dot, lerp, pointOf, sub, type Vec3 } from '../src/mesh/vec3';
import { defaultsOf } from '../src/ops/operation';
import { OPERATIONS } from '../src/ops';
import type { Action } from '../src/ops/action';
import type { Pull } from '../src/ops/pulls';
import { buildPrimitive } from '../src/primitives';
import type { Hand } from '../src/ops/tool';
import { pickedSize, shortestGap } from '../src/select/pickedSize';
import { pickMore } from '../src/select/picks';
import type { ElementKind } from '../src/select/selection';
import { listed } from '../src/select/rules';
import { TriangleTree } from '../src/spatial/TriangleTree';
import { drawn, paramsFor, selectionFor, shapes } from './anyOperation';
import { runs } from './effort';

const placeOf = ({ zero, along, rate }: Pull, value: number): Vec3 => addScaled(zero, along, value / rate);

function fromPoint(m: PolyMesh, p: Vec3): number {
  let least = Infinity;
  for (let v = 0; v < m.positions.length / 3; v++)
    least = Math.min(least, distance(p, pointOf(m.positions, v)));
  return least;
}

function fromEdge(m: PolyMesh, p: Vec3): number {
  const { edges } = topologyOf(m);
  let least = Infinity;
  for (let e = 0; 2 * e < edges.length; e++) {
    const [a, b] = [pointOf(m.positions, edges[2 * e]), pointOf(m.positions, edges[2 * e + 1])];
    const way = sub(b, a);
    const share = Math.min(1, Math.max(0, dot(sub(p, a), way) / dot(way, way)));
    least = Math.min(least, distance(p, lerp(a, b, share)));
  }
  return least;
}

const fromSurface = (m: PolyMesh, p: Vec3): number => distance(p, new TriangleTree(m).nearest(p)!.at);

/** The element there: a point, an edge, or a place on a face. */
const MEETS: Record<string, (m: PolyMesh, p: Vec3) => number> = {
  extrude: fromSurface,
  extrudeEdges: fromEdge,
  inset: fromEdge,
  bevel: fromEdge,
  bevelPoints: fromPoint,
  supportLoops: fromEdge,
  ringCut: fromPoint,
  slide: fromPoint,
  thicken: fromSurface,
  push: fromPoint,
};

const LOOPS = new Set(['bevel', 'supportLoops']);

describe('a number that is pulled', () => {
  it('is shown where the action has put what it measures', () => {
    const met = new Map<string, number>();
    fc.assert(
      fc.property(
        drawn,
        fc.constantFrom(...Object.keys(MEETS)),
        // Faces of a quad sphere are bent: their middle lies beside them.
        fc.constantFrom(...[...shapes.keys()].filter((i) => i !== 2)),
        (d, op, which) => {
          // Over triangles of a ball a strip's side is no straight line.
          if (LOOPS.has(op) && which === 7) return;
          const mesh = shapes[which];
          // Of several elements, one has the handle; here it is the only one.
          const on = OPERATIONS[op].on[0];
          const alone = selectionFor(mesh, { ...d, op, kind: on, pick: 0, grown: false });
          // Strips of one edge of a run taper to its ends.
          const one = LOOPS.has(op) ? pickMore(mesh, 'loop', alone) : alone;
          const asked = paramsFor({ ...d, op, pick: 0 });
          const params = {
            ...asked,
            ...(op === 'ringCut' && { count: 1 }),
            // Outward round a corner its width is a mean.
            ...(op === 'inset' && { thickness: Math.abs(asked.thickness as number) }),
          };
          const action = { op, select: listed(one), ...params } as Action;
          let made;
          try {
            made = applyAction(mesh, action);
          } catch (e) {
            if (e instanceof OperationError) return;
            throw e;
          }
          if (made.warnings?.length) return;
          const values = { ...defaultsOf(OPERATIONS[op].params), ...params } as Record<string, number>;
          for (const pull of made.pulls.filter((p) => p.rate && p.key !== 'depth')) {
            expect(MEETS[op](made.mesh, placeOf(pull, values[pull.key])), `${op} ${pull.key}`).toBeLessThan(
              1e-6,
            );
            met.set(op, (met.get(op) ?? 0) + 1);
          }
        },
      ),
      { numRuns: runs(600, 1200), seed: 11 },
    );
    for (const op of Object.keys(MEETS)) expect(met.get(op) ?? 0, op).toBeGreaterThan(runs(5, 10));
  });

  it('goes by the radius of a rolling ball, by a depth, and by either side', () => {
    const box = buildPrimitive({ primitive: 'box', width: 20, height: 14, depth: 10 });
    const edge = { edges: [0] };
    const at = (action: Action, key: string): [PolyMesh, Vec3] => {
      const made = applyAction(box, action);
      return [
        made.mesh,
        placeOf(
          made.pulls.find((p) => p.key === key)!,
          action[key] as number,
        ),
      ];
    };
    expect(
      fromEdge(...at({ op: 'bevel', select: edge, width: 1, by: 'radius', segments: 2 }, 'width')),
    ).toBeLessThan(1e-9);
    const sheet = buildPrimitive({ primitive: 'plane', width: 20, depth: 20, segments: [4, 3] });
    const out = applyAction(sheet, { op: 'inset', select: { faces: [5] }, thickness: -1 });
    expect(fromEdge(out.mesh, placeOf(out.pulls[0], -1))).toBeLessThan(1e-9);
    for (const depth of [-1, 1.5])
      expect(
        fromSurface(...at({ op: 'inset', select: { faces: [3] }, thickness: 1, depth }, 'depth')),
      ).toBeLessThan(1e-9);
    for (const side of [-1, -0.4, 0, 0.7, 1])
      expect(
        fromSurface(...at({ op: 'thicken', select: { faces: [3] }, thickness: 1, side }, 'thickness')),
      ).toBeLessThan(1e-9);
    for (const sides of ['left', 'right'])
      expect(
        fromEdge(...at({ op: 'supportLoops', select: edge, distance: 0.7, sides }, 'distance')),
      ).toBeLessThan(1e-9);
  });
});

describe('the size of what is picked', () => {
  const box = buildPrimitive({ primitive: 'box', width: 20, height: 14, depth: 10, segments: [10, 1, 1] });
  const topology = topologyOf(box);
  const outlines = { ...box, edgeOfCorner: topology.edgeOfCorner, edges: topology.edges };
  const size = (kind: ElementKind, indices: number[], each = false): number =>
    pickedSize(outlines, { kind, indices }, each);

  it('is that of faces together or one by one, of faces beside edges, of edges at points', () => {
    const top = box.faceStart.length - 1;
    const faces = Array.from({ length: top }, (_, f) => f).filter((f) => faceNormal(box, f)[1] > 0.9);
    expect(faces).toHaveLength(10);
    expect(size('face', faces)).toBeCloseTo(Math.sqrt(200), 9);
    expect(size('face', faces, true)).toBeCloseTo(Math.sqrt(20), 9);
    const across = edgesAt(box, box.corners[box.faceStart[faces[3]]]).find((e) => {
      const [a, b] = [0, 1].map((k) => pointOf(box.positions, topology.edges[2 * e + k]));
      return Math.abs(distance(a, b) - 10) < 1e-9;
    })!;
    expect(size('edge', [across])).toBeCloseTo(Math.sqrt(20), 9);
    expect(size('vertex', [box.corners[box.faceStart[faces[3]]]])).toBeCloseTo(2, 9);
    expect(size('face', [])).toBe(Infinity);
  });

  it('leaves out points that edges join when it is the gap between points, as trying all pairs finds', () => {
    const point = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -40, max: 40 })));
    const linked = fc.array(fc.tuple(fc.nat(29), fc.nat(29)), { maxLength: 20 });
    fc.assert(
      fc.property(fc.array(point, { minLength: 2, maxLength: 30 }), linked, (places, pairs) => {
        const edges = pairs.filter(([a, b]) => a !== b && Math.max(a, b) < places.length);
        const m = {
          positions: places.flat(),
          faceStart: [0],
          corners: [],
          edgeOfCorner: [],
          edges: edges.flat(),
        };
        const all = places.map((_, i) => i);
        let least = Infinity;
        for (const a of all)
          for (const b of all.slice(a + 1))
            if (!edges.some((e) => e.includes(a) && e.includes(b)))
              least = Math.min(least, Math.hypot(...places[a].map((x, k) => x - places[b][k])));
        expect(shortestGap(m, all)).toBe(least < Infinity ? least : null);
      }),
      { numRuns: runs(200, 5000) },
    );
    // The weld starts where it welds: two sheets 0.3 apart, corners that edges join 20 apart.
    const near = OPERATIONS.weld.tools!.find((t) => t.title === 'Weld near points')!;
    const from = (gap: number | null) => near.start!({ gap: () => gap } as Hand);
    expect([from(0.3), from(null)]).toEqual([
      { to: 'near', distance: 0.306 },
      { to: 'near', distance: 0.01 },
    ]);
  });
});

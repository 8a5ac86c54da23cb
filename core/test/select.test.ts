/**
 * Selections: runs, growing, enclosing, carrying patterns on, rules, likeness, softness.
 *
 * @covers core/src/select
 */
import { describe, expect, it } from 'vitest';
import { faceCount, makeMesh, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { buildPrimitive } from '../src/primitives';
import { grow, invert, shrink, type CarryOn } from '../src/select/grow';
import { pickMore, PICKS, type PickName } from '../src/select/picks';
import { middleOf, valences } from '../src/select/measure';
import { listed, resolveSelect, selectBranch, type Select } from '../src/select/rules';
import { alike } from '../src/select/traits';
import { convertSelection, islandsOf, pointsOf, selectionOf, type Selection } from '../src/select/selection';
import { falloffAt, FALLOFFS, softWeights, surfaceDistance } from '../src/select/soft';
import { edgeLoop, edgeRing, faceStrip, shortestFaceWay, shortestWay } from '../src/select/walks';
import { refusal } from './refusal';

const grid = buildPrimitive({ primitive: 'plane', width: 60, depth: 40, segments: [6, 4] });
const can = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 30, sides: 12, rings: 3 });
const ring = buildPrimitive({ primitive: 'torus', radius: 20, tubeRadius: 5, sides: 16, tubeSides: 8 });
const ball = buildPrimitive({ primitive: 'quadSphere', radius: 10, divisions: 4 });

const near = (m: PolyMesh, kind: Selection['kind'], at: number[]): number => {
  const n =
    kind === 'face' ? faceCount(m) : kind === 'edge' ? topologyOf(m).edgeCount : m.positions.length / 3;
  let [best, least] = [-1, Infinity];
  for (let i = 0; i < n; i++) {
    const d = Math.hypot(...middleOf(m, kind, i).map((x, k) => x - at[k]));
    if (d < least) [best, least] = [i, d];
  }
  return best;
};

describe('runs', () => {
  it('go straight on over a grid from rim to rim, and along the rim all round', () => {
    const inner = edgeLoop(grid, near(grid, 'edge', [0, 0, 5]));
    expect([inner.edges.length, inner.closed, inner.stops.length]).toEqual([4, false, 2]);
    const rim = edgeLoop(grid, near(grid, 'edge', [5, 0, 20]));
    expect([rim.edges.length, rim.closed]).toEqual([20, true]);
  });

  it('close round a torus, both ways', () => {
    const around = edgeLoop(ring, near(ring, 'edge', [25, 0, 0]));
    expect([around.closed, [8, 16].includes(around.edges.length)]).toEqual([true, true]);
    const across = edgeRing(ring, near(ring, 'edge', [25, 0, 0]));
    expect([across.closed, around.edges.length + across.edges.length]).toEqual([true, 24]);
  });

  it('stop at poles, and rings at faces that are no quads, and say where', () => {
    const pole = edgeLoop(ball, near(ball, 'edge', [5.7, 5.7, 5]));
    expect(pole.closed || pole.stops.length > 0).toBe(true);
    const cubeCorner = valences(ball).findIndex((n) => n === 3);
    const t = topologyOf(ball);
    const atCorner = Array.from({ length: t.edgeCount }, (_, e) => e).find(
      (e) => t.edges[2 * e] === cubeCorner || t.edges[2 * e + 1] === cubeCorner,
    )!;
    expect(edgeLoop(ball, atCorner).stops).toContain(cubeCorner);
    // Up the side of a can the ring ends at the lids, which are n-gons.
    const around = edgeRing(can, near(can, 'edge', [0, 15, 10]));
    expect([
      around.edges.length,
      around.stops.length,
      around.stops.every((f) => can.faceStart[f + 1] - can.faceStart[f] === 12),
    ]).toEqual([4, 2, true]);
    expect(faceStrip(can, near(can, 'edge', [0, 5, 10]))).toHaveLength(3);
  });

  it('find the shortest way by length, not by count', () => {
    const [a, b] = [near(grid, 'vertex', [-30, 0, -20]), near(grid, 'vertex', [30, 0, 20])];
    const way = shortestWay(grid, a, b)!;
    expect([way[0], way[way.length - 1], way.length]).toEqual([a, b, 11]);
    const faces = shortestFaceWay(grid, near(grid, 'face', [-25, 0, -15]), near(grid, 'face', [25, 0, -15]))!;
    expect(faces).toHaveLength(6);
    const two = makeMesh(
      Float64Array.from([...grid.positions, ...grid.positions]),
      grid.faceStart,
      grid.corners,
    );
    expect(shortestWay(two, 0, two.positions.length / 3 - 1)).toBeNull();
  });
});

describe('growing and converting', () => {
  it('grow by what shares a point, shrink back, and invert', () => {
    const one = selectionOf('face', [near(grid, 'face', [5, 0, 5])]);
    const nine = grow(grid, one);
    expect(nine.indices).toHaveLength(9);
    const far = selectionOf('face', [40]);
    expect(shrink(ring, grow(ring, far))).toEqual(far);
    expect(invert(grid, one).indices).toHaveLength(23);
    expect(grow(grid, selectionOf('vertex', [near(grid, 'vertex', [0, 0, 0])])).indices).toHaveLength(5);
  });

  it('convert to smaller elements, and to larger ones whole or touched', () => {
    const face = selectionOf('face', [near(grid, 'face', [5, 0, 5])]);
    expect(convertSelection(grid, face, 'edge').indices).toHaveLength(4);
    expect(pointsOf(grid, face)).toHaveLength(4);
    const points = convertSelection(grid, face, 'vertex');
    expect(convertSelection(grid, points, 'face')).toEqual(face);
    expect(convertSelection(grid, points, 'face', false).indices).toHaveLength(9);
    expect(convertSelection(grid, points, 'edge', false).indices).toHaveLength(12);
  });

  it('fall into islands', () => {
    const faces = selectionOf('face', [0, 1, 5, 23]);
    expect(
      islandsOf(grid, faces)
        .map((l) => l.length)
        .sort(),
    ).toEqual([1, 1, 2]);
    expect(
      islandsOf(grid, selectionOf('edge', edgeLoop(grid, near(grid, 'edge', [0, 0, 5])).edges)),
    ).toHaveLength(1);
  });
});

describe('enclosing', () => {
  it('takes what lies between two loops, also round a can', () => {
    const loops = [near(can, 'edge', [0, 5, 10]), near(can, 'edge', [0, -5, 10])].flatMap((e) => {
      const c = topologyOf(can);
      const flat = [c.edges[2 * e], c.edges[2 * e + 1]].map((v) => can.positions[3 * v + 1]);
      expect(flat[0]).toBeCloseTo(flat[1], 9);
      return edgeLoop(can, e).edges;
    });
    expect(pickMore(can, 'enclose', selectionOf('edge', loops)).indices).toHaveLength(12);
  });

  it('takes the smaller side of one loop, and the part between islands of faces', () => {
    const loop = edgeLoop(can, near(can, 'edge', [0, 5, 10])).edges;
    expect(pickMore(can, 'enclose', selectionOf('edge', loop)).indices).toHaveLength(13);
    const ends = selectionOf('face', [near(can, 'face', [0, 15, 0]), near(can, 'face', [0, -15, 0])]);
    expect(pickMore(can, 'enclose', ends).indices).toHaveLength(38);
    expect(refusal(() => pickMore(can, 'enclose', selectionOf('edge', [0])))).toBe('not-enclosing');
    expect(refusal(() => pickMore(can, 'enclose', selectionOf('vertex', [0])))).toBe('enclose-points');
  });
});

describe('carrying a pattern on', () => {
  const side = (k: number): number => {
    const a = (2 * Math.PI * (k + 0.5)) / 12;
    return near(can, 'face', [10 * Math.cos(a), 0, -10 * Math.sin(a)]);
  };
  it('goes all round a can with the stride of the first two', () => {
    const out = pickMore(can, 'repeat', selectionOf('face', [side(0), side(2)]));
    expect(out.indices).toHaveLength(6);
  });
  it('closes a ring of any number at the shortest step, and keeps that from where it began', () => {
    for (const sides of [9, 12, 13, 14, 15]) {
      const m = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 30, sides });
      const at = (k: number): number => {
        const a = (2 * Math.PI * (k + 0.5)) / sides;
        return near(m, 'face', [10 * Math.cos(a), 0, -10 * Math.sin(a)]);
      };
      const places = Array.from({ length: sides }, (_, k) => at(k));
      const carried = (...from: number[]): number[] =>
        pickMore(m, 'repeat', selectionOf('face', from.map(at)))
          .indices.map((f) => places.indexOf(f))
          .sort((a, b) => a - b);
      for (const [step, from] of [
        [2, [0, 2]],
        [2, [1, 3]],
        [3, [0, 3]],
        [2, [0, 2, 4]],
      ] as const) {
        const out = carried(...from);
        expect(out).toEqual(expect.arrayContaining([...from]));
        expect(out).toHaveLength(Math.floor(sides / step));
        const ways = out.map((p, i) => (out[(i + 1) % out.length] - p + sides) % sides);
        // One of them may be longer, where the number does not come out even.
        expect(ways.sort((x, y) => x - y).slice(0, -1)).toEqual(Array(out.length - 1).fill(step));
      }
    }
  });
  it('counts, and leaves a given gap', () => {
    const sides = Array.from({ length: 12 }, (_, k) => side(k));
    const of = (o: CarryOn, ...from: number[]): number[] =>
      pickMore(can, 'repeat', selectionOf('face', from.map(side)), o).indices.map((f) => sides.indexOf(f)).sort((a, b) => a - b); // prettier-ignore
    // The direction of a run around a can depends on the mesh, so both directions are checked together.
    const both = (o: CarryOn, ...from: number[]) =>
      [of(o, ...from), of({ ...o, back: true }, ...from)].sort();
    expect(both({ gap: 1, count: 2 }, 0, 1)).toEqual([
      [0, 1, 3, 4, 6, 7],
      [0, 1, 6, 7, 9, 10],
    ]);
    expect(both({ gap: 0, start: 2, count: 1 }, 0)).toEqual([
      [0, 3],
      [0, 9],
    ]);
    // Neighbours on both sides of where the run is counted from are neighbours all the same.
    expect(of({}, 11, 0)).toHaveLength(12);
    expect(of({ gap: 2 }, 0)).toEqual([0, 3, 6, 9]);
    // Up and down the can it is an open run, and ends.
    const up = pickMore(can, 'repeat', selectionOf('face', [side(0)]), { across: true }).indices.length;
    const down = pickMore(can, 'repeat', selectionOf('face', [side(0)]), { across: true, back: true }).indices.length; // prettier-ignore
    expect(up + down).toBe(4);
    expect(
      refusal(() => pickMore(can, 'repeat', selectionOf('face', [side(0), near(can, 'face', [0, 15, 0])]))),
    ).toBe('no-run');
  });
});

describe('rules', () => {
  const count = (m: PolyMesh, s: Select): number => resolveSelect(m, s).indices.length;
  it('pick by facing, corners, sharpness, openness, valence, box', () => {
    expect(count(can, { rule: 'facing', direction: [0, 1, 0] })).toBe(1);
    expect(count(can, { rule: 'ngons' })).toBe(2);
    expect(count(can, { rule: 'corners', count: 4 })).toBe(36);
    expect(count(can, { rule: 'sharp', angle: 45 })).toBe(24);
    const both = (['outside', 'inside'] as const).map((side) =>
      count(can, { rule: 'sharp', angle: 45, side }),
    );
    expect(both).toEqual([24, 0]);
    const angle = buildPrimitive({ primitive: 'outline', contours: [[[0, 0], [20, 0], [20, 5], [5, 5], [5, 20], [0, 20]]], height: 6 }); // prettier-ignore
    expect(count(angle, { rule: 'sharp', angle: 45, side: 'inside' })).toBe(1);
    expect(count(angle, { rule: 'sharp', angle: 45, side: 'outside' })).toBe(17);
    expect(count(grid, { rule: 'open' })).toBe(20);
    expect(count(ball, { rule: 'valence', count: 3 })).toBe(8);
    expect(count(grid, { rule: 'within', of: 'points', min: [-1, -1, -1], max: [1, 1, 1] })).toBe(1);
    expect(count(can, { rule: 'flat', faces: [near(can, 'face', [0, 15, 0])], angle: 5 })).toBe(1);
    expect(count(can, { rule: 'flat', faces: [near(can, 'face', [10, 0, 0])], angle: 35 })).toBe(36);
    expect(count(can, { rule: 'nonManifold' })).toBe(0);
    expect(count(can, { rule: 'material', material: 0 })).toBe(38);
    expect(count(can, { rule: 'marked', layer: 'seam' })).toBe(0);
  });

  it('tell elements the mesh does not have, and what is no rule', () => {
    expect(refusal(() => resolveSelect(grid, { faces: [24] }))).toBe('no-element');
    expect(refusal(() => resolveSelect(grid, { rule: 'loop', edge: 999 }))).toBe('no-element');
    expect(refusal(() => resolveSelect(grid, { rule: 'last' }))).toBe('no-last');
    expect([selectBranch({ rule: 'nought' }), selectBranch(null), selectBranch({ points: [] })]).toEqual([
      null,
      null,
      'points',
    ]);
    expect(listed(selectionOf('vertex', [3, 1, 3]))).toEqual({ points: [1, 3] });
  });

  it('find what is alike within a tolerance', () => {
    const longer = { ...grid, positions: grid.positions.map((x, i) => (i % 3 === 0 && x > 20 ? x + 1 : x)) };
    const f = near(longer, 'face', [5, 0, 5]);
    expect(alike(longer, selectionOf('face', [f]), 'area', 0.01).indices).toHaveLength(20);
    expect(alike(longer, selectionOf('face', [f]), 'area', 0.2).indices).toHaveLength(24);
    expect(
      alike(can, selectionOf('face', [near(can, 'face', [0, 15, 0])]), 'corners', 0).indices,
    ).toHaveLength(2);
    expect(
      alike(can, selectionOf('face', [near(can, 'face', [0, 15, 0])]), 'facing', 1).indices,
    ).toHaveLength(1);
    const upright = near(can, 'edge', [10, 0, 0]);
    expect(alike(can, selectionOf('edge', [upright]), 'direction', 1).indices).toHaveLength(36);
    expect(
      alike(can, selectionOf('edge', [near(can, 'edge', [0, 15, 10])]), 'angle', 1).indices,
    ).toHaveLength(24);
  });

  it('all answer to their names', () => {
    for (const name of Object.keys(PICKS) as PickName[])
      if (!['all', 'none', 'invert', 'rule'].includes(name))
        expect([name, refusal(() => pickMore(grid, name, selectionOf('face', [])))]).toEqual([
          name,
          'nothing-picked',
        ]);
    expect(pickMore(grid, 'all', selectionOf('edge', [])).indices).toHaveLength(58);
    expect(pickMore(grid, 'loop', selectionOf('edge', [near(grid, 'edge', [0, 0, 5])])).indices).toHaveLength(
      4,
    );
    expect(pickMore(grid, 'border', selectionOf('face', [0, 1])).indices).toHaveLength(6);
    expect(pickMore(grid, 'way', selectionOf('vertex', [0, 6])).indices.length).toBeGreaterThan(2);
    expect(pickMore(can, 'shell', selectionOf('edge', [0])).indices).toHaveLength(topologyOf(can).edgeCount);
  });
});

describe('soft selection', () => {
  it('falls off from one to nought, and never grows on the way', () => {
    for (const f of FALLOFFS) {
      expect([falloffAt(f, 0), falloffAt(f, 1)]).toEqual([1, 0]);
      for (let x = 0; x < 0.95; x += 0.1)
        expect(falloffAt(f, x)).toBeGreaterThanOrEqual(falloffAt(f, x + 0.04));
    }
  });

  it('measures along the surface, not through it', () => {
    const start = near(can, 'vertex', [10, 15, 0]);
    const across = near(can, 'vertex', [-10, 15, 0]);
    const straight = softWeights(can, [start], { reach: 25, falloff: 'linear', along: 'straight' });
    expect(straight[across]).toBeCloseTo(1 - 20 / 25, 6);
    const down = near(can, 'vertex', [10, -15, 0]);
    expect(surfaceDistance(can, [start], 100)[down]).toBeCloseTo(30, 9);
  });

  it('comes near the true distance on a triangulated plane, where edges alone would be a quarter too long', () => {
    const fine = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [20, 20] });
    const middle = near(fine, 'vertex', [0, 0, 0]);
    const far = surfaceDistance(fine, [middle], 100);
    for (let v = 0; v < far.length; v++) {
      const true_ = Math.hypot(fine.positions[3 * v], fine.positions[3 * v + 2]);
      expect(far[v]).toBeGreaterThanOrEqual(true_ - 1e-9);
      expect(far[v]).toBeLessThan(true_ * 1.06 + 1e-9);
    }
  });
});

describe('a falloff', () => {
  it('is a cubic, a quarter circle, a line, a square or level, and ends at the reach', () => {
    // Hermite's cubic from 1 to 0, level at both ends; the circle x² + y² = 1.
    for (const x of [0, 0.1, 0.25, 0.5, 0.8, 0.99]) {
      expect(falloffAt('smooth', x)).toBeCloseTo(1 - 3 * x ** 2 + 2 * x ** 3, 12);
      expect(x ** 2 + falloffAt('dome', x) ** 2).toBeCloseTo(1, 12);
      expect(falloffAt('linear', x)).toBeCloseTo(1 - x, 12);
      expect(falloffAt('sharp', x)).toBeCloseTo(1 - 2 * x + x ** 2, 12);
      expect(falloffAt('even', x)).toBe(1);
    }
    for (const kind of FALLOFFS)
      expect([falloffAt(kind, 0), falloffAt(kind, 1), falloffAt(kind, 3)]).toEqual([1, 0, 0]);
  });
});

import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { profileWeights } from '../src/ops/bevel/profile';
import { constrainedTriangles } from '../src/planar/constrainedTriangles';
import { onePointAtATime } from '../src/planar/delaunay';
import { dividePolygon } from '../src/planar/dividePolygon';
import { divideRegion } from '../src/planar/divideRegion';
import { locateInFace } from '../src/planar/locateInFace';
import { planThinRemoval, withoutSpikes } from '../src/planar/thinFaces';
import { triangulate } from '../src/planar/triangulate';
import { turn } from '../src/planar/turn';
import { meetingPoint } from '../src/solid/sharpenPoints';
import { makeBlend } from '../src/mesh/layers';
import { meshFromLoops } from '../src/mesh/PolyMesh';
import { selfCrossings } from '../src/inspect/selfCross';
import { buildPrimitive } from '../src/primitives';
import { joinMeshes } from '../src/ops/join';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { mitre, slideRate } from '../src/ops/bevel/sectors';

/** A star-shaped simple polygon: random radii at sorted angles, with points doubled onto straight runs. */
const polygon = fc
  .array(fc.integer({ min: 5, max: 100 }), { minLength: 3, maxLength: 24 })
  .map((radii) =>
    radii.map((r, i): [number, number] => [
      Math.round(r * Math.cos((2 * Math.PI * i) / radii.length) * 8) / 8,
      Math.round(r * Math.sin((2 * Math.PI * i) / radii.length) * 8) / 8,
    ]),
  )
  .map((p) =>
    p.flatMap(([x, y], i): Array<[number, number]> => {
      const [u, v] = p[(i + 1) % p.length];
      return i % 3 === 0 ? [[x, y], [(x + u) / 2, (y + v) / 2]] : [[x, y]]; // prettier-ignore
    }),
  );
const area = (p: Array<[number, number]>): number =>
  p.reduce((s, [x, y], i) => s + x * p[(i + 1) % p.length][1] - y * p[(i + 1) % p.length][0], 0) / 2;

describe('triangles', () => {
  it('turn the way mathematics does', () => {
    expect(turn(0, 0, 1, 0, 0, 1)).toBeGreaterThan(0);
    expect(turn(0, 0, 0, 1, 1, 0)).toBeLessThan(0);
    expect(turn(0.1, 0.1, 0.2, 0.2, 0.3, 0.3)).toBe(0);
  });

  it('of faces and of regions fill any polygon, points on straight runs included', () => {
    fc.assert(
      fc.property(polygon, (p) => {
        const want = area(p);
        if (want < 1) return;
        const flat = Float64Array.from(p.flat());
        const sides = p.map((_, i): [number, number] => [i, (i + 1) % p.length]);
        const face = meshFromLoops(
          p.map(([x, y]) => [x, y, 0]),
          [p.map((_, i) => i)],
        );
        for (const t of [triangulate(face).corners, constrainedTriangles(flat, sides)]) {
          expect(t.length).toBe(3 * (p.length - 2));
          let sum = 0;
          for (let i = 0; i < t.length; i += 3) {
            const a = area([p[t[i]], p[t[i + 1]], p[t[i + 2]]]);
            expect(a).toBeGreaterThan(0);
            sum += a;
          }
          expect(sum).toBeCloseTo(want, 6);
        }
      }),
      { numRuns: 200, seed: 9 },
    );
  });

  it('hold every side of an outline that crosses itself too', () => {
    const bow = [[0, 0, 0], [4, 4, 0], [4, 2, 0], [4, 0, 0], [0, 4, 0], [0, 2, 0]]; // prettier-ignore
    const { corners } = triangulate(meshFromLoops(bow as never, [[0, 1, 2, 3, 4, 5]]));
    const sides = new Set<string>();
    for (let i = 0; i < corners.length; i++)
      sides.add(`${corners[i]} ${corners[i % 3 === 2 ? i - 2 : i + 1]}`);
    expect(corners.length).toBe(12);
    for (let i = 0; i < 6; i++) expect(sides).toContain(`${i} ${(i + 1) % 6}`);
  });
});

describe('triangles of points nearly in line', () => {
  /** A square divided by a line of points that leaves the straight by next to nothing, in any direction. */
  const divided = fc
    .tuple(
      fc.array(fc.tuple(fc.integer({ min: 0, max: 12 }), fc.integer({ min: -40, max: 40 })), {
        minLength: 8,
        maxLength: 40,
      }),
      fc.integer({ min: 1, max: 628 }),
    )
    .map(([steps, turns]) => {
      const xs = [0];
      for (const [power] of steps) xs.push(xs[xs.length - 1] + 10 ** -power);
      const n = xs.length;
      const flat = xs.map((x, i) => [x / xs[n - 1], i && i < n - 1 ? steps[i][1] * 1e-17 : 0]);
      flat.push([1, 1], [0, 1], [0, -1], [1, -1]);
      const [c, s] = [Math.cos(turns / 100), Math.sin(turns / 100)];
      return {
        xy: Float64Array.from(flat.flatMap(([x, y]) => [c * x - s * y, s * x + c * y])),
        sides: [[n - 1, n], [n, n + 1], [n + 1, 0], [0, n + 2], [n + 2, n + 3], [n + 3, n - 1]] as Array<[number, number]>, // prettier-ignore
        lines: xs.slice(1).map((_, i): [number, number] => [i, i + 1]),
      };
    });

  it('fill the polygon and keep every line', () => {
    fc.assert(
      fc.property(divided, ({ xy, sides, lines }) => {
        const t = constrainedTriangles(xy, sides, lines);
        expect(t.length / 3).toBe(xy.length - 2 - sides.length);
        const at = (i: number): [number, number] => [xy[2 * i], xy[2 * i + 1]];
        const edges = new Set<string>();
        for (let i = 0; i < t.length; i += 3) {
          const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
          expect(turn(...at(a), ...at(b), ...at(c))).toBeGreaterThan(0);
          for (const [p, q] of [[a, b], [b, c], [c, a]]) edges.add(`${p} ${q}`).add(`${q} ${p}`); // prettier-ignore
        }
        for (const [a, b] of lines) expect(edges).toContain(`${a} ${b}`);
      }),
      { numRuns: 300, seed: 4 },
    );
  });

  it('are divided otherwise where one has all its points on a straight run', () => {
    const unit = fc.double({ min: 0.05, max: 0.95, noNaN: true });
    fc.assert(
      fc.property(unit, unit, fc.double({ min: 0, max: 6.3, noNaN: true }), (along, aside, turned) => {
        const [c, s] = [Math.cos(turned), Math.sin(turned)];
        const at = [[0, 0], [along, 0], [1, 0], [aside, 1]].map(([x, y]) => [c * x - s * y, s * x + c * y]); // prettier-ignore
        const loops = divideRegion(at.flat(), [0, 1, 2, 0, 2, 3], 3);
        expect(loops).toEqual([[0, 1, 3], [1, 2, 3]]); // prettier-ignore
      }),
      { numRuns: 100, seed: 6 },
    );
  });

  it('are Delaunay, whichever way they were made', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 20 })), { minLength: 1, maxLength: 60 }), (p) => {
        const xy = Float64Array.from([...p.flat(), -20, -20, 40, -20, 40, 40, -20, 40]);
        const { triangles: t, halfedges } = onePointAtATime(xy);
        const points = new Set(p.map(String)).size + 4;
        expect(t.length / 3).toBe(2 * points - 2 - 4);
        for (let h = 0; h < t.length; h++) {
          const g = halfedges[h];
          if (g < 0) continue;
          expect(halfedges[g]).toBe(h);
          const third = (k: number): number => t[3 * Math.floor(k / 3) + ((k + 2) % 3)];
          const [a, b, c, d] = [t[h], t[g], third(h), third(g)].flatMap((i) => [[xy[2 * i], xy[2 * i + 1]]]); // prettier-ignore
          // In whole numbers the determinant is exact.
          const row = ([x, y]: number[]): number[] => [x - d[0], y - d[1], (x - d[0]) ** 2 + (y - d[1]) ** 2];
          const [u, v, w] = [row(a), row(b), row(c)];
          const inside = u[0] * (v[1] * w[2] - v[2] * w[1]) - u[1] * (v[0] * w[2] - v[2] * w[0]) + u[2] * (v[0] * w[1] - v[1] * w[0]); // prettier-ignore
          expect(inside).toBeGreaterThanOrEqual(0);
        }
      }),
      { numRuns: 200, seed: 5 },
    ); // prettier-ignore
  });
});

describe('dividing a face', () => {
  it('gives each outline its own holes', () => {
    const ring = (x: number, r: number, way: 1 | -1): Array<[number, number, number]> => [[x - r, -r, 0], [x + r, -r, 0], [x + r, r, 0], [x - r, r, 0]].slice()[way > 0 ? 'slice' : 'reverse']() as Array<[number, number, number]>; // prettier-ignore
    const points = [
      ...ring(0, 10, 1),
      ...ring(0, 4, -1),
      ...ring(30, 10, 1),
      ...ring(30, 2, -1),
      ...ring(60, 3, 1),
    ];
    const loops = [0, 4, 8, 12, 16].map((s) => [s, s + 1, s + 2, s + 3]);
    const faces = dividePolygon(loops, points.flat(), [0, 0, 1]);
    expect(faces).toHaveLength(2 + 2 + 1);
    const flat = (f: number[]): Array<[number, number]> => f.map((i) => [points[i][0], points[i][1]]);
    expect(faces.reduce((s, f) => s + area(flat(f)), 0)).toBeCloseTo(400 - 64 + 400 - 16 + 36, 9);
    for (const f of faces) expect(area(flat(f))).toBeGreaterThan(0);
  });

  it('takes thin faces out edge to edge', () => {
    // A sliver between two quads: a–b–c on one side, a–c on the other.
    const p = [0, 0, 0, 5, 0, 0, 10, 0, 0, 0, 9, 0, 10, 9, 0, 0, -9, 0, 5, -9, 0, 10, -9, 0];
    const loops = [[0, 2, 4, 3], [0, 1, 2], [5, 6, 1, 0], [6, 7, 2, 1]].map((l) => (l.length === 3 ? [2, 0, 1].map((i) => [0, 1, 2][i]) : l)); // prettier-ignore
    loops[1] = [0, 1, 2];
    const plan = planThinRemoval(loops, (i) => i === 1, p, 1e-6);
    // The outer edges of this patch are open, so the sliver's own sides decide: all three have a face behind them.
    expect(plan === null || [...plan.removed]).toEqual([1]);
  });
});

describe('profiles', () => {
  it('are true arcs when round, straight when flat, and touch the corner when square', () => {
    for (const angle of [0.5, 1, Math.PI / 2, 2, 2.9]) {
      const legs = [Math.cos(angle / 2), Math.sin(angle / 2)];
      const place = ([a, b]: [number, number]): [number, number] => [(a + b) * legs[0], (a - b) * legs[1]];
      const centre = 1 / legs[0];
      for (const w of profileWeights(8, 1, angle)) {
        const [x, y] = place(w);
        expect(Math.hypot(x - centre, y)).toBeCloseTo(Math.tan(angle / 2), 9);
      }
      for (const [a, b] of profileWeights(8, 0, angle)) expect(a + b).toBeCloseTo(1, 12);
      expect(profileWeights(8, 2, angle)[4]).toEqual([0, 0]);
      // Scooped mirrors round about the chord.
      const [round, scooped] = [profileWeights(4, 1, angle)[2], profileWeights(4, -1, angle)[2]];
      expect(round[0] + scooped[0]).toBeCloseTo(1, 12);
    }
  });
});

describe('moving corners', () => {
  it('keep up with both lines in a mitre, and with their line on a slide', () => {
    for (const whole of [0.7, 2, Math.PI / 2, 4]) {
      for (const [s1, s2] of [
        [1, 1],
        [1, 0.25],
        [0.5, 1],
      ]) {
        const { turn: angle, rate } = mitre(whole, s1, s2);
        expect(rate * Math.sin(angle)).toBeCloseTo(s1, 12);
        expect(rate * Math.sin(whole - angle)).toBeCloseTo(s2, 12);
      }
    }
    // Almost straight, the width goes over from one to the other; a spike does not run away.
    expect(mitre(3.1, 1, 0.5).rate).toBeCloseTo(0.75, 3);
    expect(mitre(0.01, 1, 1).rate).toBe(14);
    const angle = Math.asin(0.6);
    expect(slideRate([{ angle, speed: 1 }])).toBeCloseTo(1 / 0.6, 12);
    expect(slideRate([{ angle, speed: 0.5 }])).toBeCloseTo(0.5 / 0.6, 12);
    expect(slideRate([{ angle: Math.PI + 1, speed: 1 }])).toBe(0);
  });
});

describe('exact points', () => {
  it('meet where three planes do, stay on the line of two, drop onto one', () => {
    const planes = [{ n: [1, 0, 0], d: 2 }, { n: [0, 0.6, 0.8], d: 3 }, { n: [0, 0.8, -0.6], d: 1 }] as Array<{ n: [number, number, number]; d: number }>; // prettier-ignore
    const p = meetingPoint([2.001, 2.6, 1.8], planes);
    for (const { n, d } of planes) expect(n[0] * p[0] + n[1] * p[1] + n[2] * p[2]).toBeCloseTo(d, 12);
    expect(meetingPoint([2.1, 5, 7], [planes[0]])).toEqual([2, 5, 7]);
    const q = meetingPoint([2.1, 0.1, 7], [planes[0], { n: [0, 1, 0], d: 0 }]);
    [2, 0, 7].forEach((x, k) => expect(q[k]).toBeCloseTo(x, 12));
    expect(meetingPoint([1, 2, 3], [])).toEqual([1, 2, 3]);
  });

  it('lie in their triangle with weights that give them back', () => {
    const m = meshFromLoops([[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0], [4, 5, 0]], [[0, 1, 2, 3, 4]]); // prettier-ignore
    const b = makeBlend(1);
    for (const [x, y] of [
      [8, 3],
      [1, 0.5],
      [6, 9],
      [0, 0],
      [10, 7],
    ]) {
      b.index.fill(-1);
      locateInFace(m, [0], [x, y, 0], b, 0);
      const back = [0, 1].map((k) =>
        [0, 1, 2].reduce(
          (s, i) => s + (b.index[i] < 0 ? 0 : b.weight[i] * m.positions[3 * m.corners[b.index[i]] + k]),
          0,
        ),
      );
      expect(back[0]).toBeCloseTo(x, 9);
      expect(back[1]).toBeCloseTo(y, 9);
    }
  });
});

describe('self-crossings', () => {
  it('are found where solids pass through one another, and nowhere else', () => {
    const ball = buildPrimitive({ primitive: 'sphere', radius: 10, sides: 24, rings: 12 });
    expect(selfCrossings(ball)).toEqual({ edges: [], faces: [] });
    const shifted = (x: number) =>
      transformMesh(ball, transformMatrix({ move: [x, 1, 2], turn: [10, 20, 30], size: [1, 1, 1] }));
    expect(selfCrossings(joinMeshes([ball, shifted(30)])).edges).toEqual([]);
    const crossed = selfCrossings(joinMeshes([ball, shifted(12)]));
    expect(crossed.edges.length).toBeGreaterThan(10);
    expect(crossed.faces.length).toBeGreaterThan(10);
  });
});

describe('outlines that run out and back', () => {
  it('lose their spikes, also over the seam, and keep everything else', () => {
    const left = (points: number[]): number[] => withoutSpikes(points).map((i) => points[i]);
    expect(left([1, 2, 3, 4, 3, 2, 5])).toEqual([1, 2, 5]);
    expect(left([1, 2, 3, 4])).toEqual([1, 2, 3, 4]);
    const seam = left([9, 1, 2, 3, 1]);
    expect([...seam].sort()).toEqual([1, 2, 3]);
    expect(left([1, 2, 1, 2]).length).toBeLessThan(3);
  });
});

/**
 * Laws of selecting: between growing, shrinking, converting, runs and ways, on random solids and picks.
 *
 * @covers core/src/select
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eulerCharacteristic, faceArea, faceNormal, surfaceArea } from '../src/mesh/measure';
import { faceCount, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { edgesAt, nextCorner, topologyOf } from '../src/mesh/Topology';
import { distance, dot, pointOf, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive } from '../src/primitives';
import { enclose, everything, grow, invert, shrink } from '../src/select/grow';
import { valences } from '../src/select/measure';
import { resolveSelect, type Select } from '../src/select/rules';
import {
  convertSelection,
  elementCount,
  islandsOf,
  pointsOf,
  selectionOf,
  type ElementKind,
  type Selection,
} from '../src/select/selection';
import { FALLOFFS, softWeights, surfaceDistance } from '../src/select/soft';
import { borderEdges, edgeLoop, edgeRing, shellFaces, shortestWay } from '../src/select/walks';
import { number, solid } from './anySolid';
import { refusal } from './refusal';

const kind = fc.constantFrom<ElementKind>('face', 'edge', 'vertex');
const seeds = fc.array(fc.nat(100000), { minLength: 1, maxLength: 12 });
const picked = (m: PolyMesh, k: ElementKind, list: number[]): Selection =>
  selectionOf(k, [...new Set(list.map((x) => x % elementCount(m, k)))]);
const holds = <T>(law: fc.IProperty<T>): void => fc.assert(law, { numRuns: 80 });
const sorted = (list: Iterable<number>): number[] => [...list].sort((a, b) => a - b);

describe('growing and shrinking', () => {
  it('never loses and never gains, and shrinking what grew leaves at least what there was', () => {
    holds(
      fc.property(solid, kind, seeds, (m, k, list) => {
        const s = picked(m, k, list);
        const more = new Set(grow(m, s).indices);
        const less = shrink(m, s).indices;
        expect(s.indices.every((i) => more.has(i))).toBe(true);
        expect(less.every((i) => s.indices.includes(i))).toBe(true);
        const again = new Set(shrink(m, grow(m, s)).indices);
        expect(s.indices.every((i) => again.has(i))).toBe(true);
      }),
    );
  });

  it('reaches everything of a solid in the end, and nothing grows out of nothing', () => {
    holds(
      fc.property(solid, kind, fc.nat(1000), (m, k, i) => {
        let s = picked(m, k, [i]);
        for (let n = -1; n !== s.indices.length;) {
          n = s.indices.length;
          s = grow(m, s);
        }
        expect(s.indices).toHaveLength(elementCount(m, k));
        expect(grow(m, selectionOf(k, [])).indices).toEqual([]);
        expect(shrink(m, everything(m, k)).indices).toHaveLength(elementCount(m, k));
      }),
    );
  });

  it('inverts to what is left, and back', () => {
    holds(
      fc.property(solid, kind, seeds, (m, k, list) => {
        const s = picked(m, k, list);
        const rest = invert(m, s);
        expect(sorted([...s.indices, ...rest.indices])).toEqual([...everything(m, k).indices]);
        expect(sorted(invert(m, rest).indices)).toEqual(sorted(s.indices));
      }),
    );
  });
});

describe('converting', () => {
  it('to points gives the points of what was picked, and back what has all of them', () => {
    holds(
      fc.property(solid, fc.constantFrom<ElementKind>('face', 'edge'), seeds, (m, k, list) => {
        const s = picked(m, k, list);
        const points = convertSelection(m, s, 'vertex');
        expect(sorted(points.indices)).toEqual(sorted(pointsOf(m, s)));
        const back = new Set(convertSelection(m, points, k).indices);
        expect(s.indices.every((i) => back.has(i))).toBe(true);
        const touched = convertSelection(m, points, k, false).indices;
        expect([...back].every((i) => touched.includes(i))).toBe(true);
      }),
    );
  });

  it('falls into islands that share nothing to hang together by, in all everything picked', () => {
    holds(
      fc.property(solid, kind, seeds, (m, k, list) => {
        const s = picked(m, k, list);
        const islands = islandsOf(m, s);
        expect(sorted(islands.flat())).toEqual(sorted(s.indices));
        const seen = new Set<number>();
        for (const island of islands) {
          // Faces hang together by edges, edges by points; no two picked points of one edge are apart.
          const ties = convertSelection(m, selectionOf(k, island), k === 'face' ? 'edge' : 'vertex').indices;
          expect(ties.some((x) => seen.has(x))).toBe(false);
          for (const x of ties) seen.add(x);
        }
      }),
    );
  });
});

describe('runs', () => {
  it('are the same from each of their edges, and never twice on one', () => {
    holds(
      fc.property(solid, fc.nat(100000), fc.constantFrom(edgeLoop, edgeRing), (m, k, run) => {
        const found = run(m, k % topologyOf(m).edgeCount);
        expect(new Set(found.edges).size).toBe(found.edges.length);
        for (const e of found.edges) expect(sorted(run(m, e).edges)).toEqual(sorted(found.edges));
      }),
    );
  });

  it('loops hang together point by point, rings face by face', () => {
    holds(
      fc.property(solid, fc.nat(100000), (m, k) => {
        const t = topologyOf(m);
        const loop = edgeLoop(m, k % t.edgeCount);
        const uses = new Map<number, number>();
        for (const e of loop.edges)
          for (const v of [t.edges[2 * e], t.edges[2 * e + 1]]) uses.set(v, (uses.get(v) ?? 0) + 1);
        expect([...uses.values()].every((n) => n <= 2)).toBe(true);
        expect([...uses.values()].filter((n) => n === 1)).toHaveLength(loop.closed ? 0 : 2);
        const ring = edgeRing(m, k % t.edgeCount);
        const beside = ring.edges.slice(1).every((e, i) => {
          const facesOf = (x: number): number[] =>
            [t.cornerOfEdge[x], t.twin[t.cornerOfEdge[x]]]
              .filter((c) => c >= 0)
              .map((c) => t.faceOfCorner[c]);
          const before = facesOf(ring.edges[i]);
          return facesOf(e).some((f) => before.includes(f) && m.faceStart[f + 1] - m.faceStart[f] === 4);
        });
        expect(beside).toBe(true);
      }),
    );
  });

  it('the border of faces is what parts them from the rest', () => {
    holds(
      fc.property(solid, seeds, (m, list) => {
        const t = topologyOf(m);
        const s = picked(m, 'face', list);
        const on = new Set(s.indices);
        const border = new Set(borderEdges(m, s.indices));
        for (let e = 0; e < t.edgeCount; e++) {
          const c = t.cornerOfEdge[e];
          const sides = [c, t.twin[c]].map((x) => x >= 0 && on.has(t.faceOfCorner[x]));
          expect(border.has(e)).toBe(sides[0] !== sides[1]);
        }
        expect(shellFaces(m, [s.indices[0]])).toHaveLength(faceCount(m));
      }),
    );
  });
});

describe('ways', () => {
  it('are as short as trying all of them finds (Floyd 1962)', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 6, height: 14, sides: 7, rings: 3 });
    const t = topologyOf(can);
    const n = vertexCount(can);
    const far = Array.from({ length: n }, (_, a) =>
      Array.from({ length: n }, (__, b) => (a === b ? 0 : Infinity)),
    );
    const length = (a: number, b: number): number =>
      distance(pointOf(can.positions, a), pointOf(can.positions, b));
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
      far[a][b] = far[b][a] = length(a, b);
    }
    for (let k = 0; k < n; k++)
      for (let a = 0; a < n; a++)
        for (let b = 0; b < n; b++) far[a][b] = Math.min(far[a][b], far[a][k] + far[k][b]);
    for (let a = 0; a < n; a++)
      for (let b = 0; b < n; b++) {
        if (a === b) continue;
        const way = shortestWay(can, a, b)!;
        expect([way[0], way[way.length - 1]].sort()).toEqual([a, b].sort());
        const sum = way.slice(1).reduce((x, v, i) => x + length(way[i], v), 0);
        expect(sum).toBeCloseTo(far[a][b], 9);
      }
  });
});

/** Both faces of an edge stand for one curved surface: its normals at both ends are known, and within 10° of each other. */
function isOneSurface(m: PolyMesh, e: number): boolean {
  const t = topologyOf(m);
  const { surface } = m.layers.corner;
  const c = t.cornerOfEdge[e];
  const at = (f: number, v: number): Vec3 => {
    for (let k = m.faceStart[f]; k < m.faceStart[f + 1]; k++)
      if (m.corners[k] === v) return pointOf(surface.data, k);
    throw new Error('no corner');
  };
  const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[t.twin[c]]];
  return (
    surface !== undefined &&
    [t.edges[2 * e], t.edges[2 * e + 1]].every((v) => dot(at(f, v), at(g, v)) > Math.cos(Math.PI / 18))
  );
}

describe('rules', () => {
  const found = (m: PolyMesh, select: Select): number[] => sorted(resolveSelect(m, select).indices);

  it('pick exactly what a look at every element finds', () => {
    holds(
      fc.property(solid, number(5, 170), fc.integer({ min: 3, max: 6 }), (m, angle, count) => {
        const t = topologyOf(m);
        const faces = Array.from({ length: faceCount(m) }, (_, f) => f);
        const sharp = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => {
          const c = t.cornerOfEdge[e];
          const [a, b] = [c, t.twin[c]].map((x) => faceNormal(m, t.faceOfCorner[x]));
          const turn = (Math.acos(Math.min(1, Math.max(-1, dot(a, b)))) * 180) / Math.PI;
          return turn > angle && !(turn < 38 && isOneSurface(m, e));
        });
        expect(found(m, { rule: 'sharp', angle })).toEqual(sharp);
        const sized = faces.filter((f) => m.faceStart[f + 1] - m.faceStart[f] === count);
        expect(found(m, { rule: 'corners', count })).toEqual(sized);
        const many = faces.filter((f) => m.faceStart[f + 1] - m.faceStart[f] > 4);
        expect(found(m, { rule: 'ngons' })).toEqual(many);
        const meet = valences(m);
        const points = Array.from({ length: vertexCount(m) }, (_, v) => v);
        expect(points.every((v) => meet[v] === edgesAt(m, v).length)).toBe(true);
        expect(found(m, { rule: 'valence', count })).toEqual(points.filter((v) => meet[v] === count));
        expect(found(m, { rule: 'open' })).toEqual([]);
      }),
    );
  });

  it('enclose the smaller side of a loop that parts a solid', () => {
    holds(
      fc.property(solid, fc.nat(100000), (m, k) => {
        const loop = edgeLoop(m, k % topologyOf(m).edgeCount);
        if (!loop.closed) return;
        let inside: ReadonlyArray<number> = [];
        const why = refusal(() => (inside = enclose(m, selectionOf('edge', loop.edges)).indices));
        // A loop round a hole of a solid parts nothing, and that is said.
        if (why !== 'done') {
          expect([why, eulerCharacteristic(m)]).toEqual(['not-enclosing', 0]);
          return;
        }
        const area = inside.reduce((s, f) => s + faceArea(m, f), 0);
        expect(inside.length).toBeLessThan(faceCount(m));
        expect(area).toBeLessThanOrEqual(surfaceArea(m) / 2 + 1e-6 * surfaceArea(m));
        expect(sorted(borderEdges(m, inside)).every((e) => loop.edges.includes(e))).toBe(true);
      }),
    );
  });
});

describe('softness', () => {
  it('is whole on what is picked, nought out of reach, and never more farther away', () => {
    holds(
      fc.property(solid, seeds, number(1, 30), fc.constantFrom(...FALLOFFS), (m, list, reach, falloff) => {
        const points = picked(m, 'vertex', list).indices;
        const w = softWeights(m, points, { reach, falloff, along: 'straight' });
        const far = Array.from({ length: vertexCount(m) }, (_, v) =>
          Math.min(...points.map((p) => distance(pointOf(m.positions, p), pointOf(m.positions, v)))),
        );
        const order = Array.from(far.keys()).sort((a, b) => far[a] - far[b]);
        for (const v of points) expect(w[v]).toBe(1);
        order.forEach((v, i) => {
          if (far[v] >= reach && !points.includes(v)) expect(w[v]).toBe(0);
          if (i) expect(w[v]).toBeLessThanOrEqual(w[order[i - 1]] + 1e-12);
        });
      }),
    );
  });

  it('along the surface is never nearer than straight, nor farther than along edges', () => {
    holds(
      fc.property(solid, fc.nat(1000), (m, k) => {
        const from = k % vertexCount(m);
        const far = surfaceDistance(m, [from], 1e9);
        for (let v = 0; v < vertexCount(m); v++) {
          const straight = distance(pointOf(m.positions, from), pointOf(m.positions, v));
          expect(far[v]).toBeGreaterThanOrEqual(straight * (1 - 1e-9) - 1e-9);
          const way = v === from ? [v] : shortestWay(m, from, v)!;
          const edges = way
            .slice(1)
            .reduce((s, x, i) => s + distance(pointOf(m.positions, way[i]), pointOf(m.positions, x)), 0);
          expect(far[v]).toBeLessThanOrEqual(edges * (1 + 1e-9) + 1e-9);
        }
      }),
    );
  });
});

it('next corners lead once round every face', () => {
  holds(
    fc.property(solid, (m) => {
      const t = topologyOf(m);
      for (let f = 0; f < faceCount(m); f++) {
        let c = m.faceStart[f];
        for (let n = m.faceStart[f + 1] - m.faceStart[f]; n > 0; n--) c = nextCorner(m, t, c);
        expect(c).toBe(m.faceStart[f]);
      }
    }),
  );
});

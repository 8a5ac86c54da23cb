/** Names of faces hold while the numbers of a build change, and tell which steps made a face. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { makerOf, nameOf } from '../src/births/births';
import { hashOf } from '../src/births/hash';
import type { Piece } from '../src/document/schema';
import { faceArea, faceNormal } from '../src/mesh/measure';
import { faceCorners, faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { Evaluator } from '../src/build/evaluate';
import { loadKernel } from '../src/solid/kernel';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const noSource = {
  blob: (): never => {
    throw new Error();
  },
  file: (): never => {
    throw new Error();
  },
};

function built(pieces: Piece[]): { mesh: PolyMesh; names: number[]; evaluator: Evaluator } {
  const evaluator = new Evaluator(noSource);
  evaluator.setPieces(pieces);
  const { mesh, steps } = evaluator.build('a');
  expect(steps.map((s) => s.fault)).toEqual(steps.map(() => undefined));
  return { mesh, evaluator, names: Array.from({ length: faceCount(mesh) }, (_, f) => nameOf(mesh, f)) };
}

/** Names beside each name, and how many corners it has: what touches what. */
function touching({ mesh, names }: { mesh: PolyMesh; names: number[] }): Map<number, string> {
  const t = topologyOf(mesh);
  return new Map(
    names.map((name, f) => {
      const beside = [];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        beside.push(t.twin[c] < 0 ? 0 : names[t.faceOfCorner[t.twin[c]]]);
      return [name, beside.sort((a, b) => a - b).join()];
    }),
  );
}

/** The parts two builds share when nothing touches differently in them: faces told apart by what is around them. */
function shapeOf(mesh: PolyMesh): string {
  const t = topologyOf(mesh);
  const corners = (f: number): number[] => faceCorners(mesh, f);
  const valence = (c: number): number => t.vertexStart[mesh.corners[c] + 1] - t.vertexStart[mesh.corners[c]];
  const faces = Array.from({ length: faceCount(mesh) }, (_, f) => f);
  // Cuts leave which face of which piece each came from.
  const origin = mesh.layers.face.origin.data;
  let marks = faces.map((f) => hashOf(origin[2 * f], origin[2 * f + 1], ...corners(f).map(valence).sort()));
  for (let round = 0; round < 8; round++)
    marks = faces.map(
      (f) =>
      hashOf(marks[f], ...corners(f).map((c) => (t.twin[c] < 0 ? 0 : marks[t.faceOfCorner[t.twin[c]]])).sort()), // prettier-ignore
    );
  return marks.sort().join();
}

interface Numbers {
  width: number;
  height: number;
  depth: number;
  radius: number;
  x: number;
  z: number;
  turn: number;
  round: number;
  second: number;
}
type Tail = 'none' | 'mirror' | 'repeat' | 'smooth' | 'second';

/** A block with two holes side by side, a slot and a boss, its rims rounded, and something after that. */
function block(n: Numbers, sides: number, segments: number, tail: Tail): Piece[] {
  const after = {
    none: [],
    mirror: [{ kind: 'mirror', axes: ['x', 'z'], about: 'world' }],
    repeat: [{ kind: 'repeat', pattern: 'linear', count: 3, offset: [400, 0, 0] }],
    smooth: [{ kind: 'smooth', levels: 1 }],
    second: [{ kind: 'bevel', scope: { rule: 'sharp', angle: 60 }, width: n.second, segments: 2 }],
  }[tail] as Piece['steps'];
  const hole = { primitive: 'cylinder', radius: n.radius, height: 200, sides } as const;
  return [
    {
      id: 'a',
      base: { primitive: 'box', width: n.width, height: n.height, depth: n.depth },
      transform: { move: tail === 'mirror' ? [100, 0, 100] : [0, 0, 0] },
      actions: [{ op: 'inset', select: { faces: [0, 3] }, thickness: 2 }],
      steps: [
        { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['h1', 'h2', 'slot'] },
        { id: 's2', kind: 'cut', mode: 'union', cutters: ['boss'] },
        { id: 's3', kind: 'bevel', scope: { rule: 'rims' }, width: n.round, segments },
        ...after!.map((s, i) => ({ ...s, id: `t${i}` })),
      ],
    },
    { id: 'h1', parent: 'a', base: hole, transform: { move: [-n.x, 0, n.z], turn: [0, 0, n.turn] } },
    { id: 'h2', parent: 'a', base: hole, transform: { move: [n.x, 0, -n.z] } },
    {
      id: 'slot',
      parent: 'a',
      base: { primitive: 'box', width: 5, height: 200, depth: 14 },
      transform: { move: [0, 0, n.z / 3] },
    },
    {
      id: 'boss',
      parent: 'a',
      base: { primitive: 'cylinder', radius: 4, height: 12, sides: 8 },
      transform: { move: [0, n.height / 2, -n.depth / 4] },
    },
  ] as Piece[];
}

const START: Numbers = { width: 60, height: 20, depth: 50, radius: 5, x: 17, z: 9, turn: 4, round: 0.6, second: 0.4 }; // prettier-ignore

describe('names of faces', () => {
  const tails: Tail[] = ['none', 'mirror', 'repeat', 'smooth', 'second'];

  it.each(tails)('are each face’s own (%s)', (tail) => {
    const { names } = built(block(START, 12, 2, tail));
    expect(new Set(names).size).toBe(names.length);
    expect(names).not.toContain(0);
  });

  it('stay when any number upstream changes by up to a fifth and nothing touches otherwise', () => {
    let compared = 0;
    fc.assert(
      fc.property(
        fc.constantFrom(...tails),
        fc.constantFrom(8, 12, 15),
        fc.integer({ min: 1, max: 3 }),
        fc.constantFrom(...(Object.keys(START) as Array<keyof Numbers>)),
        fc.double({ min: 0.8, max: 1.2, noNaN: true }),
        (tail, sides, segments, key, by) => {
          const before = built(block(START, sides, segments, tail));
          const after = built(block({ ...START, [key]: START[key] * by }, sides, segments, tail));
          if (shapeOf(before.mesh) !== shapeOf(after.mesh)) return;
          compared++;
          const [was, is] = [touching(before), touching(after)];
          const lost = [...was].filter(([name, beside]) => is.get(name) !== beside);
          expect([tail, key, by, lost.length]).toEqual([tail, key, by, 0]);
        },
      ),
      { numRuns: runs(24, 160), seed: 20 },
    );
    expect(compared).toBeGreaterThan(runs(7, 50));
  });

  it('stay when a step before them is switched off that did nothing to them', () => {
    const on = block(START, 12, 2, 'none');
    const off = on.map((p) => (p.id === 'a' ? { ...p, steps: p.steps!.map((s) => (s.id === 's2' ? { ...s, off: true } : s)) } : p)); // prettier-ignore
    const [all, without] = [built(on), built(off)];
    const ofBoss = (f: number): boolean => all.evaluator.makers.story(makerOf(all.mesh, f)).includes('boss');
    const left = new Set(without.names);
    const others = all.names.filter((n, f) => !ofBoss(f) && !left.has(n));
    // The face under the boss now has its rim as a neighbour, and the strip around it is new, one cell per column.
    expect(others.length).toBeLessThanOrEqual(44);
    expect(all.names.filter((n) => left.has(n)).length).toBeGreaterThan(100);
  });
});

describe('the story of a face', () => {
  it('names the steps and pieces that led to it, the last first', () => {
    const { mesh, evaluator } = built(block(START, 12, 2, 'none'));
    const story = (f: number): string[] => evaluator.makers.story(makerOf(mesh, f));
    const told = new Map<string, number>();
    for (let f = 0; f < faceCount(mesh); f++)
      told.set(story(f).join(' < '), (told.get(story(f).join(' < ')) ?? 0) + 1);
    // Walls of the tilted hole, strips around it, strips beside the host, the insets and what was never touched.
    expect(told.get('a/s1 < h1')).toBe(12);
    expect(told.get('a/s1 < slot')).toBe(4);
    // A strip lies between a wall and what the hole was bored into.
    const strips = [...told.keys()].filter((x) => x.startsWith('a/s3'));
    expect(strips.some((x) => ['a', 'a/s1', 'h1'].every((by) => x.split(' < ').includes(by)))).toBe(true);
    expect(told.get('a#inset1 < a')).toBe(6);
    expect(told.get('a')).toBeGreaterThanOrEqual(4);
    const bottom = Array.from({ length: faceCount(mesh) }, (_, f) => f)
      .filter((f) => faceNormal(mesh, f)[1] < -0.99)
      .sort((x, y) => faceArea(mesh, y) - faceArea(mesh, x))[0];
    expect(story(bottom)).toEqual(['a']);
  });
});

describe('a kept selection', () => {
  const base = {
    primitive: 'box',
    width: 30,
    height: 20,
    depth: 10,
    segments: [3, 2, 1] as number[],
  } as const;
  /** The box after some actions, with faces kept after the first of them. */
  const recalled = (actions: Piece['actions'], faces: number[], after = 0) => {
    const evaluator = new Evaluator(noSource);
    evaluator.setPieces([{ id: 'a', base, actions } as Piece]);
    const { selection, lost } = evaluator.recall('a', { faces, after });
    const { mesh } = evaluator.editedPiece('a');
    return {
      lost,
      normals: selection.indices.map((f) => faceNormal(mesh, f).map(Math.round).join()),
      mesh,
      selection,
    };
  };
  const extrude = { op: 'extrude', select: { faces: [2] }, distance: 4 } as never;
  const remove = { op: 'deleteFaces', select: { faces: [0, 1] } } as never;
  const divide = { op: 'ringCut', select: { edges: [0] }, count: 1 } as never;

  it('follows the actions that came after it, whatever they do to the numbers of elements', () => {
    const bare = recalled([], [2, 5]);
    expect(recalled([extrude], [2, 5]).normals).toEqual(bare.normals);
    // Faces in front of them are gone, so that all have other numbers.
    const gone = recalled([remove], [1, 2, 5]);
    expect([gone.selection.indices, gone.lost]).toEqual([[0, 3], 1]);
    expect(gone.normals).toEqual(bare.normals);
    // A divided face is both its parts.
    const { mesh: cut } = recalled([divide], []);
    expect(recalled([divide], Array.from({ length: 22 }, (_, f) => f)).selection.indices).toHaveLength(faceCount(cut)); // prettier-ignore
  });

  it('begins where it was kept', () => {
    expect(recalled([remove, extrude], [0], 1).normals).toEqual(recalled([], [2]).normals);
    expect(recalled([remove], [3], 1).selection.indices).toEqual([3]);
  });
});

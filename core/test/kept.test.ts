/** Examples of operations; kept selections in rules, of actions and of steps. */
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { recipeFaults } from '../src/document/validate';
import { encodeMesh } from '../src/formats/meshBlob';
import { faceCount } from '../src/mesh/PolyMesh';
import { OPERATIONS } from '../src/ops';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import type { BuildResult } from '../src/build/report';

beforeAll(async () => {
  await loadKernel();
});

const none = (): never => {
  throw new Error('no mesh is stored');
};
const evaluator = new Evaluator({ blob: none, file: none });
function built(...pieces: Piece[]): BuildResult {
  expect(recipeFaults({ pieces })).toEqual([]);
  evaluator.setPieces(pieces);
  return evaluator.build(pieces[0].id);
}

describe('the example of an operation', () => {
  for (const { kind, example } of Object.values(OPERATIONS))
    it(`${kind} acts`, () => {
      const { actions, mesh } = built({ id: kind, base: example.base, actions: [...example.actions] });
      expect(actions.at(-1)).toMatchObject({ op: kind });
      expect(actions.map((a) => a.fault)).toEqual(actions.map(() => undefined));
      expect(Object.keys(actions.at(-1)!.counts).length).toBeGreaterThan(0);
      expect(faceCount(mesh)).toBeGreaterThan(0);
    });
});

const base = { primitive: 'box' as const, width: 40, height: 20, depth: 40 };
const topEdges = (piece: Partial<Piece>): number[] => {
  // The four edges of the top, whatever their numbers: the border of what faces up.
  const { mesh } = built({ id: 'probe', base, ...piece });
  const top = [...Array(faceCount(mesh)).keys()].filter((f) => {
    const at = mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]);
    return at.every((v) => mesh.positions[3 * v + 1] === 10);
  });
  evaluator.setPieces([]);
  return top;
};

describe('a kept selection', () => {
  const top = topEdges({});

  it('can be what an action acts on, as it is after the actions in between', () => {
    const piece: Piece = {
      id: 'a',
      base,
      selections: { lid: { faces: top, after: 0 } },
      actions: [
        { op: 'deleteFaces', select: { rule: 'facing', direction: [0, 0, 1] } },
        { op: 'deleteFaces', select: { rule: 'facing', direction: [1, 0, 0] } },
        { op: 'inset', select: { rule: 'kept', name: 'lid' }, thickness: 5 },
      ],
    };
    const { actions, picked, mesh } = built(piece);
    expect(actions.map((a) => a.fault)).toEqual([undefined, undefined, undefined]);
    const [f] = picked!.indices;
    const at = [...mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])];
    expect(at.map((v) => [0, 1, 2].map((k) => Math.abs(mesh.positions[3 * v + k])))).toEqual(
      at.map(() => [15, 10, 15]),
    );
  });

  it('is refused by name where there is none, or only later', () => {
    const inset = { op: 'inset', select: { rule: 'kept' as const, name: 'lid' }, thickness: 5 };
    const refused = { code: 'no-kept', message: expect.stringContaining('“lid”') as string };
    expect(built({ id: 'a', base, actions: [inset] }).actions[0].fault).toMatchObject(refused);
    const later = { faces: top, after: 1 };
    expect(
      built({ id: 'a', base, selections: { lid: later }, actions: [inset] }).actions[0].fault,
    ).toMatchObject(refused);
    const step = { kind: 'bevel' as const, scope: { rule: 'kept' as const, name: 'lid' }, width: 1 };
    expect(built({ id: 'a', base, steps: [step] }).steps[0].fault).toMatchObject(refused);
  });

  it('can be the scope of a step, wherever cuts have brought its edges', () => {
    const groove = { id: 'g', role: 'cutter' as const, base: { ...base, width: 4, depth: 60 }, transform: { move: [0, 10, 0] as [number, number, number] } }; // prettier-ignore
    const piece: Piece = {
      id: 'a',
      base,
      selections: { lid: { faces: top } },
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: ['g'] },
        { kind: 'bevel', scope: { rule: 'kept', name: 'lid' }, width: 1, segments: 1 },
      ],
    };
    const { steps, mesh } = built(piece, groove);
    // Both halves of the top, with the edges at the groove.
    expect(steps.map((s) => [s.kind, s.counts.edges, s.fault])).toEqual([
      ['cut', undefined, undefined],
      ['bevel', 8, undefined],
    ]);
    // Marks of kept selections are not stored.
    expect(Object.keys(mesh.layers.face).some((n) => n.startsWith('kept:'))).toBe(true);
    expect(new TextDecoder().decode(encodeMesh(mesh)).includes('kept:')).toBe(false);
  });

  it('builds again when it is kept anew', () => {
    const steps: Piece['steps'] = [{ kind: 'bevel', scope: { rule: 'kept', name: 'lid' }, width: 1, segments: 1 }]; // prettier-ignore
    const whole = built({ id: 'a', base, selections: { lid: { faces: top } }, steps });
    const again = built({ id: 'a', base, selections: { lid: { faces: top } }, steps });
    const other = built({ id: 'a', base, selections: { lid: { edges: [0] } }, steps });
    expect([whole.steps[0].counts.edges, other.steps[0].counts.edges]).toEqual([4, 1]);
    expect(again.mesh).toBe(whole.mesh);
  });
});

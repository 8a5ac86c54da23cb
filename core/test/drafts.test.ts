/** A draft while one of many cutters is dragged has the final shape; let go, it is built in full. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { makerOf } from '../src/births/births';
import type { Piece } from '../src/document/schema';
import { encodeMesh } from '../src/formats/meshBlob';
import { Stopped } from '../src/watch';
import { checkMesh } from '../src/mesh/checkMesh';
import { surfaceArea, volume } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const fresh = (): Evaluator =>
  new Evaluator({
    blob: () => {
      throw new Error();
    },
    file: () => {
      throw new Error();
    },
  });

type Mode = 'subtract' | 'union' | 'intersect';

/** A plate with cutters in rows, one of which is elsewhere. */
function plate(mode: Mode, sides: number, n: number, moving: number, by: [number, number, number]): Piece[] {
  const cutters = Array.from({ length: n }, (_, i): Piece => {
    const at = [(i % 4) * 20 - 30, 0, Math.floor(i / 4) * 20 - 20];
    const move = at.map((x, k) => x + (i === moving ? by[k] : 0)) as [number, number, number];
    const base =
      mode === 'intersect'
        ? { primitive: 'cylinder' as const, radius: 60 + 1.37 * i, height: 30, sides }
        : i % 3 === 2
          ? { primitive: 'box' as const, width: 8, height: 30, depth: 8 }
          : { primitive: 'cylinder' as const, radius: 5, height: 30, sides };
    return { id: `c${i}`, base, transform: { move } };
  });
  const ids = cutters.map((c) => c.id);
  return [
    {
      id: 'a',
      base: { primitive: 'box', width: 90, height: 10, depth: 70 },
      steps: [{ id: 's1', kind: 'cut', mode, cutters: ids }],
    },
    ...cutters,
  ];
}

const bytes = (m: PolyMesh): Buffer => Buffer.from(encodeMesh(m));
/** Area of each story's faces: what each step made. */
const told = (e: Evaluator, m: PolyMesh): string[] => [
  ...new Set(Array.from({ length: faceCount(m) }, (_, f) => e.makers.story(makerOf(m, f)).join(' < '))),
].sort(); // prettier-ignore

/** Moves that a hand makes: thousandths of a millimetre, and never none. */
const number = fc.integer({ min: -9000, max: 9000 }).map((x) => (x || 1) / 1000);
const by = fc.tuple(number, number, number);

describe('a draft', () => {
  it('is the body that is built when the hand lets go, which is what it would be without drafts', () => {
    let quick = 0;
    fc.assert(
      fc.property(
        fc.constantFrom<Mode>('subtract', 'union', 'intersect'),
        fc.constantFrom(6, 9, 16),
        fc.integer({ min: 8, max: 12 }),
        fc.nat(7),
        fc.array(by, { minLength: 1, maxLength: 3 }),
        (mode, sides, n, moving, moves) => {
          const e = fresh();
          e.setPieces(plate(mode, sides, n, moving, [0, 0, 0]));
          e.build('a');
          for (const by of moves) {
            const pieces = plate(mode, sides, n, moving, by);
            e.setPieces(pieces);
            const draft = e.build('a', undefined, Infinity, true);
            if (draft.draft) quick++;
            const whole = fresh();
            whole.setPieces(pieces);
            const direct = whole.build('a');
            expect(draft.steps.map((s) => [s.key, s.fault?.code])).toEqual(
              direct.steps.map((s) => [s.key, s.fault?.code]),
            );
            expect(checkMesh(draft.mesh).findings.filter((f) => f.code !== 'zero-area')).toEqual([]);
            const size = surfaceArea(direct.mesh);
            expect(Math.abs(volume(draft.mesh) - volume(direct.mesh)) / size).toBeLessThan(1e-7);
            expect(Math.abs(surfaceArea(draft.mesh) / size - 1)).toBeLessThan(1e-7);
            expect(told(e, draft.mesh)).toEqual(told(whole, direct.mesh));
          }
          const last = fresh();
          last.setPieces(plate(mode, sides, n, moving, moves.at(-1)!));
          const released = e.build('a');
          expect(released.draft).toBe(false);
          expect(bytes(released.mesh).equals(bytes(last.build('a').mesh))).toBe(true);
        },
      ),
      { numRuns: runs(8, 20), seed: 4 },
    );
    expect(quick).toBeGreaterThan(runs(8, 20));
  });

  it('is made of twins too, after each rest of the hand, and when it takes another of them', () => {
    const twins = (moving: number, by: [number, number, number]): Piece[] =>
      plate('subtract', 12, 12, moving, by).map((p): Piece =>
        /^c[1-9]/.test(p.id) ? { ...p, base: { twin: 'c0' } } : p,
      );
    const e = fresh();
    e.setPieces(twins(0, [0, 0, 0]));
    e.build('a');
    fc.assert(
      fc.property(fc.nat(11), fc.array(by, { minLength: 1, maxLength: 2 }), (moving, moves) => {
        for (const by of moves) {
          e.setPieces(twins(moving, by));
          const draft = e.build('a', undefined, Infinity, true);
          const whole = e.build('a');
          expect([draft.draft, whole.draft]).toEqual([true, false]);
          expect(Math.abs(volume(draft.mesh) - volume(whole.mesh))).toBeLessThan(
            1e-7 * surfaceArea(whole.mesh),
          );
        }
        e.setPieces(twins(0, [0, 0, 0]));
        e.build('a');
      }),
      { numRuns: runs(6, 15), seed: 7 },
    );
  });

  it('is the same where it was made ready for, and making ready can be ended at any step', () => {
    const [ready, unready, ended] = [fresh(), fresh(), fresh()];
    const at = (x: number) => plate('subtract', 12, 12, 3, [x, 0, 0]);
    for (const e of [ready, unready, ended]) {
      e.setPieces(at(0));
      e.build('a');
    }
    ready.prepare('a', ['c3']);
    let asked = 0;
    const counts = (): void => void asked++;
    const whole = fresh();
    whole.setPieces(at(0));
    whole.build('a');
    whole.prepare('a', ['c3'], counts);
    expect(asked).toBeGreaterThan(0);
    for (let k = 0; k < asked; k++) {
      let left = k;
      const stop = (): void => {
        if (left-- === 0) throw new Stopped();
      };
      expect(() => ended.prepare('a', ['c3'], stop)).toThrow(Stopped);
    }
    for (const x of [1, 2.5, 0.125]) {
      const drafts = [ready, unready, ended].map((e) => {
        e.setPieces(at(x));
        return e.build('a', undefined, Infinity, true);
      });
      expect(drafts.map((d) => d.draft)).toEqual([true, true, true]);
      expect(bytes(drafts[0].mesh).equals(bytes(drafts[1].mesh))).toBe(true);
      expect(bytes(drafts[2].mesh).equals(bytes(drafts[1].mesh))).toBe(true);
    }
    // The drafts used the prepared mesh, so preparing once more finds nothing to do.
    asked = 0;
    ready.setPieces(at(0));
    ready.build('a');
    ready.prepare('a', ['c3'], counts);
    expect(asked).toBe(0);
  });

  it('of a state that was there before is what had been built of it', () => {
    const e = fresh();
    const states = [0, 1, 2, 3, 4].map((x) => plate('union', 9, 8, 2, [x, 0.5, 0]));
    const meshes = states.map((pieces) => {
      e.setPieces(pieces);
      return e.build('a').mesh;
    });
    for (const k of [3, 1, 0, 4, 2]) {
      e.setPieces(states[k]);
      const again = e.build('a', undefined, Infinity, k % 2 > 0);
      expect(again.mesh).toBe(meshes[k]);
      expect(again.draft).toBe(false);
    }
  });

  it('is not made where all cutters are on the move, or few there are', () => {
    const e = fresh();
    e.setPieces(plate('subtract', 8, 4, 0, [0, 0, 0]));
    e.build('a');
    e.setPieces(plate('subtract', 8, 4, 0, [1, 0, 0]));
    expect(e.build('a', undefined, Infinity, true).draft).toBe(false);
    const moved = plate('subtract', 8, 12, 0, [0, 0, 0]).map((p) => p.id === 'a' ? p : { ...p, transform: { move: [1, 0, 2] as [number, number, number] } }); // prettier-ignore
    e.setPieces(plate('subtract', 8, 12, 0, [0, 0, 0]));
    e.build('a');
    e.setPieces(moved);
    expect(e.build('a', undefined, Infinity, true).draft).toBe(false);
  });
});

describe('a slow rounding', () => {
  it('waits while something before it is dragged, but not while its own numbers are', () => {
    const bores = Array.from({ length: 6 }, (_, i): Piece => ({
      id: `c${i}`,
      role: 'cutter',
      base: { primitive: 'cylinder', radius: 5, height: 90, sides: 48 },
      transform: { move: [0, (i - 2.5) * 12, 0], turn: [0, 25 * i, 90] },
    }));
    const mast = (width: number): Piece => ({
      id: 'mast',
      base: { primitive: 'cylinder', radius: 25, height: 80, sides: 96 },
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: bores.map((b) => b.id) },
        { kind: 'bevel', scope: { rule: 'rims' }, width, segments: 3 },
      ],
    });
    const none = (): never => {
      throw new Error('no file is used');
    };
    const e = new Evaluator({ blob: none, file: none });
    const built = (moved: number, width: number, draft: boolean) => {
      const at: Piece = { ...bores[2], transform: { ...bores[2].transform, move: [0, -6 + moved, 0] } };
      e.setPieces([mast(width), ...bores.map((b, i) => (i === 2 ? at : b))]);
      const { mesh, draft: quick } = e.build('mast', undefined, Infinity, draft);
      return { strips: faceCount(mesh), quick };
    };
    const whole = built(0, 1, false);
    built(0.1, 1, true);
    const dragged = built(0.2, 1, true);
    expect(dragged.quick).toBe(true);
    expect(dragged.strips).toBeLessThan(whole.strips / 2);
    expect(built(0.2, 1.1, true).strips).toBeGreaterThan(whole.strips / 2);
    const released = built(0.2, 1.1, false);
    expect(released.quick).toBe(false);
    expect(released.strips).toBeGreaterThan(whole.strips / 2);
  });
});

/** Edits done over: later ones stay on what they were on, and what is switched off and on again is as it was. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Action } from '../src/actions/actions';
import type { Redone } from '../src/actions/revise';
import type { Piece } from '../src/document/schema';
import { pieceListFaults } from '../src/document/validate';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, faceNormal, volume } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import type { Vec3 } from '../src/mesh/vec3';
import { bornOf } from '../src/select/born';
import { Evaluator } from '../src/build/evaluate';
import './seed';

const none = (): never => {
  throw new Error('no file is used');
};
const box = (actions: Action[], more: Partial<Piece> = {}): Piece => ({
  id: 'block',
  base: { primitive: 'box', width: 40, height: 20, depth: 30 },
  actions,
  ...more,
});
function evaluator(piece: Piece): Evaluator {
  expect(pieceListFaults([piece])).toEqual([]);
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces([piece]);
  return e;
}
const built = (piece: Piece): PolyMesh => evaluator(piece).build('block').mesh;
const redone = (piece: Piece, order: Redone[]): Piece => ({
  ...piece,
  ...evaluator(piece).revisedEdits('block', order),
});
/** The one face of the edits so far that looks a way, the outermost of them. */
function facing(actions: Action[], way: Vec3): number[] {
  const mesh = built(box(actions));
  const far = (f: number): number => {
    const n = faceNormal(mesh, f);
    const c = mesh.faceStart[f];
    const p = [0, 1, 2].map((k) => mesh.positions[3 * mesh.corners[c] + k]);
    return n[0] * way[0] + n[1] * way[1] + n[2] * way[2] > 0.999 ? p[0] * way[0] + p[1] * way[1] + p[2] * way[2] : -1e9; // prettier-ignore
  };
  const all = Array.from({ length: faceCount(mesh) }, (_, f) => f);
  return [all.reduce((a, b) => (far(b) > far(a) ? b : a))];
}
const grown = (actions: Action[], way: Vec3, distance: number): Action => ({
  op: 'extrude',
  select: { faces: facing(actions, way) },
  distance,
});

const round: Action = { op: 'bevel', select: { rule: 'sharp', angle: 30 }, width: 2, segments: 1 };
const right = grown([round], [1, 0, 0], 7);
const up = grown([round, right], [0, 1, 0], 5);
const three = [round, right, up];

describe('edits of a base', () => {
  const maxOf = (p: Piece): Vec3 => boundsOf(built(p)).max;

  it('stay on their faces when an edit before makes more of them', () => {
    expect(maxOf(box(three))).toEqual([27, 15, 15]);
    const finer = redone(box(three), [{ of: 0, change: { segments: 4 } }, { of: 1 }, { of: 2 }]);
    expect(faceCount(built(finer))).toBeGreaterThan(faceCount(built(box(three))) + 50);
    expect(maxOf(finer)).toEqual([27, 15, 15]);
    expect(checkMesh(built(finer)).findings).toEqual([]);
  });

  it('stay on their faces when one is taken away or left out', () => {
    for (const without of [
      redone(box(three), [{ of: 1 }, { of: 2 }]),
      redone(box(three), [{ of: 0, change: { off: true } }, { of: 1 }, { of: 2 }]),
    ]) {
      expect(faceCount(built(without))).toBe(6 + 2 * 4);
      expect(maxOf(without)).toEqual([27, 15, 15]);
      expect(volume(built(without))).toBeCloseTo(40 * 20 * 30 + 7 * 20 * 30 + 5 * 40 * 30, 6);
    }
  });

  it('come out the same in another order where they have nothing to do with each other', () => {
    const swapped = redone(box(three), [{ of: 0 }, { of: 2 }, { of: 1 }]);
    expect(swapped.actions!.map((a) => a.op)).toEqual(['bevel', 'extrude', 'extrude']);
    expect(volume(built(swapped))).toBeCloseTo(volume(built(box(three))), 9);
    expect(maxOf(swapped)).toEqual([27, 15, 15]);
  });

  it('are as they were when one was left out and taken in again', () => {
    const order = three.map((_, of) => ({ of }));
    fc.assert(
      fc.property(fc.nat({ max: 2 }), (which) => {
        const set = (off: boolean) => (o: Redone) => (o.of === which ? { ...o, change: { off } } : o);
        const back = redone(redone(box(three), order.map(set(true))), order.map(set(false)));
        expect([...built(back).positions]).toEqual([...built(box(three)).positions]);
        expect([...built(back).corners]).toEqual([...built(box(three)).corners]);
      }),
      { numRuns: 6 },
    );
  });

  it('keep selections that were kept among them', () => {
    const kept = { top: { faces: facing(three.slice(0, 2), [0, 1, 0]), after: 2 } };
    const before = box(three, { selections: kept });
    const after = redone(before, [{ of: 1 }, { of: 2 }]);
    const { selection } = evaluator(after).recall('block', after.selections!.top);
    expect(selection.indices).toHaveLength(1);
    expect(faceNormal(built(after), selection.indices[0])).toEqual([0, 1, 0]);
    expect((after.selections!.top as { after: number }).after).toBe(1);
  });

  it('keep their names, so that picks by birth of what they made are found', () => {
    const mesh = built(box(three));
    const top = facing(three, [0, 1, 0]);
    const hand = {
      kind: 'hand' as const,
      actions: [{ op: 'extrude', select: { rule: 'picked', ...bornOf(mesh, { kind: 'face', indices: top }) }, distance: 3 } as Action], // prettier-ignore
    };
    const whole = box(three, { steps: [hand] });
    expect(maxOf(whole)).toEqual([27, 18, 15]);
    const without = redone(whole, [{ of: 0 }, { of: 2 }]);
    expect(without.actions!.map((a) => a.key)).toEqual(['bevel1', 'extrude2']);
    const b = evaluator(without).build('block');
    expect(boundsOf(b.mesh).max).toEqual([20, 18, 15]);
    expect(b.steps[0].warnings).toEqual([]);
  });
});

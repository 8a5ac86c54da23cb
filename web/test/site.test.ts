/** Where edits of elements go: the base, what the steps have made, or a chosen step of edits. */
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { actionsAt, siteOf, withActions } from '../src/state/site';

const piece = (...steps: NonNullable<Piece['steps']>): Piece => ({
  id: 'a',
  base: { primitive: 'box', width: 1, height: 1, depth: 1 },
  steps,
});
const cut = { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['h'] } as const;
const round = { id: 's2', kind: 'bevel', width: 1 } as const;
const mirror = { id: 's3', kind: 'mirror', axes: ['x'] } as unknown as NonNullable<Piece['steps']>[number];
const normals = { id: 's4', kind: 'normals' } as const;
const hand = { id: 's5', kind: 'hand', pin: 'Cut', actions: [{ op: 'inset', select: { rule: 'all', of: 'faces' } }] } as const; // prettier-ignore
const steps = (...s: unknown[]) => piece(...(s as NonNullable<Piece['steps']>));
const inset = { op: 'extrude', select: { faces: [1] } } as const;

describe('the site of edits', () => {
  it('is the result where steps make something, and the base where copies are to follow', () => {
    const auto = { onResult: null, step: null };
    expect(siteOf(auto, piece())).toBeNull();
    expect(siteOf(auto, steps(normals))).toBeNull();
    expect(siteOf(auto, steps(cut, round, normals))).toEqual({ upTo: 2, hand: null, lane: 'Edge' });
    expect(siteOf(auto, steps(cut, mirror))).toBeNull();
    expect(siteOf({ onResult: true, step: null }, steps(cut, mirror))).toEqual({ upTo: 2, hand: null, lane: 'Repeat' }); // prettier-ignore
    expect(siteOf({ onResult: false, step: null }, steps(cut))).toBeNull();
    expect(siteOf(auto, steps({ ...cut, off: true }))).toBeNull();
  });

  it('goes on in the edits that end it, in one that is chosen, else in new ones in the lane of the last step', () => {
    const p = steps(normals, cut, hand, round);
    const here = siteOf({ onResult: null, step: 2 }, p)!;
    expect(here).toEqual({ upTo: 2, hand: 2, lane: 'Cut' });
    expect(actionsAt(p, here)).toHaveLength(1);
    expect(withActions(p, here, [inset as never]).steps![2]).toMatchObject({ id: 's5', actions: [inset] });
    const end = siteOf({ onResult: null, step: null }, p)!;
    expect(end).toEqual({ upTo: 3, hand: null, lane: 'Edge' });
    expect(actionsAt(p, end)).toEqual([]);
    const added = withActions(p, end, [inset as never]).steps!.at(-1)!;
    expect(added).toMatchObject({ kind: 'hand', pin: 'Edge', actions: [inset] });
    expect(p.steps!.map((s) => s.id)).not.toContain(added.id);
    expect(siteOf({ onResult: null, step: null }, steps(cut, hand))).toMatchObject({ hand: 1 });
    expect(withActions(piece(), null, [inset as never]).actions).toEqual([inset]);
  });
});

/**
 * A group that is selected stands for its pieces: outlined, counted, mirrored and reset as one.
 *
 * @covers web/src/state, web/src/views/bench
 */
import { expect, it, vi } from 'vitest';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix } from '@urnsmith/core/mesh/transform';
import type { Piece } from '@urnsmith/core/document/schema';
import { mirrorGroups, resetPlacement, restorePlacement } from '../src/state/arrange';
import { handActions } from '../src/state/handSlice';
import { hintActions } from '../src/state/hintSlice';
import { selectedMembers } from '../src/state/selectors';
import { stagePieces } from '../src/views/bench/stageContents';
import { LiveBench } from './liveBench';

vi.mock('../src/viewport/screens', () => import('./noScreens'));

const box = (id: string, x: number, parent?: string): Piece => ({
  id,
  name: id,
  base: { primitive: 'box', width: 4, height: 4, depth: 4 },
  transform: { move: [x, 1, 2] },
  ...(parent && { parent }),
});
const PIECES: Piece[] = [
  { id: 'set', name: 'Set', base: { group: true } },
  { id: 'inner', name: 'Inner', base: { group: true }, parent: 'set', transform: { turn: [0, 90, 0] } },
  box('a', 10, 'set'),
  box('b', 20, 'inner'),
  box('alone', 30),
];

it('outlines its pieces, those of groups in it too, and no others', async () => {
  const b = await LiveBench.open(...PIECES);
  const lit = (): Record<string, string> =>
    Object.fromEntries(stagePieces(b.state, b.scene.builds).map((p) => [p.id, p.look.lit]));
  expect(lit()).toEqual({ a: 'none', b: 'none', alone: 'none' });
  b.scene.store.dispatch(handActions.selected({ ids: ['set'] }));
  expect(lit()).toEqual({ a: 'selected', b: 'selected', alone: 'none' });
  expect([...selectedMembers(b.state)].sort()).toEqual(['a', 'b']);
  b.scene.store.dispatch(handActions.selected({ ids: ['alone'] }));
  b.scene.store.dispatch(hintActions.hovered('inner'));
  expect(lit()).toEqual({ a: 'none', b: 'hovered', alone: 'selected' });
});

it('is mirrored where it is, and reset with a way back', async () => {
  const b = await LiveBench.open(...PIECES);
  const at = (id: string): number[] =>
    applyMatrix(worldMatrix(new Map(b.state.document.pieces.map((p) => [p.id, p])), id), [0, 0, 0]).map((x) => Number(x.toFixed(6)) + 0); // prettier-ignore
  const before = ['a', 'b', 'alone'].map(at);
  mirrorGroups(b.scene, ['set', 'alone'], 0);
  const [a, inner, alone] = before;
  expect(a).toEqual([10, 1, 2]);
  const flipped = ([x, y, z]: number[]): number[] => [-x + 0, y, z];
  expect(['a', 'b', 'alone'].map(at)).toEqual([flipped(a), flipped(inner), alone]);
  expect(b.state.document.undo.at(-1)?.label).toBe('Mirror Set');
  resetPlacement(b.scene, ['set']);
  expect(['a', 'b', 'alone'].map(at)).toEqual(before);
  restorePlacement(b.scene, ['set']);
  expect(at('a')).toEqual(flipped(a));
});

/**
 * Picked faces become pieces of their own. Places on a face snap to a step.
 *
 * @covers web/src/state/parts.ts, web/src/hands/facePlane.ts
 */
import { describe, expect, it, vi } from 'vitest';
import { Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { applyMatrix } from '@urnsmith/core/mesh/transform';
import { stepAt } from '../src/hands/facePlane';
import { detachFaces, outlineFromPicks } from '../src/state/parts';
import { settingActions } from '../src/state/settingSlice';
import type { Stage } from '../src/viewport/Stage';
import { LiveBench } from './liveBench';

vi.mock('../src/viewport/screens', () => import('./noScreens'));

const BLOCK: Piece = {
  id: 'block',
  name: 'Block',
  base: { primitive: 'box', width: 30, height: 20, depth: 16 },
  transform: { move: [4, 5, 6] },
};
/** The block with its front face picked, at z 14. */
async function frontPicked(): Promise<LiveBench> {
  const b = await LiveBench.open(BLOCK);
  await b.hold('face', 'block');
  await b.click([4, 5, 14]);
  return b;
}
const added = (b: LiveBench): Piece => b.state.document.pieces.at(-1)!;

describe('picked faces', () => {
  it('are outlined by a body that stands on them', async () => {
    const b = await frontPicked();
    await outlineFromPicks(b.scene);
    const made = added(b);
    const height = (made.base as { height: number }).height;
    const world = worldMatrix(new Map(b.state.document.pieces.map((p) => [p.id, p])), made.id);
    const z = (y: number): number => Number(applyMatrix(world, [0, y, 0])[2].toFixed(6));
    expect([height > 0, z(-height / 2), z(height / 2)]).toEqual([true, 14, 14 + height]);
    expect([made.name, b.state.hand.level, b.state.hand.selected]).toEqual(['Outline of Block', 'piece', [made.id]]); // prettier-ignore
  });

  it('are taken off as a piece of their own, and counted', async () => {
    const b = await frontPicked();
    await detachFaces(b.scene);
    await b.rest();
    const { builds } = b.scene;
    expect(b.state.document.pieces.map((p) => builds.get(p.id)?.display?.counts.faces)).toEqual([5, 1]);
    expect(b.state.document.undo.at(-1)?.label).toBe('Take 1 face off Block');
  });
});

describe('the step of places on a face', () => {
  it('is the grid’s while snapping is on, else the roundest number a few pixels tell apart', async () => {
    const b = await LiveBench.open(BLOCK);
    const step = (pixel: number, free = false): number =>
      stepAt(b.scene, { rig: { pixelSize: () => pixel } } as unknown as Stage, new Vector3(), free);
    const { gridStep } = b.state.settings;
    expect([0.05, 0.25, 0.5, 1, 2].map((pixel) => step(pixel))).toEqual([0.2, 1, 2, 5, 10]); // prettier-ignore
    b.scene.store.dispatch(settingActions.snapSwitched());
    expect([step(0.05), step(0.05, true)]).toEqual([gridStep, 0.2]);
  });
});

/** Picks by keys alone: from the picked element to the neighbour in a direction of the picture. */
import { middleOf, neighbourToward, turn } from '@urnsmith/core/select/neighbour';
import type { Outlines } from '@urnsmith/core/select/pickedSize';
import type { ElementKind } from '@urnsmith/core/select/selection';
import type { OpenScene } from '../state/OpenScene';
import { perScene } from '../state/perScene';
import { handActions, type ElementLevel } from '../state/handSlice';
import { panelActions } from '../state/panelSlice';
import { inHand, KIND } from '../state/inHand';
import { underWay } from '../state/underWay';
import { elementAt, projector } from './pointing';

export const WAYS = { left: [-1, 0], right: [1, 0], up: [0, -1], down: [0, 1] } as const;
export type Way = keyof typeof WAYS;

/** The element the keys have reached, and its mesh. */
const reached = perScene((): { shape?: unknown; kind?: ElementKind; element: number } => ({ element: -1 }));

/** @param add what was picked stays picked */
export const walkPicks = (scene: OpenScene, way: Way, add: boolean): Promise<void> =>
  underWay(scene, walked(scene, way, add));

/** Frames a piece whose elements were just taken in hand may take until they are shown. */
const LONG = 120;

async function walked(scene: OpenScene, way: Way, add: boolean): Promise<void> {
  for (let k = 0; k < LONG && scene.stage && !scene.stage.cage.cage; k++)
    await new Promise((next) => requestAnimationFrame(next));
  const hand = inHand(scene);
  const { stage } = scene;
  const cage = stage?.cage.cage;
  if (!hand || !stage || !cage) return;
  const { kind, indices } = hand.selection;
  const own = reached(scene);
  const mesh: Outlines = { ...cage.shape, positions: cage.positions };
  const drawn = projector(stage, stage.cage);
  const known = own.shape === cage.shape && own.kind === kind && indices.includes(own.element);
  const from = known ? own.element : furthest(mesh, kind, indices, drawn, way);
  const to =
    from === null ? inTheMiddle(scene, mesh, kind) : neighbourToward(mesh, kind, from, drawn, WAYS[way]);
  if (to === null) {
    scene.store.dispatch(
      panelActions.noticed({ text: `There is nothing further ${SAID[way]}.`, tone: 'info' }),
    );
    return;
  }
  Object.assign(own, { shape: cage.shape, kind, element: to });
  const picked = add ? [...new Set([...indices, to])].sort((a, b) => a - b) : [to];
  scene.store.dispatch(handActions.elementsPicked(picked));
}

const SAID: Record<Way, string> = { left: 'to the left', right: 'to the right', up: 'up', down: 'down' };

/** The pick drawn furthest in that direction. */
function furthest(
  mesh: Outlines,
  kind: ElementKind,
  indices: ReadonlyArray<number>,
  drawn: (v: number) => [number, number],
  way: Way,
): number | null {
  let [best, most]: [number | null, number] = [null, -Infinity];
  for (const i of indices) {
    const [x, y] = middleOf(mesh, kind, i, drawn);
    const far = x * WAYS[way][0] + y * WAYS[way][1];
    if (far > most) [best, most] = [i, far];
  }
  return best;
}

/** The element drawn nearest to the middle of the stage, on the near side. */
function inTheMiddle(scene: OpenScene, mesh: Outlines, kind: ElementKind): number | null {
  const stage = scene.stage!;
  const box = stage.box;
  const [x, y] = [box.width / 2, box.height / 2];
  const level = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === kind)!;
  const hit = elementAt(stage, stage.cage, level, box.left + x, box.top + y, Infinity);
  if (hit) return hit.element;
  const drawn = projector(stage, stage.cage);
  let [best, least]: [number | null, number] = [null, Infinity];
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
    const [fx, fy] = middleOf(mesh, 'face', f, drawn);
    const far = Math.hypot(fx - x, fy - y);
    if (far < least && turn(mesh, f, drawn) > 0) [best, least] = [f, far];
  }
  return best;
}

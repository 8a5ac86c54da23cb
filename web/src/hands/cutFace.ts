/** The face a cut is drawn on: how thick the piece is under it, and what is found out about it while it is drawn. */
import { Matrix4, Vector3 } from 'three';
import { boxOfDrawn, type DrawnCut } from '@urnsmith/core/document/drawnCut';
import type { OpenScene } from '../state/OpenScene';
import type { Stage } from '../viewport/Stage';
import { drawing, put, stateOf, type CutDrawing } from './cutState';
import { entryAt, sameFace, sidesAt } from './faceKnown';
import { inFrame } from './facePlane';

/** Further than from any place of a piece to any other, mm. */
export const sizeOf = (stage: Stage, id: string): number =>
  1.2 * stage.bounds([id]).getSize(new Vector3()).length();

/** How thick the material is under the middle of the outline, and how far it is from there to the next. */
export function underFace(scene: OpenScene, d: CutDrawing, drawn: DrawnCut): CutDrawing['on'] {
  const { stage } = scene;
  const size = stage ? sizeOf(stage, d.host!) : d.on.size;
  const { middle } = boxOfDrawn(drawn);
  const above = size * 1e-4;
  const from = inFrame(d.frame!, middle[0], above, middle[1]);
  const into = new Vector3().setFromMatrixColumn(new Matrix4().fromArray(d.frame!), 1).negate();
  const [, next = size + above, beyond = Infinity] = stage?.along(d.host!, from, into) ?? [];
  return { size, next: next - above, gap: beyond - next };
}

/** Finds what runs around the face under the pointer; the drawing knows it as soon as it is told. */
export async function findSides(scene: OpenScene): Promise<void> {
  const d = drawing(scene);
  if (!d?.frame || !d.host || !d.hover) return;
  const face = { host: d.host, frame: d.frame };
  const sides = await sidesAt(scene, face, d.hover, stateOf(scene).settings.cut.mode);
  const now = drawing(scene);
  if (sides && now && sameFace(now, face)) put(scene, { sides });
}

/** Searches for entries that are under way. */
const underWay = new WeakMap<OpenScene, Promise<void>>();
/** Done when what a drawn cutter holds to is known, as far as it can be. */
export const entryKnown = async (scene: OpenScene): Promise<void> => underWay.get(scene);

export function lookForEntry(scene: OpenScene): void {
  const search = findEntry(scene).finally(() => underWay.get(scene) === search && underWay.delete(scene));
  underWay.set(scene, search);
}

async function findEntry(scene: OpenScene): Promise<void> {
  const d = drawing(scene);
  if (!d?.frame || !d.host) return;
  const face = { host: d.host, frame: d.frame };
  const entry = await entryAt(scene, face, d.from, stateOf(scene).settings.cut.mode);
  const now = drawing(scene);
  if (entry && now && sameFace(now, face)) put(scene, { entry });
}

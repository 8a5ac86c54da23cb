/** The face a cut is drawn on: what runs around it, how thick the piece is under it, and what a cutter there holds to. */
import { Matrix4, Vector3 } from 'three';
import { boxOfDrawn, type DrawnCut } from '@urnsmith/core/document/drawnCut';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { applyMatrix, invert, type Matrix } from '@urnsmith/core/mesh/transform';
import { dot, sub, type Vec3 } from '@urnsmith/core/mesh/vec3';
import { inLaneOrder, laneOf, STEPS } from '@urnsmith/core/steps/index';
import type { OpenScene } from '../state/OpenScene';
import { targetOn } from '../state/anchors';
import { piecesById } from '../state/selectors';
import type { Stage } from '../viewport/Stage';
import { drawing, put, stateOf, type CutDrawing } from './cutState';
import { withCutter } from './cutMaking';
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

/** The place under the pointer in the frame of a piece, and the frame of the face in it. */
function seenFrom(
  scene: OpenScene,
  host: string,
  frame: Matrix,
  [x, z]: readonly [number, number],
): { place: Vec3; up: Vec3; frame: Matrix } {
  const own = new Matrix4().fromArray(invert(worldMatrix(piecesById(stateOf(scene)), host)));
  const inOwn = own.clone().multiply(new Matrix4().fromArray(frame));
  return {
    place: applyMatrix(own.toArray() as Matrix, inFrame(frame, x, 0, z).toArray()),
    up: new Vector3().setFromMatrixColumn(inOwn, 1).normalize().toArray(),
    frame: inOwn.toArray() as Matrix,
  };
}

/** Finds what runs around the face under the pointer; the drawing knows it as soon as it is told. */
export async function findSides(scene: OpenScene): Promise<void> {
  const d = drawing(scene);
  if (!d?.frame || !d.host || !d.hover) return;
  const { place, up, frame } = seenFrom(scene, d.host, d.frame, d.hover);
  const reply = await scene.builds.ask(d.host, { kind: 'sides', on: { point: place } });
  const now = drawing(scene);
  if (!reply || !('sides' in reply) || !reply.sides || !sameFrame(now?.frame, d.frame)) return;
  // A place on an edge may be found on the face beside it.
  if (dot(reply.sides.facing, up) < 0.999) return;
  const back = invert(frame);
  const sides = reply.sides.loops.map((loop) =>
    loop.map((p): [number, number] => {
      const [x, , z] = applyMatrix(back, p);
      return [x, z];
    }),
  );
  put(scene, { sides });
}

const sameFrame = (a: Matrix | null | undefined, b: Matrix): boolean =>
  !!a && a.every((x, k) => Math.abs(x - b[k]) < 1e-9);

/** Searches for entries that are under way. */
const underWay = new WeakMap<OpenScene, Promise<void>>();
/** Done when what a drawn cutter holds to is known, as far as it can be. */
export const entryKnown = async (scene: OpenScene): Promise<void> => underWay.get(scene);

export function lookForEntry(scene: OpenScene): void {
  const search = findEntry(scene).finally(() => underWay.get(scene) === search && underWay.delete(scene));
  underWay.set(scene, search);
}

/**
 * Finds the face that is drawn on, on the host as it is before the cut. Where another cutter of the same step makes that
 * face, the cut gets a step of its own after it.
 */
async function findEntry(scene: OpenScene): Promise<void> {
  const d = drawing(scene);
  const host = d?.host ? piecesById(stateOf(scene)).get(d.host) : undefined;
  if (!d?.frame || !host) return;
  const { mode } = stateOf(scene).settings.cut;
  const { place, up } = seenFrom(scene, host.id, d.frame, d.from);
  const joined = stepsBefore(withCutter(host, { mode }, 'drawn'), 'drawn');
  const after = stepsBefore(withCutter(host, { mode }, 'drawn', true), 'drawn');
  for (const [upTo, apart] of [
    [joined, false],
    [after, true],
  ] as const) {
    if (apart && after === joined) return;
    const found = await targetOn(scene, host, upTo, place);
    if (drawing(scene)?.frame !== d.frame) return;
    if (!found || typeof found === 'string') continue;
    const same =
      dot(up, found.facing) > 0.99 && Math.abs(dot(found.facing, sub(found.target.at, place))) < 1e-3;
    if (same) return put(scene, { entry: { target: found.target, facing: found.facing, apart } });
  }
}

/** How many steps of a host, in lane order, come before the one that works with a piece. */
const stepsBefore = (host: Piece, operand: string): number =>
  inLaneOrder(host.steps!).findIndex((s) => STEPS[s.kind].operands?.(s as never).includes(operand));

/** Steps that come after cuts may make faces that a cut does not know. */
export const madeLater = (host: Piece): boolean =>
  inLaneOrder(host.steps ?? []).some((s) => !s.off && laneOf(s) !== 'Cut' && !STEPS[s.kind].shadesOnly);

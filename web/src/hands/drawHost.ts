/** The hands while a drawing tool is held: clicks set points, a stroke slices, hovering shows a ring cut. */
import type { OpenScene } from '../state/OpenScene';
import { Matrix4, Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert, type Matrix } from '@urnsmith/core/mesh/transform';
import { notice } from '../state/actions';
import { anchorAt } from '../state/anchors';
import { toggleRimsOf } from '../state/rims';
import { cutterAtRim } from './cutterHere';
import { bench } from '../state/benchSlice';
import { piecesById } from '../state/selectors';
import { hoverCut, pressCut, strokeCut, type Pointing } from './cutDrawing';
import { cutRing, drawPoint, hoverRing, openLine, strokeSlice } from './drawing';
import { inHand } from '../state/inHand';
import { hoverPlaced, pressPlaced } from './placeAgain';
import { isNear, pointInSpace, pointOnPiece, shareAlong } from './drawPoint';
import type { HandsHost } from './HandsHost';
import { elementAt } from './pointing';
import type { SnapScene } from './snapping';
import type { Stage } from '../viewport/Stage';

type DrawHost = Pick<HandsHost, 'drawPress' | 'drawStroke' | 'drawHover'> & {
  /** Hovering with the tool; false when no tool wants it. */
  hover(x: number, y: number, slid: boolean): boolean;
};
const isFree = (e: { ctrlKey: boolean; metaKey: boolean }): boolean => e.ctrlKey || e.metaKey;

const state = (scene: OpenScene) => scene.store.getState();

export function drawHost(scene: OpenScene, stage: Stage, snapScene: () => SnapScene): DrawHost {
  const pointing = (x: number, y: number, free: boolean): Pointing => ({
    stage,
    snaps: snapScene(),
    x,
    y,
    free,
  });
  const radius = (): number => state(scene).bench.elements.pickRadius;
  const pressPoint = (x: number, y: number, e: PointerEvent): void => {
    const b = state(scene).bench;
    const d = b.drawing!;
    const line = openLine(d);
    const first = line[0];
    const least = d.tool === 'face' ? 3 : 2;
    if (first && line.length >= least && isNear(stage, first, x, y, radius()) && line.length > 2)
      return drawPoint(scene, stage, first, { closes: true });
    const snapped = b.snap !== (e.ctrlKey || e.metaKey);
    if (d.tool === 'knife') {
      const at = pointOnPiece(stage, x, y, {
        radius: radius(),
        angle: snapped ? b.angleStep : 0,
        line: e.shiftKey ? [] : line,
      });
      if (at) drawPoint(scene, stage, at, { apart: e.shiftKey });
      return;
    }
    const around = { ...snapScene(), moving: inHand(scene) ? NONE : null };
    const at = pointInSpace(stage, x, y, around, b.gridFrame, snapped ? b.gridStep : 0);
    if (!at) return;
    const local = inHand(scene) ? at.applyMatrix4(stage.cage.group.matrix.clone().invert()) : at;
    drawPoint(scene, stage, local.toArray());
  };
  return {
    drawPress(x, y, e) {
      if (pressPlaced(scene) || pressAnchor(scene, stage, x, y) || pressRim(scene, stage, x, y))
        return 'click';
      const cut = pressCut(scene, pointing(x, y, isFree(e)));
      if (cut) return cut;
      const d = state(scene).bench.drawing;
      if (!d) return null;
      if (d.tool === 'slice') return 'stroke';
      if (d.tool === 'ring') {
        const ring = ringAt(stage, x, y, radius(), e.shiftKey);
        if (ring) void cutRing(scene, ring.edge, ring.slide);
        return 'click';
      }
      pressPoint(x, y, e);
      return 'click';
    },
    drawStroke(from, to, done) {
      if (!strokeCut(scene, pointing(to.x, to.y, false), done))
        void strokeSlice(scene, stage, from, to, done);
    },
    drawHover: (x, y, e) =>
      hoverPlaced(scene, pointing(x, y, isFree(e))) || hoverCut(scene, pointing(x, y, isFree(e))),
    hover(x, y, slid) {
      if (state(scene).bench.drawing?.tool !== 'ring') return false;
      const ring = ringAt(stage, x, y, radius(), slid);
      if (state(scene).bench.pointed !== (ring?.edge ?? null))
        scene.store.dispatch(bench.elementPointed(ring && { element: ring.edge }));
      void hoverRing(scene, ring?.edge ?? null, ring?.slide ?? 0);
      return true;
    },
  };
}

/** An edge or a corner so near to the pointer is what a cutter is anchored to, pixels. */
const NEAR = 8;

/** What a cutter is to be anchored to, under the pointer; false when none is. */
function pressAnchor(scene: OpenScene, stage: Stage, x: number, y: number): boolean {
  const { anchoring } = state(scene).bench;
  if (!anchoring) return false;
  const byId = piecesById(state(scene));
  const host = byId.get(byId.get(anchoring.piece)?.parent ?? '');
  const ghosts = new Set([...byId.values()].filter((p) => p.role === 'cutter').map((p) => p.id));
  const hit = stage.pick(x, y, ghosts);
  if (!host || hit?.piece !== host.id) {
    notice(scene, `Click a face of ${host?.name ?? 'the piece it cuts'}.`, false, 'problem');
    return true;
  }
  const back = new Matrix4().fromArray(invert(worldMatrix(byId, host.id)));
  const reach = NEAR * stage.rig.pixelSize(hit.point) * back.getMaxScaleOnAxis();
  void anchorAt(scene, hit.point.applyMatrix4(back).toArray(), reach);
  return true;
}

/** Whose rims are taken or left, at the pointer; false when none are being chosen. */
function pressRim(scene: OpenScene, stage: Stage, x: number, y: number): boolean {
  const { rimsOf } = state(scene).bench;
  if (!rimsOf) return false;
  const cutter = cutterAtRim(scene, stage, rimsOf.piece, x, y);
  if (cutter) toggleRimsOf(scene, rimsOf, cutter.id, cutter.name ?? cutter.id);
  else notice(scene, 'Click a rim, or a wall that a cutter made.', false, 'problem');
  return true;
}

const NONE: ReadonlySet<number> = new Set();

/** The edge a ring cut would go through, and how far it is slid: to the pointer, or not at all. */
function ringAt(
  stage: Stage,
  x: number,
  y: number,
  radius: number,
  slid: boolean,
): { edge: number; slide: number } | null {
  const hit = elementAt(stage, stage.cage, 'edge', x, y, radius * 2);
  if (!hit) return null;
  if (!slid) return { edge: hit.element, slide: 0 };
  const { positions: p, shape } = stage.cage.cage!;
  const [a, b] = [0, 1].map((k): [number, number, number] => {
    const v = shape.edges[2 * hit.element + k];
    return [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  });
  const share = shareAlong(a, b, hit.at);
  return { edge: hit.element, slide: Math.min(0.98, Math.max(-0.98, 2 * share - 1)) };
}

export const placeOf = (m: Matrix | null): Vector3 | null => (m ? new Vector3(m[12], m[13], m[14]) : null);

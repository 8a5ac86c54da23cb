/** The drawing tools: the knife and a face point by point, a slice by a stroke, a ring cut where the pointer is. */
import { lazy } from 'react';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import {
  countRings,
  cutRing,
  drawPoint,
  finishDrawing,
  hoverRing,
  openLine,
  putDrawingAway,
  showAhead,
  strokeSlice,
  undoPoint,
} from '../hands/drawing';
import { isNear, pointInSpace, pointOnPiece, shareAlong } from '../hands/drawPoint';
import { elementAt, type Pointing } from '../hands/pointing';
import { IDENTITY } from '../state/elementHandle';
import { handActions } from '../state/handSlice';
import { inHand } from '../state/inHand';
import { modeIn, type ModeOf } from '../state/mode';
import type { OpenScene } from '../state/OpenScene';
import { piecesById } from '../state/selectors';
import { defineMode, type HelpLine } from './define';

const DrawFields = lazy(async () => ({ default: (await import('./DrawFields')).DrawFields }));
const TITLES = { knife: 'Knife', face: 'Draw a face', slice: 'Slice', ring: 'Ring cut' };
const HELP: Record<keyof typeof TITLES, ReadonlyArray<HelpLine>> = {
  knife: [
    ['click', 'set points'],
    ['Shift', 'another line'],
    ['Ctrl', 'by the angle step'],
    ['Delete', 'point back'],
    ['Enter', 'cut'],
    ['Esc', 'cancel'],
  ],
  face: [
    ['click', 'set corners'],
    ['first corner', 'done'],
    ['Ctrl', 'grid step'],
    ['Delete', 'corner back'],
    ['Enter', 'done'],
    ['Esc', 'cancel'],
  ],
  slice: [
    ['drag', 'across the piece'],
    ['again', 'move the plane'],
    ['Esc', 'cancel'],
  ],
  ring: [
    ['point', 'shows the loop'],
    ['click', 'cut'],
    ['Shift', 'slid to the pointer'],
    ['wheel', 'more rings'],
    ['Esc', 'cancel'],
  ],
};
const NONE: ReadonlySet<number> = new Set();
const settings = (scene: OpenScene) => scene.store.getState().settings;

export const draw = defineMode<'draw'>({
  is: 'draw',
  title: ({ tool }) => TITLES[tool],
  Above: DrawFields,
  help({ tool }, { hand: { picked } }) {
    const onPicked: HelpLine[] =
      tool === 'ring' && picked.length ? [['Enter', `cuts the ${picked.length} picked`]] : [];
    return [...onPicked, ...HELP[tool]];
  },
  keys: {
    Enter: (scene) => void (scene.stage && finishDrawing(scene, scene.stage)),
    Escape: putDrawingAway,
    Delete: undoPoint,
  },
  // A drawing belongs to one piece.
  lasts: (_, now, before) => now.active === before.active,
  press(scene, at) {
    const d = modeIn(scene.store.getState(), 'draw');
    if (!d) return null;
    if (d.tool === 'slice') return 'stroke';
    if (d.tool === 'ring') {
      const ring = ringAt(scene, at);
      if (ring) void cutRing(scene, ring.edge, ring.slide);
    } else pressPoint(scene, at, d);
    return 'click';
  },
  stroke: (scene, { stage, x, y }, from, done) => void strokeSlice(scene, stage, from, { x, y }, done),
  hover(scene, at) {
    const s = scene.store.getState();
    const d = modeIn(s, 'draw');
    if (d?.tool === 'knife' || d?.tool === 'face') {
      const next = nextPoint(scene, at, d);
      showAhead(scene, next?.at ?? null, next?.apart);
    }
    if (d?.tool !== 'ring') return false;
    const ring = ringAt(scene, at);
    if (s.hand.pointed !== (ring?.edge ?? null))
      scene.store.dispatch(handActions.elementPointed(ring && { element: ring.edge }));
    void hoverRing(scene, ring?.edge ?? null, ring?.slide ?? 0);
    return true;
  },
  wheel(scene, steps) {
    if (modeIn(scene.store.getState(), 'draw')?.tool !== 'ring') return false;
    countRings(scene, steps < 0 ? 1 : -1);
    return true;
  },
  says: ({ tool, count = 1 }) => (tool === 'ring' && count > 1 ? `${count} rings` : ''),
  lines({ tool, lines, ahead, apart }, s) {
    const byId = piecesById(s);
    const { active, level } = s.hand;
    const m = level !== 'piece' && active && byId.has(active) ? worldMatrix(byId, active) : IDENTITY;
    const all = lines.length ? lines : [[]];
    return all.flatMap((line, i) => {
      const last = i === all.length - 1;
      const at = line.map((p) => applyMatrix(m, p));
      const on = last && ahead && !apart ? [...at, applyMatrix(m, ahead)] : at;
      const pairs = on.slice(1).flatMap((p, k) => [on[k], p]);
      if (tool === 'face' && on.length > 2) pairs.push(on[on.length - 1], on[0]);
      // Points are dots: lines of no length.
      const set = tool === 'knife' || tool === 'face' ? at.flatMap((p) => [p, p]) : [];
      return last && ahead && apart
        ? [...pairs, ...set, applyMatrix(m, ahead), applyMatrix(m, ahead)]
        : [...pairs, ...set];
    });
  },
});

/** Sets the next point of a line, or closes it where it began. */
function pressPoint(scene: OpenScene, pointing: Pointing, d: ModeOf<'draw'>): void {
  const next = nextPoint(scene, pointing, d);
  if (next) drawPoint(scene, pointing.stage, next.at, next);
}

/** Where a click would set a point, in the frame of the piece in hand. */
function nextPoint(
  scene: OpenScene,
  { stage, snaps, x, y, free, shift }: Pointing,
  d: ModeOf<'draw'>,
): { at: Vec3; closes?: boolean; apart?: boolean } | null {
  const { snap, angleStep, gridStep, elements } = settings(scene);
  const line = openLine(d);
  const radius = elements.pickRadius;
  if (line.length > 2 && isNear(stage, line[0], x, y, radius)) return { at: line[0], closes: true };
  const snapped = snap !== free;
  if (d.tool === 'knife') {
    const angle = snapped ? angleStep : 0;
    const at = pointOnPiece(stage, x, y, { radius, angle, line: shift ? [] : line });
    return at && { at, apart: shift };
  }
  const around = { ...snaps, moving: inHand(scene) ? NONE : null };
  const { gridFrame } = scene.store.getState().view;
  const at = pointInSpace(stage, x, y, around, gridFrame, snapped ? gridStep : 0);
  if (!at) return null;
  const local = inHand(scene) ? at.applyMatrix4(stage.cage.group.matrix.clone().invert()) : at;
  return { at: local.toArray() };
}

/** The edge a ring cut would go through, and how far it is slid: to the pointer, or not at all. */
function ringAt(scene: OpenScene, { stage, x, y, shift }: Pointing): { edge: number; slide: number } | null {
  const radius = settings(scene).elements.pickRadius;
  const hit = elementAt(stage, stage.cage, 'edge', x, y, radius * 2);
  if (!hit) return null;
  if (!shift) return { edge: hit.element, slide: 0 };
  const { positions: p, shape } = stage.cage.cage!;
  const [a, b] = [0, 1].map((k): Vec3 => {
    const v = shape.edges[2 * hit.element + k];
    return [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  });
  const share = shareAlong(a, b, hit.at);
  return { edge: hit.element, slide: Math.min(0.98, Math.max(-0.98, 2 * share - 1)) };
}

/** Gestures on the stage: selecting pieces or elements, dragging them, drawing with a tool. */
import { interfaceNow } from '../ui/interface';
import type { OpenScene } from '../state/OpenScene';
import { Vector3 } from 'three';
import { preview } from '../state/actions';
import { handActions, picksOf, type ElementLevel } from '../state/handSlice';
import { hintActions } from '../state/hintSlice';
import { settingActions } from '../state/settingSlice';
import { cutterOf } from './cutterHere';
import { describeDrag } from './drag';
import type { HandsHost, ModeDoing, Modifiers } from './HandsHost';
import { elementHost } from './elementHands';
import { elementAmong, type Outline, type Pointing } from './pointing';
import { snapAt, type SnapScene } from './snapping';
import type { Pick, Stage } from '../viewport/Stage';
import { beadOf } from '../state/beads';
import { dragOfElements, dragOfPieces } from './drags';

export interface Rect {
  x: number;
  y: number;
  w: number;
  h: number;
}

export interface Voices {
  rubber: (r: Rect | null) => void;
  lasso: (o: Outline | null) => void;
  say: (text: string) => void;
  menu: (x: number, y: number) => void;
}

const state = (scene: OpenScene) => scene.store.getState();
const atElements = (scene: OpenScene): boolean => state(scene).hand.level !== 'piece';

const PLAIN: Modifiers = { shiftKey: false, ctrlKey: false, metaKey: false };

/** @param mode what the mode that is on does; null while none is */
export function handsHost(
  scene: OpenScene,
  stage: Stage,
  voices: Voices,
  mode: () => ModeDoing | null,
): HandsHost {
  const pieces = dragOfPieces(scene, stage);
  const elements = dragOfElements(scene, stage);
  const drag = () => (atElements(scene) ? elements : pieces);
  const snapScene = (): SnapScene => {
    const { hand, settings, view } = state(scene);
    return {
      kinds: settings.snapTo,
      radius: settings.elements.pickRadius,
      // The piece in hand is looked at by its cage; pieces that are dragged cannot snap to themselves.
      without: new Set(hand.selected),
      moving: drag().moving(),
      peg: view.peg && new Vector3(view.peg[12], view.peg[13], view.peg[14]),
    };
  };
  const pointing = (x: number, y: number, e: Modifiers): Pointing => ({
    stage,
    snaps: snapScene(),
    x,
    y,
    free: e.ctrlKey || e.metaKey,
    shift: e.shiftKey,
  });
  return {
    modePress: (x, y, e) => mode()?.press?.(scene, pointing(x, y, e)) ?? null,
    modeStroke: (from, to, done) => mode()?.stroke?.(scene, pointing(to.x, to.y, PLAIN), from, done),
    modeHover: (x, y, e) => mode()?.hover?.(scene, pointing(x, y, e)) ?? false,
    tool: () => state(scene).hand.tool,
    snap() {
      const { snap, snapTo, gridStep, angleStep } = state(scene).settings;
      return { on: snap, grid: snapTo.includes('grid') ? gridStep : 0, angle: angleStep };
    },
    snapAt: (x, y) => snapAt(stage, x, y, snapScene()),
    heldAt: (x, y) => heldAt(scene, stage, x, y),
    showSnap: (s) => stage.showSnap(s?.at ?? null),
    scrolls: () => interfaceNow().scroll,
    dragWheel(steps, drags) {
      if (!drags) return mode()?.wheel?.(scene, steps) ?? false;
      const e = state(scene).settings.elements;
      if (!atElements(scene) || !e.soft) return false;
      const grown = (x: number): number => Number((x * Math.exp(-steps * 0.12)).toPrecision(4));
      scene.store.dispatch(
        settingActions.elementSettings({ reach: grown(e.reach), brushSize: grown(e.brushSize) }),
      );
      return true;
    },
    selected: () => state(scene).hand.selected,
    click(piece, add) {
      scene.store.dispatch(
        piece
          ? handActions.selected({ ids: [piece], mode: add ? 'toggle' : 'set' })
          : handActions.selected({ ids: add ? state(scene).hand.selected : [] }),
      );
    },
    box(ids, add) {
      scene.store.dispatch(handActions.selected({ ids, mode: add ? 'add' : 'set' }));
    },
    hover(at) {
      const { hovered, story } = state(scene).hints;
      const { active } = state(scene).hand;
      const piece = at?.piece ?? null;
      if (hovered !== piece) scene.store.dispatch(hintActions.hovered(piece));
      const told = at && piece === active ? at.story : [];
      if (told.join() !== story.join()) scene.store.dispatch(hintActions.storyTold(told));
    },
    twice: (at) => at && chooseMaker(scene, at),
    rubber: voices.rubber,
    menu: voices.menu,
    elements: elementHost(scene, stage, voices.lasso),
    dragStart() {
      brushReach(scene, stage);
      return drag().start();
    },
    dragged(v) {
      voices.say(describeDrag(v));
      drag().move(v);
    },
    dropped() {
      voices.say('');
      drag().drop();
    },
    aborted() {
      voices.say('');
      preview(scene, null);
    },
  };
}

/** The step of its piece that made a face, on the Card; the base where none did. Once more, the cutter that did. */
function chooseMaker(scene: OpenScene, hit: Pick): void {
  const { piece, story } = hit;
  const steps = state(scene).document.pieces.find((p) => p.id === piece)?.steps ?? [];
  const made = steps.findIndex((s, i) => story[0] === beadOf(piece, s, i));
  const cutter = made >= 0 && state(scene).hand.step === made ? cutterOf(scene, hit) : null;
  if (cutter) scene.store.dispatch(handActions.selected({ ids: [cutter.id] }));
  else scene.store.dispatch(handActions.stepChosen(made < 0 ? null : made));
}

/** A brush spans as many millimetres as its pixels do where it is used. */
function brushReach(scene: OpenScene, stage: Stage): void {
  const e = state(scene).settings.elements;
  if (!atElements(scene) || !e.soft || !e.brush) return;
  const reach = e.brushSize * stage.rig.pixelSize(stage.gizmo.root.position);
  scene.store.dispatch(settingActions.elementSettings({ reach: Number(reach.toPrecision(4)) }));
}

/** The corner of what is held that is nearest to the pointer, else the place on its surface. */
function heldAt(scene: OpenScene, stage: Stage, x: number, y: number): Vector3 | null {
  const radius = state(scene).settings.elements.pickRadius;
  const box = stage.box;
  const near = (p: Vector3): boolean => {
    const at = stage.project(p);
    return at !== null && Math.hypot(at.x + box.left - x, at.y + box.top - y) <= radius * 1.5;
  };
  if (!atElements(scene)) {
    const hit = stage.faceAt(x, y);
    return hit ? (hit.outline.flat().find(near) ?? hit.point) : null;
  }
  const { hand: b } = state(scene);
  const level = b.level as ElementLevel;
  const hit = elementAmong(stage, level, x, y, radius);
  const view = hit && stage.cages.of(hit.piece);
  const cage = view?.cage;
  if (!hit || !cage || !picksOf(b)[hit.piece]?.includes(hit.element)) return null;
  const { matrix } = view.group;
  const world = (v: number): Vector3 => new Vector3().fromArray(cage.positions, 3 * v).applyMatrix4(matrix);
  if (level === 'point') return world(hit.element);
  const { shape } = cage;
  const corners =
    level === 'edge'
      ? [shape.edges[2 * hit.element], shape.edges[2 * hit.element + 1]]
      : [...shape.corners.subarray(shape.faceStart[hit.element], shape.faceStart[hit.element + 1])];
  return corners.map(world).find(near) ?? new Vector3(...hit.at).applyMatrix4(matrix);
}

/** What the hands on the stage do: selecting pieces or elements, dragging them, drawing with a tool. */
import { interfaceNow } from '../ui/interface';
import type { OpenScene } from '../state/OpenScene';
import { Vector3 } from 'three';
import { preview } from '../state/actions';
import { bench, picksOf, type ElementLevel } from '../state/benchSlice';
import { wheelCut } from './cutDrawing';
import { cutterOf } from './cutterHere';
import { describeDrag } from './drag';
import type { HandsHost } from './HandsHost';
import { elementHost } from './elementHands';
import { elementAmong, type Outline } from './pointing';
import { snapAt, type SnapScene } from './snapping';
import type { Pick, Stage } from '../viewport/Stage';
import { beadOf } from '../state/beads';
import { dragOfElements, dragOfPieces } from './drags';
import { drawHost, placeOf } from './drawHost';

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
const atElements = (scene: OpenScene): boolean => state(scene).bench.level !== 'piece';

export function handsHost(scene: OpenScene, stage: Stage, voices: Voices): HandsHost {
  const pieces = dragOfPieces(scene, stage);
  const elements = dragOfElements(scene, stage);
  const drag = () => (atElements(scene) ? elements : pieces);
  const snapScene = (): SnapScene => {
    const b = state(scene).bench;
    return {
      kinds: b.snapTo,
      radius: b.elements.pickRadius,
      // The piece in hand is looked at by its cage; pieces that are dragged cannot snap to themselves.
      without: new Set(b.selected),
      moving: drag().moving(),
      peg: placeOf(b.peg),
    };
  };
  const draw = drawHost(scene, stage, snapScene);
  return {
    ...draw,
    tool: () => state(scene).bench.tool,
    snap() {
      const { snap, snapTo, gridStep, angleStep } = state(scene).bench;
      return { on: snap, grid: snapTo.includes('grid') ? gridStep : 0, angle: angleStep };
    },
    snapAt: (x, y) => snapAt(stage, x, y, snapScene()),
    heldAt: (x, y) => heldAt(scene, stage, x, y),
    showSnap: (s) => stage.showSnap(s?.at ?? null),
    scrolls: () => interfaceNow().scroll,
    dragWheel(steps, drags) {
      if (!drags) return wheelCut(scene, steps);
      const e = state(scene).bench.elements;
      if (!atElements(scene) || !e.soft) return false;
      const grown = (x: number): number => Number((x * Math.exp(-steps * 0.12)).toPrecision(4));
      scene.store.dispatch(bench.elementSettings({ reach: grown(e.reach), brushSize: grown(e.brushSize) }));
      return true;
    },
    selected: () => state(scene).bench.selected,
    click(piece, add) {
      scene.store.dispatch(
        piece
          ? bench.selected({ ids: [piece], mode: add ? 'toggle' : 'set' })
          : bench.selected({ ids: add ? state(scene).bench.selected : [] }),
      );
    },
    box(ids, add) {
      scene.store.dispatch(bench.selected({ ids, mode: add ? 'add' : 'set' }));
    },
    hover(at) {
      const { hovered, active, story } = state(scene).bench;
      const piece = at?.piece ?? null;
      if (hovered !== piece) scene.store.dispatch(bench.hovered(piece));
      const told = at && piece === active ? at.story : [];
      if (told.join() !== story.join()) scene.store.dispatch(bench.storyTold(told));
    },
    twice: (at) => at && chooseMaker(scene, at),
    rubber: voices.rubber,
    menu: voices.menu,
    elements: elementHost(scene, stage, voices.lasso, draw),
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
  const cutter = made >= 0 && state(scene).bench.step === made ? cutterOf(scene, hit) : null;
  if (cutter) scene.store.dispatch(bench.selected({ ids: [cutter.id] }));
  else scene.store.dispatch(bench.stepChosen(made < 0 ? null : made));
}

/** A brush spans as many millimetres as its pixels do where it is used. */
function brushReach(scene: OpenScene, stage: Stage): void {
  const e = state(scene).bench.elements;
  if (!atElements(scene) || !e.soft || !e.brush) return;
  const reach = e.brushSize * stage.rig.pixelSize(stage.gizmo.root.position);
  scene.store.dispatch(bench.elementSettings({ reach: Number(reach.toPrecision(4)) }));
}

/** The corner of what is held that is nearest to the pointer, else the place on its surface. */
function heldAt(scene: OpenScene, stage: Stage, x: number, y: number): Vector3 | null {
  const radius = state(scene).bench.elements.pickRadius;
  const box = stage.canvas.getBoundingClientRect();
  const near = (p: Vector3): boolean => {
    const at = stage.project(p);
    return at !== null && Math.hypot(at.x + box.left - x, at.y + box.top - y) <= radius * 1.5;
  };
  if (!atElements(scene)) {
    const hit = stage.faceAt(x, y);
    return hit ? (hit.outline.flat().find(near) ?? hit.point) : null;
  }
  const { bench: b } = state(scene);
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

/** What the hands on the stage do to the document: selecting and dragging pieces, or elements of one. */
import { Plane, Vector3 } from 'three';
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix, invert, type Matrix } from '@urnsmith/core/mesh/transform';
import { commit, preview } from '../../state/actions';
import { bench, type ElementLevel } from '../../state/benchSlice';
import { act, inHand, pick, previewActions } from '../../state/elements';
import { finishKnife } from '../../state/knife';
import { piecesById } from '../../state/selectors';
import { store } from '../../state/store';
import { describeDrag, dragPieces, topOnly } from '../../viewport/drag';
import { elementDrag } from '../../viewport/elementDrag';
import type { DragValue, ElementHost, HandsHost } from '../../viewport/Hands';
import { elementAt, elementsInside, type Outline, type PointedAt } from '../../viewport/pointing';
import type { Stage } from '../../viewport/Stage';
import { builds } from '../../workers/builds';
import { elementHandle, handlePlace } from './stageContents';

interface Rect {
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

const state = () => store.getState();
const atElements = (): boolean => state().bench.level !== 'piece';

export function handsHost(stage: Stage, voices: Voices): HandsHost {
  const pieces = pieceDrag();
  const elements = dragOfElements();
  const drag = () => (atElements() ? elements : pieces);
  return {
    tool: () => state().bench.tool,
    snap: () => ({ on: state().bench.snap, grid: state().bench.gridStep, angle: state().bench.angleStep }),
    selected: () => state().bench.selected,
    click(piece, add) {
      store.dispatch(
        piece
          ? bench.selected({ ids: [piece], mode: add ? 'toggle' : 'set' })
          : bench.selected({ ids: add ? state().bench.selected : [] }),
      );
    },
    box(ids, add) {
      store.dispatch(bench.selected({ ids, mode: add ? 'add' : 'set' }));
    },
    hover(piece) {
      if (state().bench.hovered !== piece) store.dispatch(bench.hovered(piece));
    },
    rubber: voices.rubber,
    menu: voices.menu,
    elements: elementHost(stage, voices),
    dragStart: () => drag().start(),
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
      preview(null);
    },
  };
}

interface Drag {
  start(): Vector3[] | null;
  move(v: DragValue): void;
  drop(): void;
}

const axesOf = (m: Matrix): Vector3[] =>
  [0, 1, 2].map((k) => new Vector3(m[4 * k], m[4 * k + 1], m[4 * k + 2]).normalize());

function pieceDrag(): Drag {
  let axes: Vector3[] = [];
  let pivot = new Vector3();
  let value: DragValue | null = null;
  let before = new Map<string, Piece>();
  return {
    start() {
      const place = handlePlace(state());
      if (!place || !topOnly(piecesById(state()), state().bench.selected).length) return null;
      axes = axesOf(place.matrix);
      pivot = new Vector3(...place.at);
      before = new Map(state().document.pieces.map((p) => [p.id, p]));
      value = null;
      return axes;
    },
    move(v) {
      value = v;
      preview(dragPieces(before, state().bench.selected, v, axes, pivot));
    },
    drop() {
      if (!value) return;
      const changed = dragPieces(before, state().bench.selected, value, axes, pivot);
      const ids = Object.keys(changed);
      const verb = { move: 'Move', turn: 'Turn', resize: 'Resize' }[value.tool];
      commit(
        `${verb} ${ids.length === 1 ? (changed[ids[0]].name ?? ids[0]) : `${ids.length} pieces`}`,
        state().document.pieces.map((p) => changed[p.id] ?? p),
      );
    },
  };
}

function dragOfElements(): Drag {
  let axes: Vector3[] = [];
  let piece: Piece | null = null;
  let toPiece: Matrix | null = null;
  let value: DragValue | null = null;
  const action = () => {
    const hand = inHand()!;
    return elementDrag(hand.selection, value!, axes, toPiece!, state().bench.elements);
  };
  return {
    start() {
      const hand = inHand();
      const place = hand && elementHandle(state(), builds.get(hand.piece.id));
      if (!hand || !place || hand.piece.locked) return null;
      piece = hand.piece;
      toPiece = invert(worldMatrix(piecesById(state()), piece.id));
      axes = axesOf(place.matrix);
      value = null;
      return axes;
    },
    move(v) {
      value = v;
      previewActions(piece!, [...(piece!.actions ?? []), action()]);
    },
    drop() {
      if (!value || !piece) return;
      const { op, select: _, ...params } = action();
      void act(op, params);
    },
  };
}

function elementHost(stage: Stage, voices: Voices): ElementHost {
  const level = (): ElementLevel => state().bench.level as ElementLevel;
  const settings = () => state().bench.elements;
  const picked = (): number[] => state().bench.picked;
  const set = (indices: Iterable<number>): void => {
    store.dispatch(bench.elementsPicked([...new Set(indices)].sort((a, b) => a - b)));
  };
  const at = (x: number, y: number): PointedAt | null =>
    elementAt(stage, stage.cage, level(), x, y, settings().pickRadius);
  return {
    active: atElements,
    at,
    isPicked: (e) => picked().includes(e),
    point(p) {
      const e = p?.element ?? null;
      if (state().bench.pointed !== e) store.dispatch(bench.elementPointed(e));
    },
    click(p, add) {
      if (!p) return add ? undefined : set([]);
      if (!add) return set([p.element]);
      set(picked().includes(p.element) ? picked().filter((i) => i !== p.element) : [...picked(), p.element]);
    },
    twice(p, add, across) {
      if (!p) return;
      const before = add ? picked() : [];
      set([p.element]);
      void pick(across ? 'ring' : 'loop').then(() => add && set([...before, ...picked()]));
    },
    inside(outline, add) {
      const found = elementsInside(stage, stage.cage, level(), outline, settings().through);
      if (!add) return set(found);
      // A box over nothing but picked ones takes them away.
      const now = new Set(picked());
      if (found.length && found.every((i) => now.has(i))) for (const i of found) now.delete(i);
      else for (const i of found) now.add(i);
      set(now);
    },
    paint(p) {
      if (!picked().includes(p.element)) set([...picked(), p.element]);
    },
    lasso: voices.lasso,
    toolClick(x, y) {
      const { knife } = state().bench;
      if (!knife) return false;
      const point = knifePoint(stage, x, y);
      if (!point) return true;
      const first = knife[0];
      if (knife.length > 2 && first && near(stage, first, x, y)) void finishKnife(stage, true);
      else store.dispatch(bench.knifeDrawn([...knife, point]));
      return true;
    },
    toolMove() {},
  };
}

/** Where the knife meets the piece: snapped to a point, an edge's middle or an edge when near one. */
function knifePoint(stage: Stage, x: number, y: number): [number, number, number] | null {
  const radius = state().bench.elements.pickRadius;
  const cage = stage.cage.cage;
  const face = elementAt(stage, stage.cage, 'face', x, y, radius);
  if (!cage) return null;
  const { positions: p, shape } = cage;
  const point = (v: number): [number, number, number] => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const v = elementAt(stage, stage.cage, 'point', x, y, radius);
  if (v) return point(v.element);
  const e = elementAt(stage, stage.cage, 'edge', x, y, radius * 0.75);
  if (!e) return face?.at ?? besideThePiece(stage, x, y);
  const [a, b] = [point(shape.edges[2 * e.element]), point(shape.edges[2 * e.element + 1])];
  const middle = a.map((q, k) => (q + b[k]) / 2) as [number, number, number];
  if (near(stage, middle, x, y)) return middle;
  if (!face) return null;
  // On the edge itself, nearest to where the pointer meets the surface.
  const d = b.map((q, k) => q - a[k]);
  const s =
    d.reduce((sum, q, k) => sum + q * (face.at[k] - a[k]), 0) / (d.reduce((sum, q) => sum + q * q, 0) || 1);
  const share = Math.min(1, Math.max(0, s));
  return a.map((q, k) => q + share * d[k]) as [number, number, number];
}

/** Beside the piece a line may begin and end too: on the plane through what is looked at. */
function besideThePiece(stage: Stage, x: number, y: number): [number, number, number] | null {
  const { rig } = stage;
  const plane = new Plane().setFromNormalAndCoplanarPoint(rig.back, rig.target);
  const at = rig.ray(stage.pointer(x, y)).intersectPlane(plane, new Vector3());
  return at && applyMatrix(invert(stage.cage.group.matrix.toArray() as Matrix), at.toArray());
}

function near(stage: Stage, local: [number, number, number], x: number, y: number): boolean {
  const world = applyMatrix(stage.cage.group.matrix.toArray() as Matrix, local);
  const at = stage.project(new Vector3(...world));
  const box = stage.canvas.getBoundingClientRect();
  return (
    at !== null && Math.hypot(at.x + box.left - x, at.y + box.top - y) <= state().bench.elements.pickRadius
  );
}

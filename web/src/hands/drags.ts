/** What dragging handles does to the document: to pieces, or to picked elements of one. */
import type { OpenScene } from '../scene/OpenScene';
import { Vector3 } from 'three';
import type { Surface } from '@urnsmith/core/document/base';
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert, type Matrix } from '@urnsmith/core/mesh/transform';
import { commit, preview } from '../state/actions';
import { attraction } from './attraction';
import { act, inHand, previewAction } from '../state/elements';
import { piecesById } from '../state/selectors';
import { dragPieces, topOnly } from './drag';
import { elementDrag } from './elementDrag';
import type { DragValue } from './dragValue';
import type { Stage } from '../viewport/Stage';
import { elementHandle, pointsOfPicked, type Handle } from './elementHandle';
import { handlePlace } from '../views/bench/stageContents';

export interface Drag {
  /** @returns the axes of the handles in the world; null when nothing can be dragged */
  start(): Vector3[] | null;
  move(v: DragValue): void;
  drop(): void;
  /** Points of the cage that move along; null when whole pieces do. */
  moving(): ReadonlySet<number> | null;
}

const state = (scene: OpenScene) => scene.store.getState();

function axesOf(place: Handle, stage: Stage): Vector3[] {
  const m = place.matrix;
  if (!m) return stage.rig.axes();
  return [0, 1, 2].map((k) => new Vector3(m[4 * k], m[4 * k + 1], m[4 * k + 2]).normalize());
}

export function dragOfPieces(scene: OpenScene, stage: Stage): Drag {
  let axes: Vector3[] = [];
  let pivot = new Vector3();
  let value: DragValue | null = null;
  let before = new Map<string, Piece>();
  return {
    start() {
      const place = handlePlace(state(scene));
      if (!place || !topOnly(piecesById(state(scene)), state(scene).bench.selected).length) return null;
      axes = axesOf(place, stage);
      pivot = new Vector3(...place.at);
      before = new Map(state(scene).document.pieces.map((p) => [p.id, p]));
      value = null;
      return axes;
    },
    move(v) {
      value = v;
      preview(scene, dragPieces(before, state(scene).bench.selected, v, axes, pivot));
    },
    drop() {
      if (!value) return;
      const changed = dragPieces(before, state(scene).bench.selected, value, axes, pivot);
      const ids = Object.keys(changed);
      const verb = { move: 'Move', turn: 'Turn', resize: 'Resize' }[value.tool];
      commit(
        scene,
        `${verb} ${ids.length === 1 ? (changed[ids[0]].name ?? ids[0]) : `${ids.length} pieces`}`,
        state(scene).document.pieces.map((p) => changed[p.id] ?? p),
      );
    },
    moving: () => null,
  };
}

export function dragOfElements(scene: OpenScene, stage: Stage): Drag {
  let axes: Vector3[] = [];
  let piece: Piece | null = null;
  let toPiece: Matrix | null = null;
  let at = new Vector3();
  let value: DragValue | null = null;
  let surface: Surface | null = null;
  let finding: Promise<void> = Promise.resolve();
  let moving: ReadonlySet<number> = new Set();
  const action = () =>
    elementDrag(inHand(scene)!.selection, value!, axes, state(scene).bench.elements, {
      toPiece: toPiece!,
      at,
      back: stage.rig.back,
      surface,
    });
  const show = (): void => {
    if (piece && value) previewAction(scene, action());
  };
  return {
    start() {
      const hand = inHand(scene);
      const built = hand && scene.builds.get(hand.piece.id);
      const place = hand && elementHandle(state(scene), built ?? undefined);
      if (!hand || !place || !built?.cage || hand.piece.locked) return null;
      piece = hand.piece;
      toPiece = invert(worldMatrix(piecesById(state(scene)), piece.id));
      at = new Vector3(...place.at);
      axes = axesOf(place, stage);
      const { level, picked } = state(scene).bench;
      moving = new Set(level === 'piece' ? [] : pointsOfPicked(built.cage.shape, level, picked));
      value = surface = null;
      finding = attraction(scene, piece).then((s) => {
        surface = s;
        show();
      });
      return axes;
    },
    move(v) {
      value = v;
      show();
    },
    drop() {
      if (!value || !piece) return;
      const last = value;
      void finding.then(() => {
        value = last;
        const { op, select: _, ...params } = action();
        value = null;
        void act(scene, op, params);
      });
    },
    moving: () => moving,
  };
}

/** Changes to the document while handles are dragged: of pieces, or of picked elements. */
import type { OpenScene } from '../state/OpenScene';
import { Vector3 } from 'three';
import type { Action } from '@urnsmith/core/actions/actions';
import type { Surface } from '@urnsmith/core/primitives/base';
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert, type Matrix } from '@urnsmith/core/mesh/transform';
import { commit, preview } from '../state/actions';
import { surfaceOf } from '../state/otherSurface';
import { act, previewActions } from '../state/elements';
import { allInHand, inHand, type Hand } from '../state/inHand';
import { piecesById } from '../state/selectors';
import { dragPieces, topOnly } from './drag';
import { elementDrag } from './elementDrag';
import type { DragValue } from './dragValue';
import type { Stage } from '../viewport/Stage';
import { elementHandle, pointsOfPicked, type Handle } from '../state/elementHandle';
import { handlePlace } from '../state/pieceHandle';

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
      if (!place || !topOnly(piecesById(state(scene)), state(scene).hand.selected).length) return null;
      axes = axesOf(place, stage);
      pivot = new Vector3(...place.at);
      before = new Map(state(scene).document.pieces.map((p) => [p.id, p]));
      value = null;
      return axes;
    },
    move(v) {
      value = v;
      preview(scene, dragPieces(before, state(scene).hand.selected, v, axes, pivot));
    },
    drop() {
      if (!value) return;
      const changed = dragPieces(before, state(scene).hand.selected, value, axes, pivot);
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
  interface Held {
    hand: Hand;
    toPiece: Matrix;
    surface: Surface | null;
  }
  let axes: Vector3[] = [];
  let held: Held[] = [];
  let at = new Vector3();
  let value: DragValue | null = null;
  let finding: Promise<unknown> = Promise.resolve();
  let moving: ReadonlySet<number> = new Set();
  const action = ({ hand, toPiece, surface }: Held, v: DragValue): Action =>
    elementDrag(hand.selection, v, axes, state(scene).settings.elements, {
      toPiece,
      at,
      back: stage.rig.back,
      surface,
    });
  const show = (): void => {
    const v = value;
    if (held.length && v)
      previewActions(
        scene,
        held.map((h) => ({ hand: h.hand, action: action(h, v) })),
      );
  };
  return {
    start() {
      const lead = inHand(scene);
      const cage = lead && scene.builds.get(lead.piece.id)?.cage;
      const place = lead && elementHandle(state(scene), scene.builds);
      if (!lead || !place || !cage || lead.piece.locked) return null;
      const byId = piecesById(state(scene));
      held = allInHand(scene)
        .filter((h) => h.selection.indices.length)
        .map((hand) => ({ hand, toPiece: invert(worldMatrix(byId, hand.piece.id)), surface: null }));
      at = new Vector3(...place.at);
      axes = axesOf(place, stage);
      const { level, picked } = state(scene).hand;
      moving = new Set(level === 'piece' ? [] : pointsOfPicked(cage.shape, level, picked));
      value = null;
      finding = Promise.all(
        held.map(async (h) => {
          h.surface = await surfaceOf(scene, h.hand.piece, scene.store.getState().settings.elements.onto);
        }),
      ).then(show);
      return axes;
    },
    move(v) {
      value = v;
      show();
    },
    drop() {
      const last = value;
      if (!last || !held.length) return;
      void finding.then(() => {
        value = null;
        const made = new Map(held.map((h) => [h.hand.piece.id, action(h, last)]));
        const first = action(held[0], last);
        void act(scene, first.op, (id) => {
          const { op: _, select: __, ...params } = made.get(id) ?? first;
          return params;
        });
      });
    },
    moving: () => moving,
  };
}

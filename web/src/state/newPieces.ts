/** Placement and size of new pieces: standing on the grid or the peg, sized to the view. */
import type { Piece } from '@urnsmith/core/document/schema';
import { transformOf } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { PRIMITIVES, reachBelow } from '@urnsmith/core/primitives/index';
import type { OpenScene } from './OpenScene';

/** How much of the world an empty stage shows from top to bottom, for which first sizes are made, mm. */
const SEEN_AT_FIRST = 230;

/** The factor for first sizes: 1, 2 or 5 times a power of ten. */
export function suitingScale(scene: OpenScene): number {
  const { stage } = scene;
  if (!stage || !scene.store.getState().document.pieces.length) return 1;
  return scaleFor(stage.rig.pixelSize(stage.rig.target) * stage.box.height);
}

/** @param seen how much of the world is seen from top to bottom, mm */
export function scaleFor(seen: number): number {
  const wanted = Math.log10(seen / SEEN_AT_FIRST);
  const powers = [0, Math.log10(2), Math.log10(5), 1].map((x) => x + Math.floor(wanted));
  const nearest = powers.reduce((a, b) => (Math.abs(b - wanted) < Math.abs(a - wanted) ? b : a));
  return Number((10 ** nearest).toPrecision(6));
}

/** A primitive as it stands on its origin, where it has a foot. */
export const standing = (base: Piece['base']): Piece['base'] =>
  'primitive' in base && PRIMITIVES[base.primitive].foot && !('origin' in base && base.origin === 'foot')
    ? { ...base, origin: 'foot' }
    : base;

/**
 * The placement of a new piece: on the peg or the seated grid, else on the ground where the view looks; null at the
 * origin.
 */
export function placeOfNew(scene: OpenScene, base: Piece['base']): Piece['transform'] | null {
  const { peg, gridFrame } = scene.store.getState().view;
  const frame = peg ?? gridFrame;
  // Half sunk it would be hard to work on.
  const high = 'primitive' in base ? reachBelow(base) : 0;
  if (frame) {
    const { move, turn } = transformOf(frame);
    const up = [frame[4], frame[5], frame[6]];
    const long = Math.hypot(...up) || 1;
    return { move: move.map((x, k) => round(x + (up[k] / long) * high)) as Vec3, turn };
  }
  const [x, z] = spot(scene);
  const move: Vec3 = [x, round(high), z];
  return move.some((v) => v !== 0) ? { move } : null;
}

const round = (x: number): number => Number(x.toFixed(6)) + 0;

/** The view's target, rounded to grid steps. */
function spot(scene: OpenScene): [x: number, z: number] {
  const { stage } = scene;
  const { document, settings } = scene.store.getState();
  if (!stage || !document.pieces.length) return [0, 0];
  const { x, z } = stage.rig.target;
  const stepped = (v: number): number => round(Math.round(v / settings.gridStep) * settings.gridStep);
  return [stepped(x), stepped(z)];
}

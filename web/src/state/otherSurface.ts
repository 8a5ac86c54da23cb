/** The surface of another piece as it is built now, in the frame of the piece in hand. */
import { isMeshBase, type MeshBase, type Surface } from '@urnsmith/core/primitives/base';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { invert, multiply } from '@urnsmith/core/mesh/transform';
import type { OpenScene } from './OpenScene';
import { perScene } from './perScene';
import { keepMesh } from './meshes';
import { piecesById } from './selectors';

/** @returns null when there is no such piece, or it has no surface now */
export async function surfaceOf(
  scene: OpenScene,
  piece: Piece,
  other: string | null | undefined,
): Promise<Surface | null> {
  const byId = piecesById(scene.store.getState());
  const from = other && other !== piece.id ? byId.get(other) : undefined;
  if (!from || 'group' in from.base) return null;
  const base = await meshOf(scene, from);
  const place = multiply(invert(worldMatrix(byId, piece.id)), worldMatrix(byId, from.id));
  return base && { base, place };
}

/** A plain piece is named by what it is made of; anything else is stored as it is built. */
async function meshOf(scene: OpenScene, piece: Piece): Promise<MeshBase | null> {
  const { base } = piece;
  const alone = isMeshBase(base);
  if (alone && !piece.actions?.length && !piece.steps?.length) return base;
  const own = last(scene);
  if (alone && own.stored?.piece === piece) return own.stored.base;
  const reply = await scene.builds.ask(piece.id, { kind: 'bakeBuilt' });
  if (!reply || !('bytes' in reply)) return null;
  try {
    own.stored = { piece, base: { blob: await keepMesh(reply.bytes) } };
    return own.stored.base;
  } catch {
    return null;
  }
}
const last = perScene((): { stored: { piece: Piece; base: MeshBase } | null } => ({ stored: null }));

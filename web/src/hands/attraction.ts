/** The surface moved points are drawn onto: another piece as it is built now, in the frame of the piece in hand. */
import type { OpenScene } from '../scene/OpenScene';
import { perScene } from '../scene/perScene';
import { isMeshBase, type MeshBase, type Surface } from '@urnsmith/core/document/base';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { invert, multiply } from '@urnsmith/core/mesh/transform';
import { keepMesh } from '../state/meshes';
import { piecesById } from '../state/selectors';

/** @returns null when nothing attracts, or the other piece has no surface now */
export async function attraction(scene: OpenScene, piece: Piece): Promise<Surface | null> {
  const s = scene.store.getState();
  const { onto } = s.bench.elements;
  const byId = piecesById(s);
  const other = onto && onto !== piece.id ? byId.get(onto) : undefined;
  if (!other || 'group' in other.base) return null;
  const base = await surfaceOf(scene, other);
  const place = multiply(invert(worldMatrix(byId, piece.id)), worldMatrix(byId, other.id));
  return base && { base, place };
}

/** A plain piece is named by what it is made of; anything else is stored as it is built. */
async function surfaceOf(scene: OpenScene, piece: Piece): Promise<MeshBase | null> {
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

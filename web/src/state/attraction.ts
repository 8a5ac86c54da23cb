/** The surface moved points are drawn onto: another piece as it is built now, in the frame of the piece in hand. */
import type { MeshBase, Surface } from '@urnsmith/core/document/base';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { invert, multiply } from '@urnsmith/core/mesh/transform';
import { keepMesh } from './meshes';
import { builds } from '../workers/builds';
import { piecesById } from './selectors';
import { store } from './store';

/** @returns null when nothing attracts, or the other piece has no surface now */
export async function attraction(piece: Piece): Promise<Surface | null> {
  const s = store.getState();
  const { onto } = s.bench.elements;
  const byId = piecesById(s);
  const other = onto && onto !== piece.id ? byId.get(onto) : undefined;
  if (!other || 'group' in other.base) return null;
  const base = await surfaceOf(other, other.base);
  const place = multiply(invert(worldMatrix(byId, piece.id)), worldMatrix(byId, other.id));
  return base && { base, place };
}

/** A plain piece is named by what it is made of; anything else is stored as it is built. */
async function surfaceOf(piece: Piece, base: MeshBase): Promise<MeshBase | null> {
  if (!piece.actions?.length && !piece.steps?.length) return base;
  if (stored?.piece === piece) return stored.base;
  const reply = await builds.ask(piece.id, { kind: 'bakeBuilt' });
  if (!reply || !('bytes' in reply)) return null;
  try {
    stored = { piece, base: { blob: await keepMesh(reply.bytes) } };
    return stored.base;
  } catch {
    return null;
  }
}
let stored: { piece: Piece; base: MeshBase } | null = null;

/** Changes of a scene document as data: what became of which pieces, and their new order where it changed. */
import type { Piece, SceneDocument } from './schema';

export interface Patch {
  /** New value per piece id; null takes the piece away. */
  pieces: Record<string, Piece | null>;
  /** All ids in their new order, when adding, removing or sorting changed it. */
  order?: string[];
}

/** The document with a patch applied; the original is unchanged. */
export function applyPatch(doc: SceneDocument, patch: Patch): SceneDocument {
  const byId = new Map(doc.pieces.map((p) => [p.id, p]));
  for (const [id, piece] of Object.entries(patch.pieces)) {
    if (piece) byId.set(id, piece);
    else byId.delete(id);
  }
  const order = patch.order ?? doc.pieces.map((p) => p.id);
  const listed = new Set(order);
  const rest = [...byId.keys()].filter((id) => !listed.has(id));
  return { pieces: [...order, ...rest].flatMap((id) => byId.get(id) ?? []) };
}

/** The patches that lead from one document to another and back; null when they are alike. */
export function diffDocuments(
  before: SceneDocument,
  after: SceneDocument,
): { forward: Patch; inverse: Patch } | null {
  const a = new Map(before.pieces.map((p) => [p.id, p]));
  const b = new Map(after.pieces.map((p) => [p.id, p]));
  const forward: Patch = { pieces: {} };
  const inverse: Patch = { pieces: {} };
  for (const id of new Set([...a.keys(), ...b.keys()])) {
    const x = a.get(id) ?? null;
    const y = b.get(id) ?? null;
    if (x === y || JSON.stringify(x) === JSON.stringify(y)) continue;
    forward.pieces[id] = y;
    inverse.pieces[id] = x;
  }
  const [from, to] = [before.pieces.map((p) => p.id), after.pieces.map((p) => p.id)];
  if (from.join() !== to.join()) {
    forward.order = to;
    inverse.order = from;
  }
  return Object.keys(forward.pieces).length || forward.order ? { forward, inverse } : null;
}

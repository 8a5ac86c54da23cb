/**
 * Numbered migrations of stored documents and their journals. A journal is brought up to date by replaying it in its
 * old form beside the new one; the patches of the new form are the differences found on the way.
 *
 * To change the stored form: raise `DOCUMENT_VERSION`, add a migration from the version before, and keep a store of
 * that version under `server/test/stores`.
 */
import { diffDocuments, type Patch } from './patch';
import type { Piece } from './schema';
import { DOCUMENT_VERSION, documentOf, withPieces, type SceneDocument } from './sections';

/** Earlier stored forms. Their types are kept here and nowhere else. */
export interface DocumentV1 {
  pieces: Piece[];
}
export interface PatchV1 {
  pieces: Record<string, Piece | null>;
  order?: string[];
}

export class VersionError extends Error {
  constructor(readonly version: number) {
    super(
      `This was stored by a newer Urnsmith (version ${version} of the stored form, this one knows ${DOCUMENT_VERSION}). Open it with that one.`,
    );
  }
}

/**
 * The version a stored value has.
 * @throws VersionError for one that is newer than this program
 */
export function versionOf(value: unknown): number {
  const version = (value as { version?: unknown } | null)?.version ?? 1;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) return 1;
  if (version > DOCUMENT_VERSION) throw new VersionError(version);
  return version;
}

/**
 * A stored document in the form of today. What has no form of any version comes back as it is, for the checks to name
 * what is wrong.
 * @throws VersionError
 */
export function upgradeDocument(value: unknown): SceneDocument {
  const { pieces } = (value ?? {}) as Partial<DocumentV1>;
  return versionOf(value) === 1 && Array.isArray(pieces) ? documentOf(pieces) : (value as SceneDocument);
}

/** A document of version 1 with a patch applied. */
export function applyV1(doc: DocumentV1, patch: PatchV1): DocumentV1 {
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

export interface RevisionV1 {
  number: number;
  parent: number;
  forward: PatchV1;
  inverse: PatchV1;
}
export interface Upgraded {
  number: number;
  forward: Patch;
  inverse: Patch;
  document: SceneDocument;
}

/**
 * A journal of version 1 with its document, in the form of today.
 * @param doc the document at revision `head`
 * @returns the document at the start, and every revision with its patches and the document after it
 */
export function upgradeJournalV1(
  doc: DocumentV1,
  head: number,
  revisions: ReadonlyArray<RevisionV1>,
): { start: SceneDocument; revisions: Upgraded[] } {
  const byNumber = new Map(revisions.map((r) => [r.number, r]));
  let old = doc;
  for (let r = byNumber.get(head); r; r = byNumber.get(r.parent)) old = applyV1(old, r.inverse);
  const states = new Map([[0, { old, document: documentOf(old.pieces) }]]);
  const start = states.get(0)!.document;
  const out: Upgraded[] = [];
  // Parents have smaller numbers, so each is known before its children.
  for (const r of [...revisions].sort((a, b) => a.number - b.number)) {
    const from = states.get(r.parent) ?? states.get(0)!;
    const after = applyV1(from.old, r.forward);
    const document = withPieces(from.document, after.pieces);
    const change = diffDocuments(from.document, document) ?? { forward: [], inverse: [] };
    states.set(r.number, { old: after, document });
    out.push({ number: r.number, ...change, document });
  }
  return { start, revisions: out };
}

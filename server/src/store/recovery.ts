/** The state a window showed when the scene could no longer take its actions. */
import { applyPatch, diffDocuments, PatchError, touched, type Patch } from '@urnsmith/core/document/patch';
import type { SceneAction } from '@urnsmith/core/document/scene';
import type { SceneDocument } from '@urnsmith/core/document/sections';
import { changeFaults } from '@urnsmith/core/document/validate';
import type { Db } from './db';
import type { Documents } from './documents';

interface EntryRow {
  seq: number;
  client: string;
  head_before: number;
  head_after: number;
}

/**
 * The document the window last knew, with what the scene took of it since and the actions it did not take; those that
 * no longer fit are left out.
 */
export function recoveredDocument(
  db: Db,
  documents: Documents,
  {
    id,
    head,
    window,
    base,
    actions,
  }: { id: string; head: number; window: string; base: number; actions: SceneAction[] },
): SceneDocument {
  const entries = db
    .prepare<[string, number], EntryRow>(
      'SELECT seq, client, head_before, head_after FROM entry WHERE scene = ? AND seq >= ? ORDER BY seq',
    )
    .all(id, base);
  const known = entries.find((e) => e.seq === base);
  let { document } = documents.load(id, known?.head_after ?? entries[0]?.head_before ?? head);
  const changeOf = (e: EntryRow): Patch =>
    diffDocuments(documents.load(id, e.head_before).document, documents.load(id, e.head_after).document)
      ?.forward ?? [];
  const patches = [
    ...entries.filter((e) => e.seq > base && e.client === window).map(changeOf),
    ...actions.map((a) => (a.kind === 'revision' ? a.forward : a.patch)),
  ];
  for (const patch of patches) {
    try {
      const after = applyPatch(document, patch);
      if (!changeFaults(document.pieces, after, touched(patch)).length) document = after;
    } catch (e) {
      if (!(e instanceof PatchError)) throw e;
    }
  }
  return document;
}

/** Nests the cutters of stored scenes in what they cut, as a step of each scene's history that can be undone. */
import { withCuttersNested } from '@urnsmith/core/document/belonging';
import { diffDocuments } from '@urnsmith/core/document/patch';
import { piecesOf, withPieces } from '@urnsmith/core/document/sections';
import type { Db } from './db';
import { Journal } from './journal';

export function nestCutters(db: Db): void {
  const journal = new Journal(db);
  const scenes = db.prepare<[], { id: string }>('SELECT id FROM scene WHERE deleted IS NULL').all();
  for (const { id } of scenes) {
    const { document, seq, damage, redo } = journal.open(id);
    // Redo works only until something new is done.
    if (damage || redo.length) continue;
    const change = diffDocuments(document, withPieces(document, withCuttersNested(piecesOf(document))));
    if (!change) continue;
    journal.accept(id, {
      id: `nest-cutters.${id}`,
      window: 'urnsmith',
      base: seq,
      kind: 'revision',
      label: 'Nest cutters in what they cut',
      ...change,
    });
  }
}

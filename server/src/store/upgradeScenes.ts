/** Moves the documents and journals of version 1 into snapshots and path patches; runs once, after migration 2. */
import { upgradeJournalV1, type DocumentV1, type PatchV1 } from '@urnsmith/core/document/migrations';
import { piecesOf } from '@urnsmith/core/document/sections';
import type { Db } from './db';
import { documentHash } from './documentHash';
import { Snapshots } from './snapshots';

interface Row {
  id: string;
  seq: number;
  head: number;
  document: string;
  created: number;
}
interface RevisionRow {
  number: number;
  parent: number;
  forward: string;
  inverse: string;
}

export function upgradeScenes(db: Db): void {
  const scenes = db.prepare<[], Row>('SELECT id, seq, head, document, created FROM scene').all();
  for (const scene of scenes) upgradeScene(db, scene);
}

function upgradeScene(db: Db, { id, head, document, created }: Row): void {
  const revisions = db
    .prepare<[string], RevisionRow>('SELECT number, parent, forward, inverse FROM revision WHERE scene = ?')
    .all(id)
    .map((r) => ({
      ...r,
      forward: JSON.parse(r.forward) as PatchV1,
      inverse: JSON.parse(r.inverse) as PatchV1,
    }));
  const { start, revisions: upgraded } = upgradeJournalV1(
    JSON.parse(document) as DocumentV1,
    head,
    revisions,
  );
  const snapshots = new Snapshots(db);
  snapshots.put(id, 0, start, documentHash(start), created);
  const update = db.prepare(
    'UPDATE revision SET forward = ?, inverse = ?, action = ?, hash = ? WHERE scene = ? AND number = ?',
  );
  let now = start;
  for (const r of upgraded) {
    const hash = documentHash(r.document);
    update.run(JSON.stringify(r.forward), JSON.stringify(r.inverse), `${id}.${r.number}`, hash, id, r.number);
    snapshots.noteMeshes(id, r.document);
    if (r.number === head) {
      now = r.document;
      snapshots.put(id, head, r.document, hash, created);
    }
  }
  db.prepare('UPDATE scene SET pieces = ? WHERE id = ?').run(piecesOf(now).length, id);
}

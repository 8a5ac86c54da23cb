/** Scenes and their journals. */
import { randomUUID } from 'node:crypto';
import { applyPatch, type Patch } from '@urnsmith/core/document/patch';
import type { RevisionLabel, SceneCard, SceneState } from '@urnsmith/core/document/scene';
import type { SceneDocument } from '@urnsmith/core/document/schema';
import { documentFaults } from '@urnsmith/core/document/validate';
import type { Db } from './database';

/** A write that does not fit the state it meets; nothing was changed. */
export class StoreError extends Error {
  constructor(
    readonly status: 404 | 409 | 422,
    readonly code: string,
    message: string,
    readonly detail?: unknown,
  ) {
    super(message);
  }
}

/** Steps of history sent on opening; older ones stay in the journal. */
const HISTORY_SENT = 500;

interface Row {
  id: string;
  name: string;
  seq: number;
  head: number;
  tip: number;
  document: string;
}
interface RevisionRow {
  number: number;
  parent: number;
  label: string;
  forward: string;
  inverse: string;
}

export class SceneStore {
  constructor(private readonly db: Db) {}

  list(search: string): SceneCard[] {
    const like = `%${search.replace(/[\\%_]/g, '\\$&')}%`;
    return this.db
      .prepare<[string], Omit<SceneCard, 'hasThumbnail'> & { hasThumbnail: number }>(
        `SELECT id, name, created, changed, pieces, faces, thumbnail IS NOT NULL AS hasThumbnail
         FROM scene WHERE deleted IS NULL AND name LIKE ? ESCAPE '\\' ORDER BY changed DESC, id`,
      )
      .all(like)
      .map((r) => ({ ...r, hasThumbnail: r.hasThumbnail === 1 }));
  }

  create(name: string, document: SceneDocument): string {
    refuseFaults(document);
    const id = randomUUID();
    const now = Date.now();
    this.db
      .prepare('INSERT INTO scene (id, name, created, changed, document, pieces) VALUES (?, ?, ?, ?, ?, ?)')
      .run(id, name, now, now, JSON.stringify(document), document.pieces.length);
    return id;
  }

  open(id: string): SceneState {
    const row = this.row(id);
    const chain = this.chain(id, row.tip);
    const at = row.head === 0 ? chain.length : chain.findIndex((r) => r.number === row.head);
    const label = (r: RevisionRow): RevisionLabel => ({ number: r.number, label: r.label });
    return {
      id,
      name: row.name,
      seq: row.seq,
      document: JSON.parse(row.document) as SceneDocument,
      undo: chain
        .slice(at)
        .reverse()
        .map((r) => ({ ...label(r), inverse: JSON.parse(r.inverse) as Patch })),
      redo: chain
        .slice(0, at)
        .reverse()
        .map((r) => ({ ...label(r), forward: JSON.parse(r.forward) as Patch })),
    };
  }

  rename(id: string, name: string): void {
    this.row(id);
    this.db.prepare('UPDATE scene SET name = ?, changed = ? WHERE id = ?').run(name, Date.now(), id);
  }

  /** A copy with the same document, without the history. */
  duplicate(id: string): string {
    const copy = randomUUID();
    const row = this.row(id);
    const now = Date.now();
    this.db
      .prepare(
        `INSERT INTO scene (id, name, created, changed, document, pieces, faces, thumbnail)
         SELECT ?, ?, ?, ?, document, pieces, faces, thumbnail FROM scene WHERE id = ?`,
      )
      .run(copy, `${row.name} copy`, now, now, id);
    return copy;
  }

  /** Puts a scene away; `restore` brings it back. */
  remove(id: string): void {
    this.row(id);
    this.db.prepare('UPDATE scene SET deleted = ? WHERE id = ?').run(Date.now(), id);
  }

  restore(id: string): void {
    const { changes } = this.db.prepare('UPDATE scene SET deleted = NULL WHERE id = ?').run(id);
    if (!changes) throw notFound(id);
  }

  /** Adds one command to the journal. @returns the new seq and the revision's number */
  append(
    id: string,
    seq: number,
    label: string,
    forward: Patch,
    inverse: Patch,
  ): { seq: number; number: number } {
    return this.db.transaction(() => {
      const row = this.expect(id, seq);
      const document = applyPatch(JSON.parse(row.document) as SceneDocument, forward);
      refuseFaults(document);
      const { last } = this.db
        .prepare<[string], { last: number | null }>(
          'SELECT max(number) AS last FROM revision WHERE scene = ?',
        )
        .get(id)!;
      const number = (last ?? 0) + 1;
      this.db
        .prepare(
          `INSERT INTO revision (scene, number, parent, label, forward, inverse, created)
           VALUES (?, ?, ?, ?, ?, ?, ?)`,
        )
        .run(id, number, row.head, label, JSON.stringify(forward), JSON.stringify(inverse), Date.now());
      this.write(id, document, number, number);
      return { seq: seq + 1, number };
    })();
  }

  /** Undo or redo: moves the head along the journal by one step or many. */
  move(id: string, seq: number, to: number): { seq: number } {
    return this.db.transaction(() => {
      const row = this.expect(id, seq);
      const chain = this.chain(id, row.tip);
      const position = (n: number): number =>
        n === 0 ? chain.length : chain.findIndex((r) => r.number === n);
      const [from, target] = [position(row.head), position(to)];
      if (target < 0) throw new StoreError(422, 'no-revision', `Revision ${to} is not in this history.`);
      let document = JSON.parse(row.document) as SceneDocument;
      for (let k = from; k < target; k++)
        document = applyPatch(document, JSON.parse(chain[k].inverse) as Patch);
      for (let k = from - 1; k >= target; k--)
        document = applyPatch(document, JSON.parse(chain[k].forward) as Patch);
      this.write(id, document, to, row.tip);
      return { seq: seq + 1 };
    })();
  }

  setPicture(id: string, png: Uint8Array, faces: number): void {
    this.row(id);
    this.db
      .prepare('UPDATE scene SET thumbnail = ?, faces = ? WHERE id = ?')
      .run(Buffer.from(png), faces, id);
  }

  picture(id: string): Buffer {
    const row = this.db
      .prepare<[string], { thumbnail: Buffer | null }>('SELECT thumbnail FROM scene WHERE id = ?')
      .get(id);
    if (!row?.thumbnail) throw notFound(id);
    return row.thumbnail;
  }

  /** Scenes put away before `before` are gone for good. */
  purge(before: number): number {
    return this.db.prepare('DELETE FROM scene WHERE deleted < ?').run(before).changes;
  }

  private write(id: string, document: SceneDocument, head: number, tip: number): void {
    this.db
      .prepare(
        `UPDATE scene SET document = ?, pieces = ?, head = ?, tip = ?, seq = seq + 1, changed = ? WHERE id = ?`,
      )
      .run(JSON.stringify(document), document.pieces.length, head, tip, Date.now(), id);
  }

  private row(id: string): Row {
    const row = this.db
      .prepare<[string], Row>(
        'SELECT id, name, seq, head, tip, document FROM scene WHERE id = ? AND deleted IS NULL',
      )
      .get(id);
    if (!row) throw notFound(id);
    return row;
  }

  private expect(id: string, seq: number): Row {
    const row = this.row(id);
    if (row.seq !== seq)
      throw new StoreError(409, 'changed-elsewhere', 'This scene was changed in another window.', {
        seq: row.seq,
      });
    return row;
  }

  /** Revisions from `tip` back to the start, newest first. */
  private chain(id: string, tip: number): RevisionRow[] {
    return this.db
      .prepare<[string, number, string, number], RevisionRow>(
        `WITH RECURSIVE back (number, parent, label, forward, inverse, depth) AS (
           SELECT number, parent, label, forward, inverse, 1 FROM revision WHERE scene = ? AND number = ?
           UNION ALL
           SELECT r.number, r.parent, r.label, r.forward, r.inverse, back.depth + 1
           FROM revision r JOIN back ON r.scene = ? AND r.number = back.parent
           WHERE back.depth < ?)
         SELECT number, parent, label, forward, inverse FROM back ORDER BY depth`,
      )
      .all(id, tip, id, HISTORY_SENT);
  }
}

const notFound = (id: string): StoreError =>
  new StoreError(404, 'no-scene', `There is no scene “${id}”; it may have been deleted.`);

function refuseFaults(document: SceneDocument): void {
  const faults = documentFaults(document.pieces);
  if (faults.length)
    throw new StoreError(422, 'bad-document', `${faults[0].path}: ${faults[0].message}`, faults.slice(0, 20));
}

/** The library of scenes. What happens inside a scene is the journal's. */
import { randomUUID } from 'node:crypto';
import { freeName } from '@urnsmith/core/document/names';
import type { SceneCard } from '@urnsmith/core/document/scene';
import { meshesOf, type SceneDocument } from '@urnsmith/core/document/sections';
import { documentFaults } from '@urnsmith/core/document/validate';
import type { Db } from './db';
import { documentHash } from './documentHash';
import { noScene, StoreError } from './errors';
import type { Journal } from './journal';
import { MeshStore } from './meshes';
import { Snapshots } from './snapshots';

export class SceneStore {
  private readonly snapshots: Snapshots;
  private readonly meshes: MeshStore;

  constructor(
    private readonly db: Db,
    private readonly journal: Journal,
  ) {
    this.snapshots = new Snapshots(db);
    this.meshes = new MeshStore(db);
  }

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

  /** @throws StoreError `bad-document`, `no-mesh` */
  create(name: string, document: SceneDocument): string {
    const faults = documentFaults(document);
    if (faults.length)
      throw new StoreError(
        422,
        'bad-document',
        `${faults[0].path}: ${faults[0].message}`,
        faults.slice(0, 20),
      );
    const id = randomUUID();
    const now = Date.now();
    this.db
      .transaction(() => {
        this.meshes.refuseMissing(meshesOf(document));
        this.db
          .prepare('INSERT INTO scene (id, name, created, changed, pieces) VALUES (?, ?, ?, ?, ?)')
          .run(id, name, now, now, Object.keys(document.pieces).length);
        this.snapshots.put(id, 0, document, documentHash(document), now);
      })
      .immediate();
    return id;
  }

  name(id: string): string {
    const row = this.db
      .prepare<[string], { name: string }>('SELECT name FROM scene WHERE id = ? AND deleted IS NULL')
      .get(id);
    if (!row) throw noScene(id);
    return row.name;
  }

  /** A name no scene has yet. */
  freeName(wanted: string): string {
    return freeName(wanted, new Set(this.list('').map((s) => s.name)));
  }

  rename(id: string, name: string): void {
    this.name(id);
    this.db.prepare('UPDATE scene SET name = ?, changed = ? WHERE id = ?').run(name, Date.now(), id);
  }

  /** A copy with the same document, without the history. */
  duplicate(id: string): string {
    const { document } = this.journal.open(id);
    const copy = this.create(this.freeName(this.name(id)), document);
    this.db
      .prepare(
        `UPDATE scene SET faces = o.faces, thumbnail = o.thumbnail
         FROM (SELECT faces, thumbnail FROM scene WHERE id = ?) AS o WHERE id = ?`,
      )
      .run(id, copy);
    return copy;
  }

  /** Puts a scene away; `restore` brings it back. */
  remove(id: string): void {
    this.name(id);
    this.db.prepare('UPDATE scene SET deleted = ? WHERE id = ?').run(Date.now(), id);
  }

  restore(id: string): void {
    const { changes } = this.db.prepare('UPDATE scene SET deleted = NULL WHERE id = ?').run(id);
    if (!changes) throw noScene(id);
  }

  setPicture(id: string, png: Uint8Array, faces: number): void {
    this.name(id);
    this.db
      .prepare('UPDATE scene SET thumbnail = ?, faces = ? WHERE id = ?')
      .run(Buffer.from(png), faces, id);
  }

  picture(id: string): Buffer | null {
    this.name(id);
    return (
      this.db
        .prepare<[string], { thumbnail: Buffer | null }>('SELECT thumbnail FROM scene WHERE id = ?')
        .get(id)?.thumbnail ?? null
    );
  }

  /** Scenes put away before `before` are gone for good. */
  purge(before: number): number {
    return this.db.prepare('DELETE FROM scene WHERE deleted < ?').run(before).changes;
  }
}

/** Whole documents kept now and then, and which stored meshes each scene needs. */
import { deflateSync, inflateSync } from 'node:zlib';
import { upgradeDocument } from '@urnsmith/core/document/migrations';
import { DOCUMENT_VERSION, meshesOf, type SceneDocument } from '@urnsmith/core/document/sections';
import type { Db } from './db';

export interface Snapshot {
  number: number;
  hash: string;
  document: SceneDocument;
}

/** No document is larger than this, in bytes of JSON. */
const LARGEST = 256 * 1024 * 1024;

export class Snapshots {
  constructor(private readonly db: Db) {}

  put(scene: string, number: number, document: SceneDocument, hash: string, now: number): void {
    this.db
      .prepare(
        `INSERT OR REPLACE INTO snapshot (scene, number, version, document, hash, created) VALUES (?, ?, ?, ?, ?, ?)`,
      )
      .run(scene, number, DOCUMENT_VERSION, deflateSync(JSON.stringify(document)), hash, now);
    this.noteMeshes(scene, document);
  }

  /** @throws when the snapshot cannot be read */
  get(scene: string, number: number): Snapshot | null {
    const row = this.db
      .prepare<[string, number], { document: Buffer; hash: string }>(
        'SELECT document, hash FROM snapshot WHERE scene = ? AND number = ?',
      )
      .get(scene, number);
    if (!row) return null;
    const text = inflateSync(row.document, { maxOutputLength: LARGEST }).toString('utf8');
    return { number, hash: row.hash, document: upgradeDocument(JSON.parse(text)) };
  }

  numbers(scene: string): Set<number> {
    const rows = this.db
      .prepare<[string], { number: number }>('SELECT number FROM snapshot WHERE scene = ?')
      .all(scene);
    return new Set(rows.map((r) => r.number));
  }

  noteMeshes(scene: string, document: SceneDocument): void {
    this.noteUse(scene, meshesOf(document));
  }

  noteUse(scene: string, hashes: Iterable<string>): void {
    const insert = this.db.prepare('INSERT OR IGNORE INTO mesh_use (scene, hash) VALUES (?, ?)');
    for (const hash of hashes) insert.run(scene, hash);
  }
}

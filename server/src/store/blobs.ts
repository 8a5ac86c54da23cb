/** Content-addressed meshes, deflated. */
import { createHash } from 'node:crypto';
import { deflateSync, inflateSync } from 'node:zlib';
import type { Db } from './database';
import { StoreError } from './scenes';

export const BLOB_LIMIT = 256 * 1024 * 1024;

export class BlobStore {
  constructor(private readonly db: Db) {}

  /** Stores bytes under their hash; storing the same bytes again changes nothing. */
  put(hash: string, bytes: Uint8Array): void {
    const real = createHash('sha256').update(bytes).digest('hex');
    if (real !== hash)
      throw new StoreError(422, 'wrong-hash', 'The bytes do not match their hash; send them again.');
    this.db
      .prepare('INSERT OR IGNORE INTO blob (hash, size, bytes, created) VALUES (?, ?, ?, ?)')
      .run(hash, bytes.length, deflateSync(bytes), Date.now());
  }

  get(hash: string): Buffer {
    const row = this.db
      .prepare<[string], { bytes: Buffer }>('SELECT bytes FROM blob WHERE hash = ?')
      .get(hash);
    if (!row) throw new StoreError(404, 'no-blob', `There is no stored mesh ${hash.slice(0, 12)}….`);
    return inflateSync(row.bytes, { maxOutputLength: BLOB_LIMIT });
  }

  /** Drops meshes that no document and no revision names and that are older than `before`. */
  collect(before: number): number {
    return this.db
      .prepare(
        `DELETE FROM blob WHERE created < ?
           AND NOT EXISTS (SELECT 1 FROM scene WHERE instr(document, hash) > 0)
           AND NOT EXISTS (SELECT 1 FROM revision WHERE instr(forward, hash) > 0 OR instr(inverse, hash) > 0)`,
      )
      .run(before).changes;
  }
}

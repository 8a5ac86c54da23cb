/**
 * Stored meshes by the hash of their bytes, in parts of a megabyte. Storing and reading go part by part and give way
 * in between, so a large mesh holds up nobody.
 */
import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import { promisify } from 'node:util';
import { deflate, inflate } from 'node:zlib';
import type { Db } from './db';
import { StoreError } from './errors';

export const MESH_LIMIT = 256 * 1024 * 1024;
const PART = 1024 * 1024;

const pack = promisify(deflate);
const unpack = promisify(inflate);

export class MeshStore {
  constructor(private readonly db: Db) {}

  has(hash: string): boolean {
    return this.idOf(hash) !== null;
  }

  /**
   * Stores bytes under their hash; storing the same bytes again changes nothing.
   * @throws StoreError `wrong-hash`
   */
  async put(hash: string, bytes: Uint8Array): Promise<void> {
    if (this.has(hash)) return;
    if ((await hashOf(bytes)) !== hash)
      throw new StoreError(422, 'wrong-hash', 'The bytes do not match their hash; send them again.');
    const { lastInsertRowid: id } = this.db
      .prepare('INSERT INTO mesh (hash, size, created, complete) VALUES (?, ?, ?, 0)')
      .run(hash, bytes.length, Date.now());
    try {
      const insert = this.db.prepare('INSERT INTO mesh_part (mesh, number, bytes) VALUES (?, ?, ?)');
      for (let n = 0; n * PART < bytes.length; n++)
        insert.run(id, n, await pack(bytes.subarray(n * PART, (n + 1) * PART)));
      // Another writer stored the same mesh first.
      if (this.has(hash)) this.drop(id);
      else this.db.prepare('UPDATE mesh SET complete = 1 WHERE id = ?').run(id);
    } catch (e) {
      this.drop(id);
      throw e;
    }
  }

  private drop(id: number | bigint): void {
    try {
      this.db.prepare('DELETE FROM mesh WHERE id = ?').run(id);
    } catch {
      // Leftovers are removed at the next start.
    }
  }

  /** @throws StoreError `no-mesh`, `damaged-mesh` */
  async get(hash: string): Promise<Uint8Array> {
    const parts: Uint8Array[] = [];
    for await (const part of this.parts(hash)) parts.push(part);
    return Buffer.concat(parts);
  }

  size(hash: string): number | null {
    return (
      this.db
        .prepare<[string], { size: number }>('SELECT size FROM mesh WHERE hash = ? AND complete = 1')
        .get(hash)?.size ?? null
    );
  }

  async *parts(hash: string): AsyncGenerator<Uint8Array> {
    const id = this.idOf(hash);
    if (id === null) throw new StoreError(404, 'no-mesh', `There is no stored mesh ${hash.slice(0, 12)}….`);
    const read = this.db.prepare<[number, number], { bytes: Buffer }>(
      'SELECT bytes FROM mesh_part WHERE mesh = ? AND number = ?',
    );
    for (let n = 0; ; n++) {
      const row = read.get(id, n);
      if (!row) return;
      try {
        yield await unpack(row.bytes, { maxOutputLength: MESH_LIMIT });
      } catch {
        throw new StoreError(
          422,
          'damaged-mesh',
          `The stored mesh ${hash.slice(0, 12)}… is damaged; put a backup back.`,
        );
      }
    }
  }

  /** @throws StoreError `no-mesh` when one of them is not stored */
  refuseMissing(hashes: Iterable<string>): void {
    const missing = [...hashes].filter((hash) => !this.has(hash));
    if (missing.length)
      throw new StoreError(
        422,
        'no-mesh',
        `The mesh ${missing[0].slice(0, 12)}… is not stored yet; send it first.`,
        missing,
      );
  }

  /** Drops meshes that nothing in any history needs and that are older than `before`, and what is left of broken uploads. */
  collect(before: number): number {
    this.db.prepare('DELETE FROM mesh WHERE complete = 0').run();
    return this.db
      .prepare(
        `DELETE FROM mesh WHERE created < ? AND NOT EXISTS (SELECT 1 FROM mesh_use WHERE mesh_use.hash = mesh.hash)`,
      )
      .run(before).changes;
  }

  private idOf(hash: string): number | null {
    return (
      this.db
        .prepare<[string], { id: number }>('SELECT id FROM mesh WHERE hash = ? AND complete = 1')
        .get(hash)?.id ?? null
    );
  }
}

/** SHA-256 in hexadecimal digits; gives way every two megabytes. */
async function hashOf(bytes: Uint8Array): Promise<string> {
  const hash = createHash('sha256');
  for (let at = 0; at < bytes.length; at += 2 * PART) {
    hash.update(bytes.subarray(at, at + 2 * PART));
    await setImmediate();
  }
  return hash.digest('hex');
}

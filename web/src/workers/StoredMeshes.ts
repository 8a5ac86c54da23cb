/** The stored meshes that pieces rest on, as long as any does. */
import type { Piece } from '@urnsmith/core/document/schema';
import { referencesOf } from '@urnsmith/core/document/sections';
import { decodeMesh } from '@urnsmith/core/formats/meshBlob';
import { OperationError } from '@urnsmith/core/mesh/errors';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { outbox } from '../api/outbox';

export class StoredMeshes {
  private readonly known = new Map<string, PolyMesh>();

  /** @throws OperationError where it was not loaded */
  blob = (hash: string): PolyMesh => {
    const mesh = this.known.get(hash);
    if (!mesh) throw new OperationError('no-blob', 'A stored mesh has not been loaded.');
    return mesh;
  };

  file = (): never => {
    throw new OperationError('no-file', 'A scene in the library cannot refer to files.');
  };

  /**
   * Fetches what is missing: from what the browser still keeps, or from the server.
   * @throws OperationError where one cannot be had
   */
  async load(pieces: Piece[]): Promise<void> {
    const hashes = new Set(
      pieces.flatMap((p) => referencesOf('pieces', p).flatMap((r) => (r.role === 'mesh' ? [r.id] : []))),
    );
    for (const hash of this.known.keys()) if (!hashes.has(hash)) this.known.delete(hash);
    await Promise.all(
      [...hashes].map(async (hash) => {
        if (this.known.has(hash)) return;
        const bytes = (await outbox.mesh(hash)) ?? (await fetched(hash));
        this.known.set(hash, decodeMesh(bytes));
      }),
    );
  }
}

async function fetched(hash: string): Promise<Uint8Array> {
  const response = await fetch(`/api/meshes/${hash}`);
  if (!response.ok) throw new OperationError('no-blob', 'A stored mesh could not be fetched.');
  return new Uint8Array(await response.arrayBuffer());
}

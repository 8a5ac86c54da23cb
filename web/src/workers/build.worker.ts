/** Evaluates pieces off the main thread. One document per worker; messages are answered in order. */
import * as Comlink from 'comlink';
import type { Piece } from '@urnsmith/core/document/schema';
import { decodeMesh } from '@urnsmith/core/formats/meshBlob';
import { faultOf, OperationError, type Fault } from '@urnsmith/core/mesh/errors';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { buffersOf, displayOf, type Display } from '@urnsmith/core/steps/display';
import { Evaluator } from '@urnsmith/core/steps/evaluate';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';

export type Answer = { display: Display } | { fault: Fault };

const blobs = new Map<string, PolyMesh>();
const evaluator = new Evaluator({
  blob: (hash) => {
    const mesh = blobs.get(hash);
    if (!mesh) throw new OperationError('no-blob', 'A stored mesh has not been loaded.');
    return mesh;
  },
  file: () => {
    throw new OperationError('no-file', 'A scene in the library cannot refer to files.');
  },
});
const ready = loadKernel(wasmUrl);

const api = {
  /** @param upTo evaluate only so many steps in lane order; −1 for all */
  async build(
    pieces: Piece[] | null,
    id: string,
    upTo: number,
    progress: (done: number, total: number, label: string) => void,
  ): Promise<Answer> {
    await ready;
    try {
      if (pieces) {
        await loadBlobs(pieces);
        evaluator.setPieces(pieces);
      }
      const started = performance.now();
      const result = evaluator.build(id, progress, upTo < 0 ? Infinity : upTo);
      const display = displayOf(result, performance.now() - started);
      return Comlink.transfer({ display }, buffersOf(display));
    } catch (e) {
      return { fault: faultOf(e) };
    }
  },
};

async function loadBlobs(pieces: Piece[]): Promise<void> {
  await Promise.all(
    pieces.map(async ({ base }) => {
      if (!('blob' in base) || blobs.has(base.blob)) return;
      const response = await fetch(`/api/blobs/${base.blob}`);
      if (!response.ok) throw new OperationError('no-blob', 'A stored mesh could not be fetched.');
      blobs.set(base.blob, decodeMesh(new Uint8Array(await response.arrayBuffer())));
    }),
  );
}

export type BuildWorker = typeof api;
Comlink.expose(api);

/** Geometry work of the server, off its main thread: one worker, jobs in turn. */
import { Worker } from 'node:worker_threads';
import { storedMeshes } from '@urnsmith/core/document/actions';
import type { Piece, SceneDocument } from '@urnsmith/core/document/schema';
import type { ExportOptions, PartCounts } from '@urnsmith/core/formats/part';
import { OperationError, type Fault } from '@urnsmith/core/mesh/errors';

export type Job =
  | { kind: 'import'; text: string }
  | {
      kind: 'export';
      document: SceneDocument;
      options: ExportOptions & { pieces: string[] };
      blobs: Record<string, Uint8Array>;
    };
export interface Imported {
  pieces: Piece[];
  meshes: Array<{ hash: string; bytes: Uint8Array }>;
}
export interface Exported {
  bytes: Uint8Array;
  counts: PartCounts;
}
export type Answer = { id: number } & ({ result: Imported | Exported } | { fault: Fault });

export class Jobs {
  private worker: Worker | null = null;
  private next = 1;
  private readonly waiting = new Map<number, { resolve: (r: never) => void; reject: (e: Error) => void }>();

  importObj(text: string): Promise<Imported> {
    return this.post({ kind: 'import', text });
  }

  /** @param blob reads a stored mesh by hash */
  export(
    document: SceneDocument,
    options: ExportOptions & { pieces: string[] },
    blob: (hash: string) => Uint8Array,
  ): Promise<Exported> {
    const blobs: Record<string, Uint8Array> = {};
    for (const hash of storedMeshes(document.pieces)) blobs[hash] = blob(hash);
    return this.post({ kind: 'export', document, options, blobs });
  }

  async stop(): Promise<void> {
    await this.worker?.terminate();
    this.worker = null;
  }

  private post<R>(job: Job): Promise<R> {
    const worker = (this.worker ??= this.start());
    const id = this.next++;
    return new Promise<R>((resolve, reject) => {
      this.waiting.set(id, { resolve: resolve as (r: never) => void, reject });
      worker.postMessage({ id, job });
    });
  }

  private start(): Worker {
    const worker = new Worker(new URL('./worker.mjs', import.meta.url));
    worker.unref();
    worker.on('message', (a: Answer) => {
      const w = this.waiting.get(a.id);
      this.waiting.delete(a.id);
      if ('result' in a) w?.resolve(a.result as never);
      else
        w?.reject(
          new OperationError(a.fault.code, a.fault.message, a.fault.elements, a.fault.fix, a.fault.piece),
        );
    });
    worker.on('error', (e: unknown) => {
      this.worker = null;
      for (const w of this.waiting.values()) w.reject(e instanceof Error ? e : new Error(String(e)));
      this.waiting.clear();
    });
    return worker;
  }
}

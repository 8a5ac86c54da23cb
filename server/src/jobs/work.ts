/** The worker thread's side of Jobs. */
import { parentPort } from 'node:worker_threads';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { writeParts } from '@urnsmith/core/formats/index';
import { contentHash, decodeMesh, encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { countsOf, type PartCounts } from '@urnsmith/core/formats/part';
import { readObj } from '@urnsmith/core/formats/readObj';
import { faultOf, OperationError } from '@urnsmith/core/mesh/errors';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { Evaluator } from '@urnsmith/core/steps/evaluate';
import type { Exported, Imported, Job } from './Jobs';

parentPort!.on('message', async ({ id, job }: { id: number; job: Job }) => {
  try {
    const result = job.kind === 'import' ? await importObj(job.text) : await exportPieces(job);
    parentPort!.postMessage({ id, result });
  } catch (e) {
    parentPort!.postMessage({ id, fault: faultOf(e) });
  }
});

async function importObj(text: string): Promise<Imported> {
  const objects = readObj(text);
  const pieces: Piece[] = [];
  const meshes: Imported['meshes'] = [];
  for (const [i, { name, mesh }] of objects.entries()) {
    const bytes = encodeMesh(mesh);
    const hash = await contentHash(bytes);
    meshes.push({ hash, bytes });
    pieces.push({ id: `p${i + 1}`, name: name.slice(0, 120) || `Object ${i + 1}`, base: { blob: hash } });
  }
  return { pieces, meshes };
}

async function exportPieces({ document, options, blobs }: Job & { kind: 'export' }): Promise<Exported> {
  await loadKernel();
  const evaluator = new Evaluator(
    {
      blob: (hash) => decodeMesh(blobs[hash]),
      file: (path) => {
        throw new OperationError('no-file', `A stored scene cannot refer to the file ${path}.`);
      },
    },
    true,
  );
  evaluator.setPieces(document.pieces);
  const byId = new Map(document.pieces.map((p) => [p.id, p]));
  const counts: PartCounts = { points: 0, faces: 0, triangles: 0 };
  const parts = options.pieces.map((id) => {
    const piece = byId.get(id);
    if (!piece) throw new OperationError('no-piece', `The scene has no piece “${id}”.`);
    const { mesh, steps, actions } = evaluator.build(id);
    const failed = [...actions, ...steps].find((s) => s.fault)?.fault;
    if (failed)
      throw new OperationError(failed.code, `${piece.name ?? id}: ${failed.message}`, undefined, failed.fix);
    const c = countsOf(mesh);
    counts.points += c.points;
    counts.faces += c.faces;
    counts.triangles += c.triangles;
    return { name: piece.name ?? id, mesh, matrix: worldMatrix(byId, id), color: piece.color };
  });
  return { bytes: await writeParts(parts, options), counts };
}

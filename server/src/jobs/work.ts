/** Work done in the server's job processes. Each job has a folder to itself. */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { piecesOf, type SceneDocument } from '@urnsmith/core/document/sections';
import { shortened } from '@urnsmith/core/document/names';
import { packScene, unpackScene } from '@urnsmith/core/formats/archive';
import { readMeshes, writeParts, type Format } from '@urnsmith/core/formats/index';
import { contentHash, decodeMesh, encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { countsOf, type ExportOptions, type PartCounts } from '@urnsmith/core/formats/part';
import { faultOf, OperationError, type Fault } from '@urnsmith/core/mesh/errors';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { Evaluator } from '@urnsmith/core/build/evaluate';

export type Answer = { id: number } & ({ result: unknown } | { fault: Fault });

export const jobs = {
  /** Checks that a file holds a stored mesh. */
  verify({ file }: { file: string }): object {
    decodeMesh(readFileSync(file));
    return {};
  },

  /** Reads a mesh file into pieces; their meshes are left in the folder under their hashes. */
  async import({
    file,
    folder,
    format,
  }: {
    file: string;
    folder: string;
    format: Format;
  }): Promise<{ pieces: Piece[]; hashes: string[] }> {
    const pieces: Piece[] = [];
    const hashes: string[] = [];
    for (const [i, { name, mesh }] of readMeshes(format, readFileSync(file)).entries()) {
      const bytes = encodeMesh(mesh);
      const hash = await contentHash(bytes);
      if (!hashes.includes(hash)) writeFileSync(join(folder, hash), bytes);
      hashes.push(hash);
      pieces.push({ id: `p${i + 1}`, name: shortened(name, 120) || `Object ${i + 1}`, base: { blob: hash } });
    }
    return { pieces, hashes: [...new Set(hashes)] };
  },

  /** Builds pieces of the document in `document.json` and writes them to `out`. */
  async export({
    folder,
    options,
  }: {
    folder: string;
    options: ExportOptions & { format: Format; pieces: string[] };
  }): Promise<{ file: string; counts: PartCounts }> {
    const document = JSON.parse(readFileSync(join(folder, 'document.json'), 'utf8')) as SceneDocument;
    await loadKernel();
    const evaluator = new Evaluator(
      {
        blob: (hash) => decodeMesh(readFileSync(join(folder, hash))),
        file: (path) => {
          throw new OperationError('no-file', `A stored scene cannot refer to the file ${path}.`);
        },
      },
      true,
    );
    const pieces = piecesOf(document);
    evaluator.setPieces(pieces);
    const byId = new Map(pieces.map((p) => [p.id, p]));
    const counts: PartCounts = { points: 0, faces: 0, triangles: 0 };
    const parts = options.pieces.map((id) => {
      const piece = byId.get(id);
      if (!piece) throw new OperationError('no-piece', `The scene has no piece “${id}”.`);
      const { mesh, steps, actions } = evaluator.build(id);
      const failed = [...actions, ...steps].find((s) => s.fault)?.fault;
      if (failed)
        throw new OperationError(
          failed.code,
          `${piece.name ?? id}: ${failed.message}`,
          undefined,
          failed.fix,
        );
      const c = countsOf(mesh);
      counts.points += c.points;
      counts.faces += c.faces;
      counts.triangles += c.triangles;
      return { name: piece.name ?? id, mesh, matrix: worldMatrix(byId, id), color: piece.color };
    });
    const file = join(folder, 'out');
    writeFileSync(file, await writeParts(options.format, parts, options));
    return { file, counts };
  },

  /** Puts `document.json`, the meshes and the picture of a folder into one file. */
  pack({
    folder,
    name,
    hashes,
    picture,
  }: {
    folder: string;
    name: string;
    hashes: string[];
    picture: boolean;
  }): {
    file: string;
  } {
    const document = JSON.parse(readFileSync(join(folder, 'document.json'), 'utf8')) as SceneDocument;
    const meshes = new Map(hashes.map((h) => [h, new Uint8Array(readFileSync(join(folder, h)))]));
    const file = join(folder, 'out');
    const png = picture ? new Uint8Array(readFileSync(join(folder, 'picture.png'))) : undefined;
    writeFileSync(file, packScene({ name, document, meshes, picture: png }));
    return { file };
  },

  /** Takes a scene file apart: checked document, meshes under their hashes, picture. */
  async unpack({ file, folder }: { file: string; folder: string }): Promise<{
    name: string;
    document: SceneDocument;
    hashes: string[];
    picture: boolean;
  }> {
    const { name, document, meshes, picture } = await unpackScene(new Uint8Array(readFileSync(file)));
    for (const [hash, bytes] of meshes) writeFileSync(join(folder, hash), bytes);
    if (picture) writeFileSync(join(folder, 'picture.png'), picture);
    return { name, document, hashes: [...meshes.keys()], picture: picture !== undefined };
  },
};

export type Jobs = typeof jobs;
export type JobKind = keyof Jobs;

if (process.send) {
  process.on('message', async ({ id, kind, args }: { id: number; kind: JobKind; args: never }) => {
    try {
      process.send!({ id, result: await jobs[kind](args) });
    } catch (e) {
      process.send!({ id, fault: faultOf(e) });
    }
  });
  process.send('ready');
}
// The parent process is gone.
process.on('disconnect', () => process.exit(0));

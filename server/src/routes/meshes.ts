/** /api/meshes: stored meshes by content hash. */
import { readFile } from 'node:fs/promises';
import { Hono } from 'hono';
import { StoreError } from '../store/errors';
import type { Jobs } from '../jobs/Jobs';
import { MESH_LIMIT, type MeshStore } from '../store/meshes';
import { bodyToFile, goneSignal, inFolder } from './bodies';

const HASH = '/:hash{[0-9a-f]{64}}';

export const meshRoutes = (meshes: MeshStore, jobs: Jobs) =>
  new Hono()
    .get(HASH, (c) => {
      const hash = c.req.param('hash');
      const size = meshes.size(hash);
      if (size === null)
        throw new StoreError(404, 'no-mesh', `There is no stored mesh ${hash.slice(0, 12)}….`);
      const parts = meshes.parts(hash);
      return c.body(
        new ReadableStream<Uint8Array>({
          async pull(out) {
            const { done, value } = await parts.next();
            if (done) out.close();
            else out.enqueue(value);
          },
          cancel: () => void parts.return(undefined),
        }),
        200,
        {
          'content-type': 'application/octet-stream',
          'content-length': String(size),
          'cache-control': 'public, max-age=31536000, immutable',
        },
      );
    })
    .put(HASH, async (c) => {
      const hash = c.req.param('hash');
      return inFolder(async (folder) => {
        const file = folder.in('mesh');
        const size = await bodyToFile(c, ['application/octet-stream'], MESH_LIMIT, file);
        if (!meshes.has(hash)) {
          await jobs.run('verify', { file }, size, goneSignal(c));
          await meshes.put(hash, await readFile(file));
        }
        return c.json({});
      });
    });

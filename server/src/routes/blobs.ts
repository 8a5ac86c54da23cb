/** /api/blobs: stored meshes by content hash. */
import { Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { decodeMesh } from '@urnsmith/core/formats/meshBlob';
import { BLOB_LIMIT, type BlobStore } from '../store/blobs';

const HASH = '/:hash{[0-9a-f]{64}}';

export const blobRoutes = (blobs: BlobStore) =>
  new Hono()
    .use(bodyLimit({ maxSize: BLOB_LIMIT }))
    .get(HASH, (c) =>
      c.body(new Uint8Array(blobs.get(c.req.param('hash'))), 200, {
        'content-type': 'application/octet-stream',
        'cache-control': 'public, max-age=31536000, immutable',
      }),
    )
    .put(HASH, async (c) => {
      const bytes = new Uint8Array(await c.req.arrayBuffer());
      decodeMesh(bytes);
      blobs.put(c.req.param('hash'), bytes);
      return c.json({});
    });

/**
 * Meshes to be stored: kept in the browser before an action names them, sent in the background, and there at the
 * server before that action is.
 */
import { contentHash } from '@urnsmith/core/formats/meshBlob';
import { HttpError, putMesh } from '../api/http';
import { outbox, type Waiting } from '../api/outbox';

const sending = new Map<string, Promise<void>>();

/**
 * Keeps a mesh's bytes and begins to send them.
 * @returns the hash to name it by
 * @throws HttpError when neither the browser nor the server takes it
 */
export async function keepMesh(bytes: Uint8Array): Promise<string> {
  const hash = await contentHash(bytes);
  if (!(await outbox.keepMesh(hash, bytes))) await putMesh(hash, bytes);
  else void send(hash).catch(() => {});
  return hash;
}

function send(hash: string): Promise<void> {
  let under = sending.get(hash);
  if (!under) {
    under = (async () => {
      const bytes = await outbox.mesh(hash);
      if (!bytes) return;
      await putMesh(hash, bytes);
      await outbox.meshSent(hash);
    })().finally(() => sending.delete(hash));
    sending.set(hash, under);
  }
  return under;
}

/** Sends the meshes an action names that the server does not have yet. */
export async function sendMeshes(item: Waiting): Promise<void> {
  const unsent = await outbox.unsentMeshes();
  if (!unsent.length) return;
  const text = JSON.stringify(item);
  for (const hash of unsent) {
    if (!text.includes(hash)) continue;
    try {
      await send(hash);
    } catch (e) {
      // A mesh that is refused makes its action be refused, which is told.
      if (!(e instanceof HttpError) || e.fault.status === 0 || e.fault.status >= 500) throw e;
    }
  }
}

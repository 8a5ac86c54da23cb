/** Plain calls for what is no library list: opening a scene, its journal, files. */
import type { Patch } from '@urnsmith/core/document/patch';
import type { SceneState } from '@urnsmith/core/document/scene';
import type { ApiFault } from './types';

/** A refusal by the server, or status 0 when it cannot be reached. */
export class HttpError extends Error {
  constructor(readonly fault: ApiFault) {
    super(fault.message);
  }
}

export async function call(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new HttpError({ status: 0, code: 'offline', message: 'The server cannot be reached.' });
  }
  if (response.ok) return response;
  const body = (await response.json().catch(() => ({}))) as Partial<ApiFault>;
  throw new HttpError({
    status: response.status,
    code: body.code ?? 'http',
    message: body.message ?? `The server answered ${response.status}.`,
    fix: body.fix,
  });
}

const json = (body: unknown): RequestInit => ({
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
});

export const openScene = async (id: string): Promise<SceneState> =>
  (await (await call(`/api/scenes/${id}`)).json()) as SceneState;

export const postRevision = async (
  id: string,
  body: { seq: number; label: string; forward: Patch; inverse: Patch },
): Promise<{ seq: number; number: number }> =>
  (await (await call(`/api/scenes/${id}/revisions`, json(body))).json()) as { seq: number; number: number };

export const postHead = async (id: string, seq: number, to: number): Promise<{ seq: number }> =>
  (await (await call(`/api/scenes/${id}/head`, json({ seq, to }))).json()) as { seq: number };

export const putThumbnail = (id: string, png: Blob, faces: number): Promise<Response> =>
  call(`/api/scenes/${id}/thumbnail?faces=${faces}`, { method: 'PUT', body: png });

export const exportFile = (
  id: string,
  body: { pieces: string[]; format: string; unit: string; up: string },
): Promise<Response> => call(`/api/scenes/${id}/export`, json(body));

/** Stores bytes under their SHA-256. */
export async function putBlob(bytes: Uint8Array): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes as BufferSource));
  const hash = Array.from(digest, (b) => b.toString(16).padStart(2, '0')).join('');
  await call(`/api/blobs/${hash}`, { method: 'PUT', body: bytes as BodyInit });
  return hash;
}

export const fetchBlob = async (hash: string): Promise<Uint8Array> =>
  new Uint8Array(await (await call(`/api/blobs/${hash}`)).arrayBuffer());

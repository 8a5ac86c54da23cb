/** Plain calls for what is no library list: opening a scene, its journal, meshes, files. */
import type { Patch } from '@urnsmith/core/document/patch';
import type {
  Accepted,
  Comparison,
  Milestone,
  Revision,
  SceneAction,
  SceneState,
} from '@urnsmith/core/document/scene';
import type { SceneDocument } from '@urnsmith/core/document/sections';
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

/** The answer as JSON; one that breaks off on its way counts as not having come. */
async function answer<T>(response: Promise<Response>): Promise<T> {
  const r = await response;
  try {
    return (await r.json()) as T;
  } catch {
    throw new HttpError({ status: 0, code: 'offline', message: 'The answer of the server did not arrive.' });
  }
}

const json = (body: unknown): RequestInit => ({
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
});

export const openScene = (id: string): Promise<SceneState> => answer(call(`/api/scenes/${id}`));

export const postAction = (scene: string, action: SceneAction): Promise<Accepted> =>
  answer(call(`/api/scenes/${scene}/actions`, json(action)));

/** Keeps actions the scene did not take as a scene of its own. */
export const postRecovery = (
  scene: string,
  body: { window: string; base: number; actions: SceneAction[] },
): Promise<{ id: string; name: string }> => answer(call(`/api/scenes/${scene}/recovery`, json(body)));

export const postScene = (body: { name: string; document: SceneDocument }): Promise<{ id: string }> =>
  answer(call('/api/scenes', json(body)));

export interface HistoryPage {
  head: string;
  revisions: Array<Revision & { inverse?: Patch }>;
  more: boolean;
}
export const fetchHistory = (
  scene: string,
  query: { below?: number; search?: string; patches?: boolean },
): Promise<HistoryPage> => {
  const q = new URLSearchParams();
  if (query.below !== undefined) q.set('below', String(query.below));
  if (query.search) q.set('search', query.search);
  if (query.patches) q.set('patches', '1');
  return answer(call(`/api/scenes/${scene}/history?${q.toString()}`));
};

export const fetchMilestones = (scene: string): Promise<Milestone[]> =>
  answer(call(`/api/scenes/${scene}/milestones`));
export const postMilestone = (scene: string, name: string): Promise<{ id: number }> =>
  answer(call(`/api/scenes/${scene}/milestones`, json({ name })));
export const compareMilestone = (scene: string, id: number): Promise<Comparison> =>
  answer(call(`/api/scenes/${scene}/milestones/${id}/compare`));
export const restoreMilestone = (
  scene: string,
  id: number,
  from: { id: string; window: string; base: number },
): Promise<Accepted> => answer(call(`/api/scenes/${scene}/milestones/${id}/restore`, json(from)));

export const putThumbnail = (id: string, png: Blob, faces: number): Promise<Response> =>
  call(`/api/scenes/${id}/thumbnail?faces=${faces}`, {
    method: 'PUT',
    body: png,
    headers: { 'content-type': 'image/png' },
  });

export const exportFile = (
  id: string,
  body: { pieces: string[]; format: string; unit: string; up: string },
): Promise<Response> => call(`/api/scenes/${id}/export`, json(body));

export const putMesh = (hash: string, bytes: Uint8Array): Promise<Response> =>
  call(`/api/meshes/${hash}`, {
    method: 'PUT',
    body: bytes as BodyInit,
    headers: { 'content-type': 'application/octet-stream' },
  });

export interface Health {
  memory: {
    process: number;
    documents: { documents: number; characters: number; limit: number };
    jobs: { running: number; waiting: number; processes: number };
  };
}
export const fetchHealth = (): Promise<Health> => answer(call('/api/health'));

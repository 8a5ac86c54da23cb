/** Kills of the server at random moments while writers post: what was acknowledged must be there, once, with its answer. */
import { TestServer } from '../e2e/server';
import type { Accepted, SceneState } from '../core/src/document/scene';
import { documentOf } from '../core/src/document/sections';
import { Random } from './random';

export interface KillCounts {
  kills: number;
  acknowledged: number;
  lost: number;
  doubled: number;
  conflicts: number;
  changedAnswers: number;
}

export async function soakKills(kills: number, seed: number): Promise<KillCounts> {
  const r = new Random(seed);
  const server = new TestServer();
  await server.start();
  const out: KillCounts = { kills: 0, acknowledged: 0, lost: 0, doubled: 0, conflicts: 0, changedAnswers: 0 };
  const post = (path: string, body: unknown): Promise<Response> =>
    fetch(server.url + path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  const made = await post('/api/scenes', { name: 'Kills', document: documentOf([]) });
  const { id } = (await made.json()) as { id: string };
  const answers = new Map<string, string>();
  /** Actions in the order they were done; the first of them may be with the server or not. */
  let waiting: Array<Record<string, unknown>> = [];
  let done = 0;
  let running = true;
  const writer = async (): Promise<void> => {
    while (running || waiting.length) {
      if (!waiting.length) {
        const k = `p${done++}`;
        waiting.push({
          id: `kill-${seed}-${k}`,
          window: 'w',
          base: 0,
          kind: 'revision',
          label: `Add ${k}`,
          ...patches(k),
        });
      }
      const action = waiting[0];
      try {
        const response = await post(`/api/scenes/${id}/actions`, action);
        const text = await response.text();
        if (response.status === 409) out.conflicts++;
        if (response.status === 200) {
          answers.set(action.id as string, text);
          out.acknowledged++;
        }
        waiting = waiting.slice(1);
      } catch {
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    }
  };
  const writing = writer();
  try {
    for (; out.kills < kills; out.kills++) {
      await new Promise((resolve) => setTimeout(resolve, r.between(10, 400)));
      await server.kill();
      await server.start();
    }
    running = false;
    await writing;
    const state = (await (await fetch(`${server.url}/api/scenes/${id}`)).json()) as SceneState;
    for (const action of answers.keys()) {
      const piece = action.split('-').at(-1)!;
      if (!state.document.pieces[piece]) out.lost++;
    }
    if (Object.keys(state.document.pieces).length !== done || state.seq !== done) out.doubled++;
    for (const [action, answer] of [...answers].slice(-20)) {
      const again = await post(`/api/scenes/${id}/actions`, {
        id: action,
        window: 'w',
        base: 0,
        kind: 'revision',
        label: `Add ${action.split('-').at(-1)!}`,
        ...patches(action.split('-').at(-1)!),
      });
      if (JSON.stringify((await again.json()) as Accepted) !== JSON.stringify(JSON.parse(answer)))
        out.changedAnswers++;
    }
    return out;
  } finally {
    running = false;
    await server.close();
  }
}

const patches = (k: string): object => ({
  forward: [
    { op: 'add', path: ['pieces', k], value: { id: k, base: { group: true } } },
    { op: 'add', path: ['order', k], value: 'a0' },
  ],
  inverse: [
    { op: 'remove', path: ['pieces', k] },
    { op: 'remove', path: ['order', k] },
  ],
});

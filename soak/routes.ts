/**
 * Random calls to every route of a server: sound ones, sound ones spoilt somewhere, and plain noise. Counts answers of
 * 5xx, answers outside 2xx without a code and a message, and refused calls that left something behind.
 */
import { documentOf } from '../core/src/document/sections';
import { Random } from './random';

export interface RouteCounts {
  calls: number;
  accepted: number;
  refused: number;
  faults: string[];
}

const NOISE: unknown[] = [
  null, 0, -1, 1e308, '', 'constructor', '__proto__', 'toString', [], {}, [[[]]], { a: { b: {} } }, true, '\u0000', '💥'.repeat(50),
  'x'.repeat(200), { kind: 'constructor' }, { rule: 'hasOwnProperty' }, 9007199254740993, 1.5, -0,
]; // prettier-ignore

const RAW = ['1e400', '-1e400', '{"__proto__":1}', '[', '', 'nul', '"\\ud800"', '123456789012345678901', '{"a":1,"a":2}']; // prettier-ignore

/** The value with one place in it replaced by noise, taken away or doubled. */
function spoilt(value: unknown, r: Random): unknown {
  if (typeof value !== 'object' || value === null || r.chance(0.25)) return r.of(NOISE);
  if (Array.isArray(value)) {
    const copy = [...(value as unknown[])];
    const at = r.int(0, Math.max(0, copy.length - 1));
    if (!copy.length || r.chance(0.2)) copy.push(r.of(NOISE));
    else if (r.chance(0.2)) copy.splice(at, 1);
    else copy[at] = spoilt(copy[at], r);
    return copy;
  }
  const copy: Record<string, unknown> = { ...value };
  const keys = Object.keys(copy);
  const key = r.of(keys.length ? keys : ['x']);
  if (r.chance(0.15)) delete copy[key];
  else if (r.chance(0.15))
    Object.defineProperty(copy, r.of(['extra', 'constructor', '__proto__', 'id']), { value: r.of(NOISE), enumerable: true }); // prettier-ignore
  else copy[key] = spoilt(copy[key], r);
  return copy;
}

const box = (id: string): object => ({
  id,
  name: id,
  base: { primitive: 'box', width: 1, height: 2, depth: 3 },
});

/**
 * @param url of a server whose library this may fill
 * @param fingerprint tells everything that is stored; must not change over a refused call
 */
export async function soakRoutes(
  url: string,
  count: number,
  seed: number,
  fingerprint: () => string,
): Promise<RouteCounts> {
  const r = new Random(seed);
  const out: RouteCounts = { calls: 0, accepted: 0, refused: 0, faults: [] };
  const scenes: Array<{ id: string; seq: number; head: string; pieces: number }> = [];
  const send = async (method: string, path: string, body?: unknown, raw?: string, type = 'application/json'): Promise<{ status: number; body: Record<string, unknown> }> => {
    const before = fingerprint();
    const init: RequestInit = { method };
    if (body !== undefined || raw !== undefined) {
      init.body = raw ?? JSON.stringify(body);
      init.headers = { 'content-type': type };
    }
    const response = await fetch(url + path, init);
    const text = await response.text();
    out.calls++;
    let parsed: Record<string, unknown> = {};
    try {
      parsed = JSON.parse(text) as Record<string, unknown>;
    } catch {
      if (response.status >= 300) out.faults.push(`${method} ${path}: ${response.status} without JSON`);
    }
    if (response.ok) out.accepted++;
    else {
      out.refused++;
      const asked = JSON.stringify(body ?? raw ?? '').slice(0, 300);
      if (response.status >= 500) out.faults.push(`${method} ${path}: ${response.status} ${text.slice(0, 80)} ${asked}`);
      if (typeof parsed.code !== 'string' || typeof parsed.message !== 'string')
        out.faults.push(`${method} ${path}: ${response.status} without code and message`);
      if (fingerprint() !== before) out.faults.push(`${method} ${path}: refused with ${response.status}, but something changed ${asked}`);
    }
    return { status: response.status, body: parsed };
  }; // prettier-ignore

  const action = (s: (typeof scenes)[number], k: number): object => {
    const base = { id: `soak-${seed}-${k}`, window: 'soak', base: s.seq };
    if (r.chance(0.2)) return { ...base, kind: 'move', from: s.head, to: 'start', patch: [] };
    const id = `n${k}`;
    return {
      ...base,
      kind: 'revision',
      label: `Add ${id}`,
      forward: [
        { op: 'add', path: ['pieces', id], value: box(id) },
        { op: 'add', path: ['order', id], value: 'a5' },
      ],
      inverse: [
        { op: 'remove', path: ['pieces', id] },
        { op: 'remove', path: ['order', id] },
      ],
    };
  };

  for (let k = 0; out.calls < count; k++) {
    if (!scenes.length || r.chance(0.05)) {
      const { body } = await send('POST', '/api/scenes', { name: `Soak ${k}`, document: documentOf([box('a') as never]) }); // prettier-ignore
      scenes.push({ id: body.id as string, seq: 0, head: 'start', pieces: 1 });
      if (scenes.length > 6) scenes.shift();
      continue;
    }
    const s = r.of(scenes);
    const sound = action(s, k);
    const bodies: Array<[string, string, unknown]> = [
      ['POST', `/api/scenes/${s.id}/actions`, sound],
      ['POST', '/api/scenes', { name: 'x', document: { pieces: [box('p'), { ...box('q'), parent: 'p' }] } }],
      ['PATCH', `/api/scenes/${s.id}`, { name: 'Renamed' }],
      ['POST', `/api/scenes/${s.id}/milestones`, { name: 'Here' }],
      ['POST', `/api/scenes/${s.id}/recovery`, { window: 'soak', base: s.seq, actions: [sound] }],
      ['POST', `/api/scenes/${s.id}/milestones/1/restore`, { id: `r${k}`, window: 'soak', base: s.seq }],
      ['POST', `/api/scenes/${s.id}/export`, { pieces: ['nothing'], format: 'obj', unit: 'mm', up: 'y' }],
    ];
    // Sending writes and looking at things are most of what happens.
    const [method, path, body] = r.chance(0.6) ? bodies[0] : r.of(bodies);
    const how = r.next();
    if (how < 0.25) {
      const { status, body: answer } = await send(method, path, body);
      if (status === 200 && path.endsWith('/actions'))
        Object.assign(s, { seq: answer.seq, head: answer.head });
    } else if (how < 0.75) {
      const { status, body: answer } = await send(method, path, spoilt(body, r));
      if (status === 200 && path.endsWith('/actions'))
        Object.assign(s, { seq: answer.seq, head: answer.head });
    } else if (how < 0.85) {
      const raw = JSON.stringify(body).replace(/"?[a-z0-9]+"?(?=[,}\]])/i, () => r.of(RAW));
      await send(
        method,
        path,
        undefined,
        raw,
        r.of(['application/json', 'text/plain', '', 'application/JSON; x']),
      );
    } else {
      const gets = [
        '/api/scenes?search=%25', '/api/scenes?search=%E0%A4%A', '/api/health', '/api/nowhere', `/api/scenes/${s.id}`, '/api/scenes/none',
        `/api/scenes/${s.id}/history?below=${r.of(['1', '-1', 'x', '1e9', ''])}&patches=1`, `/api/scenes/${s.id}/history?search=${r.of(['a', '%25', '_'])}`,
        `/api/scenes/${s.id}/milestones`, `/api/scenes/${s.id}/milestones/${r.of(['1', 'x', '999'])}/compare`, `/api/scenes/${s.id}/thumbnail`,
        `/api/meshes/${'a'.repeat(64)}`, '/api/meshes/short', `/api/scenes/${'x'.repeat(3000)}`, '/api/scenes/..%2f..%2fetc',
      ]; // prettier-ignore
      await send('GET', r.of(gets));
      if (r.chance(0.3)) await send('PUT', `/api/meshes/${'b'.repeat(64)}`, undefined, r.of(RAW), r.of(['application/octet-stream', 'text/plain'])); // prettier-ignore
      if (r.chance(0.3)) await send('PUT', `/api/scenes/${s.id}/thumbnail?faces=${r.of(['1', 'x', ''])}`, undefined, 'xx', r.of(['image/png', 'text/plain'])); // prettier-ignore
      if (r.chance(0.2)) await send('POST', '/api/scenes/import?name=x', undefined, r.of(['f 1 2 3', 'v 1 2', 'nothing', ...RAW]), r.of(['text/plain', 'application/vnd.urnsmith.scene+zip'])); // prettier-ignore
      if (r.chance(0.1)) await send('DELETE', '/api/scenes/none');
    }
    if (how >= 0.25 && r.chance(0.2)) {
      // Whatever was stored meanwhile, the next action is taken.
      const state = await send('GET', `/api/scenes/${s.id}`);
      if (state.status === 200) Object.assign(s, { seq: state.body.seq, head: state.body.head });
    }
  }
  return out;
}

/**
 * How long a large mesh holds up other calls, while it is stored and while it is read. Server, sender and the one who
 * asks meanwhile are processes of their own, so that only the server's waiting counts.
 */
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { contentHash, encodeMesh } from '../core/src/formats/meshBlob';
import { buildPrimitive } from '../core/src/primitives';
import { start } from '../server/src/start';
import { ms, row } from './report';

/** A process that runs this file in a role; it answers each message it is sent. */
function helper(role: string, arg: string) {
  const child = fork(import.meta.filename, [role, arg], { execArgv: ['--import', 'tsx'] });
  const answer = async (): Promise<unknown> => (await once(child, 'message'))[0];
  return { child, answer, ask: (what: string) => (child.send(what), answer()) };
}

async function serve(folder: string): Promise<void> {
  const server = await start({ database: join(folder, 'b.sqlite') });
  process.send!(server.url);
  await once(process, 'message');
  await server.stop();
  process.exit();
}

/** Asks for the list of scenes over and over; each message is answered with the longest wait since the last. */
async function probe(url: string): Promise<void> {
  let longest = 0;
  process.on('message', () => {
    process.send!(longest);
    longest = 0;
  });
  process.send!('ready');
  for (;;) {
    const before = performance.now();
    await (await fetch(`${url}/api/scenes`)).arrayBuffer();
    longest = Math.max(longest, performance.now() - before);
    await new Promise((r) => setTimeout(r, 1));
  }
}

async function measure(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'urnsmith-bench-'));
  const server = helper('serve', folder);
  const url = (await server.answer()) as string;
  const prober = helper('probe', url);
  await prober.answer();
  const mesh = encodeMesh(
    buildPrimitive({ primitive: 'torus', radius: 50, tubeRadius: 12, sides: 1024, tubeSides: 512 }),
  );
  const at = `${url}/api/meshes/${await contentHash(mesh)}`;
  await prober.ask('start');
  let before = performance.now();
  const headers = { 'content-type': 'application/octet-stream' };
  const stored = await fetch(at, { method: 'PUT', body: mesh as never, headers });
  await stored.arrayBuffer();
  if (!stored.ok) throw new Error(`refused with ${stored.status}`);
  const put = [performance.now() - before, (await prober.ask('stored')) as number];
  before = performance.now();
  await (await fetch(at)).arrayBuffer();
  const got = [performance.now() - before, (await prober.ask('read')) as number];
  console.log(
    `\nA mesh of ${(mesh.length / 1024 / 1024).toFixed(0)} MB (bound: no other call waits over 100 ms)`,
  );
  row('', ['time', 'longest other']);
  row('stored', put.map(ms));
  row('read', got.map(ms));
  prober.child.kill();
  server.child.send('stop');
  await once(server.child, 'exit');
  rmSync(folder, { recursive: true });
}

const [role, arg] = process.argv.slice(2);
await (role === 'serve' ? serve(arg) : role === 'probe' ? probe(arg) : measure());

/** Jobs of the server: limits of time and memory, cancelling, small before large, workers that die. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { documentOf } from '@urnsmith/core/document/sections';
import type { Piece } from '@urnsmith/core/document/schema';
import { encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { Jobs } from '../src/jobs/Jobs';
import { OnServer } from './onServer';

const folder = mkdtempSync(join(tmpdir(), 'urnsmith-jobs-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A scene that takes very long to export: a dense ball smoothed over and over. */
const heavy: Piece[] = Array.from({ length: 12 }, (_, i) => ({
  id: `h${i}`,
  base: { primitive: 'quadSphere', radius: 10 + i, divisions: 60 },
  steps: [{ kind: 'smooth', exportLevels: 3 }],
}));
const light = join(folder, 'light.mesh');
const laid = (name: string, pieces: Piece[]): string => {
  const path = join(folder, name);
  rmSync(path, { recursive: true, force: true });
  const made = mkdtempSync(path);
  writeFileSync(join(made, 'document.json'), JSON.stringify(documentOf(pieces)));
  return made;
};
const options = {
  pieces: heavy.map((p) => p.id),
  format: 'stl' as const,
  unit: 'mm' as const,
  up: 'y' as const,
};
const exporting = (jobs: Jobs, bytes: number, signal?: AbortSignal) =>
  jobs.run('export', { folder: laid('heavy', heavy), options }, bytes, signal);
const codeOf = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
    return 'done';
  } catch (e) {
    return (e as OperationError).code;
  }
};

beforeAll(() => {
  writeFileSync(light, encodeMesh(buildPrimitive({ primitive: 'box', width: 1, height: 1, depth: 1 })));
});

describe('jobs', () => {
  it('are ended when they take too long or too much, and the next one is done', async () => {
    const slow = new Jobs({ seconds: 2, megabytes: 4096, processes: 1 });
    expect(await codeOf(exporting(slow, 1))).toBe('job-time');
    expect(await codeOf(slow.run('verify', { file: light }, 1))).toBe('done');
    await slow.stop();
    const small = new Jobs({ seconds: 60, megabytes: 180, processes: 1 });
    expect(await codeOf(exporting(small, 1))).toBe('job-memory');
    expect(await codeOf(small.run('verify', { file: light }, 1))).toBe('done');
    await small.stop();
  });

  it('are cancelled within a second, at work or waiting', async () => {
    const jobs = new Jobs({ seconds: 60, megabytes: 4096, processes: 1 });
    const [one, two] = [new AbortController(), new AbortController()];
    const running = codeOf(exporting(jobs, 1, one.signal));
    const waiting = codeOf(exporting(jobs, 1, two.signal));
    await new Promise((r) => setTimeout(r, 1500));
    const before = Date.now();
    two.abort();
    expect(await waiting).toBe('job-cancelled');
    one.abort();
    expect(await running).toBe('job-cancelled');
    expect(Date.now() - before).toBeLessThan(1000);
    expect(await codeOf(jobs.run('verify', { file: light }, 1, AbortSignal.abort()))).toBe('job-cancelled');
    expect(jobs.memory()).toMatchObject({ running: 0, waiting: 0 });
    await jobs.stop();
  });

  it('that are small do not wait behind large ones', async () => {
    const jobs = new Jobs({ seconds: 60, megabytes: 4096, processes: 2 });
    const large = [1, 2, 3].map(() => codeOf(exporting(jobs, 1e9)));
    const done: string[] = [];
    void Promise.all(large.map(async (l) => done.push(await l)));
    expect(await codeOf(jobs.run('verify', { file: light }, 1))).toBe('done');
    expect(done).toEqual([]);
    await jobs.stop();
    expect(await Promise.all(large)).toEqual(['job-cancelled', 'job-cancelled', 'job-cancelled']);
  });

  it('refuse what is no mesh with the reason, and go on', async () => {
    const jobs = new Jobs();
    const bad = join(folder, 'bad.mesh');
    writeFileSync(bad, 'no mesh');
    expect(await codeOf(jobs.run('verify', { file: bad }, 1))).toBe('bad-blob');
    expect(await codeOf(jobs.run('verify', { file: join(folder, 'nothing') }, 1))).toBe('internal');
    expect(await codeOf(jobs.run('verify', { file: light }, 1))).toBe('done');
    await jobs.stop();
  });
});

describe('a caller that goes away', () => {
  it('ends the work it asked for', async () => {
    const on = await new OnServer().start();
    const id = await on.create('Heavy', heavy);
    const url = new URL(`${on.running.url}/api/scenes/${id}/export`);
    const call = request(url, { method: 'POST', headers: { 'content-type': 'application/json' } });
    call.on('error', () => {});
    call.end(JSON.stringify(options));
    const { jobs } = on.running.app;
    const until = async (what: () => boolean): Promise<void> => {
      for (let k = 0; k < 200 && !what(); k++) await new Promise((r) => setTimeout(r, 50));
      expect(what()).toBe(true);
    };
    await until(() => jobs.memory().running === 1);
    call.destroy();
    await until(() => jobs.memory().running === 0);
    await on.close();
  });
});

/** `urnsmith store check|backup|restore|export`: looking after the library without a window. */
import { copyFileSync, existsSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import Database from 'better-sqlite3';
import { packScene } from '@urnsmith/core/formats/archive';
import { meshesOf } from '@urnsmith/core/document/sections';
import { decodeMesh } from '@urnsmith/core/formats/meshBlob';
import { backUp, backupPath, backupsOf, dateOf } from '../store/backups';
import { damageOf, openDatabase } from '../store/database';
import type { Db } from '../store/db';
import { StoreError } from '../store/errors';
import { Journal } from '../store/journal';
import { takeLock } from '../store/lock';
import { MeshStore } from '../store/meshes';
import { SceneStore } from '../store/scenes';
import { ROOT } from '../root';
import { UsageError, type Output } from './command';

export const STORE_USAGE = `  urnsmith store check                    look over the library: pages, scenes, journals, meshes
  urnsmith store backup [--out FILE]      write a copy of the library beside it, or to FILE
  urnsmith store restore [--from FILE]    put the newest backup (or FILE) back; what was there is kept beside it
  urnsmith store export SCENE --out FILE  write a scene, by its name or id, as one file
      --data FILE         the library (URNSMITH_DATA, or .data/urnsmith.sqlite)`;

interface Options {
  data?: string;
  out?: string;
  from?: string;
}

export async function store(what: string, rest: string[], options: Options, io: Output): Promise<0 | 1> {
  const file = resolve(options.data ?? process.env.URNSMITH_DATA ?? join(ROOT, '.data/urnsmith.sqlite'));
  if (what === 'restore') return restore(file, options.from, io);
  if (!existsSync(file)) throw new UsageError(`There is no library at ${file}; name it with --data.`);
  if (what === 'check') return withLibrary(file, (db) => check(db, io));
  if (what === 'backup')
    return withLibrary(file, (db) => {
      const target = options.out ? resolve(options.out) : backupPath(file);
      backUp(db, target);
      io.out(`Wrote ${target}`);
      return 0;
    });
  if (what === 'export' && rest.length === 1)
    return withLibrary(file, (db) => exportScene(db, rest[0], options, io));
  throw new UsageError(STORE_USAGE);
}

async function withLibrary<T>(file: string, work: (db: Db) => T | Promise<T>): Promise<T> {
  const db = openDatabase(file);
  try {
    return await work(db);
  } finally {
    db.close();
  }
}

async function check(db: Db, io: Output): Promise<0 | 1> {
  const faults = damageOf(db).map((d) => `pages: ${d}`);
  const journal = new Journal(db);
  const meshes = new MeshStore(db);
  const scenes = db.prepare<[], { id: string; name: string; head: number; tip: number }>('SELECT id, name, head, tip FROM scene').all(); // prettier-ignore
  for (const { id, name, head, tip } of scenes)
    for (const number of new Set([head, tip]))
      try {
        journal.documentAt(id, number);
      } catch (e) {
        const newest = journal.documents.readable(id, number);
        faults.push(
          `scene “${name}”: step ${number} cannot be read (${(e as Error).message}); ${newest ? `the newest that can is ${newest.number}` : 'no step can'}`,
        );
      }
  const hashes = db.prepare<[], { hash: string }>('SELECT hash FROM mesh WHERE complete = 1').all();
  for (const { hash } of hashes)
    try {
      decodeMesh(await meshes.get(hash));
    } catch (e) {
      faults.push(`mesh ${hash.slice(0, 12)}…: ${(e as Error).message}`);
    }
  for (const f of faults) io.err(f);
  io.out(
    `${scenes.length} scenes, ${hashes.length} meshes: ${faults.length ? `${faults.length} faults` : 'all sound'}`,
  );
  return faults.length ? 1 : 0;
}

function restore(file: string, from: string | undefined, io: Output): 0 | 1 {
  const source = from ? resolve(from) : backupsOf(file).find(isSound);
  if (!source || !existsSync(source)) throw new UsageError(`There is no backup of ${file} that can be read; name one with --from FILE.`); // prettier-ignore
  if (!isSound(source))
    throw new UsageError(`${source} is damaged too; name another backup with --from FILE.`);
  const release = takeLock(file);
  try {
    const aside = `${file}.before-restore-${new Date().toISOString().replace(/\D/g, '').slice(0, 14)}`;
    if (existsSync(file)) renameSync(file, aside);
    for (const extra of ['-wal', '-shm']) {
      if (existsSync(file + extra)) renameSync(file + extra, aside + extra);
    }
    copyFileSync(source, `${file}.restoring`);
    renameSync(`${file}.restoring`, file);
    io.out(`Put ${source} of ${dateOf(source)} back.`);
    if (existsSync(aside)) io.out(`What was there before is in ${aside}`);
    return 0;
  } finally {
    rmSync(`${file}.restoring`, { force: true });
    release();
  }
}

function isSound(file: string): boolean {
  try {
    const db = new Database(file, { readonly: true, fileMustExist: true });
    try {
      return damageOf(db).length === 0;
    } finally {
      db.close();
    }
  } catch {
    return false;
  }
}

async function exportScene(db: Db, which: string, { out }: Options, io: Output): Promise<0> {
  if (!out) throw new UsageError('store export needs --out FILE.');
  const journal = new Journal(db);
  const scenes = new SceneStore(db, journal);
  const found = scenes.list('').filter((s) => s.id === which || s.name === which);
  if (!found.length) throw new StoreError(404, 'no-scene', `There is no scene “${which}”.`);
  if (found.length > 1)
    throw new StoreError(422, 'two-scenes', `${found.length} scenes are called “${which}”; give the id: ${found.map((s) => s.id).join(', ')}.`); // prettier-ignore
  const [{ id, name }] = found;
  const document = journal.document(id);
  const store = new MeshStore(db);
  const meshes = new Map<string, Uint8Array>();
  for (const hash of meshesOf(document)) meshes.set(hash, await store.get(hash));
  const picture = scenes.picture(id);
  writeFileSync(
    out,
    packScene({ name, document, meshes, picture: picture ? new Uint8Array(picture) : undefined }),
  );
  io.out(`Wrote ${out}`);
  return 0;
}

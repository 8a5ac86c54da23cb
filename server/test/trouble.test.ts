/** Trouble with disk and file: found when it happens, told in a sentence, and what can be saved is. */
import {
  copyFileSync,
  existsSync,
  openSync,
  readdirSync,
  readFileSync,
  utimesSync,
  writeFileSync,
  writeSync,
  closeSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, describe, expect, it } from 'vitest';
import { unpackScene } from '@urnsmith/core/formats/archive';
import { piecesOf } from '@urnsmith/core/document/sections';
import { run } from '../src/cli/main';
import { start } from '../src/start';
import { backUpDaily, backupsOf } from '../src/store/backups';
import { openDatabase } from '../src/store/database';
import { OpenError, troubleOf } from '../src/store/errors';
import { OnServer, Window } from './onServer';

let on: OnServer;
afterEach(async () => {
  await on.close().catch(() => {});
});

const openFault = async (database: string): Promise<string> => {
  try {
    const s = await start({ database });
    await s.stop();
    return 'opened';
  } catch (e) {
    expect(e).toBeInstanceOf(OpenError);
    return `${(e as OpenError).code}: ${(e as Error).message}`;
  }
};
const cli = async (...args: string[]): Promise<{ code: number; out: string; err: string }> => {
  const [out, err]: string[][] = [[], []];
  const code = await run(args, { out: (l) => out.push(l), err: (l) => err.push(l) });
  return { code, out: out.join('\n'), err: err.join('\n') };
};
/** Overwrites bytes in the middle of a file. */
function corrupt(file: string, at: number, length: number): void {
  const f = openSync(file, 'r+');
  writeSync(f, Buffer.alloc(length, 0x5a), 0, length, at);
  closeSync(f);
}

describe('a full disk', () => {
  it('is told with what to do, loses nothing, and is over when there is room', async () => {
    on = await new OnServer().start();
    const w = await new Window(on, await on.create('Full')).look();
    await w.send(w.rename('before'));
    const { db } = on.running.app;
    db.pragma(`max_page_count = ${db.pragma('page_count', { simple: true }) as number}`);
    const long = w.revision('Many', (l) => [...l, ...Array.from({ length: 400 }, (_, k) => ({ id: `n${k}`, name: `Piece ${k}`, base: { group: true as const } }))]); // prettier-ignore
    const full = await w.send(long);
    expect([full.status, full.body.code]).toEqual([507, 'disk-full']);
    expect(full.body.message).toMatch(/disk is full.*Free some space/);
    expect((await on.open(w.scene)).seq).toBe(1);
    db.pragma('max_page_count = 1000000');
    expect((await w.send(long)).status).toBe(200);
    expect((await on.open(w.scene)).pieces).toHaveLength(401);
  });
});

describe('a database', () => {
  it('is opened by one server at a time', async () => {
    on = await new OnServer().start();
    expect(await openFault(on.database)).toMatch(
      /^in-use: .*in use by another Urnsmith server\. Close that one/,
    );
    await on.running.stop();
    expect(await openFault(on.database)).toBe('opened');
    await on.start();
  });

  it('that cannot be written, or is none, is told so', async () => {
    on = await new OnServer().start();
    const plain = join(on.folder, 'plain');
    writeFileSync(plain, 'x');
    expect(await openFault(join(plain, 'db.sqlite'))).toMatch(/^read-only: /);
    const noDatabase = join(on.folder, 'notes.sqlite');
    writeFileSync(
      noDatabase,
      'These are notes and no database, in some more bytes than a header has.'.repeat(20),
    );
    expect(await openFault(noDatabase)).toMatch(/^damaged: /);
    const file = join(on.folder, 'read.sqlite');
    openDatabase(file).close();
    const read = new Database(file, { readonly: true });
    let code = '';
    try {
      read.exec('DELETE FROM scene');
    } catch (e) {
      code = troubleOf(e)!.code;
    }
    read.close();
    expect(code).toBe('read-only');
  });

  it('with damaged pages is found at the start, and a backup put back', async () => {
    on = await new OnServer().start();
    const w = await new Window(on, await on.create('Precious')).look();
    for (let k = 0; k < 60; k++) await w.send(w.rename(`n${k}`));
    await on.running.stop();
    const db = openDatabase(on.database);
    expect(backUpDaily(db, on.database, new Date('2026-11-25T10:00:00Z'))).toMatch(
      /backups\/test-2026-11-25\.sqlite$/,
    );
    db.close();
    const size = readFileSync(on.database).length;
    corrupt(on.database, Math.floor(size / 2 / 4096) * 4096, 4096 * 3);
    expect(await openFault(on.database)).toMatch(/^damaged: .*store restore/);
    expect(await cli('store', 'restore', '--data', on.database)).toMatchObject({
      code: 0,
      out: expect.stringMatching(/^Put .*test-2026-11-25\.sqlite .* back\.\nWhat was there before is in /),
    });
    await on.start();
    expect((await on.open(w.scene)).pieces[0].name).toBe('n59');
  });

  it('is backed up at the first start of a day, seven days kept', async () => {
    on = await new OnServer().start();
    await on.create('Kept');
    const { db } = on.running.app;
    for (let day = 1; day <= 12; day++) backUpDaily(db, on.database, new Date(Date.UTC(2026, 9, day, 8)));
    expect(backUpDaily(db, on.database, new Date(Date.UTC(2026, 9, 12, 20)))).toBeNull();
    expect(backupsOf(on.database).map((f) => f.slice(-17, -7))).toEqual(
      ['12', '11', '10', '09', '08', '07', '06'].map((d) => `2026-10-${d}`),
    );
    process.env.URNSMITH_BACKUPS = 'off';
    expect(backUpDaily(db, on.database, new Date(Date.UTC(2026, 9, 13)))).toBeNull();
    delete process.env.URNSMITH_BACKUPS;
    expect(readdirSync(dirname(backupsOf(on.database)[0])).filter((n) => n.includes('unfinished'))).toEqual(
      [],
    );
  });
});

describe('a damaged scene', () => {
  const made = async (): Promise<Window> => {
    on = await new OnServer().start();
    const w = await new Window(on, await on.create('Hurt')).look();
    for (let k = 1; k <= 250; k++) await w.send(w.rename(`n${k}`));
    return w;
  };
  const again = async (): Promise<void> => {
    await on.running.stop();
    await on.start();
  };

  it('is rebuilt from another snapshot and the journal', async () => {
    const w = await made();
    const { db } = on.running.app;
    const numbers = db
      .prepare('SELECT number FROM snapshot WHERE scene = ? ORDER BY number')
      .pluck()
      .all(w.scene) as number[];
    expect(numbers.length).toBeGreaterThan(2);
    // The nearest snapshot is lost, the one before holds something else than its hash says.
    db.prepare('UPDATE snapshot SET document = ? WHERE scene = ? AND number = ?').run(
      Buffer.from('rubbish'),
      w.scene,
      numbers.at(-1),
    );
    db.prepare('UPDATE snapshot SET hash = ? WHERE scene = ? AND number = ?').run(
      '0'.repeat(64),
      w.scene,
      numbers.at(-2),
    );
    await again();
    expect(await on.open(w.scene)).toMatchObject({ damage: null, pieces: [{ name: 'n250' }] });
    // From the other end too: without its start, from the snapshots after it.
    on.running.app.db.prepare('DELETE FROM snapshot WHERE scene = ? AND number = 0').run(w.scene);
    on.running.app.db
      .prepare(
        'UPDATE snapshot SET hash = (SELECT hash FROM revision r WHERE r.scene = snapshot.scene AND r.number = snapshot.number) WHERE scene = ? AND number = ?',
      )
      .run(w.scene, numbers.at(-2));
    await w.look();
    expect((await w.send(w.move((await on.open(w.scene)).undo[60].action))).status).toBe(200);
  });

  it('that cannot is opened as far as it goes, to be looked at and duplicated, but not changed', async () => {
    const w = await made();
    const { db } = on.running.app;
    db.prepare('UPDATE revision SET forward = ? WHERE scene = ? AND number = 240').run(
      '[{"op":"replace","path":["pieces","ghost","name"],"value":1}]',
      w.scene,
    );
    db.prepare('UPDATE revision SET inverse = ? WHERE scene = ? AND number >= 240').run('not json', w.scene);
    db.prepare('DELETE FROM snapshot WHERE scene = ? AND number > 200').run(w.scene);
    await again();
    const s = await on.open(w.scene);
    expect(s.damage).toMatch(/step 239 of 250.*not changed/);
    expect(s.pieces[0].name).toBe('n239');
    await w.look();
    const r = await w.send(w.rename('no'));
    expect([r.status, r.body.code]).toEqual([409, 'damaged-scene']);
    const copy = await on.answer<{ id: string }>(on.post(`/api/scenes/${w.scene}/duplicate`, {}));
    expect((await on.open(copy.body.id)).pieces[0].name).toBe('n239');
    await on.running.stop();
    const checked = await cli('store', 'check', '--data', on.database);
    expect([checked.code, checked.err]).toEqual([
      1,
      expect.stringMatching(/scene “Hurt”: step 250 cannot be read .*newest that can is 239/),
    ]);
    await on.start();
  });
});

describe('the library without a window', () => {
  it('is checked, backed up and put back, and a scene of it written as one file', async () => {
    on = await new OnServer().start();
    const id = await on.create('Handed on');
    await on.running.stop();
    const data = ['--data', on.database];
    expect(await cli('store', 'check', ...data)).toMatchObject({
      code: 0,
      out: '1 scenes, 0 meshes: all sound',
    });
    const copy = join(on.folder, 'copy.sqlite');
    expect((await cli('store', 'backup', '--out', copy, ...data)).code).toBe(0);
    const file = join(on.folder, 'scene.urn.zip');
    expect((await cli('store', 'export', 'Handed on', '--out', file, ...data)).code).toBe(0);
    const scene = await unpackScene(new Uint8Array(readFileSync(file)));
    expect([scene.name, piecesOf(scene.document).map((p) => p.name)]).toEqual(['Handed on', ['Box']]);
    utimesSync(copy, new Date(), new Date());
    expect((await cli('store', 'restore', '--from', copy, ...data)).code).toBe(0);
    expect(readdirSync(on.folder).some((n) => n.includes('before-restore'))).toBe(true);
    for (const [args, message] of [
      [['store', 'export', 'Nobody', '--out', file, ...data], /There is no scene “Nobody”/],
      [['store', 'check', '--data', join(on.folder, 'none.sqlite')], /There is no library at/],
      [['store', 'restore', '--data', join(on.folder, 'none.sqlite')], /There is no backup/],
      [['store', 'polish', ...data], /urnsmith store check/],
    ] as const)
      expect((await cli(...args)).err).toMatch(message);
    await on.start();
    expect((await on.open(id)).pieces).toHaveLength(1);
    // While a server has it, the command line says so instead of reaching in.
    expect(await cli('store', 'check', ...data)).toMatchObject({
      code: 1,
      err: expect.stringMatching(/in use by another/),
    });
    expect(existsSync(file)).toBe(true);
    copyFileSync(file, `${file}.again`);
  });
});

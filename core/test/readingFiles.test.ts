/** Files from elsewhere: OBJ however it is written, against a plain reading of it; scene files, sound and hostile. */
import { strToU8, zipSync } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { documentOf } from '../src/document/sections';
import { ARCHIVE_LIMITS, packScene, unpackScene } from '../src/formats/archive';
import { contentHash, decodeMesh, encodeMesh } from '../src/formats/meshBlob';
import { ObjStatements } from '../src/formats/objStatements';
import { OBJ_LIMITS, readObj } from '../src/formats/readObj';
import { OperationError } from '../src/mesh/errors';
import { faceCount, vertexCount } from '../src/mesh/PolyMesh';
import { buildPrimitive } from '../src/primitives';
import { refusal } from './refusal';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Statements as words, the plain way. */
function plainStatements(text: string): string[][] {
  return text
    .replace(/\\\r?\n/g, ' ')
    .split(/\r?\n/)
    .map((l) => l.split('#')[0].trim().split(/\s+/).filter(Boolean))
    .filter((w) => w.length);
}

function statements(text: string): string[][] {
  const s = new ObjStatements(bytes(text), 1000);
  const out: string[][] = [];
  while (s.next()) out.push(Array.from({ length: s.words }, (_, k) => s.text(k, 1000)));
  return out;
}

describe('OBJ', () => {
  it('falls into the same statements as a plain reading, whatever stands in it', () => {
    const part = fc.constantFrom('v', 'f', '1', '-2.5e3', '3/4/5', ' ', '  ', '\t', '\n', '\r\n', '\\\n', '\\\r\n', '# c', '\\', 'ü', 'o', ''); // prettier-ignore
    fc.assert(
      fc.property(fc.array(part, { maxLength: 40 }), (parts) => {
        const text = parts.join('');
        expect(statements(text)).toEqual(plainStatements(text));
      }),
      { numRuns: 2000, seed: 13 },
    );
  });

  it('numbers are read as the language reads them, to the last bit', () => {
    const number = fc.oneof(
      fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
      fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e6, max: 1e6 }).map((x) => x.toFixed(6)),
      fc.tuple(fc.integer(), fc.integer({ min: -330, max: 300 })).map(([m, e]) => `${m}e${e}`),
      fc.bigInt({ min: -(10n ** 40n), max: 10n ** 40n }).map(String),
      fc.constantFrom(
        '.5',
        '5.',
        '+7',
        '-.25e+2',
        '00012.50',
        '1E3',
        '9007199254740993',
        '0.1',
        '1e23',
        '2.2250738585072014e-308',
      ),
    );
    fc.assert(
      fc.property(number, (text) => {
        const s = new ObjStatements(bytes(`v ${text}`), 4);
        s.next();
        expect(Object.is(s.number(1), Number(text))).toBe(true);
      }),
      { numRuns: 3000, seed: 17 },
    );
    for (const none of [
      '',
      'x',
      '1e',
      '1e+',
      '--1',
      '1.2.3',
      '0x10',
      '1_000',
      'NaN',
      'Infinity',
      '.',
      '-',
      '1e5x',
    ]) {
      const s = new ObjStatements(bytes(`v ${none} 1`), 4);
      s.next();
      if (s.words === 3) expect([none, s.number(1)]).toEqual([none, NaN]);
    }
  });

  it('keeps points, UVs, normals and groups of several objects, written any way', () => {
    const text = [
      'v 0 0 0', 'v 1 0 0 # a comment', 'v 1 \\', ' 1 0', 'v 0 1 0', 'vt 0 0', 'vt 1 0', 'vt 1 1', 'vn 0 0 2',
      'o One', 'g left', 'f 1/1/1 2/2/1 3/3/1', 'g right', 'f 1//1 3//1 4//1', 'o Two words', 'f -4 -3 -2 -1', 'o One', 'f 4 3 2',
    ].join('\r\n'); // prettier-ignore
    const [one, two, ...rest] = readObj(text);
    expect([one.name, two.name, rest]).toEqual(['One', 'Two words', []]);
    expect([faceCount(one.mesh), vertexCount(one.mesh), faceCount(two.mesh)]).toEqual([3, 4, 1]);
    expect([...one.mesh.layers.face.group.data]).toEqual([0, 1, 1]);
    expect([...one.mesh.layers.corner.uv.data.slice(0, 6)]).toEqual([0, 0, 1, 0, 1, 1]);
    // Normals are made one long; corners without any have none.
    expect([...one.mesh.layers.corner.normal.data.slice(0, 3)]).toEqual([0, 0, 1]);
    expect([...one.mesh.layers.corner.normal.data.slice(-3)]).toEqual([0, 0, 0]);
    expect(two.mesh.layers.corner).toEqual({});
    expect(readObj(bytes(text))).toEqual(readObj(text));
  });

  it('states its limits, and names the line', () => {
    const told = (text: string | Uint8Array): string => {
      try {
        readObj(text);
        return '';
      } catch (e) {
        return (e as OperationError).message;
      }
    };
    const corner = 'v 0 0 0\nv 1 0 0\nv 0 1 0\n';
    const objects = Array.from({ length: OBJ_LIMITS.objects + 1 }, (_, k) => `o ${k}\nf 1 2 3\n`).join('');
    expect(told(corner + objects)).toMatch(
      /^Line \d+: the file has more than 5000 objects; join some of them first\.$/,
    );
    expect(told(corner + 'f' + ' 1'.repeat(OBJ_LIMITS.cornersPerFace + 1))).toBe(
      'Line 4: a face has more than 100000 corners.',
    );
    expect(told(`${corner}f 1 2 ${'9'.repeat(500)}`)).toMatch(
      /^Line 4: point 1e\+500|^Line 4: “9{40}…” is not a point index\.$/,
    );
    expect(told(corner + 'f 1 2 3/9')).toBe('Line 4: UV 9 does not exist, there are 0 so far.');
    expect(told(corner + 'f 1 2 3//1')).toBe('Line 4: normal 1 does not exist, there are 0 so far.');
    expect(told(`v 1 2 ${'x'.repeat(1000)}`)).toBe(`Line 1: “${'x'.repeat(40)}…” is not a number.`);
    expect(told(corner)).toMatch(/has no faces/);
    expect(told('')).toMatch(/has no faces/);
  });
});

describe('a scene file', () => {
  const mesh = encodeMesh(buildPrimitive({ primitive: 'torus', radius: 5, tubeRadius: 1 }));
  const scene = async (): Promise<Parameters<typeof packScene>[0]> => {
    const hash = await contentHash(mesh);
    const pieces: Piece[] = [
      { id: 'a', name: 'Stored', base: { blob: hash } },
      { id: 'b', base: { primitive: 'box', width: 1, height: 2, depth: 3 }, parent: 'a' },
    ];
    return {
      name: 'Handed on',
      document: documentOf(pieces),
      meshes: new Map([[hash, mesh]]),
      picture: Uint8Array.of(1, 2),
    };
  };
  const told = async (file: Uint8Array): Promise<string> => {
    try {
      await unpackScene(file);
      return '';
    } catch (e) {
      expect(e).toBeInstanceOf(OperationError);
      return (e as OperationError).message.replace('The scene file cannot be read: ', '');
    }
  };
  const zip = (files: Record<string, Uint8Array | string>): Uint8Array =>
    zipSync(
      Object.fromEntries(Object.entries(files).map(([n, f]) => [n, typeof f === 'string' ? strToU8(f) : f])),
    );
  const json = (document: unknown, more: object = {}): string =>
    JSON.stringify({ urnsmith: 'scene', name: 'x', document, ...more });

  it('comes back as it was, the same bytes each time', async () => {
    const s = await scene();
    const packed = packScene(s);
    expect(packScene(s)).toEqual(packed);
    const back = await unpackScene(packed);
    expect(back).toEqual(s);
    expect(faceCount(decodeMesh([...back.meshes.values()][0]))).toBeGreaterThan(0);
  });

  it('of the form before is brought up to date', async () => {
    const old = { pieces: [{ id: 'p', base: { primitive: 'sphere', radius: 3 } }] };
    expect((await unpackScene(zip({ 'scene.json': json(old) }))).document).toEqual(
      documentOf(old.pieces as Piece[]),
    );
  });

  it('that is damaged, hostile or from the future is refused in a sentence', async () => {
    const s = await scene();
    const [hash] = s.meshes.keys();
    const whole = packScene(s);
    expect(await told(bytes('no zip at all'))).toMatch(/^it is not a zip file/);
    expect(await told(whole.slice(0, whole.length - 30))).toMatch(/^it is not a zip file/);
    expect(await told(zip({ 'other.json': '{}' }))).toBe('it has no scene.json.');
    expect(await told(zip({ 'scene.json': '{' }))).toMatch(/^scene\.json: This is not JSON/);
    expect(await told(zip({ 'scene.json': '{"urnsmith":"scene","document":{"__proto__":1}}' }))).toMatch(
      /reserved word/,
    );
    expect(await told(zip({ 'scene.json': '{}' }))).toMatch(/does not say that it is a scene/);
    expect(await told(zip({ 'scene.json': json({ ...s.document, version: 99 }) }))).toMatch(
      /stored by a newer Urnsmith/,
    );
    expect(await told(zip({ 'scene.json': json({ ...s.document, order: {} }) }))).toMatch(
      /^order\/\w: The place in the list is missing/,
    );
    expect(
      await told(zip({ 'scene.json': json({ pieces: [{ id: 'p', base: { primitive: 'teapot' } }] }) })),
    ).toMatch(/is not a primitive/);
    expect(await told(zip({ 'scene.json': json('nothing') }))).toMatch(/A document is an object/);
    expect(await told(zip({ 'scene.json': json(s.document) }))).toMatch(/^the mesh [0-9a-f]{12}… is missing/);
    expect(
      await told(zip({ 'scene.json': json(s.document), [`meshes/${hash}.mesh`]: mesh.slice(8) })),
    ).toMatch(/is damaged/);
    // A file that would unpack to far more than the limit is not unpacked at all.
    const bomb = zipSync({
      'scene.json': strToU8(json(s.document)),
      'picture.png': new Uint8Array(ARCHIVE_LIMITS.picture + 1),
    });
    expect(await told(bomb)).toMatch(/“picture\.png” would be too large/);
    const many = Object.fromEntries(
      Array.from({ length: ARCHIVE_LIMITS.files + 2 }, (_, k) => [`n/${k}`, '']),
    );
    expect(await told(zip(many))).toMatch(/holds more than 6000 files/);
    // Entries that are none of a scene’s are passed over, wherever they would like to go.
    const strays = zip({ '../../evil': 'x', 'meshes/../../x.mesh': 'x', 'scene.json': json({ pieces: [] }) });
    expect((await unpackScene(strays)).meshes.size).toBe(0);
  });
});

it('stored meshes that are damaged anywhere are refused, or read as sound meshes', () => {
  const good = encodeMesh(buildPrimitive({ primitive: 'cylinder', radius: 3, height: 4, sides: 7 }));
  fc.assert(
    fc.property(fc.nat(good.length - 1), fc.nat(255), fc.boolean(), (at, value, cut) => {
      const bad = cut ? good.slice(0, at) : Uint8Array.from(good, (b, i) => (i === at ? value : b));
      const code = refusal(() => {
        const m = decodeMesh(bad);
        for (const c of m.corners) if (c >= vertexCount(m)) throw new Error('a corner at no point');
      });
      expect(['done', 'bad-blob']).toContain(code);
    }),
    { numRuns: 1500, seed: 19 },
  );
});

/** The stored document: JSON without loss, references and their walker, order keys, names, patches, graphs. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutterCycle, needed, nestedIn, operandsOf, parentCycle } from '../src/document/graph';
import { alike, canonicalJson, JsonError, parseJson, reconciled, tidy } from '../src/schema/json';
import { upgradeDocument, VersionError, versionOf } from '../src/document/migrations';
import { freeName, shortened } from '../src/document/names';
import { isOrderKey, orderKeysFor } from '../src/document/order';
import { applyPatch, diffDocuments, meet, PatchError, touched } from '../src/document/patch';
import { Type } from 'typebox';
import { carryingList, meshReference, reference, ReferenceWalker } from '../src/schema/references';
import type { Piece } from '../src/document/schema';
import {
  documentOf,
  emptyDocument,
  meshesOf,
  piecesOf,
  SECTION_NAMES,
  withPieces,
  withReferences,
} from '../src/document/sections';
import { changeFaults, documentFaults, recipeFaults } from '../src/document/validate';

const box = (id: string, more: Partial<Piece> = {}): Piece => ({
  id,
  base: { primitive: 'box', width: 1, height: 1, depth: 1 },
  ...more,
});
const cut = (...cutters: string[]) => ({ kind: 'cut' as const, mode: 'subtract' as const, cutters });

describe('JSON', () => {
  it('is taken only when nothing of it would be lost or mistaken', () => {
    const refused = (text: string): string => {
      try {
        parseJson(text);
        return '';
      } catch (e) {
        if (!(e instanceof JsonError)) throw e;
        return `${e.place}|${e.message}`;
      }
    };
    for (const good of [
      '{"a":[1,2.5e10,-0.1,1e-300]}',
      '{"a":"1e400 and 12345678901234567890"}',
      '9007199254740992',
      '1e22',
    ])
      expect(refused(good)).toBe('');
    expect(refused('{"a":1e400}')).toMatch(/^character 6\|The number 1e400 cannot be kept/);
    expect(refused('[1,-1e999]')).toMatch(/-1e999/);
    expect(refused('1e-400')).toMatch(/1e-400/);
    expect(refused('{"n":12345678901234567891}')).toMatch(/12345678901234567891/);
    for (const key of ['__proto__', 'constructor', 'toString', 'prototype'])
      expect(refused(`{"a":[{"${key}":1}]}`)).toBe(
        `a/0/${key}|“${key}” is a reserved word and cannot be a key.`,
      );
    expect(refused('['.repeat(100) + ']'.repeat(100))).toMatch(/nested deeper than 64/);
    expect(refused('{')).toMatch(/not JSON/);
  });

  it('has one text for values that are alike, and says which are', () => {
    const value = fc.jsonValue({ maxDepth: 4 });
    fc.assert(
      fc.property(value, value, (a, b) => {
        const turned = (v: unknown): unknown =>
          typeof v !== 'object' || v === null
            ? v
            : Array.isArray(v)
              ? v.map(turned)
              : Object.fromEntries(
                  Object.entries(v)
                    .reverse()
                    .map(([k, x]) => [k, turned(x)]),
                );
        expect(canonicalJson(turned(a))).toBe(canonicalJson(a));
        expect(alike(a, turned(a))).toBe(true);
        expect(alike(a, b)).toBe(canonicalJson(tidy(a)) === canonicalJson(tidy(b)));
        expect(reconciled(a, structuredClone(a))).toBe(a);
        expect(canonicalJson(reconciled(a, b))).toBe(canonicalJson(b));
      }),
      { numRuns: 300, seed: 5 },
    );
    expect(tidy({ a: undefined, b: [-0, undefined], c: { d: undefined } })).toEqual({ b: [0, null], c: {} });
  });
});

describe('references', () => {
  const pieces = [
    box('host', {
      parent: 'frame',
      steps: [
        { ...cut('a', 'b'), resting: ['b'] },
        { kind: 'bevel', width: 1, scope: { rule: 'rims', cutters: ['a'] } },
        { kind: 'bevel', width: 2, scope: { rule: 'all' } },
      ],
      actions: [{ op: 'transform', select: { faces: [0] }, surface: { base: { blob: 'c'.repeat(64) } } }],
    }),
    box('a'),
    box('b', { base: { blob: 'd'.repeat(64) } }),
    { id: 'frame', base: { group: true as const } },
  ];
  const gone = (...ids: string[]) =>
    withReferences('pieces', pieces[0], (r) => (r.section === 'pieces' && ids.includes(r.id) ? null : r.id));

  it('are found wherever a schema marks them', () => {
    expect([...meshesOf(documentOf(pieces))].sort()).toEqual(['c'.repeat(64), 'd'.repeat(64)]);
    expect(operandsOf(pieces[0])).toEqual(['a']);
    expect([...nestedIn(pieces, ['frame'])].sort()).toEqual(['frame', 'host']);
  });

  it('go when what they name goes, with the steps that have nothing left', () => {
    expect(gone('nobody')).toBe(pieces[0]);
    expect(gone('b').steps).toEqual([{ ...cut('a'), resting: [] }, ...pieces[0].steps!.slice(1)]);
    // The rounding of the rims of a cutter that is gone would otherwise round the rims of all.
    expect(gone('a').steps).toEqual([{ ...cut('b'), resting: ['b'] }, pieces[0].steps![2]]);
    expect(gone('a', 'b').steps).toEqual([pieces[0].steps![2]]);
    expect(gone('frame').parent).toBeUndefined();
  });

  it('are renamed for copies, in every place', () => {
    const renamed = withReferences('pieces', pieces[0], (r) => (r.section === 'pieces' ? `${r.id}2` : r.id));
    expect(renamed).toMatchObject({
      parent: 'frame2',
      steps: [{ cutters: ['a2', 'b2'], resting: ['b2'] }, { scope: { cutters: ['a2'] } }, {}],
      actions: pieces[0].actions,
    });
  });

  it('are walked by any schema, also in records and tuples of choices', () => {
    const schema = Type.Object({
      by: Type.Record(
        Type.String(),
        Type.Union([Type.Object({ to: reference('x', 'operand') }), Type.Object({ n: Type.Number() })]),
      ),
      list: Type.Array(Type.Object({ all: carryingList('x', 'mention', { maxItems: 9 }) })),
      mesh: Type.Optional(meshReference()),
    });
    const w = new ReferenceWalker(schema);
    const value = {
      by: { one: { to: 'p' }, two: { n: 1 } },
      list: [{ all: ['p', 'q'] }, { all: ['q'] }, { all: [] }],
      mesh: 'e'.repeat(64),
    };
    expect(w.list(value).map((r) => [r.path.join('/'), r.id.slice(0, 1)])).toEqual([
      ['by/one/to', 'p'], ['list/0/all/0', 'p'], ['list/0/all/1', 'q'], ['list/1/all/0', 'q'], ['mesh', 'e'],
    ]); // prettier-ignore
    expect(w.replace(value, (r) => (r.id === 'q' ? null : r.id)).list).toEqual([{ all: ['p'] }, { all: [] }]);
    expect(w.list({ by: 3, list: 'x', mesh: null })).toEqual([]);
  });
});

describe('order', () => {
  const ids = fc.uniqueArray(fc.constantFrom(...'abcdefghijkl'), { maxLength: 12 });
  it('changes as few keys as sorting can, and lists as asked', () => {
    fc.assert(
      fc.property(ids, fc.array(ids, { maxLength: 6 }), (first, rest) => {
        let keys = orderKeysFor(first, {});
        for (const list of rest) {
          const next = orderKeysFor(list, keys);
          expect(Object.keys(next).sort((a, b) => (next[a] < next[b] ? -1 : 1))).toEqual(list);
          expect(Object.values(next).every(isOrderKey)).toBe(true);
          if (list.length === Object.keys(keys).length) {
            // One that moves is one key; nobody else’s changes.
            const moved = [...list.slice(1), ...list.slice(0, 1)];
            const after = orderKeysFor(moved, next);
            expect(list.filter((id) => after[id] !== next[id]).length).toBeLessThanOrEqual(1);
          }
          keys = next;
        }
      }),
      { numRuns: 200, seed: 9 },
    );
  });

  it('bears equal keys, keys grown long, and no nonsense', () => {
    const same = orderKeysFor(['a', 'b', 'c'], { a: 'a0', b: 'a0', c: 'a0' });
    expect(same.a < same.b && same.b < same.c).toBe(true);
    let keys = orderKeysFor(['x', 'y'], {});
    let list = ['x', 'y'];
    for (let k = 0; k < 1500; k++) {
      list = ['x', `n${k}`, ...list.slice(1)];
      keys = orderKeysFor(list, keys);
    }
    expect(Math.max(...Object.values(keys).map((k) => k.length))).toBeLessThanOrEqual(100);
    expect(Object.keys(keys).sort((a, b) => (keys[a] < keys[b] ? -1 : 1))).toEqual(list);
    for (const bad of ['', '!', 'a', 'x'.repeat(500), 3, null]) expect(isOrderKey(bad)).toBe(false);
  });
});

describe('names', () => {
  it('stay short and tell things apart', () => {
    expect(freeName('Bolt', new Set())).toBe('Bolt');
    expect(freeName('Bolt', new Set(['Bolt', 'Bolt 2']))).toBe('Bolt 3');
    expect(freeName('Bolt 2', new Set(['Bolt 2']))).toBe('Bolt 3');
    expect(freeName('Bolt copy copy copy', new Set(['Bolt copy copy copy', 'Bolt']))).toBe('Bolt 2');
    expect(shortened('abcdef', 4)).toBe('abc…');
    expect(shortened('ab💥def', 4)).toBe('ab…');
    const long = 'n'.repeat(300);
    const names = new Set<string>();
    for (let k = 0; k < 120; k++) names.add(freeName(long, names));
    expect([names.size, Math.max(...[...names].map((n) => n.length))]).toEqual([120, 120]);
  });
});

describe('patches', () => {
  const doc = documentOf([box('a', { steps: [{ kind: 'bevel', width: 1 }] }), box('b')]);

  it('say just what changed, by its path', () => {
    const after = withPieces(doc, [
      { ...doc.pieces.a, steps: [{ kind: 'bevel', width: 3 }, { kind: 'normals' }] },
      doc.pieces.b,
    ]);
    const { forward, inverse } = diffDocuments(doc, after)!;
    expect(forward).toEqual([
      { op: 'replace', path: ['pieces', 'a', 'steps', 0, 'width'], value: 3 },
      { op: 'add', path: ['pieces', 'a', 'steps', 1], value: { kind: 'normals' } },
    ]);
    expect(applyPatch(after, inverse)).toEqual(doc);
    // Unchanged parts are the same objects.
    expect(applyPatch(doc, forward).pieces.b).toBe(doc.pieces.b);
    expect([...touched(forward)]).toEqual(['pieces/a']);
    expect(meet(touched(forward), touched(inverse))).toBe(true);
  });

  it('reach every section alike', () => {
    const more = { ...doc, materials: { m: { id: 'm', name: 'Brass' } }, cameras: { c: { id: 'c' } } };
    const { forward, inverse } = diffDocuments(doc, more)!;
    expect([...touched(forward)].sort()).toEqual(['cameras/c', 'materials/m']);
    expect(applyPatch(doc, forward)).toEqual(more);
    expect(applyPatch(more, inverse)).toEqual(doc);
    expect(documentFaults(more)).toEqual([]);
    expect(documentFaults({ ...more, lights: { l: { id: 'k' } } })[0].path).toBe('lights/l/id');
  });

  it('that do not fit are refused, and change nothing', () => {
    const before = structuredClone(doc);
    for (const patch of [
      { op: 'add', path: ['pieces', 'a'], value: box('a') },
      { op: 'remove', path: ['pieces', 'x'] },
      { op: 'replace', path: ['pieces', 'x', 'name'], value: 'n' },
      { op: 'replace', path: ['pieces', 'a', 'steps', 7], value: {} },
      { op: 'add', path: ['pieces', 'a', 'steps', -1], value: {} },
      { op: 'add', path: ['pieces', 'a', 'steps', 'length'], value: 5 },
      { op: 'add', path: ['pieces', 'a', 'constructor'], value: {} },
      { op: 'add', path: ['version', 'x'], value: 1 },
      { op: 'add', path: ['pieces', 'a', 'name'] },
    ])
      expect(() => applyPatch(doc, [patch as never])).toThrow(PatchError);
    expect(doc).toEqual(before);
  });
});

describe('checks', () => {
  it('look at what changed, and at all that refers to what went', () => {
    const doc = documentOf([
      box('host', { steps: [cut('tool')] }),
      box('tool'),
      box('nested', { parent: 'tool' }),
    ]);
    expect(documentFaults(doc)).toEqual([]);
    const without = withPieces(doc, [doc.pieces.host, doc.pieces.nested]);
    expect(
      changeFaults(doc.pieces, without, new Set(['pieces/tool']))
        .map((f) => f.path)
        .sort(),
    ).toEqual(['pieces/host/steps/0/cutters/0', 'pieces/nested/parent']);
    const circle = withPieces(doc, [
      doc.pieces.host,
      { ...doc.pieces.tool, steps: [cut('host')] },
      doc.pieces.nested,
    ]);
    expect(changeFaults(doc.pieces, circle, new Set(['pieces/tool']))[0].message).toMatch(/run in a circle/);
  });

  it('take no built-in word for a kind, and no number that is none', () => {
    const faults = (piece: object): string =>
      recipeFaults({ pieces: [{ ...box('a'), ...piece }] })[0]?.path ?? '';
    for (const word of ['constructor', 'toString', '__proto__', 'hasOwnProperty', 'valueOf']) {
      expect(faults({ base: { primitive: word } })).toBe('pieces/0/base/primitive');
      expect(faults({ steps: [{ kind: word }] })).toBe('pieces/0/steps/0/kind');
      expect(faults({ actions: [{ op: word, select: { faces: [] } }] })).toBe('pieces/0/actions/0/op');
      expect(faults({ actions: [{ op: 'push', select: { rule: word } }] })).toBe('pieces/0/actions/0/select');
      expect(faults({ id: word })).toBe('pieces/0/id');
    }
    for (const n of [Infinity, NaN]) {
      expect(faults({ transform: { move: [n, 0, 0] } })).toMatch(/^pieces\/0\/transform\/move/);
      expect(
        faults({
          actions: [{ op: 'push', select: { rule: 'within', of: 'faces', min: [n, 0, 0], max: [0, 0, 0] } }],
        }),
      ).toMatch(/select/);
    }
  });

  it('know versions: old ones are brought up, newer ones refused in a sentence', () => {
    expect(piecesOf(upgradeDocument({ pieces: [box('b'), box('a')] })).map((p) => p.id)).toEqual(['b', 'a']);
    expect(() => versionOf({ version: 99 })).toThrow(VersionError);
    expect(recipeFaults({ version: 99, pieces: [] })[0].message).toMatch(/stored by a newer Urnsmith/);
    expect(recipeFaults({ version: 1, pieces: [] })).toEqual([]);
    expect(Object.keys(emptyDocument()).sort()).toEqual([...SECTION_NAMES, 'order', 'version'].sort());
    expect(documentFaults({ ...emptyDocument(), stars: {} })[0].message).toBe('There is no section “stars”.');
  });
});

describe('graphs of pieces', () => {
  it('are walked once, however they meet and however deep', () => {
    const n = 3000;
    const chain = Array.from({ length: n }, (_, i) =>
      box(`p${i}`, { steps: i + 1 < n ? [cut(`p${i + 1}`)] : [], parent: i ? `p${i - 1}` : undefined }),
    );
    const byId = new Map(chain.map((p) => [p.id, p]));
    expect(cutterCycle(chain)).toBeNull();
    expect(parentCycle(byId, byId.keys())).toBeNull();
    const order = needed('p0', (id) => operandsOf(byId.get(id)!));
    expect([order.length, order[0], order.at(-1)]).toEqual([n, `p${n - 1}`, 'p0']);
    // Each joins the next two: as many ways as Fibonacci’s numbers, but as many pieces as there are.
    let calls = 0;
    const wide = needed('0', (id) => {
      calls++;
      return [Number(id) + 1, Number(id) + 2].filter((k) => k < 60).map(String);
    });
    expect([wide.length, calls]).toEqual([60, 60]);
  });

  it('take the same cutter named twice as one', () => {
    expect(operandsOf(box('h', { steps: [cut('t', 't', 'u')] }))).toEqual(['t', 'u']);
  });
});

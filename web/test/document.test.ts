import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { diffDocuments } from '@urnsmith/core/document/patch';
import { START } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import { documentOf, withPieces } from '@urnsmith/core/document/sections';
import {
  acted,
  broughtAgain,
  documentReducer,
  opened,
  previewed,
  saveStateChanged,
  tookBack,
  type DocumentState,
} from '../src/state/documentSlice';

const box = (id: string, width: number): Piece => ({
  id,
  base: { primitive: 'box', width, height: 1, depth: 1 },
});
const state = { id: 's', name: 'S', seq: 0, head: START, undo: [], redo: [], more: false, damage: null };
let made = 0;
const start = (pieces: Piece[] = []): DocumentState =>
  documentReducer(undefined, opened({ ...state, document: documentOf(pieces) }));
const act = (s: DocumentState, label: string, after: Piece[]): DocumentState => {
  const d = diffDocuments(s.doc, withPieces(s.doc, after));
  return d ? documentReducer(s, acted({ action: `a${++made}`, label, ...d })) : s;
};

describe('the document', () => {
  it('does, takes back and brings again, by name', () => {
    let s = act(start(), 'Add a', [box('a', 1)]);
    s = act(s, 'Widen a', [box('a', 2)]);
    expect(s.undo.map((e) => e.label)).toEqual(['Add a', 'Widen a']);
    s = documentReducer(s, tookBack());
    expect([s.pieces, s.redo[0].label]).toEqual([[box('a', 1)], 'Widen a']);
    s = documentReducer(documentReducer(s, tookBack()), tookBack());
    expect([s.pieces, s.undo]).toEqual([[], []]);
    s = documentReducer(documentReducer(s, broughtAgain()), broughtAgain());
    expect(s.pieces).toEqual([box('a', 2)]);
    expect(documentReducer(s, broughtAgain())).toEqual(s);
  });

  it('forgets what could be brought again once something new is done', () => {
    let s = act(start(), 'Add a', [box('a', 1)]);
    s = documentReducer(s, tookBack());
    s = act(s, 'Add b', [box('b', 1)]);
    expect(s.redo).toEqual([]);
  });

  it('works on a history opened from the journal, which knows one direction only', () => {
    const width = (value: number) => [
      { op: 'replace' as const, path: ['pieces', 'a', 'base', 'width'], value },
    ];
    let s = documentReducer(
      undefined,
      opened({
        ...state,
        document: documentOf([box('a', 3)]),
        undo: [{ number: 1, action: 'one', label: 'to 3', created: 0, inverse: width(1) }],
        redo: [{ number: 2, action: 'two', label: 'to 5', created: 0, forward: width(5) }],
      }),
    );
    s = documentReducer(s, tookBack());
    expect(s.pieces).toEqual([box('a', 1)]);
    s = documentReducer(s, broughtAgain());
    expect(s.pieces).toEqual([box('a', 3)]);
    s = documentReducer(s, broughtAgain());
    expect(s.pieces).toEqual([box('a', 5)]);
    s = documentReducer(documentReducer(s, tookBack()), tookBack());
    expect(s.pieces).toEqual([box('a', 1)]);
  });

  it('shows a preview without making it an action', () => {
    let s = act(start(), 'Add a', [box('a', 1)]);
    s = documentReducer(s, previewed({ a: box('a', 9) }));
    expect([s.pieces, s.preview]).toEqual([[box('a', 1)], { a: box('a', 9) }]);
    s = act(s, 'Widen a', [box('a', 9)]);
    expect(s.preview).toBeNull();
  });

  it('tells how saving stands', () => {
    let s = act(start(), 'one', [box('a', 1)]);
    s = documentReducer(s, saveStateChanged({ save: 'offline', waiting: 1, held: 0 }));
    expect([s.save, s.waiting, s.held]).toEqual(['offline', 1, 0]);
    s = documentReducer(s, saveStateChanged({ save: 'saved' }));
    expect([s.waiting, s.trouble]).toEqual([0, '']);
  });

  it('comes back to the same pieces after any sequence of actions and as many undos', () => {
    const change = fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), fc.integer({ min: 0, max: 5 })), {
      maxLength: 4,
    });
    fc.assert(
      fc.property(fc.array(change, { maxLength: 12 }), (sequence) => {
        const states = [start([box('a', 1)])];
        for (const wanted of sequence) {
          const pieces = [...new Map(wanted.map(([id, w]) => [id, box(id, w + 1)])).values()];
          const next = act(states[states.length - 1], 'change', pieces);
          if (next !== states[states.length - 1]) states.push(next);
        }
        let s = states[states.length - 1];
        for (let k = states.length - 2; k >= 0; k--) {
          s = documentReducer(s, tookBack());
          expect(s.pieces).toEqual(states[k].pieces);
        }
        for (let k = 1; k < states.length; k++) {
          s = documentReducer(s, broughtAgain());
          expect(s.pieces).toEqual(states[k].pieces);
        }
      }),
      { numRuns: 100, seed: 3 },
    );
  });
});

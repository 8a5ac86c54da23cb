import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { diffDocuments } from '@urnsmith/core/document/patch';
import type { Piece } from '@urnsmith/core/document/schema';
import {
  acted,
  broughtAgain,
  documentReducer,
  numbered,
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
const start = (pieces: Piece[] = []): DocumentState =>
  documentReducer(
    undefined,
    opened({ id: 's', name: 'S', seq: 0, document: { pieces }, undo: [], redo: [] }),
  );
const act = (s: DocumentState, label: string, after: Piece[]): DocumentState => {
  const d = diffDocuments({ pieces: s.pieces }, { pieces: after });
  return d ? documentReducer(s, acted({ label, ...d })) : s;
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
    const forward = { pieces: { a: box('a', 5) } };
    const inverse = { pieces: { a: box('a', 1) } };
    let s = documentReducer(
      undefined,
      opened({
        id: 's',
        name: 'S',
        seq: 3,
        document: { pieces: [box('a', 3)] },
        undo: [{ number: 1, label: 'to 3', inverse }],
        redo: [{ number: 2, label: 'to 5', forward }],
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

  it('numbers actions in the order they were saved, and tells how saving stands', () => {
    let s = act(act(start(), 'one', [box('a', 1)]), 'two', [box('a', 2)]);
    s = documentReducer(documentReducer(s, numbered(7)), numbered(8));
    expect(s.undo.map((e) => e.number)).toEqual([7, 8]);
    s = documentReducer(s, saveStateChanged('offline'));
    expect(s.save).toBe('offline');
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

/** A worker told of changes only has the same pieces as one told of all. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { applyPatch, patchOf } from '../src/workers/piecesPatch';

const piece = (id: number, width: number): Piece => ({
  id: `p${id}`,
  base: { primitive: 'box', width, height: 1, depth: 1 },
});

describe('patches to a worker', () => {
  it('lead to the same pieces as the whole document, along any changes', () => {
    const change = fc.record({ kind: fc.constantFrom('add', 'drop', 'edit', 'shuffle', 'nothing'), at: fc.nat(50), width: fc.nat(9) }); // prettier-ignore
    fc.assert(
      fc.property(fc.array(change, { maxLength: 40 }), (changes) => {
        let next = 0;
        let document: Piece[] = [];
        let given: Piece[] | null = null;
        const worker = new Map<string, Piece>();
        for (const { kind, at, width } of changes) {
          const i = document.length ? at % document.length : 0;
          if (kind === 'add')
            document = [...document.slice(0, i), piece(next++, width), ...document.slice(i)];
          else if (kind === 'drop') document = document.filter((_, k) => k !== i);
          else if (kind === 'edit')
            document = document.map((p, k) => (k === i ? { ...p, color: `#00000${width}` } : p)); // prettier-ignore
          else if (kind === 'shuffle') document = [...document.slice(i), ...document.slice(0, i)];
          const patch = patchOf(given, document);
          given = document;
          if (patch) applyPatch(worker, structuredClone(patch));
          const byId = (a: Piece, b: Piece): number => (a.id < b.id ? -1 : 1);
          expect([...worker.values()].sort(byId)).toEqual([...document].sort(byId));
        }
      }),
    );
  });

  it('hold one piece of thousands when one has changed, none when none has', () => {
    const many = Array.from({ length: 5000 }, (_, i) => piece(i, 1));
    const one = many.map((p, i) => (i === 4321 ? { ...p, color: '#ffffff' } : p));
    expect(patchOf(many, one)).toEqual({ put: [one[4321]], gone: [] });
    expect(patchOf(many, [...many])).toBeNull();
    expect(patchOf(many, many.slice(1))).toEqual({ put: [], gone: ['p0'] });
  });
});

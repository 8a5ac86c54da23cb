/** Text as bodies: every letter bounds a region, areas are those of the letters, and finer curves change little. */
import '../src/planar/withClipper';
import { createRequire } from 'node:module';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, volume } from '../src/mesh/measure';
import { signedArea, turnedByNesting, withoutCrossings } from '../src/planar/contours';
import { buildPrimitive, primitiveFault, type Primitive } from '../src/primitives';
import { outlinesOf, unknownLetters } from '../src/primitives/letters/letters';
import './seed';

const font = createRequire(import.meta.url)('../src/primitives/letters/glyphs.json') as {
  capHeight: number;
  glyphs: Record<string, [number, string]>;
};
const plain = { size: 10, spacing: 0, lineSpacing: 1.6, sides: 3, align: 'middle' } as const;
const made = (text: string, more: object = {}): Primitive => ({ primitive: 'text', text, ...more });
const seen = Object.keys(font.glyphs).filter((ch) => font.glyphs[ch][1]);

/** Area between the curves of a path, from their Bernstein integrals: ∮ x dy. */
function areaOf(path: string): number {
  let [sum, x, y] = [0, 0, 0];
  for (const [, command, numbers] of path.matchAll(/([MLQ])([^MLQ]+)/g)) {
    const n = numbers.split(' ').map(Number);
    if (command === 'L') sum += (x * n[1] - n[0] * y) / 2;
    if (command === 'Q')
      sum += ((x * n[1] - n[0] * y) * 2 + (n[0] * n[3] - n[2] * n[1]) * 2 + (x * n[3] - n[2] * y)) / 6;
    [x, y] = n.slice(-2);
  }
  return sum;
}

describe('text', () => {
  it('has an outline for each letter that neither crosses nor touches itself, however fine', () => {
    expect(seen.length).toBeGreaterThan(180);
    for (const ch of seen)
      for (const sides of [1, 3, 12])
        expect([ch, withoutCrossings(outlinesOf(ch, { ...plain, sides }).map((c) => c.points))]).toEqual([
          ch,
          null,
        ]);
  });

  it('is closed, as large as its letters, and of the area of their curves', () => {
    for (const ch of seen) {
      const mesh = buildPrimitive(made(ch, { height: 2, sides: 16 }) as Primitive);
      const { closed, findings } = checkMesh(mesh);
      expect([ch, closed, findings]).toEqual([ch, true, []]);
      const area = areaOf(font.glyphs[ch][1]) * (10 / font.capHeight) ** 2;
      expect(Math.abs(volume(mesh) / 2 / area - 1)).toBeLessThan(0.01);
    }
    const { min, max } = boundsOf(buildPrimitive(made('H', { size: 25 }) as Primitive));
    expect(max[2] - min[2]).toBeCloseTo(25, 9);
    expect(max[0] + min[0]).toBeCloseTo(0, 9);
  });

  it('holds the letters of random words, as one body where they run into each other', () => {
    const word = fc
      .array(fc.constantFrom(...seen, ' ', '\n'), { minLength: 1, maxLength: 12 })
      .map((l) => l.join(''));
    let [built, crossed] = [0, 0];
    fc.assert(
      fc.property(word, fc.double({ min: -3, max: 4, noNaN: true }), fc.constantFrom('left', 'middle', 'right'), (text, spacing, align) => {
        const p = made(text, { spacing, align });
        const fault = primitiveFault(p);
        if (fault) {
          expect(fault).toMatch(/no letter/);
          return;
        }
        built++;
        const contours = turnedByNesting(outlinesOf(text, { ...plain, spacing, align: align as 'left' }));
        const mesh = buildPrimitive(p);
        expect(checkMesh(mesh).closed).toBe(true);
        const area = contours.reduce((sum, c) => sum + signedArea(c.points) / 2, 0);
        if (withoutCrossings(contours.map((c) => c.points))) {
          crossed++;
          const each = [...text].flatMap((ch) => turnedByNesting(outlinesOf(ch, plain)));
          const apart = each.reduce((sum, c) => sum + signedArea(c.points) / 2, 0);
          expect(volume(mesh)).toBeLessThan(2 * apart);
          expect(volume(mesh)).toBeGreaterThan(apart);
        } else expect(volume(mesh)).toBeCloseTo(2 * area, 6);
      }), // prettier-ignore
      { numRuns: 60 },
    );
    expect(built).toBeGreaterThan(20);
    expect(crossed).toBeGreaterThan(3);
  });

  it('sets pairs closer than single letters, lines apart, and refuses what it cannot show', () => {
    const width = (text: string): number => {
      const { min, max } = boundsOf(buildPrimitive(made(text, { spacing: 0.5 }) as Primitive));
      return max[0] - min[0];
    };
    expect(width('AV')).toBeLessThan(width('AH') + width('HV') - width('HH') - 0.1);
    const xs = (text: string, align: 'left' | 'right'): number[] =>
      outlinesOf(text, { ...plain, align })
        .flatMap((c) => c.points)
        .map(([x]) => x);
    // The short line ends where the long one does.
    expect(Math.max(...xs('I\nHHH', 'right'))).toBeCloseTo(-Math.min(...xs('I\nHHH', 'left')), 0);
    expect(unknownLetters('aß漢漢')).toEqual(['漢']);
    expect(primitiveFault(made('漢'))).toBe('The font has no “漢”; write the text without it.');
    expect(primitiveFault(made('  '))).toMatch(/no letter that can be seen/);
    expect(primitiveFault(made('AA', { spacing: -5 }))).toBeNull();
    expect(primitiveFault(made('@'.repeat(60), { sides: 24 }))).toMatch(/points; keep to 8000/);
  });
});

/**
 * Lines of text as closed outlines: the letters of the shipped font (Instrument Sans, SIL Open Font License, see
 * LICENSE.txt), without overlaps, as `npm run glyphs` wrote them.
 */
import type { CurvedContour } from '../../planar/contours';

export interface TextOptions {
  /** Height of capitals, mm. */
  size: number;
  /** Added between letters, mm. */
  spacing: number;
  /** From line to line, as a share of the height of capitals. */
  lineSpacing: number;
  /** Straight sides a curve of a letter is cut in. */
  sides: number;
  align: 'left' | 'middle' | 'right';
}

/** A font's letters as outlines, font units. */
export interface Font {
  capHeight: number;
  glyphs: Readonly<Record<string, [advance: number, path: string]>>;
  /** Kerning: the amount by which pairs of letters stand closer. */
  kerning: Readonly<Record<string, number>>;
}

let shipped: Font | null = null;
/** Sets the font. It is large, so a page without text never loads it. */
export const provideFont = (font: unknown): void => void (shipped = font as Font);
export const hasFont = (): boolean => shipped !== null;

function theFont(): Font {
  if (!shipped) throw new Error('The font is missing: import primitives/letters/withFont.');
  return shipped;
}

/** The letters of a text the font has no outline for, each once. */
export const unknownLetters = (text: string): string[] => [
  ...new Set([...text].filter((ch) => ch !== '\n' && !Object.hasOwn(theFont().glyphs, ch))),
];

/** Outlines of all letters, mm, Y up, their middle on the origin. Letters the font does not have are left out. */
export function outlinesOf(text: string, o: TextOptions): CurvedContour[] {
  const { capHeight, glyphs, kerning } = theFont();
  const scale = o.size / capHeight;
  const lines = text.split('\n').map((line) => {
    const contours: CurvedContour[] = [];
    let at = 0;
    const letters = [...line].filter((ch) => Object.hasOwn(glyphs, ch));
    letters.forEach((ch, i) => {
      const [advance, path] = glyphs[ch];
      if (i) at += o.spacing + scale * (kerning[letters[i - 1] + ch] ?? 0);
      for (const c of flattened(path, o.sides))
        contours.push(moved(c, ([x, y]) => [at + scale * x, scale * y]));
      at += scale * advance;
    });
    return { contours, width: at };
  });
  const share = { left: 0, middle: 0.5, right: 1 }[o.align];
  const placed = lines.flatMap(({ contours, width }, k) =>
    contours.map((c) => moved(c, ([x, y]) => [x - share * width, y - k * o.lineSpacing * o.size])),
  );
  return centred(placed);
}

type Point = readonly [number, number];
const moved = (c: CurvedContour, to: (p: Point) => Point): CurvedContour => ({
  ...c,
  points: c.points.map(to),
});

function centred(contours: CurvedContour[]): CurvedContour[] {
  const middle = ([0, 1] as const).map((k) => {
    let [low, high] = [Infinity, -Infinity];
    for (const c of contours)
      for (const p of c.points) [low, high] = [Math.min(low, p[k]), Math.max(high, p[k])];
    return (low + high) / 2;
  });
  return contours.map((c) => moved(c, ([x, y]) => [x - middle[0], y - middle[1]]));
}

/** A path of `M`, `L` and `Q` as closed outlines, each curve in so many straight sides. */
function flattened(path: string, sides: number): CurvedContour[] {
  const out: Array<{ points: Point[]; tangents: Array<readonly [Point, Point] | null> }> = [];
  for (const [, command, numbers] of path.matchAll(/([MLQ])([^MLQ]+)/g)) {
    const n = numbers.split(' ').map(Number);
    if (command === 'M') out.push({ points: [], tangents: [] });
    const { points, tangents } = out[out.length - 1];
    if (command !== 'Q') {
      if (command === 'L') tangents.push(null);
      points.push([n[0], n[1]]);
      continue;
    }
    const [ax, ay] = points[points.length - 1];
    const tangent = (t: number): Point => {
      const along = (a: number, b: number, c: number): number => (1 - t) * (b - a) + t * (c - b);
      const [x, y] = [along(ax, n[0], n[2]), along(ay, n[1], n[3])];
      // A curve whose handle lies on its end heads for the other end.
      return x || y ? [x, y] : [n[2] - ax, n[3] - ay];
    };
    for (let i = 1; i <= sides; i++) {
      const t = i / sides;
      const [u, v, w] = [(1 - t) ** 2, 2 * t * (1 - t), t * t];
      points.push([u * ax + v * n[0] + w * n[2], u * ay + v * n[1] + w * n[3]]);
      tangents.push([tangent((i - 1) / sides), tangent(t)]);
    }
  }
  // Each ends where it began.
  return out.map(({ points, tangents }) => ({ points: points.slice(0, -1), tangents }));
}

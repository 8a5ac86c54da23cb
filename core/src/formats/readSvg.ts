/**
 * Outlines of a drawing in SVG (W3C SVG 2): paths, rectangles, circles, ellipses and polygons with their transforms, in
 * millimetres. What is not an outline (text, pictures, strokes left open) is left out and told.
 */
import { OperationError } from '../mesh/errors';
import { runsOfPath, spread, type Point, type Run } from './svgPath';

export interface SvgOptions {
  /** How far a straight side may leave its curve, mm. */
  tolerance?: number;
  /** Longest side of all outlines together, mm; as drawn when left out. */
  size?: number;
}

export interface SvgOutlines {
  /** Closed outlines about their common middle, X to the right and Y up, mm. */
  contours: Point[][];
  /** Width and height of them all, mm. */
  width: number;
  height: number;
  /** What was left out, in words: “2 texts”. */
  left: string[];
}

type Affine = [a: number, b: number, c: number, d: number, e: number, f: number];
const SAME: Affine = [1, 0, 0, 1, 0, 0];

/** Millimetres of a unit (CSS: 96 px an inch). */
const MM: Record<string, number> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6, px: 25.4 / 96, '': 25.4 / 96, q: 0.25 }; // prettier-ignore
/** What is within them is used elsewhere, or not drawn at all. */
const NOT_DRAWN = new Set(['defs', 'clippath', 'mask', 'symbol', 'pattern', 'marker', 'metadata', 'style', 'script', 'title', 'desc']); // prettier-ignore
const LEFT: Record<string, string> = {
  text: 'text',
  image: 'picture',
  use: 'copy of a symbol',
  line: 'line',
};

/** @throws OperationError `bad-svg`, `no-outlines` */
export function readSvg(text: string, { tolerance = 0.05, size }: SvgOptions = {}): SvgOutlines {
  const contours: Point[][] = [];
  const left = new Map<string, number>();
  let unit = MM.px;
  let seen = false;
  const stack: Array<{ name: string; matrix: Affine; drawn: boolean }> = [];
  for (const tag of tagsOf(text)) {
    if (tag.closes) {
      const at = stack.findLastIndex((s) => s.name === tag.name);
      if (at >= 0) stack.length = at;
      continue;
    }
    const { name, attributes: a } = tag;
    const above = stack.at(-1) ?? { matrix: SAME, drawn: true };
    if (name === 'svg' && !seen) {
      unit = unitOf(a);
      seen = true;
    }
    const hidden = /(^|;)\s*display\s*:\s*none/.test(a.style ?? '') || a.display === 'none';
    const drawn = above.drawn && !hidden && !NOT_DRAWN.has(name);
    const matrix = joined(above.matrix, transformOf(a.transform ?? ''));
    if (!tag.empty) stack.push({ name, matrix, drawn });
    if (!drawn) continue;
    const count = (what: string): void => void left.set(what, (left.get(what) ?? 0) + 1);
    if (name in LEFT) count(LEFT[name]);
    // A curve is made straight before it is scaled, so its tolerance is brought into its own units.
    const scale = unit * Math.sqrt(Math.abs(matrix[0] * matrix[3] - matrix[1] * matrix[2])) || unit;
    const filled = !(a.fill === 'none' || /(^|;)\s*fill\s*:\s*none/.test(a.style ?? ''));
    for (const run of runsOf(name, a, tolerance / scale)) {
      if (run.points.length < 3 || !(run.closed || filled)) count('open line');
      else contours.push(run.points.map((p) => onMatrix(matrix, p).map((v) => v * unit) as Point));
    }
  }
  if (!seen) throw new OperationError('bad-svg', 'This is no SVG drawing: it has no <svg>.');
  if (!contours.length)
    throw new OperationError(
      'no-outlines',
      `The drawing has no closed outlines${left.size ? `; it has ${told(left).join(', ')}` : ''}.`,
      undefined,
      'Turn text and strokes into paths where it was drawn.',
    );
  return { ...middled(contours, size), left: told(left) };
}

const told = (left: ReadonlyMap<string, number>): string[] =>
  [...left].map(([what, n]) => `${n} ${n === 1 ? what : what.replace(/^(copy|picture|open line|text|line)/, (w) => (w === 'copy' ? 'copies' : `${w}s`))}`); // prettier-ignore

/** Brought to their common middle, Y turned up, and to a size. */
function middled(contours: Point[][], size: number | undefined): Omit<SvgOutlines, 'left'> {
  const [low, high] = [[Infinity, Infinity], [-Infinity, -Infinity]]; // prettier-ignore
  for (const p of contours.flat())
    for (const k of [0, 1]) {
      low[k] = Math.min(low[k], p[k]);
      high[k] = Math.max(high[k], p[k]);
    }
  const [w, h] = [high[0] - low[0], high[1] - low[1]];
  const s = size === undefined ? 1 : size / Math.max(w, h);
  const tidy = (x: number): number => Number(x.toFixed(6)) + 0;
  return {
    contours: contours.map((c) =>
      c.map(([x, y]): Point => [tidy((x - low[0] - w / 2) * s), tidy((low[1] + h / 2 - y) * s)]),
    ),
    width: w * s,
    height: h * s,
  };
}

/** Millimetres of one unit of the drawing. */
function unitOf(a: Record<string, string>): number {
  const width = /^\s*([\d.]+)\s*([a-z]*)\s*$/i.exec(a.width ?? '');
  const box = (a.viewbox ?? '').trim().split(/[\s,]+/).map(Number); // prettier-ignore
  const mm = width ? Number(width[1]) * (MM[width[2].toLowerCase()] ?? MM.px) : 0;
  if (box.length === 4 && box[2] > 0 && mm > 0) return mm / box[2];
  return MM.px;
}

function runsOf(name: string, a: Record<string, string>, flat: number): Run[] {
  const n = (key: string): number => Number.parseFloat(a[key] ?? '0') || 0;
  const closed = (points: Point[]): Run[] => [{ points, closed: true }];
  switch (name) {
    case 'path':
      return runsOfPath(a.d ?? '', flat);
    case 'polygon':
    case 'polyline': {
      const v = (a.points ?? '').trim().split(/[\s,]+/).map(Number); // prettier-ignore
      const points = Array.from({ length: v.length >> 1 }, (_, k): Point => [v[2 * k], v[2 * k + 1]]);
      return [{ points, closed: name === 'polygon' }];
    }
    case 'rect': {
      const [x, y, w, h] = ['x', 'y', 'width', 'height'].map(n);
      const rx = Math.min(a.rx === undefined ? n('ry') : n('rx'), w / 2);
      const ry = Math.min(a.ry === undefined ? n('rx') : n('ry'), h / 2);
      if (!rx || !ry) return closed([[x, y], [x + w, y], [x + w, y + h], [x, y + h]]); // prettier-ignore
      const arc = `A${rx} ${ry} 0 0 1`;
      return runsOfPath(
        `M${x + rx} ${y}H${x + w - rx}${arc} ${x + w} ${y + ry}V${y + h - ry}${arc} ${x + w - rx} ${y + h}H${x + rx}${arc} ${x} ${y + h - ry}V${y + ry}${arc} ${x + rx} ${y}Z`,
        flat,
      );
    }
    case 'circle':
    case 'ellipse': {
      const [rx, ry] = name === 'circle' ? [n('r'), n('r')] : [n('rx'), n('ry')];
      if (!(rx > 0) || !(ry > 0)) return [];
      const at = (t: number): Point => [n('cx') + rx * Math.cos(t), n('cy') + ry * Math.sin(t)];
      return closed(spread(2 * Math.PI, Math.max(rx, ry), flat).map(at));
    }
    default:
      return [];
  }
}

const joined = (m: Affine, n: Affine): Affine => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
];
const onMatrix = (m: Affine, [x, y]: Point): Point => [
  m[0] * x + m[2] * y + m[4],
  m[1] * x + m[3] * y + m[5],
];

/** A list of transforms, the first one outermost. */
function transformOf(list: string): Affine {
  let out = SAME;
  for (const [, name, args] of list.matchAll(/([a-zA-Z]+)\s*\(([^)]*)\)/g)) {
    const v = args.trim().split(/[\s,]+/).map(Number); // prettier-ignore
    const [x = 0, y = 0] = v;
    const angle = (x * Math.PI) / 180;
    const turn: Affine = [Math.cos(angle), Math.sin(angle), -Math.sin(angle), Math.cos(angle), 0, 0];
    const about = (m: Affine, px: number, py: number): Affine =>
      joined(joined([1, 0, 0, 1, px, py], m), [1, 0, 0, 1, -px, -py]);
    const made: Record<string, () => Affine> = {
      matrix: () => (v.length === 6 ? (v as Affine) : SAME),
      translate: () => [1, 0, 0, 1, x, y],
      scale: () => [x, 0, 0, v.length > 1 ? y : x, 0, 0],
      rotate: () => about(turn, v[1] ?? 0, v[2] ?? 0),
      skewx: () => [1, 0, Math.tan(angle), 1, 0, 0],
      skewy: () => [1, Math.tan(angle), 0, 1, 0, 0],
    };
    const m = made[name.toLowerCase()]?.();
    if (m?.every(Number.isFinite)) out = joined(out, m);
  }
  return out;
}

interface Tag {
  name: string;
  attributes: Record<string, string>;
  /** It ends another one. */
  closes: boolean;
  /** It has nothing in it. */
  empty: boolean;
}

/** Tags of a document, in order; comments, instructions and character data are passed over. Names in lower case. */
function* tagsOf(text: string): Iterable<Tag> {
  const token =
    /<!--[\s\S]*?-->|<!\[CDATA\[[\s\S]*?\]\]>|<[!?][^>]*>|<(\/?)\s*([\w:.-]+)((?:"[^"]*"|'[^']*'|[^>"'])*)>/g;
  for (const [, slash, name, rest] of text.matchAll(token)) {
    if (!name) continue;
    const attributes: Record<string, string> = {};
    for (const [, key, a, b] of rest.matchAll(/([\w:.-]+)\s*=\s*(?:"([^"]*)"|'([^']*)')/g))
      attributes[key.toLowerCase()] = a ?? b;
    yield { name: name.toLowerCase().replace(/^svg:/, ''), attributes, closes: slash === '/', empty: rest.trimEnd().endsWith('/') }; // prettier-ignore
  }
}

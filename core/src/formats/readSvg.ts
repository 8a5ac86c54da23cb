/**
 * Outlines of a drawing in SVG (W3C SVG 2): paths, rectangles, circles, ellipses and polygons, where they are used and
 * as they are transformed, in millimetres. What is not an outline (text, pictures, open strokes) is left out and told.
 */
import { applyToPoint, compose, translate, type Matrix } from 'transformation-matrix';
import { OperationError } from '../mesh/errors';
import type { FillRule } from '../planar/united';
import { runsOfPath, spread, type Point, type Run } from './svgPath';
import { refuse, refused, said, svgTree, type SvgElement, type SvgTree } from './svgTree';
import { lengthOf, MM_PER_PX, rootSize, transformOf, viewportOf, type Viewport } from './svgUnits';

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
  /** How they are filled: by the even-odd rule where all of them say so (SVG 2, §13.4.2). */
  fill: FillRule;
  /** Elements left out, in words: “2 texts”. */
  left: string[];
}

/** Elements that are drawn with what is in them. */
const GROUPS = new Set(['svg', 'g', 'a']);
const SHAPES = new Set(['path', 'polygon', 'polyline', 'rect', 'circle', 'ellipse']);
/** Left out and told: one, several. */
const LEFT: Record<string, [string, string]> = {
  text: ['text', 'texts'],
  image: ['picture', 'pictures'],
  foreignObject: ['foreign object', 'foreign objects'],
  line: ['line', 'lines'],
  open: ['open line', 'open lines'],
  link: ['use of something that is not in the file', 'uses of something that is not in the file'],
  style: ['style sheet', 'style sheets'],
};
/** Elements drawn, those used several times counted each time. */
const MOST = 50_000;

/** Properties an element inherits from those around it. */
interface Inherited {
  /** To user units of the page. */
  matrix: Matrix;
  viewport: Viewport;
  filled: boolean;
  rule: FillRule;
  visible: boolean;
  /** The <use> elements it is drawn by. */
  users: readonly SvgElement[];
}

/** @throws OperationError `bad-svg`, `no-outlines` */
export function readSvg(text: string, { tolerance = 0.05, size }: SvgOptions = {}): SvgOutlines {
  const tree = svgTree(text);
  const drawn = new Drawn(tree, tolerance);
  const viewport = rootSize(tree.root);
  const page = viewportOf(tree.root, viewport, [0, 0]);
  drawn.children(tree.root, {
    matrix: compose(page.matrix, transformOf(tree.root)),
    viewport: page.inside,
    filled: said(tree.root, 'fill') !== 'none',
    rule: ruleOf(tree.root) ?? 'nonzero',
    visible: said(tree.root, 'visibility') !== 'hidden',
    users: [],
  });
  const { contours, left } = drawn;
  if (!contours.length)
    throw new OperationError(
      'no-outlines',
      `The drawing has no closed outlines${left.size ? `; it has ${told(left).join(', ')}` : ''}.`,
      undefined,
      'Turn text and strokes into paths where it was drawn.',
    );
  const fill = drawn.rules.has('nonzero') ? 'nonzero' : 'evenodd';
  return { ...middled(contours, size), fill, left: told(left) };
}

const told = (left: ReadonlyMap<string, number>): string[] =>
  [...left].map(([what, n]) => `${n} ${LEFT[what][n === 1 ? 0 : 1]}`);

function ruleOf(e: SvgElement): FillRule | undefined {
  const rule = said(e, 'fill-rule');
  return rule === 'evenodd' || rule === 'nonzero' ? rule : undefined;
}

/** Walks a tree and gathers the outlines of what it draws, mm. */
class Drawn {
  readonly contours: Point[][] = [];
  readonly left = new Map<string, number>();
  /** Of all shapes that gave outlines. */
  readonly rules = new Set<FillRule>();
  private elements = 0;

  constructor(
    private readonly tree: SvgTree,
    private readonly tolerance: number,
  ) {}

  children(e: SvgElement, from: Inherited): void {
    for (const child of e.children) this.element(child, from);
  }

  private element(e: SvgElement, above: Inherited): void {
    if (++this.elements > MOST) throw refused(`it draws more than ${MOST} elements`);
    if (e.name === 'style') return this.leave('style');
    if (said(e, 'display') === 'none') return;
    const fill = said(e, 'fill');
    const visibility = said(e, 'visibility');
    const here: Inherited = {
      ...above,
      matrix: compose(above.matrix, transformOf(e)),
      filled: fill === undefined ? above.filled : fill !== 'none',
      rule: ruleOf(e) ?? above.rule,
      visible: visibility === undefined ? above.visible : visibility === 'visible',
    };
    if (e.name === 'use') return this.use(e, here);
    // Of a `<switch>`, the first child without conditions is drawn.
    if (e.name === 'switch') {
      const plain = e.children.find(
        (c) => !Object.keys(c.attributes).some((k) => /^(required|systemLanguage)/.test(k)),
      );
      return plain && this.element(plain, here);
    }
    if (e.name === 'svg') return this.within(e, here, this.sizeOf(e, here), this.placeOf(e, here));
    if (GROUPS.has(e.name)) return this.children(e, here);
    if (!here.visible) return;
    if (SHAPES.has(e.name)) return this.shape(e, here);
    if (e.name in LEFT) this.leave(e.name);
  }

  /** Draws the element a <use> refers to, in place of the <use> (SVG 2, §5.5). */
  private use(e: SvgElement, here: Inherited): void {
    const href = e.attributes.href ?? e.attributes['xlink:href'] ?? '';
    const used = href.startsWith('#') ? this.tree.byId.get(href.slice(1)) : undefined;
    if (!used) return this.leave('link');
    if (here.users.includes(e)) refuse(e, 'href', `“${href}” leads back to itself`);
    const [x, y] = this.placeOf(e, here);
    const inside = { ...here, matrix: compose(here.matrix, translate(x, y)), users: [...here.users, e] };
    if (used.name !== 'symbol') return this.element(used, inside);
    const size = this.sizeOf(e, here);
    this.within(used, { ...inside, matrix: compose(inside.matrix, transformOf(used)) }, size, [0, 0]);
  }

  private within(e: SvgElement, here: Inherited, size: Viewport, place: [number, number]): void {
    const { matrix, inside } = viewportOf(e, size, place);
    this.children(e, { ...here, matrix: compose(here.matrix, matrix), viewport: inside });
  }

  private sizeOf(e: SvgElement, { viewport: v }: Inherited): Viewport {
    return {
      width: lengthOf(e, 'width', v.width, v.width),
      height: lengthOf(e, 'height', v.height, v.height),
    };
  }

  private placeOf(e: SvgElement, { viewport: v }: Inherited): [number, number] {
    return [lengthOf(e, 'x', v.width), lengthOf(e, 'y', v.height)];
  }

  private shape(e: SvgElement, { matrix: m, viewport, filled, rule }: Inherited): void {
    // A curve is made straight before it is scaled, so its tolerance is brought into its own units.
    const scale = MM_PER_PX * Math.sqrt(Math.abs(m.a * m.d - m.b * m.c)) || MM_PER_PX;
    for (const { points, closed } of runsOf(e, viewport, this.tolerance / scale)) {
      if (points.length < 3 || !(closed || filled)) {
        this.leave('open');
        continue;
      }
      const contour = points.map((p) => applyToPoint(m, p).map((v) => v * MM_PER_PX) as Point);
      if (!contour.flat().every(Number.isFinite))
        refuse(e, 'transform', 'it takes the outline out of all bounds');
      this.contours.push(contour);
      this.rules.add(rule);
    }
  }

  private leave(what: string): void {
    this.left.set(what, (this.left.get(what) ?? 0) + 1);
  }
}

/** Brought to their common middle, Y turned up, and to a size. */
function middled(contours: Point[][], size: number | undefined): Omit<SvgOutlines, 'left' | 'fill'> {
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

/** @param flat how far a straight side may leave its curve, user units */
function runsOf(e: SvgElement, { width, height }: Viewport, flat: number): Run[] {
  const along = (key: string, missing?: number): number => lengthOf(e, key, width, missing);
  const down = (key: string, missing?: number): number => lengthOf(e, key, height, missing);
  const closed = (points: Point[]): Run[] => [{ points, closed: true }];
  switch (e.name) {
    case 'path':
      return pathRuns(e, 'd', said(e, 'd') ?? '', flat);
    case 'polygon':
    case 'polyline': {
      const points = e.attributes.points ?? '';
      if (/[a-df-z]/i.test(points)) refuse(e, 'points', 'it is not a list of numbers');
      const runs = points.trim() ? pathRuns(e, 'points', `M${points}`, flat) : [];
      return runs.map((run) => ({ ...run, closed: run.closed || e.name === 'polygon' }));
    }
    case 'rect': {
      const [x, y, w, h] = [along('x'), down('y'), along('width'), down('height')];
      if (!(w > 0) || !(h > 0)) return [];
      const rx = Math.min(along('rx', down('ry')), w / 2);
      const ry = Math.min(down('ry', along('rx')), h / 2);
      if (!(rx > 0) || !(ry > 0)) return closed([[x, y], [x + w, y], [x + w, y + h], [x, y + h]]); // prettier-ignore
      const arc = `A${rx} ${ry} 0 0 1`;
      return runsOfPath(
        `M${x + rx} ${y}H${x + w - rx}${arc} ${x + w} ${y + ry}V${y + h - ry}${arc} ${x + w - rx} ${y + h}H${x + rx}${arc} ${x} ${y + h - ry}V${y + ry}${arc} ${x + rx} ${y}Z`,
        flat,
      );
    }
    case 'circle':
    case 'ellipse': {
      const r = lengthOf(e, 'r', Math.hypot(width, height) / Math.SQRT2);
      const [rx, ry] = e.name === 'circle' ? [r, r] : [along('rx', down('ry')), down('ry', along('rx'))];
      if (!(rx > 0) || !(ry > 0)) return [];
      const [cx, cy] = [along('cx'), down('cy')];
      return closed(
        spread(2 * Math.PI, Math.max(rx, ry), flat).map((t): Point => [
          cx + rx * Math.cos(t),
          cy + ry * Math.sin(t),
        ]),
      );
    }
    default:
      return [];
  }
}

function pathRuns(e: SvgElement, attribute: string, data: string, flat: number): Run[] {
  try {
    return runsOfPath(data, flat);
  } catch (cause) {
    return refuse(e, attribute, (cause as Error).message.replace(/\.$/, ''));
  }
}

/** Lengths, number lists, transforms and viewports of SVG 2 (§7, §8), in user units of 1/96 inch. */
import {
  compose,
  fromDefinition,
  fromTransformAttribute,
  identity,
  scale,
  translate,
  type Matrix,
} from 'transformation-matrix';
import { refuse, said, type SvgElement } from './svgTree';

/** Size of the part of the plane that is looked at, user units; percentages count in it. */
export interface Viewport {
  width: number;
  height: number;
}

/** User units of a unit (CSS Values 4, §6.2: an inch has 96 px). */
const PX: Record<string, number> = { '': 1, px: 1, in: 96, cm: 96 / 2.54, mm: 96 / 25.4, q: 96 / 101.6, pt: 96 / 72, pc: 16 }; // prettier-ignore
export const MM_PER_PX = 25.4 / 96;

const NUMBER = String.raw`[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?`;
const LENGTH = new RegExp(`^\\s*(${NUMBER})\\s*([a-zA-Z]*|%)\\s*$`);

/**
 * A length in user units.
 * @param across the length that 100% is, user units
 * @param missing where the attribute is missing or `auto`
 */
export function lengthOf(e: SvgElement, key: string, across: number, missing = 0): number {
  const text = said(e, key);
  if (text === undefined || text === 'auto') return missing;
  const [, number, unit] = LENGTH.exec(text) ?? [];
  if (number === undefined) refuse(e, key, `“${text}” is not a length`);
  const factor = unit === '%' ? across / 100 : PX[unit.toLowerCase()];
  if (factor === undefined)
    refuse(e, key, `the unit “${unit}” is not known here; use mm, cm, in, pt, pc, px or %`);
  const length = Number(number) * factor;
  return Number.isFinite(length) ? length : refuse(e, key, `“${text}” is too large`);
}

/** The four numbers of a viewBox; none where it is missing. */
function viewBoxOf(e: SvgElement): [x: number, y: number, width: number, height: number] | null {
  const text = e.attributes.viewBox;
  if (text === undefined) return null;
  const list = [...text.matchAll(new RegExp(NUMBER, 'g'))].map(Number);
  const rest = text.replace(new RegExp(NUMBER, 'g'), '').replace(/[\s,]/g, '');
  if (list.length !== 4 || rest || !list.every(Number.isFinite))
    refuse(e, 'viewBox', `“${text}” is not four numbers`);
  const [x, y, width, height] = list;
  return width > 0 && height > 0
    ? [x, y, width, height]
    : refuse(e, 'viewBox', 'its width and height must be above 0');
}

/** Of the element's own `transform`, attribute or style. */
export function transformOf(e: SvgElement): Matrix {
  const text = said(e, 'transform');
  if (!text?.trim() || text.trim() === 'none') return identity();
  // Numbers may stand side by side, as in `translate(10-5)`; the library wants them apart. CSS writes units of 1.
  const apart = text.replace(new RegExp(`(${NUMBER})(px|deg)?`, 'g'), ' $1 ');
  let matrix: Matrix;
  try {
    matrix = compose(fromDefinition(fromTransformAttribute(apart)));
  } catch {
    refuse(e, 'transform', `“${text}” is not a list of transforms`);
  }
  return Object.values(matrix).every(Number.isFinite)
    ? matrix
    : refuse(e, 'transform', `“${text}” is not finite`);
}

/**
 * Resolves the viewBox of an <svg> or a used <symbol>: the transform of its content, and the viewport inside it.
 * @param size its own size where it is drawn, user units
 * @param place of its top left corner there
 */
export function viewportOf(
  e: SvgElement,
  size: Viewport,
  [x, y]: [number, number],
): { matrix: Matrix; inside: Viewport } {
  const box = viewBoxOf(e);
  if (!box) return { matrix: translate(x, y), inside: size };
  const [bx, by, width, height] = box;
  let [sx, sy] = [size.width / width, size.height / height];
  const fit = (e.attributes.preserveAspectRatio ?? 'xMidYMid').replace(/^\s*defer/, '').trim();
  if (!fit.startsWith('none')) sx = sy = fit.endsWith('slice') ? Math.max(sx, sy) : Math.min(sx, sy);
  const align = (axis: 'x' | 'Y', room: number): number => {
    const where = new RegExp(`${axis}(Min|Mid|Max)`).exec(fit)?.[1] ?? 'Mid';
    return where === 'Min' ? 0 : where === 'Max' ? room : room / 2;
  };
  const [dx, dy] = [align('x', size.width - width * sx), align('Y', size.height - height * sy)];
  const matrix = compose(translate(x + dx, y + dy), scale(sx, sy), translate(-bx, -by));
  return { matrix, inside: { width, height } };
}

/** Size of the outermost <svg>: what is missing follows from the viewBox (SVG 2, §8.2). */
export function rootSize(e: SvgElement): Viewport {
  const box = viewBoxOf(e);
  // Browsers draw an SVG without any size at 300 × 150; a percentage has nothing to count from but the viewBox.
  const [bw, bh] = box ? [box[2], box[3]] : [300, 150];
  const given = (key: 'width' | 'height'): number => {
    const length = /%\s*$/.test(said(e, key) ?? '%') ? 0 : lengthOf(e, key, 0);
    return length > 0 ? length : 0;
  };
  const [w, h] = [given('width'), given('height')];
  if (w && h) return { width: w, height: h };
  if (w) return { width: w, height: (w * bh) / bw };
  return h ? { width: (h * bw) / bh, height: h } : { width: bw, height: bh };
}

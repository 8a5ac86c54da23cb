/** Path data of SVG (W3C SVG 2, §9.3) as closed or open runs of points, curves made straight within a tolerance. */
import { OperationError } from '../mesh/errors';

export type Point = [number, number];
export interface Run {
  points: Point[];
  closed: boolean;
}

interface Handle {
  kind: 'C' | 'Q';
  p: Point;
}

const NUMBERS: Record<string, number> = { M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7, Z: 0 };
/** Most points one curve is made of. */
const MOST = 512;

/**
 * @param flat how far a straight side may leave its curve, in the units of the data
 * @throws OperationError `bad-svg` where the data is no path, with the place
 */
export function runsOfPath(data: string, flat: number): Run[] {
  const runs: Run[] = [];
  let run: Run | null = null;
  let [at, start]: Point[] = [[0, 0], [0, 0]]; // prettier-ignore
  /** The handle a smooth curve goes on from, and what kind it was of. */
  let handle = null as Handle | null;
  const begin = (): Run => {
    if (!run) runs.push((run = { points: [at], closed: false }));
    return run;
  };
  const lineTo = (p: Point): void => {
    begin().points.push(p);
    at = p;
  };
  for (const { letter, numbers: n } of commands(data)) {
    const upper = letter.toUpperCase();
    const from: Point = letter === upper ? [0, 0] : at;
    const point = (k: number): Point => [n[k] + from[0], n[k + 1] + from[1]];
    let next: Handle | null = null;
    switch (upper) {
      case 'M':
        run = null;
        at = start = point(0);
        break;
      case 'L':
        lineTo(point(0));
        break;
      case 'H':
        lineTo([n[0] + from[0], at[1]]);
        break;
      case 'V':
        lineTo([at[0], n[0] + from[1]]);
        break;
      case 'C':
      case 'S': {
        const smooth = upper === 'S';
        const c1 = smooth ? mirrored(at, handle?.kind === 'C' ? handle.p : at) : point(0);
        const [c2, end] = smooth ? [point(0), point(2)] : [point(2), point(4)];
        begin();
        for (const p of cubic(at, c1, c2, end, flat)) lineTo(p);
        next = { kind: 'C', p: c2 };
        break;
      }
      case 'Q':
      case 'T': {
        const smooth = upper === 'T';
        const c = smooth ? mirrored(at, handle?.kind === 'Q' ? handle.p : at) : point(0);
        const end = smooth ? point(0) : point(2);
        const third = (p: Point): Point => [p[0] + (2 / 3) * (c[0] - p[0]), p[1] + (2 / 3) * (c[1] - p[1])];
        begin();
        for (const p of cubic(at, third(at), third(end), end, flat)) lineTo(p);
        next = { kind: 'Q', p: c };
        break;
      }
      case 'A':
        begin();
        for (const p of arc(at, n, point(5), flat)) lineTo(p);
        break;
      case 'Z':
        if (run) (run as Run).closed = true;
        run = null;
        at = start;
        break;
    }
    handle = next;
  }
  return runs.map(withoutLast);
}

/** A closed run that ends where it began has that point once. */
function withoutLast(run: Run): Run {
  const { points } = run;
  const [a, b] = [points[0], points[points.length - 1]];
  const same = points.length > 1 && a[0] === b[0] && a[1] === b[1];
  return same ? { points: points.slice(0, -1), closed: true } : run;
}

function* commands(data: string): Iterable<{ letter: string; numbers: number[] }> {
  const token = /([a-zA-Z])|([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)|([\s,]+)|(.)/gy;
  let letter = '';
  let numbers: number[] = [];
  const refuse = (what: string): never => {
    throw new OperationError(
      'bad-svg',
      `A path of the drawing cannot be read: ${what}.`,
      undefined,
      'Save the drawing again, or leave that path out.',
    );
  };
  const due = (): number => NUMBERS[letter.toUpperCase()] ?? 0;
  for (let m = token.exec(data); m; m = token.exec(data)) {
    const [, l, x, , other] = m;
    if (other) refuse(`“${other}” at character ${m.index + 1}`);
    if (l) {
      if (numbers.length) refuse(`“${letter}” lacks numbers before character ${m.index + 1}`);
      if (!(l.toUpperCase() in NUMBERS)) refuse(`there is no command “${l}”`);
      if (!letter && l.toUpperCase() !== 'M') refuse('it does not begin with a place');
      letter = l;
      if (due() === 0) yield { letter, numbers: [] };
    } else if (x !== undefined) {
      if (!letter || due() === 0) refuse(`a number without a command at character ${m.index + 1}`);
      // The flags of an arc may be written without a space after them.
      const flag = letter.toUpperCase() === 'A' && (numbers.length === 3 || numbers.length === 4);
      if (flag && !/^[01]$/.test(x)) {
        if (!/^[01]/.test(x)) refuse(`an arc with a flag “${x}”`);
        token.lastIndex = m.index + 1;
        numbers.push(Number(x[0]));
      } else numbers.push(Number(x));
      if (numbers.length < due()) continue;
      yield { letter, numbers };
      numbers = [];
      // Further places after the first are lines.
      if (letter === 'M') letter = 'L';
      if (letter === 'm') letter = 'l';
    }
  }
  if (numbers.length) refuse(`“${letter}” lacks numbers at the end`);
}

const mirrored = (at: Point, p: Point): Point => [2 * at[0] - p[0], 2 * at[1] - p[1]];

/** Points of a cubic after its first: evenly spaced, as many as its second differences ask for (Wang 1984). */
function cubic(a: Point, b: Point, c: Point, d: Point, flat: number): Point[] {
  const bend = (k: 0 | 1): number =>
    Math.max(Math.abs(a[k] - 2 * b[k] + c[k]), Math.abs(b[k] - 2 * c[k] + d[k]));
  const n = Math.min(
    MOST,
    Math.max(1, Math.ceil(Math.sqrt((6 * Math.hypot(bend(0), bend(1))) / (8 * flat)))),
  );
  return Array.from({ length: n }, (_, i): Point => {
    if (i === n - 1) return d;
    const t = (i + 1) / n;
    const s = 1 - t;
    const at = (k: 0 | 1): number =>
      s ** 3 * a[k] + 3 * s * s * t * b[k] + 3 * s * t * t * c[k] + t ** 3 * d[k];
    return [at(0), at(1)];
  });
}

/** Points of an elliptic arc after its first (SVG 2, appendix B.2.4). @param n its seven numbers */
function arc(from: Point, n: number[], to: Point, flat: number): Point[] {
  let [rx, ry] = [Math.abs(n[0]), Math.abs(n[1])];
  if (!rx || !ry || (from[0] === to[0] && from[1] === to[1])) return [to];
  const phi = (n[2] * Math.PI) / 180;
  const [cos, sin] = [Math.cos(phi), Math.sin(phi)];
  const [dx, dy] = [(from[0] - to[0]) / 2, (from[1] - to[1]) / 2];
  const [x, y] = [cos * dx + sin * dy, -sin * dx + cos * dy];
  const grow = Math.sqrt(Math.max(1, (x / rx) ** 2 + (y / ry) ** 2));
  [rx, ry] = [rx * grow, ry * grow];
  const under = (rx * ry) ** 2 - (rx * y) ** 2 - (ry * x) ** 2;
  const q = (n[3] === n[4] ? -1 : 1) * Math.sqrt(Math.max(0, under) / ((rx * y) ** 2 + (ry * x) ** 2));
  const [cx, cy] = [(q * rx * y) / ry, (-q * ry * x) / rx];
  const centre: Point = [
    cos * cx - sin * cy + (from[0] + to[0]) / 2,
    sin * cx + cos * cy + (from[1] + to[1]) / 2,
  ];
  const start = Math.atan2((y - cy) / ry, (x - cx) / rx);
  let sweep = Math.atan2((-y - cy) / ry, (-x - cx) / rx) - start;
  if (n[4] && sweep < 0) sweep += 2 * Math.PI;
  if (!n[4] && sweep > 0) sweep -= 2 * Math.PI;
  return spread(sweep, Math.max(rx, ry), flat).map((t, i, all): Point => {
    if (i === all.length - 1) return to;
    const [c, s] = [rx * Math.cos(start + t), ry * Math.sin(start + t)];
    return [centre[0] + cos * c - sin * s, centre[1] + sin * c + cos * s];
  });
}

/** Angles along a sweep, the last one its end, so close that sides stay within a distance of the circle. */
export function spread(sweep: number, radius: number, flat: number): number[] {
  const step = 2 * Math.acos(Math.max(0, 1 - Math.min(1, flat / radius)));
  const n = Math.min(MOST, Math.max(2, Math.ceil(Math.abs(sweep) / step)));
  return Array.from({ length: n }, (_, i) => (sweep * (i + 1)) / n);
}

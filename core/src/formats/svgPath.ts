/** Path data of SVG (W3C SVG 2, §9.3) as closed or open runs of points, curves made straight within a tolerance. */
import { SVGPathData, SVGPathDataTransformer as to } from 'svg-pathdata';

export type Point = [number, number];
export interface Run {
  points: Point[];
  closed: boolean;
}

/** Most points one curve is made of. */
const MOST = 512;

/**
 * @param flat how far a straight side may leave its curve, in the units of the data
 * @throws Error in words where the data is no path, or a number in it is not finite
 */
export function runsOfPath(data: string, flat: number): Run[] {
  if (data.trim() && !/^\s*[mM]/.test(data)) throw new Error('it does not begin with “M”');
  // Arcs are left as they are, with their centre: as cubics they would be off by more than fine tolerances.
  const { commands } = new SVGPathData(data)
    .transform(to.TO_ABS())
    .transform(to.NORMALIZE_HVZ(false))
    .transform(to.NORMALIZE_ST())
    .transform(to.QT_TO_C())
    .transform(to.ANNOTATE_ARCS());
  const runs: Run[] = [];
  let run: Run | null = null;
  let [at, start]: Point[] = [[0, 0], [0, 0]]; // prettier-ignore
  const lineTo = (...points: Point[]): void => {
    if (!run) runs.push((run = { points: [at], closed: false }));
    run.points.push(...points);
    at = points[points.length - 1];
  };
  for (const c of commands) {
    for (const v of Object.values(c))
      if (typeof v === 'number' && !Number.isFinite(v)) throw new Error('a number in it is too large');
    switch (c.type) {
      case SVGPathData.MOVE_TO:
        run = null;
        at = start = [c.x, c.y];
        break;
      case SVGPathData.LINE_TO:
        lineTo([c.x, c.y]);
        break;
      case SVGPathData.CURVE_TO:
        lineTo(...cubic(at, [c.x1, c.y1], [c.x2, c.y2], [c.x, c.y], flat));
        break;
      case SVGPathData.ARC:
        lineTo(...arc(c as Arc, flat));
        break;
      case SVGPathData.CLOSE_PATH:
        if (run) (run as Run).closed = true;
        run = null;
        at = start;
        break;
    }
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

/** An elliptic arc with its centre and angles in degrees (SVG 2, appendix B.2.4), as annotated. */
interface Arc {
  x: number;
  y: number;
  rX: number;
  rY: number;
  xRot: number;
  cX: number;
  cY: number;
  phi1: number;
  phi2: number;
}

/** Points of an arc after its first; of one without a radius, its end. */
function arc({ x, y, rX, rY, xRot, cX, cY, phi1, phi2 }: Arc, flat: number): Point[] {
  if (!rX || !rY || phi1 === phi2) return [[x, y]];
  const radians = (degrees: number): number => (degrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(radians(xRot)), Math.sin(radians(xRot))];
  const angles = spread(radians(phi2 - phi1), Math.max(rX, rY), flat);
  return angles.map((turned, i): Point => {
    if (i === angles.length - 1) return [x, y];
    const angle = radians(phi1) + turned;
    const [u, v] = [rX * Math.cos(angle), rY * Math.sin(angle)];
    return [cX + cos * u - sin * v, cY + sin * u + cos * v];
  });
}

/** Angles after the first that divide a sweep so that no chord leaves the circle by more than `flat`, radians. */
export function spread(sweep: number, radius: number, flat: number): number[] {
  const step = 2 * Math.acos(Math.max(0, 1 - Math.min(1, flat / radius)));
  const n = Math.min(MOST, Math.max(2, Math.ceil(Math.abs(sweep) / step)));
  return Array.from({ length: n }, (_, i) => (sweep * (i + 1)) / n);
}

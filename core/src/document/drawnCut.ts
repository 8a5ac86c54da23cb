/** A cut as it is drawn on a face: its outline and depth in the frame of that face, and the cutter that comes of it. */
import type { Vec3 } from '../mesh/vec3';
import type { Primitive } from '../primitives';
import type { CutStep, Step } from '../steps';

export const DRAWN_SHAPES = ['rectangle', 'round', 'regular', 'slot', 'free'] as const;
export type DrawnShape = (typeof DRAWN_SHAPES)[number];
export const DRAWN_REACHES = ['blind', 'through', 'next', 'both'] as const;
export type DrawnReach = (typeof DRAWN_REACHES)[number];

export const DRAWN_PATTERNS = ['once', 'line', 'grid', 'circle'] as const;

/** How often a drawn cut is made: in a line along the face's X, in rows of these along its Z, or in a circle about its place. */
export interface DrawnRepeat {
  pattern: (typeof DRAWN_PATTERNS)[number];
  count: number;
  rows: number;
  /** Between one and the next, mm. */
  gap: number;
  /** Radius of a circle, mm. */
  radius: number;
}

export interface DrawnCut {
  shape: DrawnShape;
  /** Number of sides of a regular outline. */
  sides: number;
  /** The first place is the middle, not a corner. */
  fromCentre: boolean;
  /** Radius at corners, mm. */
  corner: number;
  /** First and last place of the drag, in X and Z of the face's frame, mm. */
  from: [number, number];
  to: [number, number];
  /** Corners of a free outline. */
  points: ReadonlyArray<readonly [number, number]>;
  mode: NonNullable<CutStep['mode']>;
  reach: DrawnReach;
  /** Into the face, or out of it when it adds, mm. */
  depth: number;
}

/** The host of the face. */
export interface DrawnOn {
  /** Longest way through the host, mm. */
  size: number;
  /** From the face to where the material under it ends, and from there to the next material, mm. */
  next: number;
  gap: number;
}

export interface DrawnCutter {
  base: Primitive;
  /** Its origin, in the frame of the face: Y out of it. */
  at: Vec3;
  /** About Y, degrees. */
  turned: number;
}

/** Sides of a round outline. */
const ROUND = 48;

/** Middle and full size of the outline. */
export function boxOfDrawn(d: DrawnCut): { middle: [number, number]; width: number; length: number } {
  if (d.shape === 'free') {
    const span = (a: 0 | 1): [number, number] => {
      const all = d.points.map((p) => p[a]);
      return [Math.min(...all), Math.max(...all)];
    };
    const [[x0, x1], [z0, z1]] = [span(0), span(1)];
    return { middle: [(x0 + x1) / 2, (z0 + z1) / 2], width: x1 - x0, length: z1 - z0 };
  }
  const [dx, dz] = [d.to[0] - d.from[0], d.to[1] - d.from[1]];
  const whole = isWhole(d.shape);
  if (d.fromCentre) {
    const r = Math.hypot(dx, dz);
    const [width, length] = whole ? [2 * r, 2 * r] : [2 * Math.abs(dx), 2 * Math.abs(dz)];
    return { middle: d.from, width, length };
  }
  if (!whole)
    return { middle: [d.from[0] + dx / 2, d.from[1] + dz / 2], width: Math.abs(dx), length: Math.abs(dz) };
  const size = Math.max(Math.abs(dx), Math.abs(dz));
  const towards = (x: number): number => ((x < 0 ? -1 : 1) * size) / 2;
  return { middle: [d.from[0] + towards(dx), d.from[1] + towards(dz)], width: size, length: size };
}

/**
 * The same drag with another width and length, as when they are typed. A shape that has one size takes the width; the
 * length of a slot is along the longer side of the drag.
 */
export function withDrawnSize(d: DrawnCut, typed: { width?: number; length?: number }): DrawnCut {
  const share = d.fromCentre ? 0.5 : 1;
  const whole = isWhole(d.shape);
  const sign = (a: 0 | 1): number => (d.to[a] < d.from[a] ? -1 : 1);
  const now = sizesOfDrawn(d);
  const [long, wide] = [typed.length ?? now.length, typed.width ?? now.width];
  const [width, length] = whole ? [wide, wide] : runsAlongX(d) ? [long, wide] : [wide, long];
  if (whole && d.fromCentre) return { ...d, to: [d.from[0] + (sign(0) * width) / 2, d.from[1]] };
  return { ...d, to: [d.from[0] + sign(0) * width * share, d.from[1] + sign(1) * length * share] };
}

/** Shapes with one size, in all directions. */
export const isWhole = (shape: DrawnShape): boolean => shape === 'round' || shape === 'regular';

/** The length of a slot runs along X of the face, not along Z. */
function runsAlongX(d: DrawnCut): boolean {
  const { width, length } = boxOfDrawn(d);
  return d.shape === 'slot' && width > length;
}

/** Its sizes as they are typed: a slot is as long as its longer side, whichever way it lies. */
export function sizesOfDrawn(d: DrawnCut): { width: number; length: number } {
  const { width, length } = boxOfDrawn(d);
  return runsAlongX(d) ? { width: length, length: width } : { width, length };
}

/** The outline in X and Z of the face's frame. */
export function outlineOfDrawn(d: DrawnCut): Array<[number, number]> {
  if (d.shape === 'free') return d.points.map(([x, z]) => [x, z]);
  const { middle: [x, z], width: w, length: l } = boxOfDrawn(d); // prettier-ignore
  if (d.shape === 'round' || d.shape === 'regular') {
    const n = d.shape === 'round' ? ROUND : d.sides;
    return Array.from({ length: n }, (_, k) => {
      const a = (2 * Math.PI * k) / n;
      return [x + (w / 2) * Math.cos(a), z + (w / 2) * Math.sin(a)];
    });
  }
  return [[x - w / 2, z - l / 2], [x + w / 2, z - l / 2], [x + w / 2, z + l / 2], [x - w / 2, z + l / 2]]; // prettier-ignore
}

/** How far the cutter reaches into the face (below 0) and out of it. */
export function spanOfDrawn(d: DrawnCut, on: DrawnOn): [low: number, high: number] {
  const { width, length } = boxOfDrawn(d);
  // Out of the face a little, so that what bulges within the outline is cut too.
  const over = Math.max(1, Math.max(width, length) / 8);
  if (d.mode === 'union') return [-over, d.depth];
  if (d.mode === 'recess' || d.mode === 'raise' || d.mode === 'imprint') {
    const around = Math.max(2 * d.depth, Math.max(width, length) / 2, 2);
    return [-around, around];
  }
  if (d.reach === 'through') return [-on.size, over];
  if (d.reach === 'both') return [-d.depth, d.depth];
  if (d.reach === 'next') return [-(on.next + Math.min(1, on.gap / 2)), over];
  return [-d.depth, over];
}

/** The cutter of a drawn cut: a primitive, with its sizes as parameters. */
export function cutterOfDrawn(d: DrawnCut, on: DrawnOn): DrawnCutter {
  const { middle } = boxOfDrawn(d);
  const { width, length } = sizesOfDrawn(d);
  const [low, high] = spanOfDrawn(d, on);
  const height = high - low;
  const at: Vec3 = [middle[0], (low + high) / 2, middle[1]];
  const placed = (base: Primitive, turned = 0): DrawnCutter => ({ base, at, turned });
  switch (d.shape) {
    case 'round':
      return placed({ primitive: 'cylinder', radius: width / 2, height, sides: ROUND });
    case 'slot':
      return placed(
        { primitive: 'slot', length, width, height, endSides: ROUND / 2 },
        runsAlongX(d) ? 0 : 90,
      );
    case 'regular':
      return placed({ primitive: 'prism', across: width, height, sides: d.sides, corner: d.corner });
    case 'rectangle':
      return d.corner
        ? placed({ primitive: 'plate', width, depth: length, height, corner: d.corner })
        : placed({ primitive: 'box', width, height, depth: length });
    case 'free': {
      // Outlines are kept as seen from above: X to the right, −Z up.
      const contour = d.points.map(([x, z]): [number, number] => [x - middle[0], middle[1] - z]);
      return placed({ primitive: 'outline', contours: [contour], height, corner: d.corner });
    }
  }
}

/**
 * The live steps that repeat a drawn cutter; they stay its own to retune.
 * @param turned the cutter about its Y, degrees: 0 or 90; the copies run along the face all the same
 */
export function repeatOfDrawn({ pattern, count, rows, gap, radius }: DrawnRepeat, turned = 0): Step[] {
  const [alongX, alongZ]: [Vec3, Vec3] = turned ? [[0, 0, gap], [-gap, 0, 0]] : [[gap, 0, 0], [0, 0, gap]]; // prettier-ignore
  const line = (id: string, n: number, offset: Vec3): Step[] =>
    n > 1 ? [{ id, kind: 'repeat', pattern: 'linear', count: n, offset, spacing: 'gap' }] : [];
  if (pattern === 'once') return [];
  if (pattern === 'circle')
    return [{ id: 's1', kind: 'repeat', pattern: 'radial', count, axis: 'y', angle: 360, radius }];
  const inRow = line('s1', count, alongX);
  return pattern === 'line' ? inRow : [...inRow, ...line('s2', rows, alongZ)];
}

/** The outlines of a drawn cut and of its copies, in X and Z of the face's frame. */
export function outlinesOfDrawn(d: DrawnCut, repeat: DrawnRepeat): Array<Array<[number, number]>> {
  const { pattern, count, rows, gap, radius } = repeat;
  const one = outlineOfDrawn(d);
  if (pattern === 'once') return [one];
  if (pattern !== 'circle') {
    // Of a polygon that is not the size of its circle, but of its corners.
    const [width, length] = ([0, 1] as const).map((a) => {
      const along = one.map((p) => p[a]);
      return Math.max(...along) - Math.min(...along);
    });
    return Array.from({ length: pattern === 'grid' ? rows : 1 }, (_, r) =>
      Array.from({ length: count }, (_, k) =>
        one.map(([x, z]): [number, number] => [x + k * (width + gap), z + r * (length + gap)]),
      ),
    ).flat();
  }
  const { middle } = boxOfDrawn(d);
  // A slot that lies along Z is turned, and so is the direction its copies are moved out in.
  const out = d.shape === 'slot' && !runsAlongX(d) ? [radius, 0] : [0, radius];
  return Array.from({ length: count }, (_, k) => {
    const a = (2 * Math.PI * k) / count;
    const [c, s] = [Math.cos(a), Math.sin(a)];
    return one.map(([px, pz]): [number, number] => {
      const [x, z] = [px - middle[0] + out[0], pz - middle[1] + out[1]];
      return [middle[0] + c * x + s * z, middle[1] + c * z - s * x];
    });
  });
}

/** Why a drawn cut cannot be made, in a sentence with what would help; null when it can. */
export function drawnFault(d: DrawnCut): string | null {
  const { width, length } = boxOfDrawn(d);
  if (d.shape === 'free' && d.points.length < 3)
    return 'The outline needs three corners or more; set another.';
  if (!(width > 1e-3) || !(length > 1e-3)) return 'The outline has no area; drag it wider, or type its size.';
  if (!(d.depth > 1e-3) && d.reach !== 'through' && d.reach !== 'next')
    return 'The cut has no depth; pull it into the piece, or type one.';
  return null;
}

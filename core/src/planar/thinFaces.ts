/**
 * Faces that have shrunk to a line: all their points lie on it within a reach. They are taken out, and their points
 * go into the faces on their other sides, so that those meet each other directly and the mesh stays closed.
 */

export interface ThinRemoval {
  /** Loops to take out. */
  removed: Set<number>;
  /** Per loop and side (index of its first point): points to insert after that point. */
  inserts: Map<number, Map<number, number[]>>;
}

/**
 * Plans one round; rounds are repeated until null is returned, for thin faces that touch wait for one another.
 * @param loops closed, edge to edge, consistently turned
 * @param mayGo whether a loop may be taken out at all
 * @param p positions, 3 numbers per point
 */
export function planThinRemoval(
  loops: number[][],
  mayGo: (loop: number) => boolean,
  p: ArrayLike<number>,
  reach: number,
): ThinRemoval | null {
  const thin: number[] = [];
  loops.forEach((points, i) => mayGo(i) && isThin(points, p, reach) && thin.push(i));
  if (!thin.length) return null;
  const key = (a: number, b: number): number => a * 0x4000000 + b;
  const owner = new Map<number, [number, number]>();
  loops.forEach((points, i) =>
    points.forEach((v, k) => owner.set(key(v, points[(k + 1) % points.length]), [i, k])),
  );
  const plan: ThinRemoval = { removed: new Set(), inserts: new Map() };
  const busy = new Set<number>();
  for (const t of thin) {
    const points = loops[t];
    // One thin face at a time around any point, so that insertions never clash.
    if (points.some((v) => busy.has(v))) continue;
    const sides = points.map((v, i) => [v, points[(i + 1) % points.length]] as const);
    if (sides.some(([u, v]) => !owner.has(key(v, u)))) continue;
    points.forEach((v) => busy.add(v));
    plan.removed.add(t);
    const [a, b] = extremes(points, p);
    const along = (v: number): number => alongLine(p, a, b, v);
    for (const [u, v] of sides) {
      const [lo, hi] = [Math.min(along(u), along(v)), Math.max(along(u), along(v))];
      const between = points.filter((w) => w !== u && w !== v && along(w) > lo && along(w) < hi);
      if (!between.length) continue;
      // The other face runs v → u.
      const s = along(u) > along(v) ? 1 : -1;
      between.sort((x, y) => s * (along(x) - along(y)));
      const [loop, side] = owner.get(key(v, u))!;
      if (!plan.inserts.has(loop)) plan.inserts.set(loop, new Map());
      plan.inserts.get(loop)!.set(side, between);
    }
  }
  return plan.removed.size ? plan : null;
}

/**
 * Places of a closed outline that stay when its spikes go: where it runs out to a point and back the same way, it
 * encloses nothing.
 */
export function withoutSpikes(points: ReadonlyArray<number>): number[] {
  const kept: number[] = points.map((_, i) => i);
  for (let k = 0, calm = 0; kept.length > 2 && calm < kept.length;) {
    const n = kept.length;
    const [before, after] = [kept[(k + n - 1) % n], kept[(k + 1) % n]];
    if (points[before] === points[after]) {
      // The tip goes, and one of the two places it was reached from.
      const gone = new Set([kept[k % n], after]);
      kept.splice(0, n, ...kept.filter((i) => !gone.has(i)));
      calm = 0;
      k = 0;
    } else {
      k = (k + 1) % n;
      calm++;
    }
  }
  return kept;
}

function isThin(points: number[], p: ArrayLike<number>, reach: number): boolean {
  if (points.length > 64 || !hasLittleArea(points, p, reach)) return false;
  const [a, b] = extremes(points, p);
  return points.every((v) => offLine(p, a, b, v) <= reach);
}

/** A quick way out: no strip of that thinness has more area than this. */
function hasLittleArea(points: number[], p: ArrayLike<number>, reach: number): boolean {
  const o = 3 * points[0];
  let [x, y, z, rim] = [0, 0, 0, 0];
  for (let i = 1; i < points.length; i++) {
    const a = 3 * points[i];
    const b = 3 * points[i + 1 < points.length ? i + 1 : 0];
    const [ax, ay, az] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]];
    const [bx, by, bz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]];
    x += ay * bz - az * by;
    y += az * bx - ax * bz;
    z += ax * by - ay * bx;
    rim += Math.abs(p[a] - p[b]) + Math.abs(p[a + 1] - p[b + 1]) + Math.abs(p[a + 2] - p[b + 2]);
  }
  return Math.abs(x) + Math.abs(y) + Math.abs(z) <= 8 * reach * rim;
}

function extremes(points: number[], p: ArrayLike<number>): [number, number] {
  let best: [number, number] = [points[0], points[1]];
  let far = -1;
  for (let i = 0; i < points.length; i++)
    for (let j = i + 1; j < points.length; j++) {
      const d = distance(p, points[i], points[j]);
      if (d > far) [far, best] = [d, [points[i], points[j]]];
    }
  return best;
}

export const distance = (p: ArrayLike<number>, a: number, b: number): number =>
  Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]);

/** The foot of v on the line a→b: 0 at a, 1 at b. */
export function alongLine(p: ArrayLike<number>, a: number, b: number, v: number): number {
  let dd = 0;
  let dv = 0;
  for (let k = 0; k < 3; k++) {
    const d = p[3 * b + k] - p[3 * a + k];
    dd += d * d;
    dv += d * (p[3 * v + k] - p[3 * a + k]);
  }
  return dd > 0 ? dv / dd : 0;
}

export function offLine(p: ArrayLike<number>, a: number, b: number, v: number): number {
  const s = alongLine(p, a, b, v);
  let out = 0;
  for (let k = 0; k < 3; k++) {
    const r = p[3 * v + k] - p[3 * a + k] - s * (p[3 * b + k] - p[3 * a + k]);
    out += r * r;
  }
  return Math.sqrt(out);
}

/** Bodies turned about Y, and what their ends are closed with. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { LoopBuilder, type Point } from './LoopBuilder';

/** Profile points [radius, height] from bottom to top. */
export type Profile = Array<[number, number]>;
export type Cap = 'ngon' | 'fan' | 'none';

/** Exact on the axes, so that mirrored and quarter-turned pieces match to the last bit. */
export function circlePoint(i: number, n: number): [number, number] {
  const quarter = (4 * i) / n;
  if (Number.isInteger(quarter))
    return (
      [
        [1, 0],
        [0, 1],
        [-1, 0],
        [0, -1],
      ] as Array<[number, number]>
    )[((quarter % 4) + 4) % 4];
  const a = (2 * Math.PI * i) / n;
  return [Math.cos(a), Math.sin(a)];
}

/** The normal of a cone's wall over one of `sides`; whole numbers are its edges. @param rise how far it looks up per unit outward */
export function wallNormal(i: number, sides: number, rise: number): Point {
  const [c, s] = circlePoint(i, sides);
  return [c, rise, -s];
}

/** Turns a profile about Y, each of its lengths a wall of its own. Bottom and top end in an n-gon, a fan, or stay open. */
export function lathe(profile: Profile, sides: number, bottom: Cap, top: Cap): PolyMesh {
  const b = new LoopBuilder();
  const rows = profile.map(([r, y]) =>
    Array.from({ length: sides }, (_, i) => {
      const [c, s] = circlePoint(i, sides);
      return b.point([r * c, y, -r * s]);
    }),
  );
  const vs = profileLengths(profile);
  for (let j = 0; j + 1 < rows.length; j++) {
    const rise = (profile[j][0] - profile[j + 1][0]) / (profile[j + 1][1] - profile[j][1]);
    for (let i = 0; i < sides; i++) {
      const k = (i + 1) % sides;
      const u0 = i / sides;
      const u1 = (i + 1) / sides;
      b.face(
        [rows[j][i], rows[j][k], rows[j + 1][k], rows[j + 1][i]],
        [
          [u0, vs[j]],
          [u1, vs[j]],
          [u1, vs[j + 1]],
          [u0, vs[j + 1]],
        ],
        [i, k, k, i].map((at) => wallNormal(at, sides, rise)),
      );
    }
  }
  cap(b, rows[0], profile[0][1], bottom, true);
  cap(b, rows[rows.length - 1], profile[profile.length - 1][1], top, false);
  return b.mesh();
}

function profileLengths(profile: Profile): number[] {
  const out = [0];
  for (let i = 1; i < profile.length; i++)
    out.push(out[i - 1] + Math.hypot(profile[i][0] - profile[i - 1][0], profile[i][1] - profile[i - 1][1]));
  const total = out[out.length - 1] || 1;
  return out.map((l) => l / total);
}

export function cap(b: LoopBuilder, row: number[], y: number, kind: Cap, down: boolean): void {
  if (kind === 'none') return;
  const n = row.length;
  const uv = (i: number): [number, number] => {
    const [c, s] = circlePoint(i % n, n);
    return [0.5 + 0.5 * c, 0.5 + (down ? -0.5 : 0.5) * s];
  };
  if (kind === 'ngon') {
    const order = Array.from({ length: n }, (_, i) => (down ? n - 1 - i : i));
    b.face(
      order.map((i) => row[i]),
      order.map(uv),
    );
    return;
  }
  const middle = b.point([0, y, 0]);
  for (let i = 0; i < n; i++) {
    const k = (i + 1) % n;
    if (down) b.face([row[k], row[i], middle], [uv(i + 1), uv(i), [0.5, 0.5]]);
    else b.face([row[i], row[k], middle], [uv(i), uv(i + 1), [0.5, 0.5]]);
  }
}

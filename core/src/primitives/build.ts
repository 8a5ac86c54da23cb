/** Builds the meshes of primitives from their numbers. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { makeMesh } from '../mesh/PolyMesh';
import { LoopBuilder } from './LoopBuilder';
import { completePrimitive, type Primitive } from './schema';

/** Builds the mesh of a primitive. Assumes schema and `primitiveFault` were checked. */
export function buildPrimitive(primitive: Primitive): PolyMesh {
  const p = completePrimitive(primitive);
  switch (p.primitive) {
    case 'box':
      return box(p.width, p.height, p.depth, p.segments as [number, number, number]);
    case 'cylinder':
      return lathe(cylinderProfile(p.radius, p.height, p.rings), p.sides, p.caps, p.caps);
    case 'cone':
      return cone(p.bottomRadius, p.topRadius, p.height, p.sides);
    case 'sphere':
      return sphere(p.radius, p.sides, p.rings);
    case 'quadSphere':
      return quadSphere(p.radius, p.divisions);
    case 'torus':
      return torus(p.radius, p.tubeRadius, p.sides, p.tubeSides);
    case 'tube':
      return tube(p.outerRadius, p.innerRadius, p.height, p.sides);
    case 'plane':
      return plane(p.width, p.depth, p.segments as [number, number]);
    case 'disc':
      return disc(p.radius, p.sides);
  }
}

function box(w: number, h: number, d: number, [nx, ny, nz]: [number, number, number]): PolyMesh {
  const b = new LoopBuilder();
  const at = (i: number, j: number, k: number): number =>
    b.shared(`${i},${j},${k}`, () => [w * (i / nx - 0.5), h * (j / ny - 0.5), d * (k / nz - 0.5)]);
  const grid = (nu: number, nv: number, corner: (u: number, v: number) => number): void => {
    for (let v = 0; v < nv; v++)
      for (let u = 0; u < nu; u++)
        b.face(
          [corner(u, v), corner(u + 1, v), corner(u + 1, v + 1), corner(u, v + 1)],
          [
            [u / nu, v / nv],
            [(u + 1) / nu, v / nv],
            [(u + 1) / nu, (v + 1) / nv],
            [u / nu, (v + 1) / nv],
          ],
        );
  };
  grid(nx, ny, (u, v) => at(u, v, nz));
  grid(nx, ny, (u, v) => at(nx - u, v, 0));
  grid(nz, ny, (u, v) => at(nx, v, nz - u));
  grid(nz, ny, (u, v) => at(0, v, u));
  grid(nx, nz, (u, v) => at(u, ny, nz - v));
  grid(nx, nz, (u, v) => at(u, 0, v));
  return b.mesh();
}

/** Profile points [radius, height] from bottom to top. */
type Profile = Array<[number, number]>;

function cylinderProfile(r: number, h: number, rings: number): Profile {
  return Array.from({ length: rings + 1 }, (_, i) => [r, h * (i / rings - 0.5)]);
}

type Cap = 'ngon' | 'fan' | 'none';

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

/** Turns a profile about Y. Bottom and top end in an n-gon, a fan, or stay open. */
function lathe(profile: Profile, sides: number, bottom: Cap, top: Cap): PolyMesh {
  const b = new LoopBuilder();
  const rows = profile.map(([r, y]) =>
    Array.from({ length: sides }, (_, i) => {
      const [c, s] = circlePoint(i, sides);
      return b.point([r * c, y, -r * s]);
    }),
  );
  const vs = profileLengths(profile);
  for (let j = 0; j + 1 < rows.length; j++)
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
      );
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

function cap(b: LoopBuilder, row: number[], y: number, kind: Cap, down: boolean): void {
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

function cone(bottom: number, top: number, h: number, sides: number): PolyMesh {
  const point = 1e-3;
  if (bottom >= point && top >= point)
    return lathe(
      [
        [bottom, -h / 2],
        [top, h / 2],
      ],
      sides,
      'ngon',
      'ngon',
    );
  const b = new LoopBuilder();
  const up = top < point;
  const r = up ? bottom : top;
  const y = up ? -h / 2 : h / 2;
  const row = Array.from({ length: sides }, (_, i) => {
    const [c, s] = circlePoint(i, sides);
    return b.point([r * c, y, -r * s]);
  });
  const apex = b.point([0, -y, 0]);
  for (let i = 0; i < sides; i++) {
    const k = (i + 1) % sides;
    const u0 = i / sides;
    const u1 = (i + 1) / sides;
    const mid = (u0 + u1) / 2;
    if (up) b.face([row[i], row[k], apex], [[u0, 0], [u1, 0], [mid, 1]]); // prettier-ignore
    else b.face([row[k], row[i], apex], [[u1, 1], [u0, 1], [mid, 0]]); // prettier-ignore
  }
  cap(b, row, y, 'ngon', up);
  return b.mesh();
}

function sphere(r: number, sides: number, rings: number): PolyMesh {
  const b = new LoopBuilder();
  const bottom = b.point([0, -r, 0]);
  const rows: number[][] = [];
  for (let j = 1; j < rings; j++) {
    const lat = Math.PI * (j / rings - 0.5);
    const y = 2 * j === rings ? 0 : r * Math.sin(lat);
    const rr = r * Math.cos(lat);
    rows.push(
      Array.from({ length: sides }, (_, i) => {
        const [c, s] = circlePoint(i, sides);
        return b.point([rr * c, y, -rr * s]);
      }),
    );
  }
  const top = b.point([0, r, 0]);
  for (let i = 0; i < sides; i++) {
    const k = (i + 1) % sides;
    const u0 = i / sides;
    const u1 = (i + 1) / sides;
    const mid = (u0 + u1) / 2;
    b.face([rows[0][k], rows[0][i], bottom], [[u1, 1 / rings], [u0, 1 / rings], [mid, 0]]); // prettier-ignore
    for (let j = 0; j + 1 < rows.length; j++) {
      const v0 = (j + 1) / rings;
      const v1 = (j + 2) / rings;
      b.face(
        [rows[j][i], rows[j][k], rows[j + 1][k], rows[j + 1][i]],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
      );
    }
    const last = rows[rows.length - 1];
    b.face([last[i], last[k], top], [[u0, 1 - 1 / rings], [u1, 1 - 1 / rings], [mid, 1]]); // prettier-ignore
  }
  return b.mesh();
}

/** A cube blown up to a ball: all quads, no poles. Grid lines at equal angles. */
function quadSphere(r: number, n: number): PolyMesh {
  const cube = box(2, 2, 2, [n, n, n]);
  const p = cube.positions.slice();
  for (let i = 0; i < p.length; i += 3) {
    const q = [0, 1, 2].map((k) => (Math.abs(p[i + k]) >= 1 ? p[i + k] : Math.tan((p[i + k] * Math.PI) / 4)));
    const l = r / Math.hypot(q[0], q[1], q[2]);
    for (let k = 0; k < 3; k++) p[i + k] = q[k] * l;
  }
  return makeMesh(p, cube.faceStart, cube.corners, cube.layers);
}

function torus(R: number, r: number, sides: number, tubeSides: number): PolyMesh {
  const b = new LoopBuilder();
  const at = (i: number, j: number): number =>
    b.shared(`${i % sides},${j % tubeSides}`, () => {
      const [c, s] = circlePoint(i % sides, sides);
      const [tc, ts] = circlePoint(j % tubeSides, tubeSides);
      const rr = R + r * tc;
      return [rr * c, r * ts, -rr * s];
    });
  for (let i = 0; i < sides; i++)
    for (let j = 0; j < tubeSides; j++) {
      const [u0, u1] = [i / sides, (i + 1) / sides];
      const [v0, v1] = [j / tubeSides, (j + 1) / tubeSides];
      b.face(
        [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
      );
    }
  return b.mesh();
}

function tube(R: number, r: number, h: number, sides: number): PolyMesh {
  const b = new LoopBuilder();
  const ring: Profile = [
    [R, -h / 2],
    [R, h / 2],
    [r, h / 2],
    [r, -h / 2],
  ];
  const at = (i: number, j: number): number =>
    b.shared(`${i % sides},${j % 4}`, () => {
      const [c, s] = circlePoint(i % sides, sides);
      const [rr, y] = ring[j % 4];
      return [rr * c, y, -rr * s];
    });
  for (let i = 0; i < sides; i++)
    for (let j = 0; j < 4; j++) {
      const [u0, u1] = [i / sides, (i + 1) / sides];
      const [v0, v1] = [j / 4, (j + 1) / 4];
      b.face(
        [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
      );
    }
  return b.mesh();
}

function plane(w: number, d: number, [nx, nz]: [number, number]): PolyMesh {
  const b = new LoopBuilder();
  const at = (i: number, k: number): number =>
    b.shared(`${i},${k}`, () => [w * (i / nx - 0.5), 0, d * (0.5 - k / nz)]);
  for (let k = 0; k < nz; k++)
    for (let i = 0; i < nx; i++) {
      const [u0, u1] = [i / nx, (i + 1) / nx];
      const [v0, v1] = [k / nz, (k + 1) / nz];
      b.face(
        [at(i, k), at(i + 1, k), at(i + 1, k + 1), at(i, k + 1)],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
      );
    }
  return b.mesh();
}

function disc(r: number, sides: number): PolyMesh {
  const b = new LoopBuilder();
  const row = Array.from({ length: sides }, (_, i) => {
    const [c, s] = circlePoint(i, sides);
    return b.point([r * c, 0, -r * s]);
  });
  cap(b, row, 0, 'ngon', false);
  return b.mesh();
}

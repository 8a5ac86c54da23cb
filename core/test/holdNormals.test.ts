/** Normals held by hand: where they point to exactly, what stays, and that everything can be let go of again. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Action } from '../src/actions/actions';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { dot, pointOf, sub, unit, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive } from '../src/primitives';
import { shadingNormals } from '../src/shading/shadingNormals';
import { evened, normalsAt, type NormalAt } from '../src/shading/evenNormals';
import { drift } from '../src/shading/drift';
import { act } from './acting';
import './seed';

const all = { rule: 'all', of: 'faces' } as const;
const ball = buildPrimitive({ primitive: 'sphere', radius: 20, sides: 16, rings: 8 });
const cylinder = buildPrimitive({ primitive: 'cylinder', radius: 20, height: 40, sides: 24, rings: 3 });
const hold = (mesh: PolyMesh, to: string, more: Partial<Action> = {}): PolyMesh =>
  act(mesh, { op: 'holdNormals', select: all, to, ...more }).mesh;
const at = (mesh: PolyMesh, c: number): Vec3 => pointOf(shadingNormals(mesh), c);
const place = (mesh: PolyMesh, c: number): Vec3 => pointOf(mesh.positions, mesh.corners[c]);
const corners = (mesh: PolyMesh): number[] => [...mesh.corners.keys()];

describe('normals held by hand', () => {
  it('flat are those of the faces: no drift is left', () => {
    for (const mesh of [ball, cylinder]) {
      expect(Math.max(...drift(mesh))).toBeGreaterThan(5);
      expect(Math.max(...drift(hold(mesh, 'face')))).toBeLessThan(0.05);
    }
  });

  it('as one plane are one, and square to the best plane through the picks', () => {
    const top: Action['select'] = { rule: 'facing', direction: [0, 1, 0], angle: 60 };
    for (const to of ['together', 'plane']) {
      const mesh = hold(ball, to, { select: top });
      const held = corners(mesh).filter(
        (c) => Math.hypot(...pointOf(mesh.layers.corner.normal.data, c)) > 0.5,
      );
      expect(held.length).toBeGreaterThan(20);
      for (const c of held) expect(dot(at(mesh, c), [0, 1, 0])).toBeGreaterThan(1 - 1e-6);
    }
  });

  it('aim at a point, away from it, and along a direction', () => {
    const point: [number, number, number] = [5, 60, -8];
    const toward = hold(cylinder, 'at', { point });
    const away = hold(cylinder, 'away', { point });
    const along = hold(cylinder, 'direction', { direction: [0, 0, -3] });
    for (const c of corners(cylinder)) {
      const way = unit(sub(point, place(cylinder, c)));
      expect(dot(at(toward, c), way)).toBeCloseTo(1, 6);
      expect(dot(at(away, c), way)).toBeCloseTo(-1, 6);
      expect(at(along, c)).toEqual([0, 0, -1].map((x) => expect.closeTo(x, 6)));
    }
  });

  it('cast from another surface are its own, wherever it stands, and out of reach nothing changes', () => {
    // A plate of flat facets about the wall of a cylinder, and the cylinder itself in a frame of its own.
    const coarse = buildPrimitive({ primitive: 'cylinder', radius: 20, height: 10, sides: 8 });
    const sides = Array.from({ length: faceCount(coarse) }, (_, f) => f).filter((f) =>
      [...coarse.corners.subarray(coarse.faceStart[f], coarse.faceStart[f + 1])].length === 4); // prettier-ignore
    const surface = {
      base: { primitive: 'cylinder' as const, radius: 20, height: 40, sides: 64 },
      place: [0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 7, 0, 1],
    };
    const flat = hold(coarse, 'face');
    const cast = act(flat, {
      op: 'holdNormals',
      select: { faces: sides },
      to: 'cast',
      surface,
      reach: 1,
    }).mesh;
    for (const f of sides)
      for (let c = cast.faceStart[f]; c < cast.faceStart[f + 1]; c++) {
        const [x, , z] = place(cast, c);
        expect(dot(at(cast, c), unit([x, 0, z]))).toBeGreaterThan(1 - 1e-6);
      }
    expect(
      () =>
      act(flat, { op: 'holdNormals', select: { faces: sides }, to: 'cast', surface: { base: { ...surface.base, radius: 26 } }, reach: 1 }), // prettier-ignore
    ).toThrowError(/finds the surface within 1 mm/);
    expect(() => act(flat, { op: 'holdNormals', select: { faces: sides }, to: 'cast' })).toThrowError(
      /no surface/,
    );
  });

  it('blend back toward the shading without holds', () => {
    const flat = hold(cylinder, 'face');
    const free = hold(flat, 'free');
    for (const c of corners(cylinder)) expect(dot(at(free, c), at(cylinder, c))).toBeGreaterThan(1 - 1e-6);
    const half = hold(flat, 'free', { strength: 0.5 });
    for (const c of corners(cylinder))
      expect(dot(at(half, c), at(flat, c))).toBeCloseTo(dot(at(half, c), at(cylinder, c)), 5);
  });

  it('go as far as their strength, and stay unit', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (strength) => {
        const mesh = hold(cylinder, 'direction', { direction: [0, 1, 0], strength });
        for (const c of corners(mesh)) {
          expect(Math.hypot(...at(mesh, c))).toBeCloseTo(1, 5);
          const [own, now] = [at(cylinder, c), at(mesh, c)];
          // Those of the lower cap have no way to it but through nought.
          if (Math.abs(own[1]) > 0.9) continue;
          expect(Math.atan2(now[1], Math.hypot(now[0], now[2]))).toBeCloseTo(
            Math.atan2(strength, 1 - strength),
            5,
          );
        }
      }),
      { numRuns: 20 },
    );
  });

  it('only change at the corners of what is picked', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(faceCount(ball) - 1), { minLength: 1, maxLength: 12 }), (faces) => {
        const mesh = hold(ball, 'away', { select: { faces }, point: [0, 0, 0], strength: 1 });
        const picked = new Set(faces);
        for (let f = 0; f < faceCount(ball); f++)
          for (let c = ball.faceStart[f]; c < ball.faceStart[f + 1]; c++)
            if (picked.has(f)) expect(dot(at(mesh, c), unit(place(ball, c)))).toBeCloseTo(1, 6);
            else expect(at(mesh, c)).toEqual(at(ball, c));
      }),
      { numRuns: 20 },
    );
  });

  it('let go of are as if nothing had been held, all or in part', () => {
    const held = hold(cylinder, 'direction', { direction: [1, 1, 1] });
    const freed = hold(held, 'release');
    for (const c of corners(cylinder)) expect(at(freed, c)).toEqual(at(cylinder, c));
    const part = hold(held, 'release', { select: { faces: [3] } });
    for (let f = 0; f < faceCount(cylinder); f++)
      for (let c = cylinder.faceStart[f]; c < cylinder.faceStart[f + 1]; c++)
        expect(at(part, c)).toEqual(at(f === 3 ? cylinder : held, c));
  });

  it('smoothed come nearer to one another, and the border holds', () => {
    // A ball whose normals were shaken.
    const shaken = shadingNormals(ball).slice();
    const byVertex = new Map<number, Vec3>();
    for (const c of corners(ball)) {
      const v = ball.corners[c];
      const n =
        byVertex.get(v) ??
        unit([0, 1, 2].map((k) => shaken[3 * c + k] + 0.3 * Math.sin(7 * v + 2 * k)) as Vec3);
      byVertex.set(v, n);
      shaken.set(n, 3 * c);
    }
    const mesh = { ...ball, layers: { ...ball.layers, corner: { ...ball.layers.corner, normal: { size: 3, data: shaken } } } }; // prettier-ignore
    const off = (m: PolyMesh): number =>
      corners(m).reduce((sum, c) => sum + 1 - dot(at(m, c), unit(place(m, c))), 0);
    const rounds = [1, 3, 10].map((n) => off(hold(mesh, 'smooth', { rounds: n })));
    expect(rounds[0]).toBeLessThan(off(mesh) * 0.6);
    expect(rounds[1]).toBeLessThan(rounds[0]);
    const half: Action['select'] = { rule: 'facing', direction: [0, 1, 0], angle: 80 };
    const held = hold(mesh, 'smooth', { select: half, rounds: 5 });
    const free = hold(mesh, 'smooth', { select: half, rounds: 5, holdBorder: false });
    const moved = (m: PolyMesh): number =>
      corners(m).filter((c) => dot(at(m, c), at(mesh, c)) < 1 - 1e-9).length;
    expect(moved(held)).toBeGreaterThan(0);
    expect(moved(free)).toBeGreaterThan(moved(held));
  });

  it('is refused where there is no direction', () => {
    expect(() => hold(ball, 'direction', { direction: [0, 0, 0] })).toThrow(/no direction/);
    expect(() => hold(ball, 'together')).toThrow(/cancel out/);
  });
});

describe('normals evened out, mirrored and turned', () => {
  /** Two halves of a cylinder's wall, 12 sides each, that only touch. */
  const half = (from: number): PolyMesh => {
    const faces = Array.from({ length: 12 }, (_, k) => (from + k) % 24);
    const whole = buildPrimitive({ primitive: 'cylinder', radius: 20, height: 40, sides: 24, caps: 'none' });
    const { surface: _, ...corner } = whole.layers.corner;
    // As from a file: nothing is known of what it stands for.
    const bare = { ...whole, layers: { ...whole.layers, corner } };
    return act(bare, { op: 'keepFaces', select: { faces } }).mesh;
  };
  const normalsOf = (mesh: PolyMesh): NormalAt[] => normalsAt(mesh, corners(mesh));

  it('two panels that touch come to share their normals exactly, and look like one', () => {
    const [a, b] = [half(0), half(12)];
    const even = (own: PolyMesh, other: PolyMesh): PolyMesh =>
      hold(own, 'even', { beside: normalsOf(other) as never });
    const [c, d] = [even(a, b), even(b, a)];
    let shared = 0;
    for (const i of corners(c))
      for (const j of corners(d)) {
        if (Math.hypot(...sub(place(c, i), place(d, j))) > 1e-6) continue;
        expect(at(c, i)).toEqual(at(d, j));
        // As the cylinder they are halves of.
        const p = place(c, i);
        expect(dot(at(c, i), unit([p[0], 0, p[2]]))).toBeGreaterThan(1 - 1e-6);
        shared++;
      }
    // Two seams with two points each, of one face on either side.
    expect(shared).toBe(4);
    // Before, they leaned apart there.
    const off = (m: PolyMesh): number =>
      Math.max(...corners(m).map((i) => 1 - dot(at(m, i), unit([place(m, i)[0], 0, place(m, i)[2]]))));
    expect(off(a)).toBeGreaterThan(1e-3);
    expect(off(c)).toBeLessThan(1e-6);
  });

  it('which pieces they are counted from does not matter, nor in which order', () => {
    const number = fc.double({ min: -1, max: 1, noNaN: true });
    const one = fc.tuple(fc.nat(2), fc.nat(2), fc.nat(2), number, number, number);
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 20 }), fc.nat(20), (all, k) => {
        const options = { within: 0.5, apart: 70 };
        const together = evened(all, [], options);
        const own = all.slice(k);
        const mine = evened(own, all.slice(0, k), options);
        mine.forEach((n, i) => expect(n).toEqual(together[k + i]));
        const turned = evened([...all].reverse(), [], options).reverse();
        expect(turned).toEqual(together);
      }),
    );
  });

  it('those that look apart are left apart', () => {
    const box = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });
    const mesh = hold(box, 'even');
    for (const c of corners(box)) expect(at(mesh, c)).toEqual(at(box, c));
    const soft = hold(box, 'even', { apart: 95 });
    const third = Math.sqrt(1 / 3);
    for (const c of corners(box))
      expect(at(soft, c).map(Math.abs)).toEqual([third, third, third].map((x) => expect.closeTo(x, 6)));
  });

  it('mirrored they are those of the other side, and what has no other side says so', () => {
    const half: Action['select'] = { rule: 'facing', direction: [1, 0, 0], angle: 80 };
    const lopsided = hold(ball, 'direction', { select: half, direction: [0, 1, 0] });
    const mesh = hold(lopsided, 'mirror', {
      select: { rule: 'facing', direction: [-1, 0, 0], angle: 80 },
      across: 'x',
    });
    let held = 0;
    for (const c of corners(ball)) {
      if (Math.hypot(...pointOf(mesh.layers.corner.normal.data, c)) < 0.5) continue;
      expect(at(mesh, c)[1]).toBeCloseTo(1, 6);
      held++;
    }
    expect(held).toBeGreaterThan(100);
    const aside = { ...ball, positions: ball.positions.map((x, i) => (i % 3 === 0 ? x + 100 : x)) };
    expect(() => hold(aside, 'mirror')).toThrow('opposite');
  });

  it('turned they keep their angle to the axis, and come back', () => {
    const turned = hold(cylinder, 'turn', { direction: [0, 2, 0], degrees: 30 });
    const back = hold(turned, 'turn', { direction: [0, 2, 0], degrees: -30 });
    for (const c of corners(cylinder)) {
      const [own, now] = [at(cylinder, c), at(turned, c)];
      expect(now[1]).toBeCloseTo(own[1], 6);
      const flat = (n: Vec3): Vec3 => unit([n[0], 0, n[2]]);
      if (Math.abs(own[1]) < 0.9) expect(dot(flat(own), flat(now))).toBeCloseTo(Math.cos(Math.PI / 6), 5);
      expect(at(back, c)).toEqual(own.map((x) => expect.closeTo(x, 5)));
    }
  });
});

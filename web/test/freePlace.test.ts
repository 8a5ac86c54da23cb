import { Box3, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { CameraRig } from '../src/viewport/CameraRig';
import { freePlace, type Rect } from '../src/viewport/freePlace';

const square: Array<[number, number]> = [
  [-100, -100],
  [100, -100],
  [100, 100],
  [-100, 100],
];
const size = { width: 800, height: 600 };
const bar = (left: number, top: number, right: number, bottom: number): Rect => ({
  left,
  top,
  right,
  bottom,
});

/** Whether a convex outline comes into a bar, by points all over the bar: nothing is shared with how places are found. */
function covered(outline: ReadonlyArray<readonly [number, number]>, r: Rect): boolean {
  for (let i = 0; i <= 60; i++)
    for (let j = 0; j <= 60; j++) {
      const x = r.left + ((r.right - r.left) * i) / 60;
      const y = r.top + ((r.bottom - r.top) * j) / 60;
      let around = 0;
      outline.forEach((p, k) => {
        const q = outline[(k + 1) % outline.length];
        around += Math.sign((q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0]));
      });
      if (Math.abs(around) === outline.length) return true;
    }
  return false;
}

describe('where an outline is free of bars', () => {
  it('stays in the middle where nothing is over it', () => {
    expect(freePlace(square, size, [bar(0, 0, 800, 60)])).toEqual({ x: 400, y: 300, scale: 1 });
  });

  it('goes beside what is over it, at its full size where there is room', () => {
    const over = bar(0, 350, 450, 600);
    const place = freePlace(square, size, [over]);
    expect(place.scale).toBe(1);
    expect(
      covered(
        square.map(([x, y]) => [x + place.x, y + place.y] as const),
        over,
      ),
    ).toBe(false);
  });

  it('stays in the middle for as little as a fifth of its size, and no more', () => {
    // A bar along the top leaves the middle so much: (300 − high − 10) of 100 pixels.
    for (const [high, middle] of [[200, true], [209, true], [211, false], [240, false]] as const) {
      const place = freePlace(square, size, [bar(0, 0, 800, high)]);
      expect([high, place.y === 300]).toEqual([high, middle]);
      expect(place.scale).toBeCloseTo(middle ? (290 - high) / 100 : 1, 9);
    }
  }); // prettier-ignore

  it('gets smaller where there is no room, and is never covered', () => {
    let seed = 5;
    const random = (to: number): number => (seed = (seed * 16807) % 2147483647) % to;
    for (let i = 0; i < 60; i++) {
      const bars = Array.from({ length: 1 + random(6) }, () => {
        const [left, top] = [random(700), random(500)];
        return bar(left, top, left + 40 + random(300), top + 20 + random(200));
      });
      const place = freePlace(square, size, bars);
      const outline = square.map(([x, y]) => [x * place.scale + place.x, y * place.scale + place.y] as const);
      expect([i, bars.some((b) => place.scale > 0 && covered(outline, b))]).toEqual([i, false]);
      for (const [x, y] of outline) expect(x >= 0 && x <= 800 && y >= 0 && y <= 600).toBe(true);
    }
  });
});

describe('a camera that brings a box into view', () => {
  const box = new Box3(new Vector3(-50, 0, -50), new Vector3(50, 100, 50));
  const seen = (rig: CameraRig): Array<[number, number]> =>
    [0, 1, 2, 3, 4, 5, 6, 7].map((k) => {
      const p = new Vector3(
        k & 1 ? box.max.x : box.min.x,
        k & 2 ? box.max.y : box.min.y,
        k & 4 ? box.max.z : box.min.z,
      ).project(rig.camera);
      return [((p.x + 1) / 2) * 790, ((1 - p.y) / 2) * 686];
    });

  for (const parallel of [false, true])
    it(`keeps it clear of bars${parallel ? ', seen in parallel' : ''}`, () => {
      const rig = new CameraRig();
      rig.parallel = parallel;
      rig.resize(790, 686);
      const tray = bar(0, 500, 420, 640);
      const top = bar(0, 0, 790, 80);
      rig.frame(box, { bars: [tray, top] });
      const at = seen(rig);
      for (const [x, y] of at) {
        expect(x > 0 && x < 790 && y > 80 && y < 686).toBe(true);
        expect(x < 420 && y > 500).toBe(false);
      }
      // Hit tests agree with the picture.
      const target = rig.target.clone().project(rig.camera);
      expect(rig.ray(new Vector3(target.x, target.y, 0) as never).distanceToPoint(rig.target)).toBeLessThan(
        1e-3,
      );
      const [x, y] = rig.seenAt;
      expect((target.x * 790) / 2).toBeCloseTo(x, 6);
      expect((-target.y * 686) / 2).toBeCloseTo(y, 6);
    });

  it('fits the whole view where bars leave hardly any of it', () => {
    const rig = new CameraRig();
    rig.resize(790, 686);
    rig.frame(box);
    const before = rig.distance;
    rig.frame(box, { bars: [bar(0, 100, 790, 600)] });
    expect(rig.distance).toBe(before);
    expect(rig.seenAt).toEqual([0, 0]);
  });
});

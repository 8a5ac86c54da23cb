/** Elements inside an outline on the screen, against casting a line of sight to every one. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { faceNormal } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { applyMatrix, invert, multiply, transformMatrix, type Matrix } from '../src/mesh/transform';
import { addScaled, dot, sub, unit, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive } from '../src/primitives';
import { insideOutline, type Look, type ScreenOutline } from '../src/select/inside';
import { middleOf } from '../src/select/measure';
import { treeOf } from '../src/spatial/TriangleTree';

const [width, height] = [800, 600];
const whole: ScreenOutline = [[0, 0], [width, 0], [width, height], [0, height]]; // prettier-ignore
/** The eye turned about the origin, so far off. */
function looking(turn: Vec3, far: number, parallel: boolean): Look {
  const turned = transformMatrix({ move: [0, 0, 0], turn, size: [1, 1, 1] });
  const back: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, -far, 1];
  return { toEye: multiply(back, turned), scale: parallel ? 8 : 900, parallel, width, height };
}
const box = buildPrimitive({ primitive: 'box', width: 20, height: 20, depth: 20, segments: [2, 2, 2] });
const ball = buildPrimitive({ primitive: 'quadSphere', radius: 14, divisions: 6 });
const ring = buildPrimitive({ primitive: 'torus', radius: 16, tubeRadius: 5, sides: 24, tubeSides: 12 });

/**
 * Whether a face's middle is turned to the eye and nothing hides it, by lines of sight to it and a pixel beside it;
 * null where these disagree, or it is almost edge-on: there a pixel decides.
 */
function isSeen(mesh: PolyMesh, face: number, look: Look): boolean | null {
  const back = invert(look.toEye as Matrix);
  const eye = applyMatrix(back, [0, 0, 0]);
  const [right, up, axis] = [[1, 0, 0], [0, 1, 0], [0, 0, 1]].map((d) => sub(applyMatrix(back, d as Vec3), eye)); // prettier-ignore
  const middle = middleOf(mesh, 'face', face);
  const depth = -applyMatrix(look.toEye as Matrix, middle)[2];
  const pixel = 1.5 * (look.parallel ? 1 / look.scale : depth / look.scale);
  const way = look.parallel ? axis : unit(sub(eye, middle));
  const cos = dot(faceNormal(mesh, face), way);
  if (Math.abs(cos) < 0.2) return null;
  if (cos < 0) return false;
  const hidden = [1.5, 6].flatMap((ahead) =>
    [[0, 0], [1, 0], [-1, 0], [0, 1], [0, -1]].map(([a, b]) => {
      const at = addScaled(addScaled(addScaled(middle, right, a * pixel), up, b * pixel), way, ahead * pixel);
      return treeOf(mesh).meets(at, way) !== null;
    }),
  ); // prettier-ignore
  return hidden.every((h) => h === hidden[0]) ? !hidden[0] : null;
}

describe('inside an outline', () => {
  it('through the depth everything counts whose middle is drawn in it', () => {
    const look = looking([0, 0, 0], 100, true);
    expect(insideOutline(box, 'face', whole, look, true).indices).toHaveLength(24);
    expect(insideOutline(box, 'vertex', whole, look, true).indices).toHaveLength(26);
    // The right half: x > 0. Nine points of that side in all.
    const half: ScreenOutline = [[width / 2 + 20, 0], [width, 0], [width, height], [width / 2 + 20, height]]; // prettier-ignore
    expect(insideOutline(box, 'vertex', half, look, true).indices).toHaveLength(9);
  });

  it('on the surface only what is turned to the eye and not hidden', () => {
    const look = looking([0, 0, 0], 100, true);
    // From the front: four faces, nine points, twelve edges.
    expect(insideOutline(box, 'face', whole, look, false).indices).toHaveLength(4);
    expect(insideOutline(box, 'vertex', whole, look, false).indices).toHaveLength(9);
    expect(insideOutline(box, 'edge', whole, look, false).indices).toHaveLength(12);
    const front = insideOutline(box, 'face', whole, look, false).indices;
    expect(front.every((f) => faceNormal(box, f)[2] === 1)).toBe(true);
  });

  it('of a mirrored piece, what is turned to the eye in the mirror', () => {
    const look = looking([0, 0, 0], 100, true);
    const mirror: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1];
    const seen = insideOutline(
      box,
      'face',
      whole,
      { ...look, toEye: multiply(look.toEye as Matrix, mirror) },
      false,
    );
    expect(seen.indices.every((f) => faceNormal(box, f)[2] === -1)).toBe(true);
    expect(seen.indices).toHaveLength(4);
  });

  it('agrees with lines of sight from any side, in perspective too', () => {
    fc.assert(
      fc.property(
        fc.nat(2),
        fc.tuple(fc.integer({ min: -180, max: 180 }), fc.integer({ min: -180, max: 180 }), fc.constant(0)),
        fc.boolean(),
        (shape, turn, parallel) => {
          const mesh = [box, ball, ring][shape];
          const look = looking(turn as Vec3, 90, parallel);
          const found = new Set(insideOutline(mesh, 'face', whole, look, false).indices);
          let certain = 0;
          for (let f = 0; f < faceCount(mesh); f++) {
            const seen = isSeen(mesh, f, look);
            if (seen === null) continue;
            certain++;
            expect([f, found.has(f)]).toEqual([f, seen]);
          }
          expect(certain).toBeGreaterThan(faceCount(mesh) / 4);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('inside a lasso that is not convex, and not behind the eye', () => {
    const look = looking([0, 0, 0], 100, true);
    const ell: ScreenOutline = [[0, 0], [width, 0], [width, 290], [390, 290], [390, height], [0, height]]; // prettier-ignore
    // The lower right field stays out.
    expect(insideOutline(box, 'face', ell, look, false).indices).toHaveLength(3);
    expect(insideOutline(box, 'face', whole, looking([0, 0, 0], -100, false), true).indices).toEqual([]);
  });
});

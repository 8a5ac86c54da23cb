/**
 * Skerry Light, machine room: the junction box. A hollow case with glands in both ends, vents in its back, a name plate in
 * its front and bosses for the screws; the lid is what one of the cuts takes out, with clearance. Cutters are anchored:
 * change a dimension of the case, and they stay where a drawing would have them.
 */
import type { Piece } from '@urnsmith/core/document/schema';
import type { Step } from '@urnsmith/core/steps/index';
import { AnchorsOn } from './anchor';

type Vec = [number, number, number];

const CASE = '#7d8f8b';
const LID = '#b9c2b6';

const [WIDTH, HEIGHT, DEPTH] = [140, 56, 100];
/** Of the case under its lid. */
const DECK = HEIGHT / 2 - 12;

const cutter = (
  id: string,
  name: string,
  base: Piece['base'],
  move: Vec,
  more: Partial<Piece> = {},
): Piece => ({
  id,
  name,
  role: 'cutter',
  parent: 'case',
  base,
  ...more,
  transform: { move, ...more.transform },
});
const cylinder = (radius: number, height: number, sides = 32): Piece['base'] => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});
const box = (width: number, height: number, depth: number): Piece['base'] => ({
  primitive: 'box',
  width,
  height,
  depth,
});
const cut = (
  id: string,
  name: string,
  mode: 'subtract' | 'union' | 'recess' | 'raise',
  cutters: string[],
  thickness?: number,
): Step => ({
  kind: 'cut',
  id,
  name,
  mode,
  cutters,
  ...(thickness !== undefined && { thickness }),
});
/** In the lane of cuts, so that what is cut after it stays sharp. */
const rounded = (
  id: string,
  name: string,
  scope: { rule: 'rims' } | { rule: 'sharp'; angle: number },
  width: number,
  segments: number,
): Step => ({ kind: 'bevel', id, name, scope, width, segments, profile: 1, clamp: true, pin: 'Cut' });

const shell: Piece = {
  id: 'case',
  name: 'Junction box',
  color: CASE,
  base: box(WIDTH, HEIGHT, DEPTH),
  transform: { move: [0, HEIGHT / 2, 0] },
  steps: [
    rounded('s1', 'Corners', { rule: 'sharp', angle: 40 }, 2.5, 3),
    cut('s2', 'Hollow', 'subtract', ['hollow']),
    cut('s3', 'Bosses', 'union', ['boss1', 'boss2', 'boss3', 'boss4']),
    cut('s4', 'Lid', 'subtract', ['slice']),
    cut('s5', 'Openings', 'subtract', ['gland1', 'gland2', 'vent', 'bore1', 'bore2', 'bore3', 'bore4']),
    cut('s6', 'Name plate', 'recess', ['plate'], 1.5),
    rounded('s7', 'Rims', { rule: 'rims' }, 0.6, 2),
    cut('s8', 'Name', 'raise', ['name'], 0.8),
    { kind: 'normals', id: 's9', weight: 'built', hardAngle: 30 },
  ],
};

/** A screw in each corner, held by its distances from two sides. */
function screws(on: AnchorsOn): Piece[] {
  const sides: Array<[number, number]> = [[1, 1], [1, -1], [-1, -1], [-1, 1]]; // prettier-ignore
  return sides.flatMap(([x, z], i) => {
    const at = (y: number): Vec => [x * (WIDTH / 2 - 12), y, z * (DEPTH / 2 - 12)];
    const anchors = [
      on.hold('distance', [(x * WIDTH) / 2, 0, 0]),
      on.hold('distance', [0, 0, (z * DEPTH) / 2]),
    ];
    const boss = cutter(`boss${i + 1}`, `Boss ${i + 1}`, cylinder(7, HEIGHT - 4), at(0), { anchors });
    const bore = cutter(`bore${i + 1}`, `Screw hole ${i + 1}`, cylinder(2, 40, 16), at(DECK), { anchors });
    return [boss, bore];
  });
}

/** The whole junction box, live steps kept. */
export function junctionBox(): { pieces: Piece[] } {
  const on = new AnchorsOn(shell);
  const [end, front, bottom] = [
    [WIDTH / 2, 0, 0],
    [0, 0, DEPTH / 2],
    [0, -HEIGHT / 2, 0],
  ] as Vec[];
  const gland = (id: string, name: string, x: number): Piece =>
    cutter(id, name, cylinder(11, 20, 48), [x * (WIDTH / 2 + 8), -6, 0], {
      transform: { turn: [0, 0, -90 * x] },
      anchors: [
        on.hold('distance', [x * end[0], 0, 0]),
        on.hold('middle', front),
        on.hold('distance', bottom),
      ],
      reach: 'next',
    });
  /** Walls keep their thickness: the hollow is held to all of them. */
  const walls: Vec[] = [end, [-end[0], 0, 0], front, [0, 0, -front[2]], bottom];
  const pieces: Piece[] = [
    shell,
    cutter('hollow', 'Hollow', box(WIDTH - 10, HEIGHT - 17, DEPTH - 10), [0, -3.5, 0], { anchors: walls.map((p) => on.hold('distance', p)) }),
    cutter('slice', 'Lid slice', box(WIDTH + 20, 20, DEPTH + 20), [0, DECK + 10, 0]),
    ...screws(on),
    gland('gland1', 'Gland', 1),
    gland('gland2', 'Gland 2', -1),
    cutter('vent', 'Vents', { primitive: 'outline', contours: [[[-16, -1.5], [16, -1.5], [16, 1.5], [-16, 1.5]]], height: 16, corner: 1.5 }, [0, -6, -DEPTH / 2 - 4], {
      transform: { turn: [-90, 0, 0] },
      steps: [{ kind: 'repeat', id: 'v1', pattern: 'linear', count: 4, offset: [0, 0, 6] }],
      anchors: [on.hold('middle', end), on.hold('distance', [0, 0, -DEPTH / 2])],
    }),
    cutter('plate', 'Plate', { primitive: 'outline', contours: [[[-34, -9], [34, -9], [34, 9], [-34, 9]]], height: 6, corner: 3 }, [0, -4, DEPTH / 2], {
      transform: { turn: [90, 0, 0] },
      anchors: [on.hold('middle', end), on.hold('distance', front)],
    }),
    cutter('name', 'Name', { primitive: 'text', text: 'SKERRY 24 V', size: 7, height: 6, spacing: 0.3 }, [0, -4, DEPTH / 2], {
      transform: { turn: [90, 0, 0] },
      anchors: [on.hold('middle', end), on.hold('distance', front)],
    }),
    {
      id: 'lid',
      name: 'Lid',
      parent: 'case',
      color: LID,
      base: { taken: 'case', step: 's4', clearance: 0.3 },
      transform: { move: [0, 26, 0] },
      steps: [
        cut('l1', 'Screw holes', 'subtract', ['hole1', 'hole2', 'hole3', 'hole4']),
        rounded('l3', 'Rims', { rule: 'rims' }, 0.5, 2),
        cut('l2', 'Bolt', 'raise', ['bolt'], 1.2),
        { kind: 'normals', id: 'l5', weight: 'built', hardAngle: 30 },
      ],
    },
    ...[[1, 1], [1, -1], [-1, -1], [-1, 1]].map(([x, z], i): Piece => ({
      id: `hole${i + 1}`,
      name: `Lid screw ${i + 1}`,
      role: 'cutter',
      parent: 'lid',
      base: i ? { twin: 'hole1' } : cylinder(2.6, 40, 24),
      transform: { move: [x * (WIDTH / 2 - 12), DECK + 6, z * (DEPTH / 2 - 12)] },
    })),
    {
      id: 'bolt',
      name: 'Bolt sign',
      role: 'cutter',
      parent: 'lid',
      base: { primitive: 'outline', contours: [[[3, 20], [-11, -3], [-1, -3], [-5, -20], [11, 4], [1, 4], [7, 20]]], height: 10 },
      transform: { move: [0, HEIGHT / 2, 0] },
    },
  ]; // prettier-ignore
  return { pieces };
}

/**
 * Skerry Light, signal lantern: the lamp house. A fine drum on its gallery, round windows through the wall, two flues that
 * cross in it, a cone roof with its vent; every rim rounded.
 */
import { withCuttersNested } from '@urnsmith/core/document/belonging';
import type { Piece } from '@urnsmith/core/document/schema';

type Vec = [number, number, number];

const PAINT = '#b9c2b6';
const SIDES = 96;

const cylinder = (radius: number, height: number, sides: number): Piece['base'] => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});

const cutter = (id: string, name: string, base: Piece['base'], move: Vec, turn?: Vec): Piece => ({
  id,
  name,
  role: 'cutter',
  parent: 'house',
  base,
  transform: { move, ...(turn && { turn }) },
});

/** A bore right through the house at a height, turned about its axis. */
const through = (id: string, name: string, radius: number, length: number, height: number, turn: number) =>
  cutter(id, name, cylinder(radius, length, 32), [0, height, 0], [0, turn, 90]);

const WINDOWS = [0, 60, 120].map((turn, i) =>
  through(`window${i + 1}`, `Window ${i + 1}`, 19, 150, 84, turn),
);

const FLUES = [30, 100].flatMap((turn, i) => [
  through(`flue${i + 1}`, `Flue ${i + 1}`, 13, 156, 30 + 6 * i, turn),
  through(`bore${i + 1}`, `Flue bore ${i + 1}`, 8, 170, 30 + 6 * i, turn),
]);

const outer = [
  cutter('gallery', 'Gallery', cylinder(74, 9, SIDES), [0, 4.5, 0]),
  cutter('roof', 'Roof', { primitive: 'cone', bottomRadius: 68, topRadius: 15, height: 34, sides: SIDES }, [0, 137, 0]), // prettier-ignore
  cutter('vent', 'Vent', { primitive: 'sphere', radius: 17, sides: 48, rings: 24 }, [0, 158, 0]),
  ...FLUES.filter((p) => p.id.startsWith('flue')),
];
const inner = [
  cutter('room', 'Lamp room', cylinder(50, 106, SIDES), [0, 64, 0]),
  ...WINDOWS,
  ...FLUES.filter((p) => p.id.startsWith('bore')),
];

const ids = (pieces: Piece[]): string[] => pieces.map((p) => p.id);

/** The whole lamp house, live steps kept. */
export function lantern(): { pieces: Piece[] } {
  const house: Piece = {
    id: 'house',
    name: 'Lamp house',
    color: PAINT,
    base: cylinder(58, 120, SIDES),
    transform: { move: [0, 60, 0] },
    steps: [
      { kind: 'cut', id: 's1', name: 'Outside', mode: 'union', cutters: ids(outer) },
      { kind: 'cut', id: 's2', name: 'Openings', mode: 'subtract', cutters: ids(inner) },
      { kind: 'bevel', id: 's3', scope: { rule: 'rims' }, width: 1.5, segments: 3, profile: 1, clamp: true },
      { kind: 'bevel', id: 's4', name: 'Edges', scope: { rule: 'sharp', angle: 40 }, width: 1, segments: 2, profile: 1, clamp: true }, // prettier-ignore
      { kind: 'normals', id: 's5', weight: 'built', hardAngle: 30 },
    ],
  };
  // Cutters stand in the frame of what they cut.
  const seated = [...outer, ...inner].map((p) => ({
    ...p,
    transform: { ...p.transform, move: [p.transform!.move![0], p.transform!.move![1] - 60, 0] as Vec },
  }));
  return { pieces: withCuttersNested([house, ...seated]) };
}

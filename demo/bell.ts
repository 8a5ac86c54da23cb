/**
 * Skerry Light, fog horn: its bell, a cone bored to a shell, and the maker's plate laid on its curve. The plate is a sheet
 * drawn onto the wall and thickened; its face takes its shading from the bell, so the two look like one surface.
 */
import type { Piece } from '@urnsmith/core/document/schema';
import { invert, transformMatrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import type { Primitive } from '@urnsmith/core/primitives/index';
import { ByHand } from './byHand';

const RED = '#9c4a3a';
const BRASS = '#b79f66';
const HEIGHT = 240;
const [MOUTH, THROAT] = [150, 70];
const WALL = 6;
/** How far the wall leans, degrees. */
const LEAN = (Math.atan2(MOUTH - THROAT, HEIGHT) * 180) / Math.PI;

const outside: Primitive = {
  primitive: 'cone',
  bottomRadius: MOUTH,
  topRadius: THROAT,
  height: HEIGHT,
  sides: 96,
};

/** Half-way up the wall, square to it, a little off it. */
const plateAt = { move: [0, 0, (MOUTH + THROAT) / 2 + 4] as Vec3, turn: [90 - LEAN, 0, 0] as Vec3 };

function plate(): Piece[] {
  const base: Primitive = { primitive: 'plane', width: 92, depth: 44, segments: [24, 8] };
  const place = invert(transformMatrix({ ...plateAt, size: [1, 1, 1] }));
  const sheet = new ByHand(base);
  sheet
    .act(
      'transform',
      { surface: { base: outside, place: [...place] }, lay: 'along', direction: [0, 1, 0] },
      { rule: 'all', of: 'points' },
    )
    .act('thicken', { thickness: 4, side: 1 }, { rule: 'all', of: 'faces' });
  const rivet = (k: number): Piece => ({
    id: `rivet-${k + 1}`,
    name: `Rivet hole ${k + 1}`,
    role: 'cutter',
    parent: 'plate',
    base: { primitive: 'cylinder', radius: 2.4, height: 40, sides: 24 },
    transform: { move: [k % 2 ? 39 : -39, 0, k < 2 ? 16 : -16] },
  });
  const rivets = [0, 1, 2, 3].map(rivet);
  return [
    {
      id: 'plate',
      name: "Maker's plate",
      parent: 'bell',
      color: BRASS,
      base,
      transform: plateAt,
      actions: sheet.actions,
      // The rims of both faces, all round.
      selections: { border: sheet.edges(60) },
      steps: [
        { kind: 'cut', id: 's1', name: 'Lettering', mode: 'recess', thickness: 0.6, nearest: true, cutters: ['name'] }, // prettier-ignore
        { kind: 'cut', id: 's2', name: 'Rivet holes', mode: 'subtract', cutters: rivets.map((p) => p.id) },
        { kind: 'bevel', id: 's3', name: 'Border', scope: { rule: 'kept', name: 'border' }, width: 0.5, segments: 2, profile: 1, clamp: true }, // prettier-ignore
        { kind: 'normals', id: 's4', weight: 'built', hardAngle: 30 },
        { kind: 'cast', id: 's5', from: 'bell', way: 'nearest', reach: 8, turn: 10 },
      ],
    },
    ...rivets,
    {
      id: 'name',
      name: 'Name',
      role: 'cutter',
      parent: 'plate',
      base: { primitive: 'text', text: 'SKERRY 2', size: 13, height: 40, spacing: 0.6 },
      transform: { move: [0, 0, 0] },
    },
  ];
}

/** The bell with its mouth to the sea, live steps kept. */
export function bell(): { pieces: Piece[] } {
  const horn: Piece = {
    id: 'bell',
    name: 'Bell',
    color: RED,
    base: outside,
    transform: { move: [0, MOUTH + 20, 0], turn: [0, 0, 0] },
    steps: [
      { kind: 'cut', id: 's1', name: 'Rim and neck', mode: 'union', cutters: ['rim', 'neck'] },
      { kind: 'cut', id: 's2', name: 'Hollow', mode: 'subtract', cutters: ['hollow', 'bore'] },
      { kind: 'bevel', id: 's3', name: 'Edges', scope: { rule: 'sharp', angle: 40 }, width: 1.5, segments: 2, profile: 1, clamp: true }, // prettier-ignore
      { kind: 'normals', id: 's4', weight: 'built', hardAngle: 30 },
    ],
  };
  const part = (id: string, name: string, base: Primitive, y: number): Piece => ({
    id,
    name,
    role: 'cutter',
    parent: 'bell',
    base,
    transform: { move: [0, y, 0] },
  });
  return {
    pieces: [
      horn,
      part(
        'rim',
        'Rim',
        { primitive: 'cylinder', radius: MOUTH + 8, height: 16, sides: 96 },
        -HEIGHT / 2 + 4,
      ),
      part('neck', 'Neck', { primitive: 'cylinder', radius: 52, height: 60, sides: 96 }, HEIGHT / 2 + 20),
      part('hollow', 'Hollow', { primitive: 'cone', bottomRadius: MOUTH - WALL, topRadius: THROAT - WALL, height: HEIGHT, sides: 96 }, -WALL), // prettier-ignore
      part('bore', 'Bore', { primitive: 'cylinder', radius: 30, height: 400, sides: 48 }, 0),
      ...plate(),
    ],
  };
}

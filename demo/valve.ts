/**
 * Skerry Light, machine room: a valve on its plinth. The handwheel's hub, spokes and grips, and the chipped stone with
 * its cracks, are modelled by direct operations; cuts, rounding and normals stay live behind them.
 */
import type { Piece } from '@urnsmith/core/document/schema';
import type { Primitive } from '@urnsmith/core/primitives/index';
import { ByHand } from './byHand';

const BRASS = '#b79f66';
const IRON = '#8a4f3e';
const STONE = '#a8a79b';
const usual = { kind: 'normals' as const, weight: 'built' as const, hardAngle: 30 };

/** Hub with four spokes drawn out of its side, taken into the rim by a live union. */
function wheel(): Piece[] {
  const hubBase: Primitive = {
    primitive: 'cylinder',
    radius: 13,
    height: 26,
    sides: 12,
    rings: 3,
    caps: 'ngon',
  };
  const hub = new ByHand(hubBase);
  const everyThird = (x: number, z: number): boolean => {
    const turn = Math.round((Math.atan2(-z, x) / (2 * Math.PI)) * 12 - 0.5 + 12) % 12;
    return turn % 3 === 0;
  };
  hub
    .act(
      'inset',
      { by: 'each', thickness: 1 },
      hub.faces(([x, y, z], n) => Math.abs(y) < 2 && Math.abs(n[1]) < 0.1 && everyThird(x, z)),
    )
    .act('extrude', { by: 'each', distance: 30 })
    .act('transform', { about: 'each', size: [0.8, 0.7, 0.8] })
    .act('extrude', { by: 'each', distance: 14 })
    // The boss: the upper lid set in and raised for the spindle's nut.
    .act(
      'inset',
      { thickness: 3 },
      hub.faces(([, y], n) => y > 12 && n[1] > 0.9),
    )
    .act('extrude', { distance: 4 });
  const rimBase: Primitive = { primitive: 'torus', radius: 62, tubeRadius: 7, sides: 32, tubeSides: 10 };
  const rim = new ByHand(rimBase);
  const outward = rim.faces(([x, , z], n) => {
    const r = Math.hypot(x, z);
    const turn = Math.round((Math.atan2(-z, x) / (2 * Math.PI)) * 32 - 0.5 + 32) % 32;
    return turn % 2 === 0 && (n[0] * x + n[2] * z) / r > 0.9;
  });
  // Grips for wet hands: every second facet of the outside sunk a little.
  rim.act('inset', { by: 'each', thickness: 1.2 }, outward).act('push', { distance: -1.4 });
  return [
    {
      id: 'wheel',
      name: 'Handwheel',
      parent: 'valve',
      color: IRON,
      base: hubBase,
      actions: hub.actions,
      transform: { move: [0, 118, 0] },
      steps: [
        { kind: 'cut', mode: 'union', cutters: ['rim'] },
        { kind: 'bevel', scope: { rule: 'rims' }, width: 0.8, segments: 2, profile: 1, clamp: true },
        usual,
      ],
    },
    {
      id: 'rim',
      name: 'Wheel rim',
      role: 'cutter',
      parent: 'valve',
      base: rimBase,
      actions: rim.actions,
      transform: { move: [0, 118, 0] },
    },
  ];
}

/** Spindle, gland and body: primitives under the wheel. */
function body(): Piece[] {
  const part = (id: string, name: string, base: Primitive, y: number, width: number): Piece => ({
    id,
    name,
    parent: 'valve',
    color: BRASS,
    base,
    transform: { move: [0, y, 0] },
    steps: [
      { kind: 'bevel', scope: { rule: 'sharp', angle: 40 }, width, segments: 2, profile: 1, clamp: true },
      usual,
    ],
  });
  return [
    part(
      'spindle',
      'Spindle',
      { primitive: 'cylinder', radius: 5, height: 70, sides: 24, rings: 1, caps: 'ngon' },
      92,
      0.6,
    ),
    part(
      'gland',
      'Gland',
      { primitive: 'cone', bottomRadius: 22, topRadius: 12, height: 26, sides: 8 },
      53,
      1,
    ),
    part(
      'flange',
      'Flange',
      { primitive: 'cylinder', radius: 34, height: 10, sides: 40, rings: 1, caps: 'ngon' },
      35,
      1.2,
    ),
  ];
}

/** A block of stone: cracks drawn on with the knife and pushed in, an edge worn down softly, corners chipped off. */
function plinth(): Piece {
  const base: Primitive = { primitive: 'box', width: 170, height: 60, depth: 120, segments: [6, 3, 4] };
  const stone = new ByHand(base);
  const crack = (line: Array<[number, number]>, width: number): Array<[number, number, number]> => {
    const above = line.map(([x, y], i): [number, number, number] => [
      x,
      y + (i === 0 ? 0 : width * (i + 1)),
      60,
    ]);
    const below = line
      .map(([x, y], i): [number, number, number] => [x + width * 0.4, y - (i === 0 ? 0 : width * i), 60])
      .slice(1);
    return [...above, ...below.reverse()];
  };
  const inside = (path: Array<[number, number, number]>, x: number, y: number): boolean => {
    let odd = false;
    for (let i = 0, j = path.length - 1; i < path.length; j = i++)
      if (
        path[i][1] > y !== path[j][1] > y &&
        x < ((path[j][0] - path[i][0]) * (y - path[i][1])) / (path[j][1] - path[i][1]) + path[i][0]
      )
        odd = !odd;
    return odd;
  };
  for (const [line, width] of [
    [
      [
        [-52, 21],
        [-40, 8],
        [-33, 3],
        [-21, -12],
      ],
      1.1,
    ],
    [
      [
        [36, -19],
        [45, -7],
        [58, 1],
        [63, 16],
      ],
      0.9,
    ],
  ] as Array<[Array<[number, number]>, number]>) {
    const path = crack(line, width);
    stone
      .act(
        'knife',
        { lines: [[...path, path[0]]], view: [0, 0, -1] },
        stone.faces((_, n) => n[2] > 0.9),
      )
      .act(
        'extrude',
        { distance: -4, passage: false },
        stone.faces(([x, y, z], n) => n[2] > 0.9 && z > 59 && inside(path, x, y)),
      );
  }
  // The front upper edge is worn where people lean on it.
  stone.act(
    'transform',
    { move: [0, -5, -4], reach: 45, falloff: 'smooth' },
    stone.points(([x, y, z]) => y > 29 && z > 59 && Math.abs(x + 28) < 1),
  );
  stone.act(
    'transform',
    { move: [0, -2, 3], reach: 40, falloff: 'dome' },
    stone.points(([x, y, z]) => y > 29 && z < -59 && Math.abs(x - 28) < 1),
  );
  const everywhere: { rule: 'all'; of: 'faces' } = { rule: 'all', of: 'faces' };
  for (const [point, normal] of [
    [
      [78, 24, 54],
      [1, 0.8, 0.9],
    ],
    [
      [-80, 22, -55],
      [-0.9, 0.7, -1],
    ],
    [
      [82, -24, -52],
      [1, -0.8, -0.6],
    ],
    [
      [-79, 26, 52],
      [-0.9, 1, 0.45],
    ],
  ] as const)
    stone.act('planeSlice', { point: [...point], normal: [...normal], keep: 'back', cap: true }, everywhere);
  return {
    id: 'plinth',
    name: 'Plinth',
    color: STONE,
    base,
    actions: stone.actions,
    steps: [
      { kind: 'cut', mode: 'subtract', cutters: ['seat'] },
      {
        kind: 'bevel',
        scope: { rule: 'sharp', angle: 40 },
        width: 0.7,
        segments: 2,
        profile: 1,
        clamp: true,
      },
      usual,
    ],
  };
}

export function valve(): { pieces: Piece[] } {
  return {
    pieces: [
      plinth(),
      {
        id: 'seat',
        name: 'Flange seat',
        role: 'cutter',
        base: { primitive: 'cylinder', radius: 36, height: 12, sides: 40, rings: 1, caps: 'ngon' },
        transform: { move: [0, 33, 0] },
      },
      { id: 'valve', name: 'Valve', base: { group: true } },
      ...body(),
      ...wheel(),
    ],
  };
}

/**
 * Skerry Light, machine room: the pressure hatch. A round door in a square frame with seat ring, bolt holes and
 * bolts, a handwheel on its boss, and hinge lugs. Laid out flat, front upward, and stood up by its group.
 */
import { withCuttersNested } from '@urnsmith/core/document/belonging';
import type { Piece } from '@urnsmith/core/document/schema';
import { circlePoint } from '@urnsmith/core/primitives/lathe';
import type { Step } from '@urnsmith/core/steps/index';
import type { Scope } from '@urnsmith/core/select/rules';

type Vec = [number, number, number];

const STEEL = '#8d9d99';
const PALE = '#c6c7bc';
const BRASS = '#b79f66';
const DARK = '#6c7b78';
const SEAL = '#4d5652';

const at = (move: Vec, turn?: Vec): Pick<Piece, 'transform'> => ({
  transform: turn ? { move, turn } : { move },
});

const cylinder = (radius: number, height: number, sides: number): Piece['base'] => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});

/** A bolt's head. Six sides of a cylinder would be shaded as one round wall; these are six flat ones. */
const HEXAGON: Piece['base'] = {
  primitive: 'outline',
  contours: [
    Array.from({ length: 6 }, (_, i): [number, number] => {
      const a = (i * Math.PI) / 3;
      return [Number((8.5 * Math.cos(a)).toFixed(6)), Number((8.5 * Math.sin(a)).toFixed(6))];
    }),
  ],
  height: 7,
};

const around = (count: number, radius: number, y: number, start = 0): Vec[] =>
  Array.from({ length: count }, (_, i) => {
    const [c, s] = circlePoint(2 * i + start, 2 * count);
    return [Math.round(radius * c * 1000) / 1000, y, Math.round(-radius * s * 1000) / 1000];
  });

const cutter = (
  id: string,
  name: string,
  base: Piece['base'],
  move: Vec,
  extra: Partial<Piece> = {},
): Piece => ({
  id,
  name,
  role: 'cutter',
  parent: 'hatch',
  base,
  ...at(move),
  ...extra,
});

const RIMS: Scope = { rule: 'rims' };
const sharp = (angle: number): Scope => ({ rule: 'sharp', angle });
const rounded = (id: string, scope: Scope, width: number, segments: number, name?: string): Step => ({
  kind: 'bevel',
  id,
  ...(name !== undefined && { name }),
  scope,
  width,
  segments,
  profile: 1,
  clamp: true,
});
const normals = (id: string): Step => ({ kind: 'normals', id, weight: 'built', hardAngle: 30 });

function frame(): Piece[] {
  const corners: Vec[] = [[-145, 0, -145], [145, 0, -145], [145, 0, 145], [-145, 0, 145]]; // prettier-ignore
  const holes = corners.map((move, i) =>
    cutter(`anchor${i + 1}`, `Anchor hole ${i + 1}`, cylinder(7, 60, 24), move),
  );
  return [
    {
      id: 'frame',
      name: 'Frame',
      parent: 'hatch',
      color: STEEL,
      base: { primitive: 'box', width: 330, height: 30, depth: 330, segments: [1, 1, 1] },
      steps: [
        { kind: 'cut', id: 's1', name: 'Opening', mode: 'subtract', cutters: ['opening', 'recess'] },
        { kind: 'cut', id: 's2', name: 'Anchor holes', mode: 'subtract', cutters: holes.map((h) => h.id) },
        rounded('s3', RIMS, 2, 3),
        rounded('s4', sharp(60), 5, 3, 'Outer'),
        normals('s5'),
      ],
    },
    cutter('opening', 'Opening', cylinder(112, 60, 64), [0, 0, 0]),
    cutter('recess', 'Seat recess', cylinder(132, 20, 64), [0, 15, 0]),
    ...holes,
    {
      id: 'seat',
      name: 'Seat ring',
      parent: 'hatch',
      color: SEAL,
      base: { primitive: 'tube', outerRadius: 129, innerRadius: 114, height: 6, sides: 64 },
      ...at([0, 8, 0]),
      steps: [rounded('s1', sharp(60), 1.5, 2)],
    },
  ];
}

function door(): Piece[] {
  return [
    {
      id: 'door',
      name: 'Door',
      parent: 'hatch',
      color: PALE,
      base: cylinder(127, 22, 64),
      ...at([0, 22, 0]),
      steps: [
        { kind: 'cut', id: 's1', mode: 'subtract', cutters: ['dish'] },
        { kind: 'cut', id: 's2', mode: 'union', cutters: ['boss'] },
        { kind: 'cut', id: 's3', name: 'Bolt holes', mode: 'subtract', cutters: ['bolt-hole'] },
        rounded('s4', RIMS, 1.5, 3),
        rounded('s5', sharp(60), 2, 3, 'Outer'),
        normals('s6'),
      ],
    },
    cutter('dish', 'Dish', cylinder(92, 20, 64), [0, 35, 0]),
    // The boss is a cutter with a build of its own: a keyway is cut into it first.
    cutter('boss', 'Boss', cylinder(30, 34, 48), [0, 34, 0], {
      steps: [{ kind: 'cut', id: 's1', mode: 'subtract', cutters: ['keyway'] }],
    }),
    cutter(
      'keyway',
      'Keyway',
      { primitive: 'box', width: 12, height: 16, depth: 80, segments: [1, 1, 1] },
      [0, 49, 0],
    ),
    // One cutter, repeated about the door's axis.
    cutter('bolt-hole', 'Bolt hole', cylinder(4.5, 60, 20), [0, 24, 0], {
      transform: { move: [0, 24, 0], turn: [0, 15, 0] },
      steps: [
        {
          kind: 'repeat',
          id: 's1',
          pattern: 'radial',
          count: 12,
          axis: 'y',
          angle: 360,
          radius: 112,
          about: 'piece',
        },
      ],
    }),
  ];
}

function bolts(): Piece[] {
  const group: Piece = { id: 'bolts', name: 'Bolts', parent: 'hatch', base: { group: true } };
  const heads = around(12, 112, 36.5, 1).map((move, i): Piece => ({
    id: `bolt${i + 1}`,
    name: `Bolt ${i + 1}`,
    parent: 'bolts',
    color: BRASS,
    base: HEXAGON,
    transform: { move, turn: [0, (i * 30 + 15) % 60, 0] },
    steps: [
      rounded('s1', { rule: 'all' }, 0.9, 2),
      { kind: 'normals', id: 's2', weight: 'built', hardAngle: 30 },
    ],
  }));
  return [group, ...heads];
}

function handwheel(): Piece[] {
  const group: Piece = { id: 'handwheel', name: 'Handwheel', parent: 'hatch', base: { group: true } };
  const spokes = [0, 60, 120].map((turn, i): Piece => ({
    id: `spoke${i + 1}`,
    name: `Spoke ${i + 1}`,
    role: 'cutter',
    parent: 'handwheel',
    base: cylinder(5, 124, 20),
    transform: { move: [0, 74, 0], turn: [90, 0, turn] },
  }));
  return [
    group,
    {
      id: 'rim',
      name: 'Wheel',
      parent: 'handwheel',
      color: BRASS,
      base: { primitive: 'torus', radius: 62, tubeRadius: 7.5, sides: 48, tubeSides: 20 },
      ...at([0, 74, 0]),
      steps: [
        {
          kind: 'cut',
          id: 's1',
          name: 'Spokes and hub',
          mode: 'union',
          cutters: [...spokes.map((s) => s.id), 'hub'],
        },
        rounded('s2', RIMS, 0.8, 2),
        normals('s3'),
      ],
    },
    ...spokes,
    {
      id: 'hub',
      name: 'Hub',
      role: 'cutter',
      parent: 'handwheel',
      base: cylinder(17, 30, 48),
      ...at([0, 70, 0]),
      steps: [rounded('s1', sharp(60), 3, 3)],
    },
  ];
}

/** Height of the hinge pin over the frame's middle: the strap just clears the door. */
const PIN_Y = 40.4;

function hinge(): Piece[] {
  const lugs = [-70, 70].flatMap((z, i): Piece[] => [
    {
      id: `lug${i + 1}`,
      name: `Hinge lug ${i + 1}`,
      parent: 'hatch',
      color: DARK,
      base: { primitive: 'box', width: 44, height: 34, depth: 30, segments: [1, 1, 1] },
      ...at([-148, PIN_Y - 17, z]),
      steps: [
        { kind: 'cut', id: 's1', mode: 'union', cutters: [`knuckle${i + 1}`] },
        { kind: 'cut', id: 's2', mode: 'subtract', cutters: [`pin-bore${i + 1}`] },
        rounded('s3', sharp(50), 1.8, 3),
        normals('s4'),
      ],
    },
    cutter(`knuckle${i + 1}`, `Knuckle ${i + 1}`, cylinder(17, 30, 40), [-148, PIN_Y, z], {
      transform: { move: [-148, PIN_Y, z], turn: [90, 0, 0] },
    }),
    cutter(`pin-bore${i + 1}`, `Pin bore ${i + 1}`, cylinder(8, 60, 32), [-148, PIN_Y, z], {
      transform: { move: [-148, PIN_Y, z], turn: [90, 0, 0] },
    }),
  ]);
  return [
    ...lugs,
    {
      id: 'pin',
      name: 'Hinge pin',
      parent: 'hatch',
      color: BRASS,
      base: cylinder(7.5, 190, 32),
      transform: { move: [-148, PIN_Y, 0], turn: [90, 0, 0] },
      steps: [rounded('s1', sharp(60), 1.5, 2), normals('s2')],
    },
    {
      id: 'strap',
      name: 'Hinge strap',
      parent: 'hatch',
      color: PALE,
      base: { primitive: 'box', width: 100, height: 8.4, depth: 74, segments: [1, 1, 1] },
      ...at([-104, PIN_Y - 3.1, 0]),
      steps: [
        { kind: 'cut', id: 's1', mode: 'union', cutters: ['strap-knuckle'] },
        { kind: 'cut', id: 's2', mode: 'subtract', cutters: ['strap-bore'] },
        rounded('s3', sharp(87), 0.38, 3),
        normals('s4'),
      ],
    },
    cutter('strap-knuckle', 'Strap knuckle', cylinder(14, 74, 40), [-148, PIN_Y, 0], {
      transform: { move: [-148, PIN_Y, 0], turn: [90, 0, 0] },
    }),
    cutter('strap-bore', 'Strap bore', cylinder(8, 120, 32), [-148, PIN_Y, 0], {
      transform: { move: [-148, PIN_Y, 0], turn: [90, 0, 0] },
    }),
  ];
}

/** The whole hatch, live steps kept. */
export function hatch(): { pieces: Piece[] } {
  const group: Piece = {
    id: 'hatch',
    name: 'Pressure hatch',
    base: { group: true },
    transform: { move: [0, 165, 0], turn: [90, 0, 0] },
  };
  const pieces = [group, ...frame(), ...door(), ...bolts(), ...handwheel(), ...hinge()];
  return { pieces: withCuttersNested(pieces) };
}

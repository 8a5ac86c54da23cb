/** Cost of roundings: by edge, flat and curved; against the adjacency of the mesh; on plates; on the demo door. */
import { performance } from 'node:perf_hooks';
import type { Piece } from '@urnsmith/core/document/schema';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { buildTopology, topologyOf } from '@urnsmith/core/mesh/Topology';
import { transformMatrix, transformMesh } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { bevel } from '@urnsmith/core/ops/bevel/bevel';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import { rimEdges } from '@urnsmith/core/select/edges';
import { cut } from '@urnsmith/core/solid/boolean';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { hatch } from '../demo/hatch';
import { compare, fresh, ms, ratio, row } from './report';

const cylinder = (radius: number, height: number, sides: number): Primitive => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});

function bored(host: Primitive, bores: Array<{ move: Vec3; turn: Vec3 }>): PolyMesh {
  const tool = buildPrimitive(cylinder(4, 200, 32));
  const cutters = bores.map((at, i) => ({
    mesh: transformMesh(tool, transformMatrix({ ...at, size: [1, 1, 1] })),
    name: 'bore',
    id: `c${i}`,
  }));
  return cut({ mesh: buildPrimitive(host), name: 'host' }, cutters, 'subtract').mesh;
}

/** A plate with as many holes, 12 mm apart in rows. */
function plate(holes: number): PolyMesh {
  const along = Math.ceil(Math.sqrt(holes));
  const rows = Math.ceil(holes / along);
  const bores = Array.from({ length: holes }, (_, i): { move: Vec3; turn: Vec3 } => ({
    move: [((i % along) - (along - 1) / 2) * 12, 0, (Math.floor(i / along) - (rows - 1) / 2) * 12],
    turn: [0, 0, 0],
  }));
  return bored({ primitive: 'box', width: along * 12, height: 10, depth: rows * 12 }, bores);
}

/** A fine cylinder with as many holes through its side, in a winding row. */
function mast(holes: number): PolyMesh {
  const bores = Array.from({ length: holes }, (_, i): { move: Vec3; turn: Vec3 } => ({
    move: [0, (i - (holes - 1) / 2) * 12, 0],
    turn: [0, 17 * i, 90],
  }));
  return bored(cylinder(25, holes * 12 + 4, 96), bores);
}

const rounds = (m: PolyMesh): number => (topologyOf(m).edgeCount > 20_000 ? 3 : 7);

function rims(): void {
  console.log('\nRims rounded by 1 mm in 2 segments (per edge level; curved at most 3 times flat)');
  row('edges, on', ['rounding', 'µs per edge', '÷ adjacency']);
  for (const [holes, bores] of [
    [2, 1],
    [16, 10],
    [156, 96],
  ])
    for (const [name, m] of [
      ['flat', plate(holes)],
      ['curved', mast(bores)],
    ] as const) {
      const edges = rimEdges(m);
      const [ours, adjacency] = compare(
        () => void bevel(fresh(m), edges, { width: 1, segments: 2 }),
        () => void buildTopology(m),
        rounds(m),
        2,
      );
      row(`${edges.length} ${name}`, [
        ms(ours),
        ((1000 * ours) / edges.length).toFixed(0),
        ratio(ours, adjacency),
      ]);
    }
}

function plates(): void {
  console.log('\nPlates with rounded holes');
  row('holes', ['rounding', 'ms per hole']);
  for (const holes of [16, 64, 256]) {
    const m = plate(holes);
    const edges = rimEdges(m);
    const [time] = compare(
      () => void bevel(fresh(m), edges, { width: 1, segments: 2 }),
      () => {},
      rounds(m),
      2,
    );
    row(String(holes), [ms(time), (time / holes).toFixed(1)]);
  }
}

function allEdges(): void {
  console.log('\nAll edges of a quad ball rounded by 0.1 mm');
  row('edges', ['rounding', 'µs per edge', '÷ adjacency']);
  for (const divisions of [9, 29]) {
    const ball = buildPrimitive({ primitive: 'quadSphere', radius: 50, divisions });
    const edges = Array.from({ length: topologyOf(ball).edgeCount }, (_, e) => e);
    const [ours, adjacency] = compare(
      () => void bevel(fresh(ball), edges, { width: 0.1, segments: 2 }),
      () => void buildTopology(ball),
      5,
      2,
    );
    row(String(edges.length), [ms(ours), ((1000 * ours) / edges.length).toFixed(0), ratio(ours, adjacency)]);
  }
}

/** Building the demo door, and moving its dish, by steps. */
function door(): void {
  const { pieces } = hatch();
  const none = (): never => {
    throw new Error('no file is used');
  };
  const start = (): Evaluator => {
    const e = new Evaluator({ blob: none, file: none });
    e.setPieces(pieces);
    return e;
  };
  const share = (kinds: string[], steps: ReadonlyArray<{ kind: string; ms: number }>): number =>
    steps.filter((s) => kinds.includes(s.kind)).reduce((sum, s) => sum + s.ms, 0);
  const warm = start();
  let at = 0;
  const parts: number[][] = [];
  const moved = (): void => {
    at += 0.01;
    const shifted = (p: Piece): Piece => {
      const [x, y, z] = p.transform?.move ?? [0, 0, 0];
      return { ...p, transform: { ...p.transform, move: [x, y + at, z] } };
    };
    warm.setPieces(pieces.map((p) => (p.id === 'dish' ? shifted(p) : p)));
    warm.build('door');
  };
  const whole = (): void => {
    const begin = performance.now();
    const { steps } = start().build('door');
    parts.push([performance.now() - begin, share(['cut'], steps), share(['bevel'], steps)]);
  };
  const [all, one] = compare(whole, moved, 9, 6);
  const [, cuts, rounding] = [0, 1, 2].map(
    (k) => parts.map((p) => p[k]).sort((x, y) => x - y)[parts.length >> 1],
  );
  console.log('\nThe demo door: 3 cuts of 14 cutters, 2 roundings of 3 segments, normals');
  row('', ['all', 'cuts', 'roundings', 'dish moved', 'of all']);
  row('door', [ms(all), ms(cuts), ms(rounding), ms(one), ratio(one, all)]);
}

export function roundings(): void {
  rims();
  plates();
  allEdges();
  door();
}

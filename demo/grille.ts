/** Skerry Light, fog horn: the grille of its bell, a plate with 700 holes. Each is a cutter of its own, a twin of the first. */
import type { Piece } from '@urnsmith/core/document/schema';

const HOLES = 700;
const PITCH = 9;
const DEEP = '#6c7b78';

/** The places of a honeycomb that are nearest to its middle, mm. */
function honeycomb(count: number): Array<[number, number]> {
  const reach = Math.ceil(Math.sqrt(count)) + 2;
  const all: Array<[number, number]> = [];
  for (let row = -reach; row <= reach; row++)
    for (let k = -reach; k <= reach; k++)
      all.push([(k + (row & 1) / 2) * PITCH, (row * PITCH * Math.sqrt(3)) / 2]);
  const far = ([x, z]: [number, number]): number => Math.round(1e6 * Math.hypot(x, z));
  return all.sort((a, b) => far(a) - far(b) || a[1] - b[1] || a[0] - b[0]).slice(0, count);
}

/** The whole grille, live steps kept. */
export function grille(): { pieces: Piece[] } {
  const holes = honeycomb(HOLES).map(([x, z], i): Piece => ({
    id: `h${i + 1}`,
    name: i ? `Hole ${i + 1}` : 'Hole',
    role: 'cutter',
    parent: 'grille',
    base: i ? { twin: 'h1' } : { primitive: 'cylinder', radius: 3.2, height: 12, sides: 12 },
    transform: { move: [Number(x.toFixed(4)), 0, Number(z.toFixed(4))] },
  }));
  const plate: Piece = {
    id: 'grille',
    name: 'Bell grille',
    color: DEEP,
    base: { primitive: 'cylinder', radius: 142, height: 5, sides: 96 },
    transform: { move: [0, 2.5, 0] },
    steps: [
      { kind: 'cut', id: 's1', name: 'Holes', mode: 'subtract', cutters: holes.map((p) => p.id) },
      { kind: 'bevel', id: 's2', name: 'Border', scope: { rule: 'sharp', angle: 60 }, width: 1, segments: 2, profile: 1, clamp: true, off: true }, // prettier-ignore
      { kind: 'normals', id: 's3', weight: 'built', hardAngle: 30 },
    ],
  };
  return { pieces: [plate, ...holes] };
}

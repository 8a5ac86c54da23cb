/**
 * Places where a rounding goes through itself, or where its faces fold to nothing: its profile is flattened there, and
 * where that does not help, its width is taken back.
 */
import { eachCrossing } from '../../inspect/selfCross';
import { facesWithoutArea } from '../../mesh/measure';
import { topologyOf, type Topology } from '../../mesh/Topology';
import { pointOf } from '../../mesh/vec3';
import type { Assembled } from './assemble';
import type { Grown } from './grown';
import type { Divided, Widths } from './widths';

export interface Knots {
  /** Vertices of the divided mesh whose corners and strips cross something, or have faces without area. */
  crossing: number[];
  /** Whether the mesh has come open somewhere. */
  open: boolean;
  /** Vertices beside openings. */
  torn: number[];
}

/**
 * @param folded size of the piece, mm, that faces without area are told by; null where there may be some
 * @param wasOpen whether an edge between two points of the divided mesh was open; null where that does not matter
 */
export function knotsOf(
  { mesh, shapedBy, own, made }: Assembled,
  folded: number | null,
  wasOpen: ((a: number, b: number) => boolean) | null,
): Knots {
  const t = topologyOf(mesh);
  const out = new Set<number>();
  const torn = new Set<number>();
  let open = false;
  for (let e = 0; wasOpen && e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.edgeUse[e] === 2 && t.twin[c] >= 0) continue;
    const [a, b] = [own[t.edges[2 * e]], own[t.edges[2 * e + 1]]];
    if (a >= 0 && b >= 0 && wasOpen(a, b)) continue;
    open = true;
    for (const v of around(t, t.edges[2 * e], shapedBy)) torn.add(v);
    for (const v of around(t, t.edges[2 * e + 1], shapedBy)) torn.add(v);
  }
  const facesOf = (e: number): number[] => {
    const c = t.cornerOfEdge[e];
    return t.twin[c] < 0 ? [t.faceOfCorner[c]] : [t.faceOfCorner[c], t.faceOfCorner[t.twin[c]]];
  };
  eachCrossing(
    mesh,
    (e, f) => {
      for (const x of [f, ...facesOf(e)]) for (const v of shapedBy[x]) out.add(v);
    },
    made,
  );
  if (folded !== null)
    for (const f of facesWithoutArea(mesh, folded)) if (made[f]) for (const v of shapedBy[f]) out.add(v);
  return { crossing: [...out], open, torn: [...torn] };
}

function around(t: Topology, v: number, shapedBy: Assembled['shapedBy']): number[] {
  const out: number[] = [];
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
    out.push(...shapedBy[t.faceOfCorner[t.vertexCorners[i]]]);
  return out;
}

/** The share of the bulge kept, round by round; in the last round a corner has no points inside either. */
const STEPS = [1, 0.5, 0, 0];
/** The share of a rounding's shape that is kept, by vertex of the divided mesh. */
export type Flattened = Pick<Grown, 'bulge' | 'plain'>;

/** How far the profile has been flattened at the vertices of the mesh that was given. */
export class Shapes {
  private readonly rounds = new Map<number, number>();

  of({ own }: Divided): Flattened {
    const rounds = Int32Array.from(own, (v) => this.rounds.get(v) ?? 0);
    return {
      bulge: Float64Array.from(rounds, (r: number) => STEPS[r]),
      plain: Uint8Array.from(rounds, (r: number) => Number(r === STEPS.length - 1)),
    };
  }

  /** Flattens the profile at vertices of the divided mesh. @returns whether it was not flat at all of them before */
  flatten({ own }: Divided, vertices: number[]): boolean {
    let flatter = false;
    for (const v of new Set(vertices.map((x) => own[x]))) {
      const round = v < 0 ? STEPS.length : (this.rounds.get(v) ?? 0) + 1;
      if (round >= STEPS.length) continue;
      this.rounds.set(v, round);
      flatter = true;
    }
    return flatter;
  }

  /** @param keeps share of the width that is kept at the vertex */
  narrow(d: Divided, vertex: number, widths: Widths, keeps: number): void {
    const t = topologyOf(d.mesh);
    const at = pointOf(d.mesh.positions, vertex);
    for (let i = t.vertexStart[vertex]; i < t.vertexStart[vertex + 1]; i++) {
      const e = t.edgeOfCorner[t.vertexCorners[i]];
      if (d.rounded[e]) widths.limit(d.edgeOf[e], at, d.caps[vertex] * keeps, 'crossing');
    }
  }
}

/**
 * The outcome of each run of rounded edges: its least width, the share that has all of it, and where and why it
 * stopped.
 */
import { edgeLines } from '../../inspect/edgeLines';
import type { PolyMesh } from '../../mesh/PolyMesh';
import { topologyOf, type Topology } from '../../mesh/Topology';
import { TOLERANCE } from '../../mesh/tolerance';
import { distance, lerp, pointOf, type Vec3 } from '../../mesh/vec3';
import { DisjointSets } from '../../mesh/DisjointSets';
import { edgesOf, groupVertices } from './layOut';
import type { Divided, Why, Widths } from './widths';

/** Rounded edges that are connected. */
export interface BevelGroup {
  /** Of the mesh that was given. */
  edges: number[];
  /** The least width anywhere along them, mm. */
  reached: number;
  /** Share of their length that has the full width, 0…1. */
  full: number;
  /** Those of them that have no width anywhere. */
  sharp: number[];
  /** Places where they are narrower than asked. */
  stops: BevelStop[];
}

/** A stretch of rounded edges that is narrower than asked. */
export interface BevelStop {
  /** Of the mesh that was given. */
  edges: number[];
  /** The place where it is narrowest. */
  at: Vec3;
  /** The width there, mm. */
  width: number;
  why: Why;
  /** The stretch as it was before the rounding: six numbers per piece of it. */
  lines: Float64Array;
}

/** The share of the width that counts as all of it. */
const NEARLY = 0.99;

interface Grown {
  mesh: PolyMesh;
  t: Topology;
  rounded: Uint8Array;
  d: Divided;
  widths: Widths;
  /** The width, or the radius, that was asked for, mm. */
  asked: number;
  /** The share of it by which a rounding stops before it touches anything. */
  hair: number;
}

export function groupsOf({ mesh, t, rounded, d, widths, asked, hair }: Grown): BevelGroup[] {
  const { ofVertex, count } = groupVertices(mesh, t, rounded);
  const groups = Array.from({ length: count }, (): BevelGroup => ({
    edges: [],
    reached: asked,
    full: 0,
    sharp: [],
    stops: [],
  }));
  for (const e of edgesOf(rounded)) groups[ofVertex[t.edges[2 * e]]].edges.push(e);
  const groupOf = (e: number): BevelGroup => groups[ofVertex[t.edges[2 * d.edgeOf[e]]]];
  const { edges } = topologyOf(d.mesh);
  const point = (v: number): Vec3 => pointOf(d.mesh.positions, v);
  const share = d.caps.map((cap, v) => (d.due[v] > 0 ? cap / d.due[v] : 1));
  // The width stopped slightly before that place.
  const widthAt = (v: number): number => (share[v] > 0 ? asked * Math.min(1, share[v] + hair) : 0);
  const lengths = new Map<BevelGroup, number>();
  const short: number[] = [];
  const wide = new Set<number>();
  for (const e of edgesOf(d.rounded)) {
    const g = groupOf(e);
    const [a, b] = [edges[2 * e], edges[2 * e + 1]];
    const length = distance(point(a), point(b));
    const [low, high] = [Math.min(share[a], share[b]), Math.max(share[a], share[b])];
    if (high > 0) wide.add(d.edgeOf[e]);
    const full = low >= NEARLY ? 1 : high > NEARLY ? (high - NEARLY) / (high - low) : 0;
    g.reached = Math.min(g.reached, widthAt(share[a] < share[b] ? a : b));
    g.full += length * full;
    lengths.set(g, (lengths.get(g) ?? 0) + length);
    if (full < 1) short.push(e);
  }
  for (const [g, length] of lengths) g.full = length > 0 ? g.full / length : 1;

  const stretches = new DisjointSets(share.length);
  for (const e of short)
    if (share[edges[2 * e]] < NEARLY && share[edges[2 * e + 1]] < NEARLY)
      stretches.join(edges[2 * e], edges[2 * e + 1]);
  const parts = new Map<number, number[]>();
  for (const e of short) {
    const low = share[edges[2 * e]] < share[edges[2 * e + 1]] ? edges[2 * e] : edges[2 * e + 1];
    const part = stretches.find(low);
    const list = parts.get(part);
    if (list) list.push(e);
    else parts.set(part, [e]);
  }
  for (const list of parts.values()) {
    const ends = list.flatMap((e) => [edges[2 * e], edges[2 * e + 1]]);
    const narrowest = ends.reduce((v, w) => (share[w] < share[v] ? w : v));
    const own = [...new Set(list.map((e) => d.edgeOf[e]))];
    groupOf(list[0]).stops.push({
      edges: own,
      at: point(narrowest),
      width: widthAt(narrowest),
      why: widths.whyOf(own) ?? 'strip',
      lines: Float64Array.from(
        list.flatMap((e) => {
          const [v, w] = [edges[2 * e], edges[2 * e + 1]];
          const upTo = (from: number, to: number): Vec3 =>
            share[from] < NEARLY
              ? point(from)
              : lerp(point(from), point(to), (share[from] - NEARLY) / (share[from] - share[to]));
          return [...upTo(v, w), ...upTo(w, v)];
        }),
      ),
    });
  }
  for (const g of groups) {
    g.sharp = g.edges.filter((e) => !wide.has(e));
    g.stops.sort((p, q) => p.width - q.width);
  }
  return groups;
}

/** A run that is left sharp, since even with no width it is in the way. */
export function notRounded(mesh: PolyMesh, t: Topology, edges: number[]): BevelGroup {
  const at = pointOf(mesh.positions, t.edges[2 * edges[0]]);
  const stop: BevelStop = { edges, at, width: 0, why: 'room', lines: edgeLines(mesh, edges) };
  return { edges, reached: 0, full: 0, sharp: edges, stops: [stop] };
}

/** Groups that are not as wide as asked everywhere. */
export const stoppedOf = (groups: ReadonlyArray<BevelGroup>, width: number): BevelGroup[] =>
  groups.filter((g) => g.reached < width * (1 - TOLERANCE.bevelEvent));

/** Least width any of them reached; the width asked for where there are none. */
export const leastWidth = (groups: ReadonlyArray<BevelGroup>, width: number): number =>
  groups.reduce((least, g) => Math.min(least, g.reached), width);

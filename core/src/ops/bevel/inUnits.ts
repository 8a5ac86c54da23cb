/** Rounds edges in clusters that do not get in each other's way, and puts together what became of them. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { sizeOf } from '../../mesh/measure';
import type { Topology } from '../../mesh/Topology';
import { add } from '../../mesh/vec3';
import { keepManifold } from '../../mesh/makeManifold';
import { DisjointSets } from '../../mesh/DisjointSets';
import { partOf as stretch, type Watch } from '../../watch';
import { clustersOf, joinNear, joinWithin, type Cluster } from './clusters';
import { Composition, type Conflict, type Grown } from './compose';
import { demandOf } from './demand';
import type { BevelGroup } from './groups';
import { growUnit } from './keptShape';
import { edgesOf, speedOf } from './layOut';
import { meshOf } from './layers';
import type { BevelOptions } from './options';
import { Outlines } from './outlines';
import { softEdges } from './sheets';
import { Unit } from './Unit';
import { unitMesh } from './unitMesh';
import type { UnitCache } from './UnitCache';

export interface RoundedMesh {
  made: PolyMesh;
  groups: BevelGroup[];
  consumedSides: number;
}

export function inUnits(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
  o: BevelOptions,
  cache: UnitCache,
  watch: Watch,
): RoundedMesh {
  const outlines = new Outlines(mesh, t);
  const whole = { mesh, t, outlines, size: inSteps(sizeOf(mesh)) };
  const speed = speedOf(mesh);
  const edges = [...edgesOf(rounded)];
  const fastest = edges.reduce((most, e) => Math.max(most, speed(e)), 1);
  const width = demandOf(mesh, t, rounded, o).width * fastest;
  const ground = { mesh, t, outlines, rounded, soft: softEdges(mesh, t, rounded, o.follow), width };
  const sets = new DisjointSets(t.edgeCount);
  joinNear(ground, sets);
  /** Regions that could not be put together from parts: units have them whole. */
  const kept = new Set<number>();
  /** Regions whose outlines cannot be divided anew. */
  const rigid = new Set<number>();
  const grownUnit = (c: Cluster, part: Watch): Grown | null => {
    const unit = new Unit(whole, c, width, rigid);
    const key = keyOf(unit, o);
    const known = cache.get(key);
    if (known) return { unit, kept: known };
    const built = unitMesh(unit);
    if ('undividable' in built) {
      rigid.add(built.undividable);
      return null;
    }
    const grown = growUnit(unit, built, o, whole.size, part);
    cache.put(key, grown);
    return { unit, kept: grown };
  };
  // Each time round, edges become one unit or a region is taken whole or as it is: this ends.
  for (;;) {
    const clusters = clustersOf(ground, sets).map((c) => withWhole(c, outlines, kept));
    const units: Grown[] = [];
    for (const c of clusters) {
      const part = stretch(watch, units.length / clusters.length, (units.length + 1) / clusters.length);
      const grown = grownUnit(c, part);
      if (!grown) break;
      units.push(grown);
    }
    if (units.length < clusters.length) continue;
    if (joinOverlapping(mesh, t, units, sets)) continue;
    const composition = new Composition(whole, units);
    if (joinConflicts(composition.conflicts(), units, sets)) continue;
    const composed = composition.run();
    if ('conflicts' in composed) {
      joinConflicts(composed.conflicts, units, sets);
      kept.add(composed.region);
      continue;
    }
    cache.endRun();
    return {
      made: keepManifold(meshOf(whole, composed), mesh),
      groups: units.flatMap(groupsOf).sort((a, b) => a.edges[0] - b.edges[0]),
      consumedSides: units.reduce((n, u) => n + u.kept.consumedSides, 0),
    };
  }
}

/** Steps of the size from one power of 2 to the next. */
const STEPS = 32;

/** The size that tolerances are measured by, in steps: a hand that changes it by a hair must not change all units. */
function inSteps(size: number): number {
  const step = 2 ** (Math.floor(Math.log2(size)) + 1) / (2 * STEPS);
  return Math.ceil(size / step) * step;
}

function withWhole(c: Cluster, outlines: Outlines, kept: ReadonlySet<number>): Cluster {
  const regions = new Set(c.outlines.map((o) => outlines.all[o].region));
  return { ...c, obstacles: [...c.obstacles, ...[...kept].filter((r) => regions.has(r))] };
}

function keyOf(unit: Unit, o: BevelOptions): Float64Array {
  const flags = [o.by === 'radius', o.follow === 'edges', o.mayFold].map(Number);
  const asked = [o.width, o.segments, o.profile, ...flags];
  const around = unit.key();
  const out = new Float64Array(asked.length + around.length);
  out.set(asked);
  out.set(around, asked.length);
  return out;
}

/** Joins units whose new faces may come to lie in each other. @returns whether there were any */
function joinOverlapping(mesh: PolyMesh, t: Topology, units: Grown[], sets: DisjointSets): boolean {
  const spread = new Map<number, number>();
  for (const { unit, kept } of units) for (const e of unit.edges) spread.set(e, kept.spread);
  const before = rootsOf(units, sets);
  const all = units.flatMap(({ unit }) => [...unit.edges]);
  joinWithin(mesh, t, all, (e) => 2 * spread.get(e)!, sets);
  return rootsOf(units, sets) < before;
}

function joinConflicts(conflicts: Conflict[], units: Grown[], sets: DisjointSets): boolean {
  for (const [a, b] of conflicts) sets.join(units[a].unit.edges[0], units[b].unit.edges[0]);
  return conflicts.length > 0;
}

const rootsOf = (units: Grown[], sets: DisjointSets): number =>
  new Set(units.map((u) => sets.find(u.unit.edges[0]))).size;

function groupsOf({ unit, kept }: Grown): BevelGroup[] {
  const edges = (slots: number[]): number[] => slots.map((s) => unit.edgeAt(s));
  return kept.groups.map((g) => ({
    ...g,
    edges: edges(g.edges),
    sharp: edges(g.sharp),
    stops: g.stops.map((s) => ({
      ...s,
      edges: edges(s.edges),
      at: add(unit.origin, s.at),
      lines: s.lines.map((x, i) => x + unit.origin[i % 3]),
    })),
  }));
}

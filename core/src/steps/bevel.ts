/** Round: the edges in scope take a profile. */
import { Type } from 'typebox';
import { bevel as bevelMesh } from '../ops/bevel/bevel';
import { edgeLines } from '../inspect/edgeLines';
import { warn } from '../mesh/errors';
import { UnitCache } from '../ops/bevel/UnitCache';
import { bevelPulls, stoppedEarly } from '../ops/bevelEdges';
import { facesBevelled } from '../ops/bounds';
import { refuseTooMany } from '../ops/operation';
import { defineStep, type Seen } from './define';
import { isFacetEdge } from '../select/edges';
import { withKept } from '../select/kept';
import { edgesInScope, ScopeSchema, type Scope } from '../select/rules';
import { selectionOf } from '../select/selection';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';

/** A rounding that takes longer while something before it is dragged waits until the hand rests, ms. */
const SLOW = 50;
/** A whole rounding takes so many times as long as one of which parts are kept. */
const WHOLE = 3;

/** Memory of a rounding's last run. */
interface Before {
  asked: string;
  /** How long it took the last time, ms. */
  took: number;
  /** Parts of an earlier result served it. */
  again: boolean;
  /** Results by cluster of edges. */
  cache: UnitCache;
}

/** Rims where there are some that no rounding takes yet; else what is still sharp. */
const takesRims = ({ hasRims, steps }: Pick<Seen, 'hasRims' | 'steps'>): boolean =>
  hasRims && !steps.some((s) => s.kind === 'bevel');
const scopeFor = (seen: Seen) => (takesRims(seen) ? ({ rule: 'rims' } as const) : SHARP);
const SHARP = { rule: 'sharp', angle: 30 } as const;
const OUTER = { rule: 'outer' } as const;
const CHAMFER = { segments: 1, profile: 0 };
/** A square profile keeps the edge, with a loop on either side. */
const LOOPS = { segments: 2, profile: 2 };

/** Names nobody can type, of the edges of two roundings that are run the other way round. */
const [OWN, OTHERS] = ['\nown', '\nothers'];

/** The edges a rounding takes: of a scope of all edges, those that a person would call one. */
function edgesOf(mesh: PolyMesh, { scope = SHARP }: { scope?: Scope }): ReadonlyArray<number> {
  const edges = edgesInScope(mesh, scope);
  if (scope.rule !== 'all') return edges;
  const t = topologyOf(mesh);
  return edges.filter((e) => !isFacetEdge(mesh, t, e));
}

/** Rules that pick the same of the edges there were after another rounding as before it. */
const STEADY: ReadonlySet<Scope['rule']> = new Set([
  'rims',
  'sharp',
  'outer',
  'all',
  'marked',
  'picked',
  'kept',
]);

/**
 * Whether edges end where a rounding runs through: one of them at a point, and two or more of the rounding's. Where the
 * rounding ends, the others go over its end, so they come after it.
 */
function endAtRuns(mesh: PolyMesh, own: ReadonlyArray<number>, others: ReadonlyArray<number>): boolean {
  const [through, ending] = [own, others].map((list) => countsAt(mesh, list));
  let some = false;
  for (const [v, n] of ending) {
    const runs = through.get(v) ?? 0;
    if (!runs) continue;
    if (n > 1 || runs < 2) return false;
    some = true;
  }
  return some;
}

/** Per point, how many of some edges end there. */
function countsAt(mesh: PolyMesh, edges: ReadonlyArray<number>): Map<number, number> {
  const t = topologyOf(mesh);
  const at = new Map<number, number>();
  for (const e of edges)
    for (const v of [t.edges[2 * e], t.edges[2 * e + 1]]) at.set(v, (at.get(v) ?? 0) + 1);
  return at;
}

export const bevel = defineStep({
  kind: 'bevel',
  title: 'Round',
  lane: 'Edge',
  example: { kind: 'bevel', scope: { rule: 'rims' }, width: 2, segments: 3 },
  params: {
    scope: Type.Optional(ScopeSchema),
    width: Type.Number({ title: 'Width', unit: 'mm', minimum: 0.001, maximum: 10000, default: 2 }),
    by: Type.Optional(
      Type.Union([Type.Literal('offset'), Type.Literal('radius')], { title: 'Width is', default: 'offset' }),
    ),
    segments: Type.Optional(
      Type.Integer({ title: 'Segments', unit: '', minimum: 1, maximum: 32, default: 3 }),
    ),
    profile: Type.Optional(Type.Number({ title: 'Profile', unit: '', minimum: -1, maximum: 2, default: 1 })),
    clamp: Type.Optional(Type.Boolean({ title: 'Stop where strips meet', default: true })),
  },
  fields: [
    { key: 'scope' },
    { key: 'width', perPixel: 0.1 },
    {
      key: 'by',
      wide: true,
      hints: {
        offset: 'The way the sides move into their faces',
        radius: 'The radius of the ball that would roll along the edges',
      },
    },
    { key: 'segments' },
    { key: 'profile', perPixel: 0.02, captions: ['−1 scoop', '0 flat', '1 round', '2 square'] },
    { key: 'clamp' },
  ],
  adds: [
    {
      id: 'round',
      title: 'Round edges',
      short: 'Round',
      words: 'bevel fillet chamfer soften',
      label: (seen) => (takesRims(seen) ? 'Round the rims' : 'Round sharp edges'),
      step: (seen) => ({
        kind: 'bevel',
        scope: scopeFor(seen),
        width: 2,
        segments: 3,
        profile: 1,
        clamp: true,
      }),
      ring: { piece: 1 },
      offers: ({ steps, hasRims }) =>
        steps.some((s) => s.kind === 'bevel')
          ? null
          : { text: hasRims ? 'Round the rims' : 'Round sharp edges', value: '2 mm' },
    },
    {
      id: 'round-outer',
      title: 'Round outer edges, not the rims',
      short: 'Outer edges',
      words: 'bevel fillet outside border silhouette',
      scoped: true,
      step: { kind: 'bevel', scope: OUTER, width: 2, segments: 3, profile: 1, clamp: true },
      offers: ({ steps, hasRims }) =>
        hasRims && !steps.some((s) => s.kind === 'bevel' && s.scope?.rule !== 'rims')
          ? { text: 'Round outer edges', value: '2 mm' }
          : null,
    },
    {
      id: 'round-both',
      title: 'Round rims and outer edges together',
      short: 'Rims and outer',
      words: 'bevel fillet all everything',
      scoped: true,
      step: {
        kind: 'bevel',
        scope: SHARP,
        width: 2,
        segments: 3,
        profile: 1,
        clamp: true,
      },
      offers: ({ steps, hasRims }) =>
        hasRims && !steps.some((s) => s.kind === 'bevel') ? { text: 'Round both', value: '2 mm' } : null,
    },
    {
      id: 'chamfer-live',
      title: 'Chamfer, live',
      words: 'bevel flat cut corner edges',
      label: (seen) => (takesRims(seen) ? 'Chamfer the rims' : 'Chamfer sharp edges'),
      step: (seen) => ({ kind: 'bevel', scope: scopeFor(seen), width: 1, ...CHAMFER }),
    },
    {
      id: 'loops-live',
      title: 'Support loops, live',
      words: 'holding edges control bevel subdivision',
      label: (seen) => (takesRims(seen) ? 'Loops beside the rims' : 'Loops beside sharp edges'),
      step: (seen) => ({ kind: 'bevel', scope: scopeFor(seen), width: 1, ...LOOPS }),
    },
  ],
  label({ scope, segments, profile }) {
    const rule = scope?.rule ?? 'sharp';
    const words: Record<string, string> = {
      rims: 'rims',
      outer: 'outer edges',
      all: 'all edges',
      picked: 'picked edges',
      made: 'made edges',
    };
    const outer = scope?.rule === 'sharp' && !scope.made && scope.rims === 'without';
    const on = outer ? words.outer : (words[rule] ?? 'sharp edges');
    const is = (like: { segments: number; profile: number }): boolean =>
      segments === like.segments && profile === like.profile;
    if (is(CHAMFER)) return `Chamfer, ${on}`;
    if (is(LOOPS)) return `Loops, ${on}`;
    return on[0].toUpperCase() + on.slice(1);
  },
  scopes: ({ scope }) => (scope ? [scope] : []),
  turned(input, step, next) {
    if (!STEADY.has(next.scope?.rule ?? 'sharp')) return null;
    const own = new Set(edgesOf(input, step));
    const others = edgesOf(input, next).filter((e) => !own.has(e));
    if (!endAtRuns(input, [...own], others)) return null;
    const marks = new Map([
      [OTHERS, selectionOf('edge', others)],
      [OWN, selectionOf('edge', [...own])],
    ]);
    return {
      input: withKept(input, marks),
      first: { ...next, scope: { rule: 'kept' as const, name: OTHERS } },
      second: { ...step, scope: { rule: 'kept' as const, name: OWN } },
    };
  },
  run(mesh, step, { limits, draft, memory, watch }) {
    const segments = step.segments ?? 3;
    const by = step.by ?? 'offset';
    const key = `${by === 'radius' ? 'r ' : ''}${Number(step.width.toPrecision(4))} mm · ${segments} seg`;
    const asked = JSON.stringify(step);
    const before = memory.kept as Before | undefined;
    const again = before?.asked === asked;
    if (draft && again && before.took > (before.again ? SLOW : WHOLE * SLOW))
      return { mesh, key, draft: true };
    const start = performance.now();
    const edges = edgesOf(mesh, step);
    refuseTooMany({ title: bevel.title }, facesBevelled(mesh, edges, segments), limits.faces);
    const options = {
      width: step.width,
      by,
      segments,
      profile: step.profile ?? 1,
      clamp: step.clamp ?? true,
    };
    const cache = before?.cache ?? new UnitCache();
    const { mesh: out, report } = bevelMesh(mesh, edges, options, watch, cache);
    memory.kept = { asked, took: performance.now() - start, again, cache } satisfies Before;
    const counts = { edges: report.roundedEdges, groups: report.groups.length };
    if (!report.roundedEdges) {
      const why = edges.length
        ? 'No edge in scope can be rounded: open and flat ones stay.'
        : 'No edge is in scope.';
      return { mesh: out, key, counts, warnings: [warn('none-in-scope', why)] };
    }
    const groups = report.groups.map((g) => ({
      edges: g.edges.length,
      asked: step.width,
      least: g.reached,
      full: g.full,
      stops: g.stops.map(({ edges, at, width, why }) => ({ edges: edges.length, at, width, why })),
    }));
    const lines = edgeLines(
      mesh,
      report.groups.flatMap((g) => g.edges),
    );
    const pulls = bevelPulls(mesh, edges, by);
    return {
      mesh: out,
      key,
      counts,
      groups,
      lines,
      pulls,
      warnings: stoppedEarly(report.groups, step.width),
    };
  },
});

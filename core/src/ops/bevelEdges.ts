/** Bevel of picked edges: the live step's own code (ops/bevel) on a picked selection. */
import { warn, type Warning } from '../mesh/errors';
import { facesMade } from '../mesh/lineage';
import { topologyOf } from '../mesh/Topology';
import { flatEdges, lieOnSurface } from './bevel/sheets';
import { faceNormal } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { selectionOf } from '../select/selection';
import { bevel } from './bevel/bevel';
import type { BevelOptions } from './bevel/options';
import { halfTangent } from './bevel/demand';
import type { BevelGroup } from './bevel/groups';
import { speedOf } from './bevel/layOut';
import type { Why } from './bevel/widths';
import { facesBevelled } from './bounds';
import { choice, count, flag, length, params, share } from './fields';
import { type OperationResult, counted, defineOperation } from './operation';
import { counter, sideOf, type Pull } from './pulls';
import { onBox } from './tool';

const schema = params({
  width: length('Width', 2, 0.001, 10000),
  by: choice('Width is', ['offset', 'radius'], 'offset'),
  segments: count('Segments', 1, 1, 32),
  profile: share('Profile', 1, -1, 2),
  clamp: flag('Stop where strips meet', true),
});

export const bevelEdges = defineOperation({
  kind: 'bevel',
  title: 'Bevel',
  on: ['edge'],
  params: schema,
  faces: (mesh, { indices }, p) => facesBevelled(mesh, indices, p.segments),
  example: onBox({ op: 'bevel', select: { rule: 'sharp', angle: 30 }, width: 2, segments: 3 }),
  tools: [
    {
      start: (hand) => ({ width: hand.share(0.01), segments: 2 }),
      words: 'chamfer round fillet',
      ring: { edge: 0 },
      next: { edge: 0 },
    },
  ],
  pulls: (mesh, { indices }, p) => bevelPulls(mesh, indices, p.by),
  refuses: ['bevel-bent', 'bevel-folded', 'bevel-too-wide', 'crossing-outline'],
  says: ({ edges }) => `Bevelled ${counted(edges, 'edge')}.`,
  run: (mesh, selection, p) =>
    rounded(mesh, selection.indices, {
      ...p,
      // Edges picked on a curved surface are rounded along its own edges, not across them.
      follow: lieOnSurface(mesh, topologyOf(mesh), selection.indices) ? 'edges' : 'surface',
    }),
});

/** Width and segments of a rounding, pulled at the first of its edges that has two sides. */
export function bevelPulls(
  mesh: PolyMesh,
  indices: ReadonlyArray<number>,
  by: BevelOptions['by'] = 'offset',
): Pull[] {
  const t = topologyOf(mesh);
  const e = indices.find((x) => t.twin[t.cornerOfEdge[x]] >= 0);
  if (e === undefined) return [];
  const c = t.cornerOfEdge[e];
  const { middle, inward } = sideOf(mesh, c);
  const normals = [c, t.twin[c]].map((k) => faceNormal(mesh, t.faceOfCorner[k]));
  // How far the side is from the edge, per millimetre of the number.
  const reach = by === 'radius' ? halfTangent(normals[0], normals[1]) : speedOf(mesh)(e);
  return [
    { key: 'width', zero: middle, along: inward, rate: 1 / Math.max(1e-3, reach) },
    counter('segments', middle),
  ];
}

export function rounded(
  mesh: PolyMesh,
  edges: ReadonlyArray<number>,
  p: Partial<BevelOptions> & { width: number },
): OperationResult {
  const { mesh: out, report } = bevel(mesh, [...edges], p);
  const t = topologyOf(mesh);
  const flat = flatEdges(mesh, t);
  const stopped = stoppedEarly(report.groups, p.width);
  const stay = (code: string, why: string, which: number[]): void => {
    if (which.length)
      stopped.push(warn(code, `${counted(which.length, 'edge')} stayed: ${why}.`, 'edge', which));
  };
  stay(
    'open-edges',
    'open',
    edges.filter((e) => t.edgeUse[e] === 1),
  );
  stay(
    'flat-edges',
    'the faces beside lie in one plane',
    edges.filter((e) => flat[e]),
  );
  return {
    mesh: out,
    selection: selectionOf('face', facesMade(out, ['strip', 'corner'])),
    counts: { edges: report.roundedEdges - leftSharp(report.groups) },
    warnings: stopped,
  };
}

/** How many edges have no width anywhere. */
const leftSharp = (groups: ReadonlyArray<BevelGroup>): number =>
  groups.reduce((n, g) => n + g.sharp.length, 0);

const WHY: Record<Why, string> = {
  strip: 'another rounded edge is in the way',
  edge: 'it reaches an edge that stays',
  room: 'there is no room for it',
  crossing: 'it would run into its surroundings',
  end: 'its edge runs on',
};
/** Places told one by one, the narrowest first. */
const TOLD = 6;

/** Says where edges could not be rounded as wide as asked, and why. */
export function stoppedEarly(groups: ReadonlyArray<BevelGroup>, width: number): Warning[] {
  const asked = millimetres(width);
  const stops = groups.flatMap((g) => g.stops).sort((p, q) => p.width - q.width);
  const told = stops.slice(0, TOLD).map((s): Warning => {
    const what = s.width > 0 ? `Stops at ${millimetres(s.width)} of ${asked} mm` : 'Stays sharp';
    return {
      ...warn('stopped', `${what} along ${counted(s.edges.length, 'edge')}: ${WHY[s.why]}.`, 'edge', s.edges),
      lines: s.lines,
    };
  });
  const rest = stops.slice(TOLD);
  if (!rest.length) return told;
  const all = warn(
    'stopped',
    `Narrower than ${asked} mm in ${counted(rest.length, 'more place')}.`,
    'edge',
    rest.flatMap((s) => s.edges),
  );
  return [...told, { ...all, lines: Float64Array.from(rest.flatMap((s) => [...s.lines])) }];
}

const millimetres = (x: number): string => String(Number(x.toPrecision(3)));

/** Selections said as a rule: what a recipe writes, what a command picks, what a count on the stage stands for. */
import { Type, type Static, type TSchema } from 'typebox';
import { carryingList } from '../schema/references';
import { KEPT, MARKS, type MarkName } from '../mesh/layerKinds';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { dot, unit } from '../mesh/vec3';
import { BornPicksSchema, findBorn, type BornPick } from './born';
import { ORIGINS, type Origin } from '../births/cameFrom';
import { outerEdges, rimEdges, sharpEdges, sharpEdgesOf, type Turn } from './edges';
import { everything } from './grow';
import { middleOf, valences } from './measure';
import { madeName } from './madeName';
import { defineRule, type Given } from './rule';
import {
  convertSelection,
  elementCount,
  filtered,
  KIND_OF,
  selectionOf,
  WORD_OF,
  type ElementKind,
  type Kinds,
  type Selection,
} from './selection';
import { borderEdges, edgeLoop, edgeRing, faceStrip, flatFaces, shellFaces } from './walks';

const strict = { additionalProperties: false };
const index = Type.Integer({ minimum: 0 });
const list = Type.Array(index, { maxItems: 2_000_000 });
export const KindsSchema = Type.Union([Type.Literal('faces'), Type.Literal('edges'), Type.Literal('points')]);
const kind = KindsSchema;
const triple = Type.Tuple([Type.Number(), Type.Number(), Type.Number()]);
const degrees = (title: string, initial: number) =>
  Type.Number({ title, unit: '°', minimum: 0, maximum: 180, default: initial });
const OUTER_ANGLE = 30;
const count = Type.Integer({ minimum: 1, maximum: 100000 });

const edges = (mesh: PolyMesh, test: (e: number) => boolean): Selection =>
  filtered('edge', topologyOf(mesh).edgeCount, test);
const faces = (mesh: PolyMesh, test: (f: number) => boolean): Selection =>
  filtered('face', faceCount(mesh), test);

/** Rules that mean the same when things before them change, so that steps may use them. */
export const LASTING_RULES = {
  rims: defineRule({
    rule: 'rims',
    title: 'Edges made by cuts',
    keys: { cutters: Type.Optional(carryingList('pieces', 'mention', { maxItems: 1000 })) },
    first: { rule: 'rims' },
    pick: (mesh, { cutters }) => ({ kind: 'edge', indices: rimEdges(mesh, cutters) }),
  }),
  sharp: defineRule({
    rule: 'sharp',
    title: 'Edges sharper than an angle',
    keys: {
      angle: degrees('Sharper than', 30),
      side: Type.Optional(
        Type.Unsafe<Turn>(
          Type.Union([Type.Literal('either'), Type.Literal('outside'), Type.Literal('inside')], { title: 'Corners', default: 'either' }), // prettier-ignore
        ),
      ),
      rims: Type.Optional(
        Type.Unsafe<'with' | 'without'>(
          Type.Union([Type.Literal('with'), Type.Literal('without')], { title: 'Rims', default: 'with' }),
        ),
      ),
      made: Type.Optional(
        Type.Unsafe<Origin>(
          Type.Union(
            ORIGINS.map((x) => Type.Literal(x)),
            { title: 'Made by' },
          ),
        ),
      ),
    },
    first: { rule: 'sharp', angle: 30 },
    pick: (mesh, { angle, side, rims, made }) => ({
      kind: 'edge',
      indices: made
        ? sharpEdgesOf(mesh, made, angle, side)
        : rims === 'without'
          ? outerEdges(mesh, angle, side)
          : sharpEdges(mesh, angle, side),
    }),
  }),
  outer: defineRule({
    rule: 'outer',
    title: 'Edges there were before any cut',
    keys: { angle: Type.Optional(degrees('Sharper than', OUTER_ANGLE)) },
    first: { rule: 'outer' },
    pick: (mesh, { angle = OUTER_ANGLE }) => ({ kind: 'edge', indices: outerEdges(mesh, angle) }),
  }),
  all: defineRule({
    rule: 'all',
    title: 'Every edge',
    keys: { of: Type.Optional(kind) },
    first: { rule: 'all' },
    pick: (mesh, r) => everything(mesh, KIND_OF[r.of ?? 'edges']),
  }),
  marked: defineRule({
    rule: 'marked',
    title: 'Edges with a mark',
    keys: {
      layer: Type.Unsafe<MarkName>(
        Type.Union(
          MARKS.map((m) => Type.Literal(m)),
          { title: 'Mark', default: 'hard' },
        ),
      ),
    },
    first: { rule: 'marked', layer: 'hard' },
    pick: (mesh, { layer }) => edges(mesh, (e) => (mesh.layers.edge[layer]?.data[e] ?? 0) > 0),
  }),
  kept: defineRule({
    rule: 'kept',
    label: 'named',
    title: 'A selection kept under a name',
    keys: { name: Type.String({ title: 'Name', minLength: 1, maxLength: 60 }) },
    pick: (_, { name }, { kept }) => kept(name),
  }),
  made: defineRule({
    rule: 'made',
    label: 'of a step',
    title: 'Edges beside what an earlier step made',
    keys: { step: Type.String({ title: 'Step', minLength: 1, maxLength: 60 }) },
    pick(_, { step }, { kept }) {
      try {
        return kept(madeName(step));
      } catch {
        throw new OperationError(
          'no-step',
          `No step “${step}” before this one made anything here.`,
          undefined,
          'Choose an earlier step that is on, or another scope.',
        );
      }
    },
  }),
  picked: defineRule({
    rule: 'picked',
    title: 'What was picked on the model',
    keys: { of: kind, picks: Type.Unsafe<BornPick[]>(BornPicksSchema) },
    pick: (mesh, select) => findBorn(mesh, select).selection,
  }),
  facing: defineRule({
    rule: 'facing',
    title: 'faces that look along a direction',
    keys: { direction: triple, angle: Type.Optional(degrees('Within', 5)) },
    pick(mesh, { direction, angle = 5 }) {
      const along = unit(direction);
      const limit = Math.cos((angle * Math.PI) / 180) - 1e-9;
      return faces(mesh, (f) => dot(faceNormal(mesh, f), along) >= limit);
    },
  }),
  corners: defineRule({
    rule: 'corners',
    title: 'faces with so many corners',
    keys: { count: Type.Integer({ minimum: 3, maximum: 100000 }) },
    pick: (mesh, r) => faces(mesh, (f) => mesh.faceStart[f + 1] - mesh.faceStart[f] === r.count),
  }),
  ngons: defineRule({
    rule: 'ngons',
    title: 'faces with more than four corners',
    keys: {},
    pick: (mesh) => faces(mesh, (f) => mesh.faceStart[f + 1] - mesh.faceStart[f] > 4),
  }),
  valence: defineRule({
    rule: 'valence',
    title: 'points where so many edges meet',
    keys: { count },
    pick(mesh, r) {
      const n = valences(mesh);
      return filtered('vertex', n.length, (v) => n[v] === r.count);
    },
  }),
  material: defineRule({
    rule: 'material',
    title: 'faces of a material',
    keys: { material: Type.Integer({ minimum: 0, maximum: 65535 }) },
    pick: (mesh, r) => faces(mesh, (f) => (mesh.layers.face.material?.data[f] ?? 0) === r.material),
  }),
  open: defineRule({
    rule: 'open',
    title: 'Edges with one face',
    keys: {},
    first: { rule: 'open' },
    pick: (mesh) => edges(mesh, (e) => topologyOf(mesh).edgeUse[e] === 1),
  }),
  nonManifold: defineRule({
    rule: 'nonManifold',
    title: 'edges with more than two faces, or two that run the same way',
    keys: {},
    pick(mesh) {
      const t = topologyOf(mesh);
      return edges(mesh, (e) => t.edgeUse[e] > 2 || (t.edgeUse[e] === 2 && t.twin[t.cornerOfEdge[e]] < 0));
    },
  }),
  within: defineRule({
    rule: 'within',
    title: 'elements whose middle lies in a box',
    keys: { of: kind, min: triple, max: triple },
    pick(mesh, { of, min, max }) {
      const k = KIND_OF[of];
      return filtered(k, elementCount(mesh, k), (i) =>
        middleOf(mesh, k, i).every((x, a) => x >= min[a] && x <= max[a]),
      );
    },
  }),
} as const;

/** Rules that name elements by number, or what was just picked: good for the mesh they were made for. */
const PASSING_RULES = {
  last: defineRule({
    rule: 'last',
    title: 'the picks the action before left',
    keys: {},
    pick(_, __, { last }) {
      if (last) return last;
      throw new OperationError(
        'no-last',
        'There is no action before this one whose selection could be used.',
        undefined,
        'Give a list of elements, or another rule.',
      );
    },
  }),
  loop: defineRule({
    rule: 'loop',
    title: 'the loop through an edge',
    keys: { edge: index },
    pick: (mesh, { edge }) => selectionOf('edge', edgeLoop(mesh, known(mesh, 'edge', edge)).edges),
  }),
  ring: defineRule({
    rule: 'ring',
    title: 'the ring through an edge',
    keys: { edge: index },
    pick: (mesh, { edge }) => selectionOf('edge', edgeRing(mesh, known(mesh, 'edge', edge)).edges),
  }),
  strip: defineRule({
    rule: 'strip',
    title: 'the strip of faces through an edge',
    keys: { edge: index },
    pick: (mesh, { edge }) => selectionOf('face', faceStrip(mesh, known(mesh, 'edge', edge))),
  }),
  border: defineRule({
    rule: 'border',
    title: 'the border of faces',
    keys: { faces: list },
    pick: (mesh, r) => selectionOf('edge', borderEdges(mesh, allKnown(mesh, r.faces))),
  }),
  shell: defineRule({
    rule: 'shell',
    title: 'all that hangs together with faces',
    keys: { faces: list },
    pick: (mesh, r) => selectionOf('face', shellFaces(mesh, allKnown(mesh, r.faces))),
  }),
  flat: defineRule({
    rule: 'flat',
    title: 'faces that lie flat beside others',
    keys: { faces: list, angle: Type.Number({ minimum: 0, maximum: 180 }) },
    pick: (mesh, r) =>
      selectionOf(
        'face',
        flatFaces(mesh, allKnown(mesh, r.faces), r.angle, (f) => faceNormal(mesh, f)),
      ),
  }),
} as const;

const RULES = { ...LASTING_RULES, ...PASSING_RULES };
type RuledBy<T extends Record<string, { schema: TSchema }>> = {
  [K in keyof T]: Static<T[K]['schema']>;
}[keyof T];
export type Listed = { faces: number[] } | { edges: number[] } | { points: number[] };
export type Select = Listed | RuledBy<typeof RULES>;
/** The scope of a step, written so that it survives changes upstream. */
export type Scope = RuledBy<typeof LASTING_RULES>;

export const ScopeSchema = Type.Unsafe<Scope>(
  Type.Union(
    Object.values<{ schema: TSchema }>(LASTING_RULES).map((r) => r.schema),
    { scope: true },
  ),
);

/** Given by a list of indices. */
export const LIST_SCHEMAS = {
  faces: Type.Object({ faces: list }, strict),
  edges: Type.Object({ edges: list }, strict),
  points: Type.Object({ points: list }, strict),
};
/** Given by a list of indices, or by a rule. */
export const SELECT_SCHEMAS: Readonly<Record<string, TSchema>> = {
  ...LIST_SCHEMAS,
  ...Object.fromEntries(Object.entries(RULES).map(([k, r]) => [k, r.schema])),
};

/** The list form of a selection. */
export const listed = (s: Selection): Listed => ({ [WORD_OF[s.kind]]: [...s.indices] }) as Listed;

/** The branch of the schema that a value belongs to; null when none. */
export function selectBranch(value: unknown): string | null {
  if (typeof value !== 'object' || value === null) return null;
  const v = value as Record<string, unknown>;
  for (const key of Object.keys(LIST_SCHEMAS))
    if (Object.hasOwn(v, key) && !Object.hasOwn(v, 'rule')) return key;
  return Object.hasOwn(RULES, String(v.rule)) ? String(v.rule) : null;
}

/**
 * The elements a list or a rule means, ascending.
 * @throws OperationError `no-element` for an index the mesh does not have
 */
export function resolveSelect(mesh: PolyMesh, select: Select, given: Partial<Given> = {}): Selection {
  if (!('rule' in select)) return resolveList(mesh, select);
  const { last = null, kept = keptIn(mesh) } = given;
  return RULES[select.rule].pick(mesh, select as never, { last, kept });
}

/** The edges a scope means, ascending; those of faces and points where it means such. */
export const edgesInScope = (mesh: PolyMesh, scope: Scope): ReadonlyArray<number> =>
  convertSelection(mesh, resolveSelect(mesh, scope), 'edge').indices;

/** Selections whose elements a mesh has marked with their names. */
export const keptIn =
  (mesh: PolyMesh) =>
  (name: string): Selection => {
    for (const k of ['face', 'edge', 'vertex'] as const) {
      const data = mesh.layers[k][KEPT + name]?.data;
      if (data) return filtered(k, data.length, (i) => data[i] > 0);
    }
    throw noKept(name);
  };

export const noKept = (name: string): OperationError =>
  new OperationError(
    'no-kept',
    `The piece has no kept selection “${name}”.`,
    undefined,
    'Keep a selection under that name, or choose another rule.',
  );

function resolveList(mesh: PolyMesh, select: Listed): Selection {
  const [word, indices] = Object.entries(select)[0] as [Kinds, number[]];
  const k = KIND_OF[word];
  for (const i of indices) known(mesh, k, i);
  return selectionOf(k, indices);
}

const allKnown = (mesh: PolyMesh, some: ReadonlyArray<number>): number[] =>
  some.map((f) => known(mesh, 'face', f));

function known(mesh: PolyMesh, k: ElementKind, i: number): number {
  const n = elementCount(mesh, k);
  if (i < n) return i;
  throw new OperationError(
    'no-element',
    `There is no ${WORD_OF[k].slice(0, -1)} ${i}: the mesh has ${n} ${WORD_OF[k]}.`,
    undefined,
    'An action before this one was changed; pick the elements again.',
  );
}

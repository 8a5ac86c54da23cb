/** Selections said as a rule: what a recipe writes, what a command picks, what a count on the stage stands for. */
import { MARKS, type MarkName } from '../mesh/layerKinds';
import { Type, type Static } from 'typebox';
import { faceCount, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceArea, faceNormal } from '../mesh/measure';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { distance, dot, pointOf, unit, type Vec3 } from '../mesh/vec3';
import { sharpEdges } from '../steps/scope';
import { everything } from './grow';
import { elementCount, selectionOf, type ElementKind, type Selection } from './selection';
import { borderEdges, edgeLoop, edgeRing, faceStrip, flatFaces, shellFaces } from './walks';

const strict = { additionalProperties: false };
const index = Type.Integer({ minimum: 0 });
const list = Type.Array(index, { maxItems: 2_000_000 });
const kind = Type.Union([Type.Literal('faces'), Type.Literal('edges'), Type.Literal('points')]);
const triple = Type.Tuple([Type.Number(), Type.Number(), Type.Number()]);
const rule = <T extends Record<string, ReturnType<typeof Type.Number>>>(name: string, keys: object = {}) =>
  Type.Object({ rule: Type.Literal(name), ...(keys as T) }, strict);

/** By list of indices, or by a rule. */
export const SELECT_SCHEMAS = {
  faces: Type.Object({ faces: list }, strict),
  edges: Type.Object({ edges: list }, strict),
  points: Type.Object({ points: list }, strict),
  all: rule('all', { of: kind }),
  /** What the action before left picked. */
  last: rule('last'),
  /** Faces that look along a direction, within an angle. */
  facing: rule('facing', {
    direction: triple,
    angle: Type.Optional(Type.Number({ minimum: 0, maximum: 180 })),
  }),
  /** Faces with so many corners. */
  corners: rule('corners', { count: Type.Integer({ minimum: 3, maximum: 100000 }) }),
  ngons: rule('ngons'),
  /** Points where so many edges meet. */
  valence: rule('valence', { count: Type.Integer({ minimum: 1, maximum: 100000 }) }),
  material: rule('material', { material: Type.Integer({ minimum: 0, maximum: 65535 }) }),
  sharp: rule('sharp', { angle: Type.Number({ minimum: 0, maximum: 180 }) }),
  /** Edges that carry a mark. */
  marked: rule('marked', {
    layer: Type.Union(MARKS.map((m) => Type.Literal(m))),
  }),
  open: rule('open'),
  nonManifold: rule('nonManifold'),
  /** Elements whose middle lies in a box. */
  within: rule('within', { of: kind, min: triple, max: triple }),
  loop: rule('loop', { edge: index }),
  ring: rule('ring', { edge: index }),
  strip: rule('strip', { edge: index }),
  border: rule('border', { faces: list }),
  shell: rule('shell', { faces: list }),
  flat: rule('flat', { faces: list, angle: Type.Number({ minimum: 0, maximum: 180 }) }),
} as const;

export type Select =
  | { faces: number[] }
  | { edges: number[] }
  | { points: number[] }
  | { rule: 'all'; of: Kinds }
  | { rule: 'last' | 'ngons' | 'open' | 'nonManifold' }
  | { rule: 'facing'; direction: Vec3; angle?: number }
  | { rule: 'corners' | 'valence'; count: number }
  | { rule: 'material'; material: number }
  | { rule: 'sharp'; angle: number }
  | { rule: 'marked'; layer: MarkName }
  | { rule: 'within'; of: Kinds; min: Vec3; max: Vec3 }
  | { rule: 'loop' | 'ring' | 'strip'; edge: number }
  | { rule: 'border' | 'shell'; faces: number[] }
  | { rule: 'flat'; faces: number[]; angle: number };
export type Kinds = Static<typeof kind>;

export const KIND_OF: Record<Kinds, ElementKind> = { faces: 'face', edges: 'edge', points: 'vertex' };
export const WORD_OF: Record<ElementKind, Kinds> = { face: 'faces', edge: 'edges', vertex: 'points' };

/** The list form of a selection. */
export const listed = (s: Selection): Select => ({ [WORD_OF[s.kind]]: [...s.indices] }) as Select;

/** Which branch of the schema a value means; null when none. */
export function selectBranch(value: unknown): keyof typeof SELECT_SCHEMAS | null {
  if (typeof value !== 'object' || value === null) return null;
  const v = value as Record<string, unknown>;
  for (const key of ['faces', 'edges', 'points'] as const)
    if (Object.hasOwn(v, key) && !Object.hasOwn(v, 'rule')) return key;
  const name = String(v.rule);
  return Object.hasOwn(SELECT_SCHEMAS, name) ? (name as keyof typeof SELECT_SCHEMAS) : null;
}

/**
 * The elements a rule picks, ascending.
 * @param last what the action before left picked
 * @throws OperationError `no-element` for an index the mesh does not have
 */
export function resolveSelect(mesh: PolyMesh, select: Select, last: Selection | null): Selection {
  if (!('rule' in select)) return resolveList(mesh, select);
  const t = topologyOf(mesh);
  const faces = (test: (f: number) => boolean): Selection => filter('face', faceCount(mesh), test);
  switch (select.rule) {
    case 'all':
      return everything(mesh, KIND_OF[select.of]);
    case 'last':
      if (!last)
        throw new OperationError(
          'no-last',
          'There is no action before this one whose selection could be used.',
        );
      return last;
    case 'facing': {
      const along = unit(select.direction);
      const limit = Math.cos(((select.angle ?? 5) * Math.PI) / 180) - 1e-9;
      return faces((f) => dot(faceNormal(mesh, f), along) >= limit);
    }
    case 'corners':
      return faces((f) => mesh.faceStart[f + 1] - mesh.faceStart[f] === select.count);
    case 'ngons':
      return faces((f) => mesh.faceStart[f + 1] - mesh.faceStart[f] > 4);
    case 'material':
      return faces((f) => (mesh.layers.face.material?.data[f] ?? 0) === select.material);
    case 'valence': {
      const n = valences(mesh);
      return filter('vertex', n.length, (v) => n[v] === select.count);
    }
    case 'sharp':
      return { kind: 'edge', indices: sharpEdges(mesh, select.angle) };
    case 'marked':
      return filter('edge', t.edgeCount, (e) => (mesh.layers.edge[select.layer]?.data[e] ?? 0) > 0);
    case 'open':
      return filter('edge', t.edgeCount, (e) => t.edgeUse[e] === 1);
    case 'nonManifold':
      return filter(
        'edge',
        t.edgeCount,
        (e) => t.edgeUse[e] > 2 || (t.edgeUse[e] === 2 && t.twin[t.cornerOfEdge[e]] < 0),
      );
    case 'within':
      return filter(KIND_OF[select.of], elementCount(mesh, KIND_OF[select.of]), (i) => {
        const m = middleOf(mesh, KIND_OF[select.of], i);
        return m.every((x, k) => x >= select.min[k] && x <= select.max[k]);
      });
    case 'loop':
      return selectionOf('edge', edgeLoop(mesh, known(mesh, 'edge', select.edge)).edges);
    case 'ring':
      return selectionOf('edge', edgeRing(mesh, known(mesh, 'edge', select.edge)).edges);
    case 'strip':
      return selectionOf('face', faceStrip(mesh, known(mesh, 'edge', select.edge)));
    case 'border':
      return selectionOf(
        'edge',
        borderEdges(
          mesh,
          select.faces.map((f) => known(mesh, 'face', f)),
        ),
      );
    case 'shell':
      return selectionOf(
        'face',
        shellFaces(
          mesh,
          select.faces.map((f) => known(mesh, 'face', f)),
        ),
      );
    case 'flat':
      return selectionOf(
        'face',
        flatFaces(
          mesh,
          select.faces.map((f) => known(mesh, 'face', f)),
          select.angle,
          (f) => faceNormal(mesh, f),
        ),
      );
  }
}

function resolveList(mesh: PolyMesh, select: Exclude<Select, { rule: string }>): Selection {
  const [word, indices] = Object.entries(select)[0] as [Kinds, number[]];
  const kind_ = KIND_OF[word];
  for (const i of indices) known(mesh, kind_, i);
  return selectionOf(kind_, indices);
}

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

function filter(kind_: ElementKind, n: number, test: (i: number) => boolean): Selection {
  const indices: number[] = [];
  for (let i = 0; i < n; i++) if (test(i)) indices.push(i);
  return { kind: kind_, indices };
}

/** Edges at every point. */
export function valences(mesh: PolyMesh): Uint32Array {
  const { edges } = topologyOf(mesh);
  const out = new Uint32Array(vertexCount(mesh));
  for (const v of edges) out[v]++;
  return out;
}

export function middleOf(mesh: PolyMesh, k: ElementKind, i: number): Vec3 {
  if (k === 'vertex') return pointOf(mesh.positions, i);
  if (k === 'edge') {
    const { edges } = topologyOf(mesh);
    const [a, b] = [pointOf(mesh.positions, edges[2 * i]), pointOf(mesh.positions, edges[2 * i + 1])];
    return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
  }
  const sum: Vec3 = [0, 0, 0];
  const n = mesh.faceStart[i + 1] - mesh.faceStart[i];
  for (let c = mesh.faceStart[i]; c < mesh.faceStart[i + 1]; c++)
    for (let a = 0; a < 3; a++) sum[a] += mesh.positions[3 * mesh.corners[c] + a] / n;
  return sum;
}

/** In what elements can be alike. */
export const ALIKE = {
  face: ['area', 'perimeter', 'facing', 'corners', 'material'],
  edge: ['length', 'direction', 'angle', 'faces'],
  vertex: ['valence', 'faces'],
} as const;
export type Trait = (typeof ALIKE)[ElementKind][number];

/**
 * All elements alike to any of the picked ones.
 * @param tolerance share for lengths and areas, degrees for directions and angles
 */
export function alike(mesh: PolyMesh, s: Selection, trait: Trait, tolerance: number): Selection {
  const measure = traitOf(mesh, s.kind, trait);
  const models = s.indices.map(measure);
  return filter(s.kind, elementCount(mesh, s.kind), (i) => {
    const x = measure(i);
    return models.some((m) => near(m, x, trait, tolerance));
  });
}

type Measured = number | Vec3;

function near(a: Measured, b: Measured, trait: Trait, tolerance: number): boolean {
  if (typeof a !== 'number' || typeof b !== 'number') {
    const cos = dot(a as Vec3, b as Vec3);
    // Edges have no sense of direction; faces do.
    return (trait === 'direction' ? Math.abs(cos) : cos) >= Math.cos((tolerance * Math.PI) / 180) - 1e-9;
  }
  if (trait === 'area' || trait === 'perimeter' || trait === 'length')
    return Math.abs(a - b) <= (tolerance + 1e-9) * Math.max(Math.abs(a), Math.abs(b));
  return Math.abs(a - b) <= (trait === 'angle' ? tolerance + 1e-6 : 0);
}

function traitOf(mesh: PolyMesh, k: ElementKind, trait: Trait): (i: number) => Measured {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  switch (trait) {
    case 'area':
      return (f) => faceArea(mesh, f);
    case 'perimeter':
      return (f) => {
        let sum = 0;
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
          sum += distance(pointOf(p, mesh.corners[c]), pointOf(p, mesh.corners[nextCorner(mesh, t, c)]));
        return sum;
      };
    case 'facing':
      return (f) => faceNormal(mesh, f);
    case 'corners':
      return (f) => mesh.faceStart[f + 1] - mesh.faceStart[f];
    case 'material':
      return (f) => mesh.layers.face.material?.data[f] ?? 0;
    case 'length':
      return (e) => distance(pointOf(p, t.edges[2 * e]), pointOf(p, t.edges[2 * e + 1]));
    case 'direction':
      return (e) => {
        const [a, b] = [pointOf(p, t.edges[2 * e]), pointOf(p, t.edges[2 * e + 1])];
        return unit([b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
      };
    case 'angle':
      return (e) => {
        const c = t.cornerOfEdge[e];
        if (t.twin[c] < 0) return 180;
        const cos = dot(faceNormal(mesh, t.faceOfCorner[c]), faceNormal(mesh, t.faceOfCorner[t.twin[c]]));
        return (Math.acos(Math.max(-1, Math.min(1, cos))) * 180) / Math.PI;
      };
    case 'valence': {
      const n = valences(mesh);
      return (v) => n[v];
    }
    case 'faces':
      return k === 'edge' ? (e) => t.edgeUse[e] : (v) => t.vertexStart[v + 1] - t.vertexStart[v];
  }
}

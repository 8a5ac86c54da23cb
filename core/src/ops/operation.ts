/** The contract of a direct operation: data in, data out, with the schema of its parameters. */
import type { Static, TObject } from 'typebox';
import { newCrossings } from '../inspect/newCrossings';
import { heldLost } from '../mesh/heldLost';
import { mapsOf, tracked, untracked, type ElementMaps } from '../mesh/lineage';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { facesWithoutArea } from '../mesh/measure';
import { OperationError, type Warning } from '../mesh/errors';
import { buildPrimitive, type Primitive } from '../primitives';
import type { MeshBase } from '../primitives/base';
import type { Pull } from './pulls';
import type { Example, Tool } from './tool';
import { convertSelection, type ElementKind, type Selection } from '../select/selection';

export interface OperationResult {
  mesh: PolyMesh;
  /** The selection afterwards. */
  selection: Selection;
  /** How many of what; the operation makes a sentence of them. */
  counts: Counts;
  /** Their elements are those of the mesh that was given. */
  warnings?: Warning[];
}

export type Counts = Readonly<Record<string, number>>;

/** A result with what became of the elements there were; the elements of its warnings are its own. */
export interface TrackedResult extends OperationResult {
  maps: ElementMaps;
}

/** Parameters with every default filled in. */
export type CompleteParams<S extends TObject> = {
  [K in keyof S['properties']]: Static<S['properties'][K]>;
};

export interface Operation<K extends string = string, S extends TObject = TObject> {
  kind: K;
  /** The text of its button. */
  title: string;
  /** Kinds of element it works on; a selection of another kind is converted to the first. */
  on: ReadonlyArray<ElementKind>;
  /** Parameters, all with defaults: the one source for checks, fields, command line and docs. */
  params: S;
  /** A small piece that shows what it does; the docs print it and a test runs it. */
  example: Example;
  /** Codes of its refusals, beside those of every operation. */
  refuses?: ReadonlyArray<string>;
  /** How it is started by hand; one tool of its name when left out. */
  tools?: ReadonlyArray<Tool>;
  /** The operation sets held normals itself, so it loses none. */
  setsNormals?: true;
  /** Parameters whose field shows only at times, or never, as those that are drawn. */
  shows?: { [K in keyof CompleteParams<S>]?: false | ((p: CompleteParams<S>, on: ElementKind) => boolean) };
  /** Its numbers that are pulled on the model; the selection is not empty. */
  pulls?(mesh: PolyMesh, selection: Selection, params: CompleteParams<S>): Pull[];
  /** One line for a person: “Welded 150 points.” */
  says(counts: Counts, params: CompleteParams<S>): string;
  /** The line where nothing changed, in place of “Nothing changed.”. */
  idle?: string;
  /** How many faces there would be afterwards, known before it runs; for operations that can make very many. */
  faces?(mesh: PolyMesh, selection: Selection, params: CompleteParams<S>): number;
  /** Pure and deterministic. @throws OperationError */
  run(
    mesh: PolyMesh,
    selection: Selection,
    params: CompleteParams<S>,
    meshOf: MeshOf,
    limits: Limits,
  ): OperationResult;
}

/** Codes with which any operation may refuse. */
export const REFUSALS = ['nothing-picked', 'no-element', 'too-many-faces', 'no-area', 'no-last', 'no-kept'];

/** An operation, with the types of its parameters taken from their schema. */
export const defineOperation = <const K extends string, S extends TObject>(
  d: Operation<K, S>,
): Readonly<Operation<K, S>> => d;

/** One as seen by what does not know which one it is: its parameters are checked by its schema, not by the compiler. */
export interface AnyOperation extends Omit<Operation, 'shows' | 'pulls' | 'says' | 'faces' | 'run'> {
  shows?: Readonly<Record<string, false | undefined | ((p: never, on: ElementKind) => boolean)>>;
  pulls?(mesh: PolyMesh, selection: Selection, params: never): Pull[];
  says(counts: Counts, params: never): string;
  faces?(mesh: PolyMesh, selection: Selection, params: never): number;
  run(mesh: PolyMesh, selection: Selection, params: never, meshOf: MeshOf, limits: Limits): OperationResult;
}

/** The largest result allowed; a person can change it. */
export interface Limits {
  faces: number;
}
export const LIMITS: Limits = { faces: 5_000_000 };

/** The mesh of a base that an operation refers to, such as a surface that points are laid onto. */
export type MeshOf = (base: MeshBase) => PolyMesh;

/** The context of an operation, beside its own parameters. */
export interface OperationContext {
  meshOf: MeshOf;
  limits: Limits;
  /** Names the faces of a result before what tells of their making is taken off; by default they are not named. */
  name(result: PolyMesh): PolyMesh;
}

const primitivesOnly: MeshOf = (base) => {
  if ('primitive' in base) return buildPrimitive(base as Primitive);
  throw new OperationError('no-blob', 'A stored mesh has not been loaded.');
};

/**
 * Completes the parameters, turns the selection into a kind the operation takes, and runs it.
 * @returns with the maps from the elements of its result to those of the mesh it was given
 */
export function runOperation(
  op: AnyOperation,
  mesh: PolyMesh,
  selection: Selection,
  params: Record<string, unknown>,
  context: Partial<OperationContext> = {},
): TrackedResult {
  const result = runInside(op, tracked(mesh), selection, params, context);
  const out = (context.name ?? untracked)(result.mesh);
  const maps = mapsOf(result.mesh, mesh);
  const warnings = result.warnings?.map((w) => followed(w, maps));
  const lost = op.setsNormals ? null : heldLost(mesh, result.mesh, maps);
  const crosses = newCrossings(mesh, result.mesh, maps);
  const found = [lost, crosses].filter((w) => w !== null);
  return { ...result, mesh: out, maps, warnings: found.length ? [...(warnings ?? []), ...found] : warnings };
}

/** Handles for its numbers on the model; none where nothing is picked for it. */
export function pullsOf(
  op: AnyOperation,
  mesh: PolyMesh,
  selection: Selection,
  params: Record<string, unknown>,
): Pull[] {
  if (!op.pulls) return [];
  const fitting = op.on.includes(selection.kind) ? selection : convertSelection(mesh, selection, op.on[0]);
  return fitting.indices.length
    ? op.pulls(mesh, fitting, { ...defaultsOf(op.params), ...params } as never)
    : [];
}

/** A warning about elements there were, about what they are now. */
export function followed(w: Warning, maps: ElementMaps): Warning {
  if (!w.elements) return w;
  const { domain, indices } = w.elements;
  return { ...w, elements: { domain, indices: maps[domain].follow(indices) } };
}

/** The sentence a result gives. */
export function sentenceOf(op: AnyOperation, counts: Counts, params: Record<string, unknown>): string {
  const all = Object.values(counts);
  if (all.length && all.every((n) => n === 0)) return op.idle ?? 'Nothing changed.';
  return op.says(counts, { ...defaultsOf(op.params), ...params } as never);
}

/** The same as a part of something larger: what is tracked there goes on being tracked. */
export function runInside(
  op: AnyOperation,
  mesh: PolyMesh,
  selection: Selection,
  params: Record<string, unknown>,
  { meshOf = primitivesOnly, limits = LIMITS }: Partial<OperationContext> = {},
): OperationResult {
  const fitting = op.on.includes(selection.kind) ? selection : convertSelection(mesh, selection, op.on[0]);
  if (!fitting.indices.length) {
    const words = { face: 'faces', edge: 'edges', vertex: 'points' };
    throw new OperationError(
      'nothing-picked',
      `${op.title} has nothing to act on: no ${op.on.map((k) => words[k]).join(' or ')} are picked.`,
      undefined,
      `Pick ${words[op.on[0]]} first.`,
    );
  }
  const complete = { ...defaultsOf(op.params), ...params } as never;
  refuseTooMany(op, op.faces?.(mesh, fitting, complete) ?? 0, limits.faces);
  const result = op.run(mesh, fitting, complete, meshOf, limits);
  refuseTooMany(op, faceCount(result.mesh), limits.faces);
  refuseWithoutArea(op, mesh, result.mesh);
  return result;
}

/** @throws OperationError `too-many-faces`, with the number there would be */
export function refuseTooMany(what: { title: string }, faces: number, most: number): void {
  if (faces <= most) return;
  throw new OperationError(
    'too-many-faces',
    `${what.title} would make about ${grouped(faces)} faces; the limit is ${grouped(most)}.`,
    undefined,
    'Use smaller counts, act on fewer elements, or raise the limit.',
  );
}

/** No operation leaves faces without area where there were none. */
function refuseWithoutArea(op: { title: string }, before: PolyMesh, after: PolyMesh): void {
  const empty = facesWithoutArea(after).length;
  if (!empty || facesWithoutArea(before).length) return;
  throw new OperationError(
    'no-area',
    `${op.title} would leave ${counted(empty, 'face')} without area.`,
    undefined,
    'Use other numbers, act on fewer elements, or weld the points that fall together first.',
  );
}

/** 12 345 678 */
const grouped = (n: number): string =>
  Math.round(n)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, ' ');

export function defaultsOf(schema: TObject): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const key in schema.properties) {
    const value = (schema.properties[key] as { default?: unknown }).default;
    if (value !== undefined) out[key] = structuredClone(value);
  }
  return out;
}

/** “1 face”, “3 points”. */
export const counted = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

/** What every direct operation is: data in, data out, with the schema of its numbers. */
import type { TObject } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import { buildPrimitive, type Primitive } from '../primitives';
import type { MeshBase } from '../document/base';
import { convertSelection, type ElementKind, type Selection } from '../select/selection';

export interface OperationResult {
  mesh: PolyMesh;
  /** What is picked afterwards. */
  selection: Selection;
  /** One line for a person: “Welded 150 points.” */
  report: string;
  /** Something to look at; the result stands. */
  warning?: string;
}

export interface Operation<P = Record<string, unknown>> {
  kind: string;
  /** As on a button. */
  title: string;
  /** Kinds of element it works on; a selection of another kind is converted to the first. */
  on: ReadonlyArray<ElementKind>;
  /** Parameters, all with defaults: the one source for checks, fields, command line and docs. */
  params: TObject;
  run(mesh: PolyMesh, selection: Selection, params: P, meshOf: MeshOf): OperationResult;
}

/** Gives the mesh a surface of another piece is kept as. */
export type MeshOf = (base: MeshBase) => PolyMesh;

const primitivesOnly: MeshOf = (base) => {
  if ('primitive' in base) return buildPrimitive(base as Primitive);
  throw new OperationError('no-blob', 'A stored mesh has not been loaded.');
};

/** Completes the parameters, turns the selection into a kind the operation takes, and runs it. */
export function runOperation<P>(
  op: Operation<P>,
  mesh: PolyMesh,
  selection: Selection,
  params: Record<string, unknown>,
  meshOf: MeshOf = primitivesOnly,
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
  return op.run(mesh, fitting, { ...defaultsOf(op.params), ...params } as P, meshOf);
}

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

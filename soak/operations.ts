/**
 * Random operations on random solids: parameters drawn from the operations' own schemas, selections of every kind and
 * size. Counts what must not happen: an exception that is no refusal, a finding in a result of sound input, a mesh
 * that is not as its arrays should be.
 */
import { decodeMesh, encodeMesh } from '../core/src/formats/meshBlob';
import { checkMesh } from '../core/src/mesh/checkMesh';
import { OperationError } from '../core/src/mesh/errors';
import { faceCount, type PolyMesh } from '../core/src/mesh/PolyMesh';
import { OPERATIONS } from '../core/src/ops';
import { REFUSALS, runOperation, sentenceOf } from '../core/src/ops/operation';
import { buildPrimitive, type Primitive } from '../core/src/primitives';
import { everything, grow } from '../core/src/select/grow';
import {
  convertSelection,
  elementCount,
  selectionOf,
  type ElementKind,
  type Selection,
} from '../core/src/select/selection';
import { Random } from './random';

/** Operations defined to open a mesh, or to leave loose faces. */
const OPENS = new Set(['openAlong', 'drawFace', 'deleteFaces', 'keepFaces', 'splitApart', 'copyFaces', 'planeSlice', 'mirrorOnce', 'thicken', 'extrudeEdges']); // prettier-ignore

export interface OperationFault {
  /** Number of the draw, to find it again. */
  at: number;
  op: string;
  what: string;
  /** The recipe: a primitive and the operations applied to it. */
  recipe: unknown;
}

export interface OperationCounts {
  ran: number;
  acted: number;
  refused: number;
  faults: OperationFault[];
  byOperation: Map<string, number>;
}

const PRIMITIVES: Array<(r: Random) => Primitive> = [
  (r) => ({ primitive: 'box', width: r.between(5, 30), height: r.between(5, 30), depth: r.between(5, 30), segments: [r.int(1, 4), r.int(1, 4), r.int(1, 4)] }), // prettier-ignore
  (r) => ({ primitive: 'cylinder', radius: r.between(3, 15), height: r.between(3, 30), sides: r.int(3, 14), rings: r.int(1, 3), caps: r.of(['ngon', 'fan', 'none']) }), // prettier-ignore
  (r) => ({ primitive: 'cone', bottomRadius: r.between(3, 15), topRadius: r.of([0, r.between(1, 9)]), height: r.between(3, 30), sides: r.int(3, 12) }), // prettier-ignore
  (r) => ({ primitive: 'sphere', radius: r.between(3, 15), sides: r.int(3, 12), rings: r.int(2, 8) }),
  (r) => ({ primitive: 'quadSphere', radius: r.between(3, 15), divisions: r.int(1, 4) }),
  (r) => ({ primitive: 'torus', radius: 12, tubeRadius: r.between(1, 6), sides: r.int(3, 10), tubeSides: r.int(3, 8) }), // prettier-ignore
  (r) => ({ primitive: 'tube', outerRadius: 10, innerRadius: r.between(2, 9), height: r.between(2, 20), sides: r.int(3, 12) }), // prettier-ignore
  (r) => ({ primitive: 'plane', width: 20, depth: r.between(5, 30), segments: [r.int(1, 5), r.int(1, 5)] }),
  (r) => ({ primitive: 'disc', radius: r.between(3, 15), sides: r.int(3, 12) }),
];

interface Schema {
  type?: string;
  minimum?: number;
  maximum?: number;
  default?: unknown;
  anyOf?: Array<{ const?: unknown }>;
  items?: Schema[] | Schema;
}

/** A value a schema allows: often its default, often small, now and then at its limits. */
function valueFor(s: Schema, r: Random): unknown {
  if (s.anyOf) return r.of(s.anyOf).const;
  if (s.type === 'boolean') return r.chance(0.5);
  if (s.type === 'number' || s.type === 'integer') {
    const [low, high] = [s.minimum ?? -1e6, s.maximum ?? 1e6];
    const x = r.of([
      () => s.default as number,
      () => r.between(-3, 3),
      () => r.between(-30, 30),
      () => 0,
      () => r.between(0, 1),
      () => r.of([low, high, -1000, 1000]),
    ])();
    const clipped = Math.min(high, Math.max(low, x ?? 0));
    // Counts as large as can be are tried where limits are.
    return s.type === 'integer' ? Math.min(6, Math.round(clipped)) : clipped;
  }
  if (s.type === 'array' && Array.isArray(s.items)) return s.items.map((i) => valueFor(i, r));
  return s.default;
}

function paramsFor(op: string, r: Random): Record<string, unknown> {
  const point = (): number[] => [r.between(-20, 20), r.between(-20, 20), r.between(-20, 20)];
  if (op === 'knife' && r.chance(0.9)) {
    const view = r.of([[0, -1, 0], [0, 0, -1], [-1, 0, 0], [0.3, -1, 0.2], [-0.4, -0.5, -0.9]]); // prettier-ignore
    const line = Array.from({ length: r.int(2, 5) }, point);
    if (r.chance(0.3)) line.push([...line[0]]);
    return { lines: [line], view, through: r.chance(0.5) };
  }
  if (op === 'drawFace' && r.chance(0.9)) return { points: Array.from({ length: r.int(3, 5) }, point) };
  const out: Record<string, unknown> = {};
  for (const [key, schema] of Object.entries(OPERATIONS[op].params.properties as Record<string, Schema>)) {
    if (key === 'surface') {
      if (r.chance(0.2)) out[key] = { base: { primitive: 'sphere', radius: 12 } };
    } else if (key === 'frame' || key === 'eye' || r.chance(0.3)) continue;
    else out[key] = valueFor(schema, r);
  }
  return out;
}

const KINDS: ElementKind[] = ['face', 'edge', 'vertex'];

function selectionFor(mesh: PolyMesh, r: Random): Selection {
  const kind = r.of(KINDS);
  if (r.chance(0.12)) return everything(mesh, kind);
  const n = elementCount(mesh, kind);
  const s = selectionOf(
    kind,
    Array.from({ length: r.int(1, 5) }, () => r.int(0, n - 1)),
  );
  return r.chance(0.4) ? grow(mesh, s) : s;
}

/** Findings that are no fault of an operation: what was there before, and openings where it opens. */
function faultsOf(before: Set<string>, mesh: PolyMesh, op: string): string[] {
  const opened = OPENS.has(op);
  return checkMesh(mesh)
    .findings.map((f) => f.code)
    .filter((c) => !before.has(c) && !(opened && c === 'open-edge'));
}

export function soakOperations(count: number, seed: number): OperationCounts {
  const r = new Random(seed);
  const out: OperationCounts = { ran: 0, acted: 0, refused: 0, faults: [], byOperation: new Map() };
  const ops = Object.keys(OPERATIONS);
  while (out.ran < count) {
    const base = r.of(PRIMITIVES)(r);
    let mesh = buildPrimitive(base);
    const done: unknown[] = [];
    let turned = false;
    for (let k = 0; k < 5 && out.ran < count && faceCount(mesh) && faceCount(mesh) < 3000; k++) {
      const op = r.of(ops);
      const selection = selectionFor(mesh, r);
      const params = paramsFor(op, r);
      out.ran++;
      const before = new Set<string>(checkMesh(mesh).findings.map((f) => f.code));
      const step = { op, selection: { kind: selection.kind, indices: [...selection.indices] }, params };
      const fault = (what: string): void =>
        void out.faults.push({ at: out.ran, op, what, recipe: { base, actions: [...done, step] } });
      try {
        const result = runOperation(OPERATIONS[op], mesh, selection, params);
        out.acted++;
        out.byOperation.set(op, (out.byOperation.get(op) ?? 0) + 1);
        // Turning over a part folds the edges around it; from there on only exceptions are faults.
        turned ||=
          op === 'turnOver' && convertSelection(mesh, selection, 'face').indices.length < faceCount(mesh);
        const found = turned ? [] : faultsOf(before, result.mesh, op);
        if (found.length) {
          fault(found.join());
          break;
        }
        const said = sentenceOf(OPERATIONS[op], result.counts, params);
        if (!/^[A-Z](?!.*(undefined|NaN)).*\.$/.test(said)) fault(`said: ${said}`);
        try {
          decodeMesh(encodeMesh(result.mesh));
        } catch (e) {
          fault(`arrays: ${(e as Error).message}`);
          break;
        }
        const last = elementCount(result.mesh, result.selection.kind);
        if (result.selection.indices.some((i) => !(i >= 0 && i < last))) fault('selection out of range');
        mesh = result.mesh;
        done.push(step);
      } catch (e) {
        if (e instanceof OperationError) {
          out.refused++;
          if (!/[.!]$/.test(e.message)) fault(`refusal: ${e.message}`);
          if (![...REFUSALS, ...(OPERATIONS[op].refuses ?? [])].includes(e.code)) fault(`code: ${e.code}`);
        } else fault(`exception: ${String(e).slice(0, 120)}`);
      }
    }
  }
  return out;
}

/** Checks recipes and scenes: the schema first, then what a schema cannot say. */
import { Ajv, type ErrorObject } from 'ajv';
import { PRIMITIVES, primitiveFault, type Primitive, type PrimitiveKind } from '../primitives';
import { SELECT_SCHEMAS, selectBranch } from '../select/rules';
import { STEP_SCHEMAS } from '../steps/kinds';
import { ACTION_SCHEMAS } from './actions';
import { BlobBaseSchema, FileBaseSchema, GroupBaseSchema, SurfaceSchema, type Surface } from './base';
import { PieceSchema, RecipeSchema, type Piece, type Recipe } from './schema';
import { cutterCycle } from './graph';

export interface DocumentFault {
  /** Where, e.g. `pieces/2/base/radius`. */
  path: string;
  message: string;
}

const ajv = new Ajv({ allErrors: true, strict: false });
// Unions are checked by hand, by the branch that is meant, so that messages name one key and not all branches.
const recipeOuter = ajv.compile({
  ...RecipeSchema,
  properties: { ...RecipeSchema.properties, pieces: { type: 'array', maxItems: 5000 } },
});
const pieceOuter = ajv.compile({
  ...PieceSchema,
  properties: {
    ...PieceSchema.properties,
    base: { type: 'object' },
    steps: { type: 'array', maxItems: 200 },
    actions: { type: 'array', maxItems: 5000 },
  },
});
const bases = Object.fromEntries(Object.entries(PRIMITIVES).map(([k, s]) => [k, ajv.compile(s)]));
const otherBases = {
  file: ajv.compile(FileBaseSchema),
  blob: ajv.compile(BlobBaseSchema),
  group: ajv.compile(GroupBaseSchema),
};
const actions = Object.fromEntries(
  Object.entries(ACTION_SCHEMAS).map(([k, s]) => [
    k,
    ajv.compile({
      ...s,
      properties: {
        ...s.properties,
        select: { type: 'object' },
        ...('surface' in s.properties && {
          surface: {
            ...SurfaceSchema,
            properties: { ...SurfaceSchema.properties, base: { type: 'object' } },
          },
        }),
      },
    }),
  ]),
);
const selects = Object.fromEntries(Object.entries(SELECT_SCHEMAS).map(([k, s]) => [k, ajv.compile(s)]));
const steps = Object.fromEntries(Object.entries(STEP_SCHEMAS).map(([k, s]) => [k, ajv.compile(s)]));

/** All faults of a recipe; empty when it is sound. */
export function recipeFaults(value: unknown): DocumentFault[] {
  const found = schemaFaults(recipeOuter, value, '');
  if (found.length) return found;
  return documentFaults((value as Recipe).pieces, (value as Recipe).export);
}

/** All faults of a list of pieces. */
export function documentFaults(pieces: unknown[], exported: string[] = []): DocumentFault[] {
  const faults = pieces.flatMap((p, i) => pieceFaults(p, `pieces/${i}`));
  if (faults.length) return faults;
  return referenceFaults(pieces as Piece[], exported);
}

function pieceFaults(value: unknown, path: string): DocumentFault[] {
  const outer = schemaFaults(pieceOuter, value, path);
  if (outer.length) return outer;
  const piece = value as Piece;
  return [
    ...baseFaults(piece.base, `${path}/base`),
    ...(piece.actions ?? []).flatMap((a, k) => actionFaults(a, `${path}/actions/${k}`)),
    ...(piece.steps ?? []).flatMap((s, k) => stepFaults(s, `${path}/steps/${k}`)),
  ];
}

export function baseFaults(base: unknown, path: string): DocumentFault[] {
  const b = base as Record<string, unknown>;
  for (const key of ['file', 'blob', 'group'] as const)
    if (key in b) return schemaFaults(otherBases[key], base, path);
  const check = bases[b.primitive as PrimitiveKind];
  if (!check)
    return [
      {
        path: `${path}/primitive`,
        message: `“${String(b.primitive)}” is no primitive; use ${Object.keys(PRIMITIVES).join(', ')}, or a file.`,
      },
    ];
  const found = schemaFaults(check, base, path);
  if (found.length) return found;
  const fault = primitiveFault(base as Primitive);
  return fault ? [{ path, message: fault }] : [];
}

export function stepFaults(step: unknown, path: string): DocumentFault[] {
  const kind = (step as { kind?: unknown } | null)?.kind;
  const check = steps[kind as string];
  if (!check)
    return [
      {
        path: `${path}/kind`,
        message: `“${String(kind)}” is no kind of step; use ${Object.keys(STEP_SCHEMAS).join(', ')}.`,
      },
    ];
  return schemaFaults(check, step, path);
}

export function actionFaults(action: unknown, path: string): DocumentFault[] {
  const op = (action as { op?: unknown } | null)?.op;
  const check = actions[op as string];
  if (!check)
    return [
      {
        path: `${path}/op`,
        message: `“${String(op)}” is no operation; use ${Object.keys(ACTION_SCHEMAS).join(', ')}.`,
      },
    ];
  const found = schemaFaults(check, action, path);
  if (found.length) return found;
  const { select, surface } = action as { select: unknown; surface?: Surface };
  if (surface) {
    const faults = baseFaults(surface.base, `${path}/surface/base`);
    if (faults.length) return faults;
  }
  const branch = selectBranch(select);
  if (!branch)
    return [
      {
        path: `${path}/select`,
        message: `Give a list (faces, edges or points), or a rule: ${Object.keys(SELECT_SCHEMAS).slice(3).join(', ')}.`,
      },
    ];
  return schemaFaults(selects[branch], select, `${path}/select`);
}

function referenceFaults(pieces: Piece[], exported: string[]): DocumentFault[] {
  const faults: DocumentFault[] = [];
  const ids = new Set<string>();
  pieces.forEach((p, i) => {
    if (ids.has(p.id)) faults.push({ path: `pieces/${i}/id`, message: `The id “${p.id}” is used twice.` });
    ids.add(p.id);
  });
  pieces.forEach((p, i) => {
    if (p.parent !== undefined && !ids.has(p.parent))
      faults.push({ path: `pieces/${i}/parent`, message: `There is no piece “${p.parent}”.` });
    (p.steps ?? []).forEach((s, k) => {
      if (s.kind !== 'cut') return;
      s.cutters.forEach((c, n) => {
        if (!ids.has(c))
          faults.push({ path: `pieces/${i}/steps/${k}/cutters/${n}`, message: `There is no piece “${c}”.` });
      });
    });
    if (p.transform?.size?.some((x) => x === 0))
      faults.push({ path: `pieces/${i}/transform/size`, message: 'A size of 0 would flatten the piece.' });
  });
  exported.forEach((e, i) => {
    if (!ids.has(e)) faults.push({ path: `export/${i}`, message: `There is no piece “${e}”.` });
  });
  const cycle = cutterCycle(pieces);
  if (cycle) faults.push({ path: 'pieces', message: `Cutters run in a circle: ${cycle.join(' → ')}.` });
  const loop = parentCycle(pieces);
  if (loop) faults.push({ path: 'pieces', message: `“${loop}” is nested inside itself.` });
  return faults;
}

function parentCycle(pieces: Piece[]): string | null {
  const parent = new Map(pieces.map((p) => [p.id, p.parent]));
  for (const p of pieces) {
    let at = p.parent;
    for (let k = 0; at !== undefined; k++) {
      if (at === p.id || k > pieces.length) return p.name ?? p.id;
      at = parent.get(at);
    }
  }
  return null;
}

function schemaFaults(
  check: { (v: unknown): boolean; errors?: ErrorObject[] | null },
  value: unknown,
  path: string,
): DocumentFault[] {
  if (check(value)) return [];
  return (check.errors ?? []).filter((e) => e.keyword !== 'anyOf').map((e) => explain(e, path));
}

function explain(e: ErrorObject, path: string): DocumentFault {
  const at = [path, e.instancePath.slice(1)].filter(Boolean).join('/');
  const p = e.params as Record<string, unknown>;
  switch (e.keyword) {
    case 'additionalProperties':
      return {
        path: `${at ? at + '/' : ''}${String(p.additionalProperty)}`,
        message: `Unknown key “${String(p.additionalProperty)}”.`,
      };
    case 'required':
      return { path: at, message: `The key “${String(p.missingProperty)}” is missing.` };
    case 'minimum':
    case 'maximum':
      return {
        path: at,
        message: `Must be ${String(p.comparison) === '>=' ? 'at least' : 'at most'} ${String(p.limit)}.`,
      };
    default:
      return { path: at, message: `${e.message ?? 'is not allowed'}.`.replace(/^./, (c) => c.toUpperCase()) };
  }
}

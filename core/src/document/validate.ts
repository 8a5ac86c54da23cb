/** Checks recipes and scenes: the schema first, then what a schema cannot say. */
import '../primitives/letters/withFont';
import { Ajv, type ErrorObject } from 'ajv';
import { PRIMITIVES, primitiveFault, type Primitive, type PrimitiveKind } from '../primitives';
import { SELECT_SCHEMAS, selectBranch } from '../select/rules';
import { STEPS } from '../steps';
import { ACTION_SCHEMAS } from '../actions/actions';
import {
  BlobBaseSchema,
  FileBaseSchema,
  GroupBaseSchema,
  SurfaceSchema,
  TakenBaseSchema,
  TwinBaseSchema,
  type Surface,
} from '../primitives/base';
import { isReservedWord } from '../schema/json';
import { VersionError, versionOf } from './migrations';
import { isOrderKey } from './order';
import { PresetSchema, type Preset } from './presets';
import { PieceSchema, RecipeSchema, type Piece, type Recipe } from './schema';
import {
  DOCUMENT_VERSION,
  isSection,
  referencesOf,
  SECTION_NAMES,
  SECTIONS,
  type Entry,
  type SceneDocument,
  type Section,
} from './sections';
import { cutterCycle, parentCycle, type PieceLookup } from './graph';

export interface DocumentFault {
  /** The path, e.g. `pieces/2/base/radius`. */
  path: string;
  message: string;
}

const ajv = new Ajv({ allErrors: true, strict: false, strictNumbers: true });
interface Check {
  (value: unknown): boolean;
  errors?: ErrorObject[] | null;
}
/** A check that is compiled when it is first asked: compiling all of them takes seconds, and few are ever needed. */
function checkOf(schema: object): Check {
  let compiled: ReturnType<typeof ajv.compile> | undefined;
  const check: Check = (value) => {
    compiled ??= ajv.compile(schema);
    const holds = compiled(value) as boolean;
    check.errors = compiled.errors;
    return holds;
  };
  return check;
}

// Unions are checked by hand, by the branch that is meant, so that messages name one key and not all branches.
const recipeOuter = checkOf({
  ...RecipeSchema,
  properties: { ...RecipeSchema.properties, pieces: { type: 'array', maxItems: 5000 } },
});
const pieceOuter = checkOf({
  ...PieceSchema,
  properties: {
    ...PieceSchema.properties,
    base: { type: 'object' },
    steps: { type: 'array', maxItems: 200 },
    actions: { type: 'array', maxItems: 5000 },
  },
});
const bases = new Map(Object.values(PRIMITIVES).map((k) => [k.kind, checkOf(k.schema)]));
const otherBases = {
  file: checkOf(FileBaseSchema),
  blob: checkOf(BlobBaseSchema),
  group: checkOf(GroupBaseSchema),
  twin: checkOf(TwinBaseSchema),
  taken: checkOf(TakenBaseSchema),
};
/** Bases that have no mesh but through other pieces. */
const NOT_MESHES = ['group', 'twin', 'taken'] as const;
const actions = new Map(
  Object.entries(ACTION_SCHEMAS).map(([k, s]) => [
    k,
    checkOf({
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
const selects = new Map(Object.entries(SELECT_SCHEMAS).map(([k, s]) => [k, checkOf(s)]));
// Actions of a step are checked by hand as those of a piece are.
const steps = new Map(
  Object.values(STEPS).map((d) => {
    const { actions: list, ...rest } = d.schema.properties;
    const properties = list ? { ...rest, actions: { type: 'array', maxItems: 5000 } } : rest;
    return [d.kind as string, checkOf({ ...d.schema, properties })];
  }),
);
const presetOuter = checkOf({
  ...PresetSchema,
  properties: {
    ...PresetSchema.properties,
    steps: { ...PresetSchema.properties.steps, items: { type: 'object' } },
  },
});
const things = new Map(SECTION_NAMES.map((s) => [s, checkOf(SECTIONS[s])]));

/** All faults of a recipe; empty when it is sound. */
export function recipeFaults(value: unknown): DocumentFault[] {
  const newer = versionFault(value);
  if (newer) return [newer];
  const found = schemaFaults(recipeOuter, value, '');
  if (found.length) return found;
  return pieceListFaults((value as Recipe).pieces, (value as Recipe).export);
}

/** All faults of a list of pieces, as recipes have it. */
export function pieceListFaults(pieces: unknown[], exported: string[] = []): DocumentFault[] {
  const faults = pieces.flatMap((p, i) => pieceFaults(p, `pieces/${i}`));
  if (faults.length) return faults;
  const list = pieces as Piece[];
  const byId = new Map<string, Piece>();
  list.forEach((p, i) => {
    if (byId.has(p.id)) faults.push({ path: `pieces/${i}/id`, message: `The id “${p.id}” is used twice.` });
    byId.set(p.id, p);
  });
  const has = (_: string, id: string): boolean => byId.has(id);
  list.forEach((p, i) => faults.push(...missingFaults('pieces', p, `pieces/${i}`, has)));
  exported.forEach((e, i) => {
    if (!byId.has(e)) faults.push({ path: `export/${i}`, message: `There is no piece “${e}”.` });
  });
  return [...faults, ...circleFaults(byId, byId.keys())];
}

function versionFault(value: unknown): DocumentFault | null {
  try {
    versionOf(value);
    return null;
  } catch (e) {
    if (e instanceof VersionError) return { path: 'version', message: e.message };
    throw e;
  }
}

/** All faults of a stored document; empty when it is sound. */
export function documentFaults(value: unknown): DocumentFault[] {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return [{ path: '', message: 'A document is an object.' }];
  const newer = versionFault(value);
  if (newer) return [newer];
  const doc = value as SceneDocument;
  if (doc.version !== DOCUMENT_VERSION) return [{ path: 'version', message: `Must be ${DOCUMENT_VERSION}.` }];
  for (const key of Object.keys(doc))
    if (key !== 'version' && key !== 'order' && !isSection(key))
      return [{ path: key, message: `There is no section “${key}”.` }];
  for (const s of [...SECTION_NAMES, 'order'] as const)
    if (typeof doc[s] !== 'object' || doc[s] === null || Array.isArray(doc[s]))
      return [{ path: s, message: 'A section is an object of things by id.' }];
  if (Object.keys(doc.pieces).length > MOST_PIECES)
    return [{ path: 'pieces', message: `A scene holds up to ${MOST_PIECES} pieces.` }];
  const all = SECTION_NAMES.flatMap((s) => Object.keys(doc[s]).map((id) => `${s}/${id}`));
  const strays = Object.keys(doc.order).map((id) => `pieces/${id}`);
  return changeFaults(null, doc, new Set([...all, ...strays]));
}

/** The most that the interface, the server and a recipe take. */
export const MOST_PIECES = 5000;

/**
 * Faults a change brought into a document that was sound before. Costs what changed; only when things went away is
 * everything looked at that might refer to them.
 * @param before the pieces there were among those that changed; null when all are new
 * @param changed the things that changed, as `section/id`
 */
export function changeFaults(
  before: Readonly<Record<string, unknown>> | null,
  doc: SceneDocument,
  changed: ReadonlySet<string>,
): DocumentFault[] {
  const faults: DocumentFault[] = [];
  const present: Array<[Section, string]> = [];
  let gone = false;
  for (const place of changed) {
    const [section, id] = place.split(/\/(.*)/s) as [Section, string];
    const key = doc.order[id];
    if (!Object.hasOwn(doc[section], id)) {
      gone = true;
      if (section === 'pieces' && Object.hasOwn(doc.order, id))
        faults.push({ path: `order/${id}`, message: `There is no piece “${id}”.` });
      continue;
    }
    present.push([section, id]);
    faults.push(...entryFaults(section, id, doc[section][id]));
    if (section === 'pieces' && !(Object.hasOwn(doc.order, id) && isOrderKey(key)))
      faults.push({ path: `order/${id}`, message: 'The place in the list is missing, or not a place.' });
  }
  if (faults.length) return faults;
  const added = present.some(([s, id]) => s === 'pieces' && before && !Object.hasOwn(before, id));
  if (added && Object.keys(doc.pieces).length > MOST_PIECES)
    return [{ path: 'pieces', message: `A scene holds up to ${MOST_PIECES} pieces.` }];
  const has = (section: string, id: string): boolean => Object.hasOwn(doc[section as Section], id);
  const looked: Array<[Section, string]> = gone
    ? SECTION_NAMES.flatMap((s) => Object.keys(doc[s]).map((id): [Section, string] => [s, id]))
    : present;
  for (const [s, id] of looked) faults.push(...missingFaults(s, doc[s][id], `${s}/${id}`, has));
  if (faults.length) return faults;
  return circleFaults(
    inTable(doc.pieces),
    present.flatMap(([s, id]) => (s === 'pieces' ? [id] : [])),
  );
}

/** Sections whose entries hold unions: these are checked by hand, branch by branch. */
const faultsIn: Partial<Record<Section, (value: unknown, path: string) => DocumentFault[]>> = {
  pieces: pieceFaults,
  presets: presetFaults,
};

/** Faults of one thing by itself. */
function entryFaults(section: Section, id: string, value: unknown): DocumentFault[] {
  const path = `${section}/${id}`;
  const found = faultsIn[section]?.(value, path) ?? schemaFaults(things.get(section)!, value, path);
  if (found.length) return found;
  return (value as Entry).id === id
    ? []
    : [{ path: `${path}/id`, message: `The id must be “${id}”, the one it is kept under.` }];
}

function missingFaults(
  section: Section,
  entry: Entry,
  path: string,
  has: (section: string, id: string) => boolean,
): DocumentFault[] {
  return (
    referencesOf(section, entry)
      // A piece that is only named may be gone: a rule that names a cutter then finds no rims of it.
      .filter((r) => ['operand', 'parent', 'source'].includes(r.role) && !has(r.section, r.id))
      .map((r) => ({
        path: [path, ...r.path].join('/'),
        message: `There is no ${r.section === 'pieces' ? 'piece' : `thing in ${r.section}`} “${r.id}”.`,
      }))
  );
}

/** A table of a document, looked things up in as in a map. */
const inTable = (pieces: Record<string, Piece>): PieceLookup => ({
  has: (id) => Object.hasOwn(pieces, id),
  get: (id) => (Object.hasOwn(pieces, id) ? pieces[id] : undefined),
  values: () => Object.values(pieces),
});

function circleFaults(byId: PieceLookup, from: Iterable<string>): DocumentFault[] {
  const ids = [...from];
  const cycle = cutterCycle(byId, ids);
  if (cycle) return [{ path: 'pieces', message: `Cutters run in a circle: ${cycle.join(' → ')}.` }];
  const loop = parentCycle(byId, ids);
  return loop ? [{ path: 'pieces', message: `“${loop[0]}” is nested inside itself.` }] : [];
}

function pieceFaults(value: unknown, path: string): DocumentFault[] {
  const outer = schemaFaults(pieceOuter, value, path);
  if (outer.length) return outer;
  const piece = value as Piece;
  if (isReservedWord(piece.id))
    return [{ path: `${path}/id`, message: `“${piece.id}” is a reserved word; take another id.` }];
  return [
    ...baseFaults(piece.base, `${path}/base`),
    ...twinFaults(piece, path),
    ...(piece.actions ?? []).flatMap((a, k) => actionFaults(a, `${path}/actions/${k}`)),
    ...(piece.steps ?? []).flatMap((s, k) => stepFaults(s, `${path}/steps/${k}`)),
    ...(piece.transform?.size?.some((x) => x === 0)
      ? [{ path: `${path}/transform/size`, message: 'A size of 0 would flatten the piece.' }]
      : []),
  ];
}

/** All faults of a preset by itself. */
export function presetFaults(value: unknown, path: string): DocumentFault[] {
  const outer = schemaFaults(presetOuter, value, path);
  if (outer.length) return outer;
  return (value as Preset).steps.flatMap((s, k) => stepFaults(s, `${path}/steps/${k}`));
}

/** A twin is what its original is: it has a place of its own and nothing else. */
function twinFaults(piece: Piece, path: string): DocumentFault[] {
  if (!('twin' in piece.base)) return [];
  const { twin } = piece.base;
  return (['actions', 'steps', 'selections'] as const).flatMap((key) =>
    piece[key] && Object.keys(piece[key]).length
      ? [
          {
            path: `${path}/${key}`,
            message: `A twin has no ${key} of its own; give them to “${twin}”, or make it a piece of its own.`,
          },
        ]
      : [],
  );
}

export function baseFaults(base: unknown, path: string): DocumentFault[] {
  const b = base as Record<string, unknown>;
  for (const key of Object.keys(otherBases) as Array<keyof typeof otherBases>)
    if (Object.hasOwn(b, key)) return schemaFaults(otherBases[key], base, path);
  const check = bases.get(b.primitive as PrimitiveKind);
  if (!check)
    return [
      {
        path: `${path}/primitive`,
        message: `“${String(b.primitive)}” is not a primitive; use ${Object.keys(PRIMITIVES).join(', ')}, or a file.`,
      },
    ];
  const found = schemaFaults(check, base, path);
  if (found.length) return found;
  const fault = primitiveFault(base as Primitive);
  return fault ? [{ path, message: fault }] : [];
}

export function stepFaults(step: unknown, path: string): DocumentFault[] {
  const kind = (step as { kind?: unknown } | null)?.kind;
  const check = steps.get(kind as string);
  if (!check)
    return [
      {
        path: `${path}/kind`,
        message: `“${String(kind)}” is not a kind of step; use ${Object.keys(STEPS).join(', ')}.`,
      },
    ];
  const found = schemaFaults(check, step, path);
  const { actions: edits } = step as { actions?: unknown[] };
  if (found.length || !edits) return found;
  return edits.flatMap((a, k) => actionFaults(a, `${path}/actions/${k}`));
}

export function actionFaults(action: unknown, path: string): DocumentFault[] {
  const op = (action as { op?: unknown } | null)?.op;
  const check = actions.get(op as string);
  if (!check)
    return [
      {
        path: `${path}/op`,
        message: `“${String(op)}” is not an operation; use ${Object.keys(ACTION_SCHEMAS).join(', ')}.`,
      },
    ];
  const found = schemaFaults(check, action, path);
  if (found.length) return found;
  const { select, surface } = action as { select: unknown; surface?: Surface };
  if (surface) {
    const at = `${path}/surface/base`;
    const faults = baseFaults(surface.base, at);
    if (faults.length) return faults;
    if (NOT_MESHES.some((key) => key in surface.base))
      return [{ path: at, message: 'A surface is a primitive, a file or a stored mesh.' }];
  }
  const branch = selectBranch(select);
  if (!branch)
    return [
      {
        path: `${path}/select`,
        message: `Give a list (faces, edges or points), or a rule: ${Object.keys(SELECT_SCHEMAS).slice(3).join(', ')}.`,
      },
    ];
  return schemaFaults(selects.get(branch)!, select, `${path}/select`);
}

function schemaFaults(check: Check, value: unknown, path: string): DocumentFault[] {
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

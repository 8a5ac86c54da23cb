/**
 * References between things of a document, marked in the schemas. One walker, made from a schema, serves all who
 * follow them: checking, duplicating, deleting, cycles, dependents, and which stored meshes are still needed.
 */
import { Type, type TSchema } from 'typebox';

/** The role of the referenced thing for the one that refers to it. */
export type Role =
  /** Its result is worked with. */
  | 'operand'
  /** The piece is built from the other's result, or from what was taken from it. */
  | 'source'
  /** The other piece carries this one along. */
  | 'parent'
  /** The other piece is only named. */
  | 'mention'
  /** A stored mesh, by hash. */
  | 'mesh';

export interface Reference {
  /** The section of the document it points into; `meshes` for stored meshes. */
  section: string;
  role: Role;
  id: string;
  path: Array<string | number>;
}

/** An id of a thing in another section, or in the same one. */
export const reference = (section: string, role: Role) =>
  Type.String({ minLength: 1, maxLength: 64, refersTo: section, role });

/** A stored mesh, by the hash of its bytes. */
export const meshReference = () =>
  Type.String({ pattern: '^[0-9a-f]{64}$', refersTo: 'meshes', role: 'mesh' });

/** A list of references whose owner (the item of a list it stands in) goes when the last of them goes. */
export const carryingList = (section: string, role: Role, limits: { minItems?: number; maxItems: number }) =>
  Type.Array(reference(section, role), { ...limits, carries: true });

type Node =
  | { kind: 'reference'; section: string; role: Role }
  | { kind: 'object'; keys: Array<[string, Node]>; every: Node | null }
  | { kind: 'list'; item: Node; carries: boolean }
  | { kind: 'either'; branches: Array<{ tags: Array<[string, unknown]>; keys: string[]; node: Node }> };

interface Plain {
  refersTo?: string;
  role?: Role;
  carries?: boolean;
  const?: unknown;
  anyOf?: Plain[];
  items?: Plain | Plain[];
  properties?: Record<string, Plain>;
  patternProperties?: Record<string, Plain>;
  required?: string[];
}

/** Paths of references under a schema; null when there are none. */
function nodeOf(s: Plain): Node | null {
  if (s.refersTo) return { kind: 'reference', section: s.refersTo, role: s.role ?? 'mention' };
  if (s.anyOf) {
    const branches = s.anyOf.flatMap((b) => {
      const node = nodeOf(b);
      if (!node) return [];
      const tags = Object.entries(b.properties ?? {}).flatMap(([k, v]): Array<[string, unknown]> =>
        v.const === undefined ? [] : [[k, v.const]],
      );
      return [{ tags, keys: b.required ?? [], node }];
    });
    return branches.length ? { kind: 'either', branches } : null;
  }
  if (s.items && !Array.isArray(s.items)) {
    const item = nodeOf(s.items);
    return item && { kind: 'list', item, carries: s.carries === true };
  }
  const keys = Object.entries(s.properties ?? {}).flatMap(([k, v]): Array<[string, Node]> => {
    const node = nodeOf(v);
    return node ? [[k, node]] : [];
  });
  const every = s.patternProperties ? nodeOf(Object.values(s.patternProperties)[0]) : null;
  return keys.length || every ? { kind: 'object', keys, every } : null;
}

const branchOf = (node: Node & { kind: 'either' }, value: Record<string, unknown>): Node | null =>
  node.branches.find(
    (b) => b.tags.every(([k, v]) => value[k] === v) && b.keys.every((k) => Object.hasOwn(value, k)),
  )?.node ?? null;

const GONE = Symbol('gone');
type Mapped = unknown | typeof GONE;

export class ReferenceWalker {
  private readonly root: Node | null;

  constructor(schema: TSchema) {
    this.root = nodeOf(schema as Plain);
  }

  /** Every reference in a value, in reading order. */
  list(value: unknown): Reference[] {
    const out: Reference[] = [];
    const walk = (node: Node | null, v: unknown, path: Array<string | number>): void => {
      if (!node || v === undefined || v === null) return;
      if (node.kind === 'reference') {
        if (typeof v === 'string') out.push({ section: node.section, role: node.role, id: v, path });
      } else if (typeof v !== 'object') return;
      else if (node.kind === 'list') {
        if (Array.isArray(v)) v.forEach((x, i) => walk(node.item, x, [...path, i]));
      } else if (node.kind === 'either') walk(branchOf(node, v as never), v, path);
      else {
        const r = v as Record<string, unknown>;
        for (const [k, n] of node.keys) if (Object.hasOwn(r, k)) walk(n, r[k], [...path, k]);
        if (node.every) for (const [k, x] of Object.entries(r)) walk(node.every, x, [...path, k]);
      }
    };
    walk(this.root, value, []);
    return out;
  }

  /**
   * The value with its references replaced; parts without a change stay the same objects. Null from `to` takes the
   * reference away: out of its list, or with its key; the owner of a carrying list goes with the last of it.
   */
  replace<T>(value: T, to: (r: { section: string; role: Role; id: string }) => string | null): T {
    const walk = (node: Node | null, v: unknown): Mapped => {
      if (!node || v === undefined || v === null) return v;
      if (node.kind === 'reference')
        return typeof v === 'string' ? (to({ section: node.section, role: node.role, id: v }) ?? GONE) : v;
      if (typeof v !== 'object') return v;
      if (node.kind === 'list') {
        if (!Array.isArray(v)) return v;
        const kept = v.map((x) => walk(node.item, x)).filter((x) => x !== GONE);
        if (node.carries && v.length && !kept.length) return GONE;
        return kept.length === v.length && kept.every((x, i) => x === v[i]) ? v : kept;
      }
      if (node.kind === 'either') return walk(branchOf(node, v as never), v);
      const r = v as Record<string, unknown>;
      let out: Record<string, unknown> | null = null;
      const take = (k: string, n: Node): boolean => {
        const next = walk(n, r[k]);
        if (next === r[k]) return true;
        if (next === GONE && (carries(n) || n.kind === 'either' || n.kind === 'object')) return false;
        out ??= { ...r };
        if (next === GONE) delete out[k];
        else out[k] = next;
        return true;
      };
      for (const [k, n] of node.keys) if (Object.hasOwn(r, k) && !take(k, n)) return GONE;
      if (node.every) for (const k of Object.keys(r)) if (!take(k, node.every)) return GONE;
      return out ?? r;
    };
    const result = walk(this.root, value);
    return result === GONE ? value : (result as T);
  }
}

const carries = (n: Node): boolean => n.kind === 'list' && n.carries;

/** JSON that keeps what was written: nothing a reader would lose or mistake is let through. */

/** A text that cannot be taken as data; `place` is where, as a path or a character. */
export class JsonError extends Error {
  constructor(
    message: string,
    readonly place = '',
  ) {
    super(message);
  }
}

/** Words every JavaScript object answers to. As keys or ids they would be mistaken for what is built in. */
const RESERVED: ReadonlySet<string> = new Set([...Object.getOwnPropertyNames(Object.prototype), 'prototype']);
export const isReservedWord = (word: string): boolean => RESERVED.has(word);

/** Nested deeper than any document is. */
const DEEPEST = 64;

/**
 * Parses JSON; refuses numbers that JSON would lose (1e400, integers beyond what a double holds), reserved words as
 * keys, and nesting deeper than 64.
 * @throws JsonError
 */
export function parseJson(text: string): unknown {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (e) {
    throw new JsonError(`This is not JSON: ${(e as Error).message}`);
  }
  // Only long digits or exponents of two and more digits can be lost; most texts have neither.
  if (/\d{16}|[eE][+-]?\d\d/.test(text)) refuseLostNumbers(text);
  refuseKeys(value, [], 0);
  return value;
}

const TOKEN = /"(?:[^"\\]|\\.)*"|-?\d[\d.eE+-]*/g;

function refuseLostNumbers(text: string): void {
  for (const { 0: token, index } of text.matchAll(TOKEN)) {
    if (token[0] === '"') continue;
    const number = Number(token);
    const mantissa = token.split(/[eE]/)[0];
    const lost =
      !Number.isFinite(number) ||
      (number === 0 && /[1-9]/.test(mantissa)) ||
      (/^-?\d{16,}$/.test(token) && BigInt(token) !== BigInt(number));
    if (lost)
      throw new JsonError(
        `The number ${token.length > 30 ? token.slice(0, 30) + '…' : token} cannot be kept exactly; give one between −1e300 and 1e300 with up to 15 digits.`,
        `character ${index + 1}`,
      );
  }
}

function refuseKeys(value: unknown, path: Array<string | number>, depth: number): void {
  if (typeof value !== 'object' || value === null) return;
  if (depth > DEEPEST)
    throw new JsonError(`This is nested deeper than ${DEEPEST} levels.`, path.slice(0, 6).join('/') + '/…');
  if (Array.isArray(value)) {
    if (typeof value[0] === 'object')
      value.forEach((v, i) => {
        path.push(i);
        refuseKeys(v, path, depth + 1);
        path.pop();
      });
    return;
  }
  for (const key of Object.keys(value)) {
    path.push(key);
    if (RESERVED.has(key))
      throw new JsonError(`“${key}” is a reserved word and cannot be a key.`, path.join('/'));
    refuseKeys((value as Record<string, unknown>)[key], path, depth + 1);
    path.pop();
  }
}

/** The text of a value with keys in one order, the same for values that are alike. */
export function canonicalJson(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join()}]`;
  const entries = Object.entries(value)
    .filter(([, v]) => v !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${entries.map(([k, v]) => `${JSON.stringify(k)}:${canonicalJson(v)}`).join()}}`;
}

/** The value as JSON would bring it back: without undefined keys and negative zeros. Shares nothing. */
export function tidy<T>(value: T): T {
  if (Object.is(value, -0)) return 0 as T;
  if (typeof value !== 'object' || value === null) return value;
  if (Array.isArray(value)) return value.map((v) => (v === undefined ? null : tidy(v))) as T;
  const out: Record<string, unknown> = {};
  for (const [k, v] of Object.entries(value)) if (v !== undefined) out[k] = tidy(v);
  return out as T;
}

/** Whether two values are the same as JSON; quick where they share parts. */
export function alike(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) || Array.isArray(b)) {
    if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false;
    return a.every((v, i) => alike(v, b[i]));
  }
  const x = a as Record<string, unknown>;
  const y = b as Record<string, unknown>;
  for (const k in x)
    if (x[k] !== undefined && !alike(x[k], Object.hasOwn(y, k) ? y[k] : undefined)) return false;
  for (const k in y) if (y[k] !== undefined && (!Object.hasOwn(x, k) || x[k] === undefined)) return false;
  return true;
}

/** `after`, with every part that did not change taken from `before`, so that identity tells what changed. */
export function reconciled<T>(before: unknown, after: T): T {
  if (before === after || typeof after !== 'object' || after === null) return after;
  if (typeof before !== 'object' || before === null || Array.isArray(before) !== Array.isArray(after))
    return after;
  const old = before as Record<string, unknown>;
  let same = Object.keys(old).length === Object.keys(after).length;
  const out: Record<string, unknown> = (Array.isArray(after) ? [] : {}) as never;
  for (const [k, v] of Object.entries(after)) {
    out[k] = reconciled(Object.hasOwn(old, k) ? old[k] : undefined, v);
    same &&= Object.hasOwn(old, k) && out[k] === old[k];
  }
  return (same ? before : out) as T;
}

/** Attribute layers, and how they are copied, mixed and joined; what each layer is stands in `layerKinds.ts`. */
import type { Domain } from './elements';
import { DIRECTIONS, isCode } from './layerKinds';
import type { OldSets } from './OldSets';

export type LayerArray = Float64Array | Float32Array | Int32Array | Uint32Array | Uint8Array;
export interface Layer {
  /** Numbers per element. */
  readonly size: number;
  readonly data: LayerArray;
  /** The numbers are codes of sets of old elements; between others lies what came from all of them. */
  readonly sets?: OldSets;
}
export type LayerSet = Readonly<Record<string, Layer>>;
export type { Domain };
export type Layers = Readonly<Record<Domain, LayerSet>>;

export const emptyLayers = (): Layers => ({ vertex: {}, edge: {}, corner: {}, face: {} });

/**
 * How strongly a face leads the shading of its corners: 0, the default of a missing layer, is plain. The corners where
 * roundings meet follow as their strips do.
 */
export const RANK = { plain: 0, lead: 1, follow: 2, corner: 3 } as const;
export const follows = (rank: number | undefined): boolean => rank === RANK.follow || rank === RANK.corner;

const allocate = (like: LayerArray, n: number): LayerArray =>
  new (like.constructor as new (n: number) => LayerArray)(n);

export const hasLayers = (set: LayerSet): boolean => {
  for (const _ in set) return true;
  return false;
};

/** Copies whole elements: output i takes source[i]; −1 leaves zeros. */
export function copyLayers(set: LayerSet, source: Int32Array | Uint32Array): LayerSet {
  const out: Record<string, Layer> = {};
  for (const name in set) {
    const { size, data } = set[name];
    const result = allocate(data, source.length * size);
    out[name] = { ...set[name], data: result };
    if (size === 1) {
      for (let i = 0; i < source.length; i++) if (source[i] >= 0) result[i] = data[source[i]];
      continue;
    }
    for (let i = 0; i < source.length; i++) {
      const s = source[i];
      if (s < 0) continue;
      for (let k = 0; k < size; k++) result[i * size + k] = data[s * size + k];
    }
  }
  return out;
}

/** Up to three weighted sources per output element; index −1 ends the list early. */
export interface Blend {
  readonly index: Int32Array;
  readonly weight: Float64Array;
}
export const makeBlend = (n: number): Blend => ({
  index: new Int32Array(3 * n).fill(-1),
  weight: new Float64Array(3 * n),
});

/** Mixes elements by weight; codes copy the heaviest source, directions are brought back to unit length. */
export function blendLayers(set: LayerSet, blend: Blend): LayerSet {
  const n = blend.index.length / 3;
  const out: Record<string, Layer> = {};
  for (const name in set) {
    const { size, data, sets } = set[name];
    const result = allocate(data, n * size);
    out[name] = { ...set[name], data: result };
    const discrete = isCode(name);
    const unit = DIRECTIONS.includes(name);
    const { index } = blend;
    for (let i = 0; i < n; i++) {
      const only = index[3 * i];
      if (only < 0) continue;
      if (index[3 * i + 1] < 0) {
        // One source: most corners of most results.
        for (let k = 0; k < size; k++) result[i * size + k] = data[only * size + k];
        continue;
      }
      if (sets) result[i] = sets.union(codesAt(data, index, i));
      else if (discrete) copyHeaviest(result, data, size, blend, i);
      else mix(result, data, size, blend, i);
      if (unit) normaliseAt(result, i * size);
    }
  }
  return out;
}

const codesAt = (data: LayerArray, index: Int32Array, i: number): number[] =>
  [0, 1, 2].map((k) => index[3 * i + k]).flatMap((e) => (e < 0 ? [] : [data[e]]));

function copyHeaviest(out: LayerArray, data: LayerArray, size: number, b: Blend, i: number): void {
  let best = -1;
  for (let k = 3 * i; k < 3 * i + 3 && b.index[k] >= 0; k++)
    if (best < 0 || b.weight[k] > b.weight[best]) best = k;
  if (best < 0) return;
  for (let k = 0; k < size; k++) out[i * size + k] = data[b.index[best] * size + k];
}

function mix(out: LayerArray, data: LayerArray, size: number, b: Blend, i: number): void {
  for (let k = 3 * i; k < 3 * i + 3 && b.index[k] >= 0; k++)
    for (let j = 0; j < size; j++) out[i * size + j] += b.weight[k] * data[b.index[k] * size + j];
}

function normaliseAt(out: LayerArray, at: number): void {
  const l = Math.hypot(out[at], out[at + 1], out[at + 2]);
  if (l < 1e-12) return;
  for (let k = 0; k < 3; k++) out[at + k] /= l;
}

/** Any number of weighted sources of one element. */
export interface Mix {
  readonly of: ReadonlyArray<number>;
  readonly by: ReadonlyArray<number>;
}

/**
 * Writes one element of every layer: copied from an element of `from`, or mixed by the same rules as `blendLayers`.
 * @param source an element, a mixture, or −1 to leave zeros
 * @param except names of layers left as they are
 */
export function writeElement(
  into: LayerSet,
  at: number,
  from: LayerSet,
  source: number | Mix,
  except?: ReadonlyArray<string>,
): void {
  if (source === -1) return;
  for (const name in from) {
    if (except?.includes(name)) continue;
    const { size, data, sets } = from[name];
    const target = into[name].data;
    if (sets && typeof source !== 'number') {
      target[at] = sets.union(source.of.map((e) => data[e]));
      continue;
    }
    const whole = typeof source === 'number' ? source : isCode(name) ? source.of[heaviest(source.by)] : -1;
    if (whole >= 0) {
      for (let k = 0; k < size; k++) target[at * size + k] = data[whole * size + k];
      continue;
    }
    const { of, by } = source as Mix;
    for (let k = 0; k < size; k++) {
      let sum = 0;
      for (let i = 0; i < of.length; i++) sum += by[i] * data[of[i] * size + k];
      target[at * size + k] = sum;
    }
    if (DIRECTIONS.includes(name)) normaliseAt(target, at * size);
  }
}

/** Equal shares of all. */
export const evenly = (of: ReadonlyArray<number>): Mix => ({ of, by: of.map(() => 1 / of.length) });

const heaviest = (by: ReadonlyArray<number>): number => by.indexOf(Math.max(...by));

/** Writes whole elements into layers of the same shape: element i goes to place at[i]. */
export function scatterLayers(into: LayerSet, set: LayerSet, at: ArrayLike<number>): void {
  for (const name in set) {
    const { size, data } = set[name];
    const target = into[name].data;
    for (let i = 0; i < at.length; i++)
      for (let k = 0; k < size; k++) target[at[i] * size + k] = data[i * size + k];
  }
}

/** Joins the layers of several meshes one after the other; a layer one of them lacks is zero there. */
export function concatLayers(sets: ReadonlyArray<LayerSet>, counts: ReadonlyArray<number>): LayerSet {
  const total = counts.reduce((a, b) => a + b, 0);
  const out: Record<string, Layer> = {};
  for (const set of sets)
    for (const name in set) {
      if (out[name]) continue;
      const { size, data } = set[name];
      const result = allocate(data, total * size);
      out[name] = { ...set[name], data: result };
      let at = 0;
      sets.forEach((other, i) => {
        if (other[name]) result.set(other[name].data, at * size);
        at += counts[i];
      });
    }
  return out;
}

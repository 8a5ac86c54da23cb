/**
 * Lineage: maps from the elements of a mesh to those of an earlier one. They come from layers that ride along like
 * any other, each element naming the old ones it was made of, so whatever carries layers keeps the maps.
 */
import type { ElementKind } from './elements';
import { MADE_SIZE, ROLES, type Made, type Role } from './made';
import { evenly, writeElement, type Domain, type Layer, type Layers, type LayerSet } from './layers';
import { OldSets } from './OldSets';
import { faceCount, vertexCount, type PolyMesh } from './PolyMesh';
import { topologyOf } from './Topology';

/** 1, 2, 3 …: each element its own code. */
function countedFrom1(n: number): Uint32Array {
  const out = new Uint32Array(n);
  for (let i = 0; i < n; i++) out[i] = i + 1;
  return out;
}

/** From the elements of a mesh to those of the mesh before: none, one or several each. */
export class ElementMap {
  constructor(
    private readonly codes: Uint32Array,
    private readonly sets: OldSets,
    /** 1 per element that was added beside those it came from, as a wall is beside the face it rose from. */
    private readonly made: Uint8Array | null = null,
  ) {}

  static identity(n: number): ElementMap {
    return new ElementMap(countedFrom1(n), new OldSets(n));
  }

  /** Elements there are now. */
  get size(): number {
    return this.codes.length;
  }

  /** Elements there were. */
  get before(): number {
    return this.sets.count;
  }

  /** The old elements this one came from, ascending. */
  of(i: number): ReadonlyArray<number> {
    return this.sets.of(this.codes[i]);
  }

  /** True when the face was added and its sources stay. */
  isMade(i: number): boolean {
    return this.codes[i] === 0 || this.made?.[i] === 1;
  }

  /**
   * The elements that old ones have become, ascending: those that are one of them and no other where there are any;
   * else those that they went into; else what was made of them. An element of which nothing is left has none. Linear.
   */
  follow(old: Iterable<number>): number[] {
    const wanted = new Uint8Array(this.before);
    for (const i of old) wanted[i] = 1;
    // How near the best new element is to being the old one: 1 made of it, 2 part of several, 3 itself.
    const best = new Uint8Array(this.before);
    const nearness = (i: number): number => (this.isMade(i) ? 1 : this.of(i).length > 1 ? 2 : 3);
    for (let i = 0; i < this.size; i++)
      for (const o of this.of(i)) if (wanted[o]) best[o] = Math.max(best[o], nearness(i));
    const out: number[] = [];
    for (let i = 0; i < this.size; i++) {
      const n = nearness(i);
      if (this.of(i).some((o) => wanted[o] && best[o] === n)) out.push(i);
    }
    return out;
  }

  /** Old elements of which nothing is left. Linear. */
  lost(old: Iterable<number>): number[] {
    const left = new Uint8Array(this.before);
    for (let i = 0; i < this.size; i++) for (const o of this.of(i)) left[o] = 1;
    return [...old].filter((o) => !left[o]);
  }

  /** This map, followed by another that goes on from its new elements. */
  then(next: ElementMap): ElementMap {
    const codes = new Uint32Array(next.size);
    const made = new Uint8Array(next.size);
    for (let i = 0; i < codes.length; i++) {
      const through = next.of(i);
      codes[i] = this.sets.union(through.map((k) => this.codes[k]));
      made[i] = next.isMade(i) || (through.length > 0 && through.every((k) => this.isMade(k))) ? 1 : 0;
    }
    return new ElementMap(codes, this.sets, made);
  }
}

export type ElementMaps = Readonly<Record<ElementKind, ElementMap>>;

/** Maps of changes that followed one another, as of one; of none, every element is what it was. */
export function joinedMaps(mesh: PolyMesh, maps: ReadonlyArray<ElementMaps>): ElementMaps {
  if (!maps.length) {
    const n = countsOf(mesh);
    const same = (kind: ElementKind): ElementMap => ElementMap.identity(n[kind]);
    return { vertex: same('vertex'), edge: same('edge'), face: same('face') };
  }
  return maps.reduce((a, b) => ({
    vertex: a.vertex.then(b.vertex),
    edge: a.edge.then(b.edge),
    face: a.face.then(b.face),
  }));
}

const KINDS = ['vertex', 'edge', 'face'] as const satisfies ReadonlyArray<ElementKind & Domain>;
/** No recipe and no file has layers of this name. */
const OLD = '#old';
const MADE = '#made';

const countsOf = (mesh: PolyMesh): Record<ElementKind, number> => ({
  vertex: vertexCount(mesh),
  edge: topologyOf(mesh).edgeCount,
  face: faceCount(mesh),
});

/** The mesh with the layers that maps are read from afterwards. Linear; the last one is kept for a hand at it. */
export function tracked(mesh: PolyMesh): PolyMesh {
  if (last?.of !== mesh) last = { of: mesh, tracked: withTracks(mesh) };
  return last.tracked;
}
let last: { of: PolyMesh; tracked: PolyMesh } | null = null;

function withTracks(mesh: PolyMesh): PolyMesh {
  const counts = countsOf(mesh);
  const layers = { ...mesh.layers };
  for (const kind of KINDS) {
    const data = countedFrom1(counts[kind]);
    layers[kind] = { ...layers[kind], [OLD]: { size: 1, data, sets: new OldSets(counts[kind]) } };
  }
  return withMade({ ...mesh, layers });
}

/** The mesh with room for what makes faces to say so; all are kept so far. */
export function withMade(mesh: PolyMesh): PolyMesh {
  const made: Layer = { size: MADE_SIZE, data: new Uint32Array(MADE_SIZE * faceCount(mesh)) };
  return { ...mesh, layers: { ...mesh.layers, face: { ...mesh.layers.face, [MADE]: made } } };
}

/** Whether anyone asks what new faces are. */
export const isTracked = (face: LayerSet): boolean => MADE in face;

/** Says what a new face is, if anyone asks. @param from layers of the mesh it was made from */
export function writeMade(into: LayerSet, at: number, from: Layers, made: Made): void {
  if (!into[MADE]) return;
  const { role, which = 0, other = -1, edge = -1 } = made;
  const birth = other < 0 ? undefined : from.face.birth;
  const [family, maker] = birth ? birth.data.subarray(birth.size * other) : [0, 0];
  const along = edge < 0 ? 0 : from.edge[OLD]?.data[edge];
  into[MADE].data.set([ROLES.indexOf(role), which, family, maker, along ?? 0], MADE_SIZE * at);
}

/** The mesh with all its faces said to be made, if anyone asks. @param which from what they were before: 0 when kept */
export function allMade(mesh: PolyMesh, role: Role, which: (before: number) => number): PolyMesh {
  const before = madeOf(mesh);
  if (!before) return mesh;
  const data = before.slice();
  for (let i = 0; i < data.length; i += MADE_SIZE) {
    data[i] = ROLES.indexOf(role);
    data[i + 1] = which(before[i + 1]);
  }
  const face = { ...mesh.layers.face, [MADE]: { size: MADE_SIZE, data } };
  return { ...mesh, layers: { ...mesh.layers, face } };
}

/** Numbers the parts that faces were divided into, if anyone asks. @param which by face, from what it was before */
export function numberParts(face: LayerSet, which: (f: number, before: number) => number): void {
  const made = face[MADE]?.data;
  if (made) for (let i = 1; i < made.length; i += MADE_SIZE) made[i] = which((i - 1) / MADE_SIZE, made[i]);
}

/** Says of some faces of a mesh just made what they are, if anyone asks. @param other a name that tells them apart */
export function markMade(mesh: PolyMesh, faces: ReadonlyArray<number>, role: Role, other: number): void {
  const made = madeOf(mesh);
  if (made) for (const f of faces) made.set([ROLES.indexOf(role), 0, other, 0, 0], MADE_SIZE * f);
}

/** Says that an element stands for several old ones, if anyone asks. */
export function writeJoined(into: LayerSet, at: number, from: LayerSet, old: ReadonlyArray<number>): void {
  if (from[OLD]) writeElement({ [OLD]: into[OLD] }, at, { [OLD]: from[OLD] }, evenly(old));
}

/** Per face of a tracked mesh what `MADE_SIZE` tells. */
export const madeOf = (mesh: PolyMesh): Uint32Array | undefined =>
  mesh.layers.face[MADE]?.data as Uint32Array | undefined;

/** The old face a face of a tracked mesh came from, or the first of several; −1 for none. */
export function oldFaceOf(mesh: PolyMesh, f: number): number {
  const layer = mesh.layers.face[OLD];
  return layer?.sets?.of(layer.data[f])[0] ?? -1;
}

/** A face of a tracked mesh is one that what is under way has made. */
export const isMade = (mesh: PolyMesh, f: number): boolean => (madeOf(mesh)?.[MADE_SIZE * f] ?? 0) > 0;

/** Strips of a tracked mesh with the old edge each lies along. */
export function stripsMade(mesh: PolyMesh): Array<{ face: number; edge: number }> {
  const made = madeOf(mesh);
  const sets = mesh.layers.edge[OLD]?.sets;
  return facesMade(mesh, ['strip']).flatMap((face) =>
    (sets?.of(made![MADE_SIZE * face + 4]) ?? []).map((edge) => ({ face, edge })),
  );
}

/** Faces of some roles that a tracked operation has made so far. */
export function facesMade(mesh: PolyMesh, roles: ReadonlyArray<Role>): number[] {
  const made = madeOf(mesh);
  const wanted = roles.map((r) => ROLES.indexOf(r));
  const out: number[] = [];
  for (let f = 0; made && f < faceCount(mesh); f++) if (wanted.includes(made[MADE_SIZE * f])) out.push(f);
  return out;
}

/** A mesh made of a tracked one, without the layers of tracking. */
export function untracked(mesh: PolyMesh): PolyMesh {
  const layers = { ...mesh.layers };
  for (const kind of KINDS) {
    const { [OLD]: _, [MADE]: __, ...rest } = layers[kind];
    layers[kind] = rest;
  }
  return { ...mesh, layers };
}

/** The sources of a mesh's elements, when it was made of a tracked one. Linear. */
export function mapsOf(mesh: PolyMesh, before: PolyMesh): ElementMaps {
  const was = countsOf(before);
  const is = countsOf(mesh);
  const roles = madeOf(mesh);
  const made = new Uint8Array(is.face);
  if (roles) for (let f = 0; f < made.length; f++) made[f] = roles[MADE_SIZE * f] ? 1 : 0;
  const mapOf = (kind: ElementKind): ElementMap => {
    const layer = mesh.layers[kind][OLD];
    const data = (layer?.data as Uint32Array | undefined) ?? new Uint32Array(is[kind]);
    return new ElementMap(data, layer?.sets ?? new OldSets(was[kind]), kind === 'face' ? made : null);
  };
  return { vertex: mapOf('vertex'), edge: mapOf('edge'), face: mapOf('face') };
}

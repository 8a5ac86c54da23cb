/**
 * Elements picked by birth: said by the names of the faces at them, so that they are found again after numbers upstream
 * have changed. Naming as in Capoyleas, Chen & Hoffmann 1996; a face is its name, an edge the names it parts, a point
 * the names around it. Where a name is gone, its family, what lies beside and at last the place are asked, and that is
 * told; an element that is not found is told as lost.
 */
import { Type } from 'typebox';
import { familyOf, nameOf } from '../births/births';
import { OperationError, type Warning } from '../mesh/errors';
import { faceNormal, sizeOf } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { distance, dot, type Vec3 } from '../mesh/vec3';
import { middleOf } from './measure';
import {
  elementCount,
  KIND_OF,
  selectionOf,
  WORD_OF,
  type ElementKind,
  type Kinds,
  type Selection,
} from './selection';

/** One element as it was when it was picked. */
export interface BornPick {
  /** Names of the faces at it, ascending; of a face its own. */
  names: number[];
  /** The families of these. */
  families: number[];
  /** For a face: the names of its first few neighbours, ascending. */
  beside?: number[];
  /** Its index and the count among elements alike, along a fixed direction; left out for the only one. */
  which?: [number, number];
  /** Its middle, and for a face where it looked. */
  at: Vec3;
  facing?: Vec3;
}

export interface BornSelect {
  of: Kinds;
  picks: BornPick[];
}

const code = Type.Integer({ minimum: 0, maximum: 0xffffffff });
const codes = Type.Array(code, { maxItems: 4096 });
const triple = Type.Tuple([Type.Number(), Type.Number(), Type.Number()]);
const place = Type.Integer({ minimum: 0, maximum: 1_000_000 });

export const BornPicksSchema = Type.Array(
  Type.Object(
    {
      names: codes,
      families: codes,
      beside: Type.Optional(codes),
      which: Type.Optional(Type.Tuple([place, place])),
      at: triple,
      facing: Type.Optional(triple),
    },
    { additionalProperties: false },
  ),
  { maxItems: 200_000 },
);

export interface Found {
  selection: Selection;
  /** Elements found by nothing but their place and facing. */
  byPlace: number[];
  /** Old positions of the elements that are not found. */
  lost: Vec3[];
}

/** Neighbours a face remembers: enough to tell it from its like, and short for faces with hundreds of holes. */
const MOST_BESIDE = 16;
/** Along this no two edges of a grid lie alike. */
const ALONG: Vec3 = [0.7548776662, 0.5698402909, 0.3247179572];
/** An element is looked for by place within this share of the size of the mesh. */
const NEAR = 0.01;
/** Arms of the mark where a lost pick was, as a share of the size of the mesh. */
const MARK = 0.02;
const COS_FACING = Math.cos((10 * Math.PI) / 180);

/** The picked elements by birth. Linear in the faces of the mesh and in what is picked. */
export function bornOf(mesh: PolyMesh, { kind, indices }: Selection): BornSelect {
  const at = new BornView(mesh).facesOfAll(kind, indices);
  const view = new BornView(
    mesh,
    at.map((f) => nameOf(mesh, f)),
    at.map((f) => familyOf(mesh, f)),
  );
  return { of: WORD_OF[kind], picks: indices.map((i) => view.pickOf(kind, i)) };
}

/** The elements that picks by birth mean. Linear in the faces of the mesh and in the picks. */
export function findBorn(mesh: PolyMesh, { of, picks }: BornSelect): Found {
  const view = new BornView(
    mesh,
    picks.flatMap((p) => p.names),
    picks.flatMap((p) => p.families),
  );
  const kind = KIND_OF[of];
  if (kind === 'face') view.takeWhole(picks);
  const found = new Set<number>();
  const byPlace: number[] = [];
  const lost: Vec3[] = [];
  const missing: BornPick[] = [];
  for (const p of picks) {
    const now = view.find(kind, p);
    if (now.length) for (const i of now) found.add(i);
    else missing.push(p);
  }
  if (missing.length) {
    const near = view.nearest(kind, missing, found);
    missing.forEach((p, k) => {
      if (near[k] < 0) lost.push(p.at);
      else {
        found.add(near[k]);
        byPlace.push(near[k]);
      }
    });
  }
  return { selection: selectionOf(kind, found), byPlace, lost };
}

/**
 * The same, with what a person should know of picks that are not found by birth.
 * @throws OperationError `picks-lost` when nothing is left of them
 */
export function picksBorn(mesh: PolyMesh, select: BornSelect): { selection: Selection; warnings: Warning[] } {
  const { selection, byPlace, lost } = findBorn(mesh, select);
  const { length: all } = select.picks;
  const one = select.of.slice(0, -1);
  const lines = crosses(lost, MARK * sizeOf(mesh));
  if (lost.length && !selection.indices.length)
    throw new OperationError(
      'picks-lost',
      all === 1
        ? `The ${one} it was picked on is not there any more.`
        : `None of the ${all} ${select.of} it was picked on are there any more.`,
      undefined,
      'Pick them again, or undo the earlier change.',
      undefined,
      lines,
    );
  const warnings: Warning[] = [];
  if (lost.length)
    warnings.push({
      code: 'picks-lost',
      message: `${lost.length} of ${all} picked ${select.of} ${lost.length === 1 ? 'is' : 'are'} not there any more.`,
      lines,
    });
  if (byPlace.length)
    warnings.push({
      code: 'picks-by-place',
      message: `${byPlace.length} of ${all} picked ${select.of} ${byPlace.length === 1 ? 'was' : 'were'} found by place alone.`,
      elements: { domain: selection.kind, indices: byPlace },
    });
  return { selection, warnings };
}

/** A mark in space at each place. @param reach of its arms, mm @returns 6 numbers a line */
function crosses(places: Vec3[], reach: number): Float64Array {
  return Float64Array.from(
    places.flatMap((p) =>
      [0, 1, 2].flatMap((a) => [-reach, reach].flatMap((r) => p.map((x, k) => (k === a ? x + r : x)))),
    ),
  );
}

/** A mesh with those of its faces by name and by family that are asked for: one pass over all faces. */
class BornView {
  private readonly byName = new Map<number, number>();
  private readonly families = new Map<number, number[]>();

  constructor(
    private readonly mesh: PolyMesh,
    names: ReadonlyArray<number> = [],
    families: ReadonlyArray<number> = [],
  ) {
    if (!names.length) return;
    const wanted = new Set(names);
    for (const family of families) this.families.set(family, []);
    for (let f = 0; f < faceCount(mesh); f++) {
      const name = nameOf(mesh, f);
      if (wanted.has(name)) this.byName.set(name, f);
      this.families.get(familyOf(mesh, f))?.push(f);
    }
  }

  /** Faces at any of some elements, each once. */
  facesOfAll(kind: ElementKind, indices: ReadonlyArray<number>): number[] {
    return [...new Set(indices.flatMap((i) => this.facesAt(kind, i)))];
  }

  /** Families of which all faces there were are picked: they stay picked however they are divided now. */
  private readonly whole = new Set<number>();

  takeWhole(picks: BornPick[]): void {
    const seen = new Map<number, number>();
    for (const { families, which } of picks) {
      const n = (seen.get(families[0]) ?? 0) + 1;
      seen.set(families[0], n);
      if (n === (which?.[1] ?? 1)) this.whole.add(families[0]);
    }
  }

  private get t() {
    return topologyOf(this.mesh);
  }

  pickOf(kind: ElementKind, i: number): BornPick {
    const { mesh } = this;
    const faces = this.facesAt(kind, i);
    const named = faces
      .map((f) => ({ name: nameOf(mesh, f), family: familyOf(mesh, f) }))
      .sort((a, b) => a.name - b.name);
    const pick: BornPick = {
      names: named.map((n) => n.name),
      families: named.map((n) => n.family),
      at: rounded(middleOf(mesh, kind, i)),
    };
    if (kind === 'face') {
      pick.facing = rounded(faceNormal(mesh, i));
      pick.beside = this.beside(i).slice(0, MOST_BESIDE);
      const kin = this.ofFamily(pick.families[0]);
      if (kin.length > 1) pick.which = [kin.indexOf(i), kin.length];
    } else {
      const like = this.like(kind, faces, pick.names);
      if (like.length > 1) pick.which = [like.indexOf(i), like.length];
    }
    return pick;
  }

  /** Finds a pick by the names of its faces, or by their families; nothing where those are gone. */
  find(kind: ElementKind, p: BornPick): number[] {
    if (kind === 'face') return this.facesOf(p.names[0], p.families[0], p);
    const exact = p.names.map((n) => this.byName.get(n));
    const sets = exact.map((f, k) => {
      return f !== undefined ? [f] : this.ofFamily(p.families[k]);
    });
    if (!sets.length || sets.every((s) => !s.length)) return [];
    const candidates = kind === 'edge' ? this.edgesBetween(sets) : this.pointsAmong(sets);
    return this.chosen(kind, candidates, p);
  }

  /** All of a family that was picked whole; else a face by its name, else the one of its family that is most alike. */
  private facesOf(name: number, family: number, p: BornPick): number[] {
    const kin = this.ofFamily(family);
    if (this.whole.has(family) && kin.length) return kin;
    const exact = this.byName.get(name);
    if (exact !== undefined) return [exact];
    if (kin.length < 2) return kin;
    const beside = new Set(p.beside);
    const agrees = (f: number): number => {
      const now = this.beside(f);
      const both = now.filter((n) => beside.has(n)).length;
      return both / (now.length + beside.size - both);
    };
    const scored = kin.map((f) => ({
      f,
      score: agrees(f),
      far: distance(middleOf(this.mesh, 'face', f), p.at),
    }));
    scored.sort((a, b) => b.score - a.score || a.far - b.far);
    return scored[0].score > 0 ? [scored[0].f] : [];
  }

  /** Among like elements, the one with the same index; the nearest where their number has changed. */
  private chosen(kind: ElementKind, candidates: number[], p: BornPick): number[] {
    if (candidates.length < 2) return candidates;
    // One element that is several now was divided on its way, as an edge by a cut across it.
    if (!p.which) return kind === 'edge' ? candidates : [this.nearestOf(kind, candidates, p.at)];
    const [k, n] = p.which;
    if (n === candidates.length) return [this.inOrder(kind, candidates)[k]];
    return [this.nearestOf(kind, candidates, p.at)];
  }

  private nearestOf(kind: ElementKind, candidates: number[], at: Vec3): number {
    const far = (i: number): number => distance(middleOf(this.mesh, kind, i), at);
    return candidates.reduce((a, b) => (far(b) < far(a) ? b : a));
  }

  private inOrder(kind: ElementKind, elements: number[]): number[] {
    const along = new Map(elements.map((i) => [i, dot(middleOf(this.mesh, kind, i), ALONG)]));
    return elements.sort((a, b) => along.get(a)! - along.get(b)! || a - b);
  }

  /** Edges or points at just these faces, in order. */
  private like(kind: ElementKind, faces: number[], names: number[]): number[] {
    if (!faces.length) return [];
    const same = (i: number): boolean => {
      const at = this.namesAt(kind, i);
      return at.length === names.length && at.every((n, k) => n === names[k]);
    };
    return this.inOrder(kind, this.around(kind, faces[0]).filter(same));
  }

  /** Edges with a face of each set; with only one set, those with no other face: open ones and bridges. */
  private edgesBetween([a, b]: number[][]): number[] {
    const other = b && new Set(b);
    const out = new Set<number>();
    for (const f of a)
      for (const e of this.around('edge', f)) {
        const beside = this.facesAt('edge', e).filter((g) => g !== f);
        if (other ? beside.some((g) => other.has(g)) : !beside.length) out.add(e);
      }
    return [...out];
  }

  /** The points at which most of the sets meet: all of them, or all but one where a face has gone or come. */
  private pointsAmong(sets: number[][]): number[] {
    const score = new Map<number, number>();
    for (const set of sets) {
      const once = new Set(set.flatMap((f) => this.around('vertex', f)));
      for (const v of once) score.set(v, (score.get(v) ?? 0) + 1);
    }
    const most = Math.max(0, ...score.values());
    if (most < sets.length && most < Math.max(2, sets.length - 1)) return [];
    const best = [...score].filter(([, s]) => s === most).map(([v]) => v);
    // Points with nothing else around them come first: beside a corner lie others that its faces share.
    const least = Math.min(...best.map((v) => this.facesAt('vertex', v).length));
    return best.filter((v) => this.facesAt('vertex', v).length === least);
  }

  /** Elements by place and facing alone; −1 where none is near. One pass over the mesh for all of them. */
  nearest(kind: ElementKind, picks: BornPick[], taken: ReadonlySet<number>): number[] {
    const { mesh } = this;
    const n = elementCount(mesh, kind);
    const reach = NEAR * sizeOf(mesh);
    if (!(reach > 0)) return picks.map(() => -1);
    const cell = (p: Vec3): number[] => p.map((x) => Math.floor(x / reach));
    const cells = new Map<string, number[]>();
    picks.forEach((p, k) => {
      const key = cell(p.at).join();
      const list = cells.get(key);
      if (list) list.push(k);
      else cells.set(key, [k]);
    });
    const best = picks.map(() => ({ i: -1, far: reach }));
    for (let i = 0; i < n; i++) {
      if (taken.has(i)) continue;
      const at = middleOf(mesh, kind, i);
      const [x, y, z] = cell(at);
      for (let dx = -1; dx <= 1; dx++)
        for (let dy = -1; dy <= 1; dy++)
          for (let dz = -1; dz <= 1; dz++)
            for (const k of cells.get(`${x + dx},${y + dy},${z + dz}`) ?? []) {
              const far = distance(at, picks[k].at);
              const { facing } = picks[k];
              if (far >= best[k].far || (facing && dot(faceNormal(mesh, i), facing) < COS_FACING)) continue;
              best[k] = { i, far };
            }
    }
    return best.map((b) => b.i);
  }

  private ofFamily(family: number): number[] {
    return this.families.get(family) ?? [];
  }

  private beside(f: number): number[] {
    const { mesh, t } = this;
    const out = new Set<number>();
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (t.twin[c] >= 0) out.add(nameOf(mesh, t.faceOfCorner[t.twin[c]]));
    return [...out].sort((a, b) => a - b);
  }

  private namesAt(kind: ElementKind, i: number): number[] {
    return this.facesAt(kind, i)
      .map((f) => nameOf(this.mesh, f))
      .sort((a, b) => a - b);
  }

  private facesAt(kind: ElementKind, i: number): number[] {
    const { mesh, t } = this;
    if (kind === 'face') return [i];
    if (kind === 'edge') {
      const c = t.cornerOfEdge[i];
      const faces = [t.faceOfCorner[c]];
      if (t.twin[c] >= 0) faces.push(t.faceOfCorner[t.twin[c]]);
      else if (t.edgeUse[i] > 1) {
        // Folded or of more than two faces: all that have both its points in a row.
        for (let k = t.vertexStart[mesh.corners[c]]; k < t.vertexStart[mesh.corners[c] + 1]; k++) {
          const f = t.faceOfCorner[t.vertexCorners[k]];
          if (this.around('edge', f).includes(i)) faces.push(f);
        }
      }
      return [...new Set(faces)];
    }
    const out = new Set<number>();
    for (let k = t.vertexStart[i]; k < t.vertexStart[i + 1]; k++) out.add(t.faceOfCorner[t.vertexCorners[k]]);
    return [...out];
  }

  /** Edges or points of a face. */
  private around(kind: ElementKind, f: number): number[] {
    const { mesh, t } = this;
    const out: number[] = [];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      out.push(kind === 'edge' ? t.edgeOfCorner[c] : mesh.corners[c]);
    return [...new Set(out)];
  }
}

/** To a millionth of a millimetre; a fallback needs no more, and stored picks stay short. */
const rounded = (p: Vec3): Vec3 => p.map((x) => Math.round(x * 1e6) / 1e6 || 0) as Vec3;

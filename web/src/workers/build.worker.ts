/** Evaluates pieces off the main thread. One document per worker; messages are answered in order. */
import * as Comlink from 'comlink';
import { applyAction, type Action, type ActionReport } from '@urnsmith/core/actions/actions';
import { faultLines, shadingFaults, type ShadingFaultKind } from '@urnsmith/core/shading/faults';
import { bestRepair, type Repair } from '@urnsmith/core/build/repair';
import { outlineOf, type PickedOutline } from '@urnsmith/core/select/outline';
import type { Edits, Redone } from '@urnsmith/core/actions/revise';
import { targetAt } from '@urnsmith/core/document/anchors';
import type { Kept, Piece } from '@urnsmith/core/document/schema';
import { referencesOf } from '@urnsmith/core/document/sections';
import { decodeMesh, encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { faultOf, OperationError, type Fault, type Warning } from '@urnsmith/core/mesh/errors';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { buffersOf, displayOf, type Display } from '@urnsmith/core/build/display';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import type { BuildResult } from '@urnsmith/core/build/report';
import { cageBuffers, cageOf, type Cage } from '@urnsmith/core/build/cage';
import { transformMesh, type Matrix } from '@urnsmith/core/mesh/transform';
import { joinMeshes } from '@urnsmith/core/ops/join';
import { LIMITS, type Counts, type Limits } from '@urnsmith/core/ops/operation';
import { ringCutLines } from '@urnsmith/core/ops/ringCut';
import { everything } from '@urnsmith/core/select/grow';
import { insideOutline, type Look, type ScreenOutline } from '@urnsmith/core/select/inside';
import { softWeights, type Soft } from '@urnsmith/core/select/soft';
import { recalled } from '@urnsmith/core/select/kept';
import { bornOf, type BornSelect } from '@urnsmith/core/select/born';
import { listed, noKept, resolveSelect, type Select } from '@urnsmith/core/select/rules';
import { pickMore, type PickName, type PickOptions } from '@urnsmith/core/select/picks';
import {
  convertSelection,
  islandsOf,
  type ElementKind,
  type Selection,
} from '@urnsmith/core/select/selection';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
import { outbox } from '../api/outbox';
import { applyPatch, type PiecesPatch } from './piecesPatch';
import { STOPPED } from './stopping';
import { LastSent } from './sameTriangles';
import type { TreeArrays } from './tree.worker';
import { Stopped } from '@urnsmith/core/watch';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { cornersOf } from '@urnsmith/core/ops/holdNormals';
import { normalLines, type NormalLines } from '@urnsmith/core/shading/normalLines';
import { normalsAt, type NormalAt } from '@urnsmith/core/shading/evenNormals';

export type Answer =
  | {
      display: Display;
      actions: ActionReport[];
      picked: Selection | null;
      cage: Cage | null;
      forTree: TreeArrays | null;
      /** Made quickly for a hand that is at it; to be built again when it lets go. */
      draft: boolean;
    }
  | { fault: Fault };

/** What goes along with a build. */
export interface Want {
  /** The mesh that is edited: all of it, or what is new since it was last sent. */
  cage: 'none' | 'changed' | 'whole';
  /** The mesh that is edited: what so many steps in lane order make; null for the base. */
  site: number | null;
  /** The page has the display that was last sent, so what did not change of it may be left out. */
  hasLast: boolean;
  /** A hand is at it: what is quickly made will do. */
  draft: boolean;
  /** It makes whole what a hand that rests was at, and gives way when the hand goes on. */
  yields: boolean;
}

/** A piece to be built. @property upTo only so many steps in lane order; −1 for all */
export interface Job {
  id: string;
  upTo: number;
  want: Want;
}

/** Asked beside building: what an action would do, or what a selecting command picks. */
export type Question =
  | { kind: 'act'; action: Action }
  | { kind: 'pick'; name: PickName; selection: Selection; options?: PickOptions }
  | { kind: 'convert'; selection: Selection; to: ElementKind }
  /** What is picked, said by birth. */
  | { kind: 'born'; selection: Selection }
  /** The edited base as bytes to store, with the built meshes of other pieces brought into its frame. */
  | { kind: 'bake'; with?: Array<{ id: string; place: Matrix }> }
  /** A kept selection as it is now. */
  | { kind: 'recall'; kept: Kept }
  /** Faults of shading and UVs of the built piece, with where they are. */
  | { kind: 'shadingFaults' }
  /** A step that would mend the shading of the built piece. */
  | { kind: 'repair' }
  /** The outline of what is picked. */
  | { kind: 'outline'; selection: Selection }
  /** The edits of the base with some of them done over. */
  | { kind: 'revise'; order: ReadonlyArray<Redone> }
  /** The built piece as bytes to store. */
  | { kind: 'bakeBuilt' }
  /** The shading normals at the corners of what is picked, as they count. */
  | { kind: 'normals'; selection: Selection }
  /** The same as they are drawn; of everything where nothing is picked. */
  | { kind: 'normalLines'; selection: Selection }
  /** Faces of each shell of the edited base. */
  | { kind: 'shells' }
  /** What a piece would be anchored to at a place in the world's frame of the piece. @property upTo steps before its cut */
  | { kind: 'anchor'; upTo: number; point: Vec3; near?: Parameters<typeof targetAt>[2] }
  /** Elements inside an outline on the screen. */
  | { kind: 'inside'; of: ElementKind; outline: ScreenOutline; look: Look; through: boolean }
  /** How much points follow a soft selection. */
  | { kind: 'soft'; points: number[]; soft: Soft }
  /** Where a ring cut would run. */
  | { kind: 'ring'; edge: number; count: number; slide: number };
export interface SeenFault {
  kind: ShadingFaultKind;
  count: number;
  /** Degrees. */
  worst: number;
  /** 6 numbers each, in the frame of the piece. */
  lines: Float64Array;
}
export type Reply =
  /** `select` says what was acted on in a way that lasts. */
  | { selection: Selection; counts?: Counts; warnings?: Warning[]; lost?: number; select?: Select }
  | { born: BornSelect }
  | { edits: Edits }
  | { outline: PickedOutline }
  | { shadingFaults: SeenFault[] }
  | { repair: Repair | null }
  /** With its kept selections as they are now, for a piece that goes on from these bytes. */
  | { bytes: Uint8Array; selections?: Piece['selections'] }
  | { shells: number[][] }
  | { anchor: ReturnType<typeof targetAt> }
  | { lines: Float64Array }
  | { normals: NormalAt[] }
  | { normalLines: NormalLines }
  | { weights: Float64Array }
  | { fault: Fault };

const blobs = new Map<string, PolyMesh>();
const source = {
  blob: (hash: string): PolyMesh => {
    const mesh = blobs.get(hash);
    if (!mesh) throw new OperationError('no-blob', 'A stored mesh has not been loaded.');
    return mesh;
  },
  file: (): never => {
    throw new OperationError('no-file', 'A scene in the library cannot refer to files.');
  },
};
/** The document as this worker was told of it. */
const pieces = new Map<string, Piece>();
/** The evaluator has them. */
let taken = false;
let limits = LIMITS;
let evaluator = new Evaluator(source);
/** Set by the page to end what is being built. */
let stop: Int32Array | null = null;
/** Telling more often would cost more than it says. */
const TELL_EVERY_MS = 40;
let told = 0;
let tell: ((piece: string, done: number, total: number, label: string) => void) | null = null;
/** Answers come back together as long as they are quick. */
const A_WHILE_MS = 24;
const ready = loadKernel(wasmUrl);
const sent = new LastSent();

const api = {
  setLimits(to: Limits): void {
    limits = to;
    evaluator = new Evaluator(source, false, limits);
    evaluator.setPieces([...pieces.values()]);
  },

  /** Whom to tell what a build is at, and where to look whether it is to end. */
  tellProgress(to: typeof tell, flag: Int32Array | null): void {
    tell = to;
    stop = flag;
  },

  /** Builds what it gets done in a while, at least one; the others are to be asked for again. */
  async build(patch: PiecesPatch | null, jobs: Job[]): Promise<Array<[string, Answer]>> {
    try {
      await take(patch);
    } catch (e) {
      return jobs.map(({ id }) => [id, { fault: faultOf(e) }]);
    }
    const until = performance.now() + A_WHILE_MS;
    const answers: Array<[string, Answer]> = [];
    const buffers: ArrayBufferLike[] = [];
    for (const job of jobs) {
      answers.push([job.id, answer(job, buffers)]);
      if (performance.now() > until) break;
    }
    return Comlink.transfer(answers, buffers as ArrayBuffer[]);
  },

  /** Answers about a piece's mesh that is edited as it is; changes nothing. */
  async ask(patch: PiecesPatch | null, id: string, upTo: number | null, question: Question): Promise<Reply> {
    try {
      await take(patch);
      const { mesh, picked } = meshAt(id, ABOUT_BASE.has(question.kind) ? null : upTo);
      return reply(id, mesh, picked, upTo !== null, question);
    } catch (e) {
      return { fault: faultOf(e) };
    }
  },
};

/** @param buffers takes what can be handed over with the answer */
function answer({ id, upTo, want }: Job, buffers: ArrayBufferLike[]): Answer {
  try {
    const started = performance.now();
    const progress = (done: number, total: number, label: string): void => {
      if (stop && Atomics.load(stop, 0)) throw new Stopped();
      const now = performance.now();
      if (now - told < TELL_EVERY_MS) return;
      told = now;
      tell?.(id, done, total, label);
    };
    const result = evaluator.build(id, progress, upTo < 0 ? Infinity : upTo, want.draft);
    const display = sent.toSend(id, displayOf(result, performance.now() - started), want.hasLast);
    const before = want.cage === 'changed' ? (caged.get(id) ?? null) : null;
    const { mesh, actions, picked } = want.site === null ? ofBase(result) : meshAt(id, want.site, want.draft);
    const cage = want.cage === 'none' ? null : cageOf(mesh, before);
    caged.set(id, mesh);
    const { draft } = result;
    const forTree = cage && spareForTree(cage);
    buffers.push(...buffersOf(display), ...(cage ? cageBuffers(cage) : []));
    if (forTree) buffers.push(forTree.positions.buffer, forTree.index.buffer);
    return { display, actions, picked, cage, forTree, draft };
  } catch (e) {
    return { fault: e instanceof Stopped ? STOPPED : faultOf(e) };
  }
}

/** What is edited of a piece: its mesh, what became of the edits, and what the last one left picked. */
interface Edited {
  mesh: PolyMesh;
  actions: ActionReport[];
  picked: Selection | null;
}
const ofBase = ({ base, actions, picked }: BuildResult): Edited => ({ mesh: base, actions, picked });

/** Questions about the base wherever edits are made. */
const ABOUT_BASE: ReadonlySet<Question['kind']> = new Set([
  'bake',
  'bakeBuilt',
  'shells',
  'anchor',
  'revise',
  'repair',
  'shadingFaults',
]);

/** @param upTo so many steps in lane order; null for the base */
function meshAt(id: string, upTo: number | null, draft = false): Edited {
  if (upTo === null) {
    const { mesh, last, reports } = evaluator.editedPiece(id);
    return { mesh, picked: last, actions: reports };
  }
  const { mesh, steps } = evaluator.build(id, undefined, upTo, draft);
  const last = steps.at(-1);
  return { mesh, actions: last?.actions ?? [], picked: last?.picked ?? null };
}

/** @throws OperationError when a mesh they rest on cannot be had; it is tried again the next time */
async function take(patch: PiecesPatch | null): Promise<void> {
  await ready;
  if (patch) applyPatch(pieces, patch);
  taken &&= patch === null;
  if (taken) return;
  const all = [...pieces.values()];
  await loadBlobs(all);
  evaluator.setPieces(all);
  taken = true;
}

/** Copies the page can pass on to whoever builds the tree for pointing; copying them itself would hold it up. */
const spareForTree = ({ positions, shape }: Cage): TreeArrays | null =>
  shape && { positions: positions.slice(), index: shape.triangles.slice() };

/** Meshes last sent as cages. */
const caged = new Map<string, PolyMesh>();

/** The kept selections of a piece in the elements it has now. */
function keptNow(id: string): Piece['selections'] {
  const { selections } = evaluator.piece(id);
  if (!selections) return undefined;
  return Object.fromEntries(
    Object.entries(selections).map(([name, kept]) => [
      name,
      'picks' in kept ? kept : (listed(evaluator.recall(id, kept).selection) as Kept),
    ]),
  );
}

/** @param built the mesh is one that steps have made, where picks are kept by birth */
function reply(id: string, mesh: PolyMesh, last: Selection | null, built: boolean, q: Question): Reply {
  if (q.kind === 'act') {
    const kept = (name: string): Selection => {
      const s = evaluator.piece(id).selections?.[name];
      if (!s) throw noKept(name);
      return evaluator.recall(id, s).selection;
    };
    const { selection, counts, warnings } = applyAction(
      mesh,
      q.action,
      { last, kept },
      {
        meshOf: evaluator.meshOf,
        limits,
      },
    );
    const { select } = q.action;
    return {
      selection,
      counts,
      warnings,
      select: built && !('rule' in select) ? born(mesh, select) : select,
    };
  }
  if (q.kind === 'born') return { born: bornOf(mesh, q.selection) };
  if (q.kind === 'bake') {
    const others = (q.with ?? []).map((o) => transformMesh(evaluator.build(o.id).mesh, o.place));
    return { bytes: encodeMesh(joinMeshes([mesh, ...others])), selections: keptNow(id) };
  }
  if (q.kind === 'recall')
    return 'picks' in q.kept ? recalled(q.kept, mesh, []) : evaluator.recall(id, q.kept);
  if (q.kind === 'shadingFaults') {
    const { mesh: built, formed } = evaluator.build(id);
    return {
      shadingFaults: shadingFaults(built, formed).map((f) => ({
        kind: f.kind,
        count: f.indices.length,
        worst: f.worst,
        lines: faultLines(built, f),
      })),
    };
  }
  if (q.kind === 'repair') {
    const { mesh: built, formed } = evaluator.build(id);
    return { repair: bestRepair(built, formed) };
  }
  if (q.kind === 'outline') return { outline: outlineOf(mesh, q.selection) };
  if (q.kind === 'revise') return { edits: evaluator.revisedEdits(id, q.order) };
  if (q.kind === 'bakeBuilt') return { bytes: encodeMesh(evaluator.build(id).mesh) };
  if (q.kind === 'anchor')
    return { anchor: targetAt(evaluator.build(id, undefined, q.upTo).mesh, q.point, q.near) };
  if (q.kind === 'inside') return { selection: insideOutline(mesh, q.of, q.outline, q.look, q.through) };
  if (q.kind === 'normals') return { normals: normalsAt(mesh, cornersOf(mesh, q.selection)) };
  if (q.kind === 'normalLines') {
    const some = q.selection.indices.length ? q.selection : everything(mesh, q.selection.kind);
    return { normalLines: normalLines(mesh, cornersOf(mesh, some)) };
  }
  if (q.kind === 'soft') return { weights: softWeights(mesh, q.points, q.soft) };
  if (q.kind === 'ring') return { lines: ringCutLines(mesh, q.edge, q) };
  if (q.kind === 'shells') return { shells: islandsOf(mesh, everything(mesh, 'face')) };
  if (q.kind === 'convert') return { selection: convertSelection(mesh, q.selection, q.to) };
  return { selection: pickMore(mesh, q.name, q.selection, q.options) };
}

const born = (mesh: PolyMesh, select: Select): Select => ({
  rule: 'picked',
  ...bornOf(mesh, resolveSelect(mesh, select)),
});

/** Fetches the stored meshes pieces rest on: from what the browser still keeps, or from the server. */
async function loadBlobs(pieces: Piece[]): Promise<void> {
  const hashes = new Set(
    pieces.flatMap((p) => referencesOf('pieces', p).flatMap((r) => (r.role === 'mesh' ? [r.id] : []))),
  );
  for (const hash of blobs.keys()) if (!hashes.has(hash)) blobs.delete(hash);
  await Promise.all(
    [...hashes].map(async (hash) => {
      if (blobs.has(hash)) return;
      const bytes = (await outbox.mesh(hash)) ?? (await fetchMesh(hash));
      blobs.set(hash, decodeMesh(bytes));
    }),
  );
}

async function fetchMesh(hash: string): Promise<Uint8Array> {
  const response = await fetch(`/api/meshes/${hash}`);
  if (!response.ok) throw new OperationError('no-blob', 'A stored mesh could not be fetched.');
  return new Uint8Array(await response.arrayBuffer());
}

export type BuildWorker = typeof api;
Comlink.expose(api);

/** Builds the pieces of one document and answers questions about them; runs in a worker of its own. */
import * as Comlink from 'comlink';
import type { ActionReport } from '@urnsmith/core/actions/actions';
import { cageBuffers, cageOf, type Cage } from '@urnsmith/core/build/cage';
import { buffersOf, displayOf, type Display } from '@urnsmith/core/build/display';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import type { BuildResult } from '@urnsmith/core/build/report';
import type { Piece } from '@urnsmith/core/document/schema';
import { faultOf, type Fault } from '@urnsmith/core/mesh/errors';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { LIMITS, type Limits } from '@urnsmith/core/ops/operation';
import type { Selection } from '@urnsmith/core/select/selection';
import { Stopped } from '@urnsmith/core/watch';
import { AskedAside } from './AskedAside';
import { applyPatch, type PiecesPatch } from './piecesPatch';
import { aboutBase, replyTo, type Question, type Reply } from './questions';
import { ResultNumbers } from './ResultNumbers';
import { isAside } from './questions/aside';
import { LastSent } from './sameTriangles';
import { isStopped, STOPPED } from './stopping';
import { StoredMeshes } from './StoredMeshes';
import type { TreeArrays } from './tree.worker';

export type Answer =
  | {
      /** The same for the same result. */
      number: number;
      /** Null where the page has it. */
      display: Display | null;
      actions: ActionReport[];
      picked: Selection | null;
      cage: Cage | null;
      forTree: TreeArrays | null;
      /** Made quickly for a hand that is at it; to be built again when it lets go. */
      draft: boolean;
    }
  | { fault: Fault };

/** Options of a build. */
export interface Want {
  /** The mesh that is edited: all of it, or what is new since it was last sent. */
  cage: 'none' | 'changed' | 'whole';
  /** The mesh that is edited: what so many steps in lane order make; null for the base. */
  site: number | null;
  /** The number of the display that the page shows, and of those it has kept: what they have need not be sent again. */
  shown: number | null;
  has: number[];
  /** The page has lost the display that other pieces share, so it is to be sent again. */
  whole?: boolean;
  /** A hand is at it: what is quickly made will do. */
  draft: boolean;
  /** Completes a draft while the hand rests, and yields when the hand moves on. */
  yields: boolean;
}

/** A piece to be built. @property upTo only so many steps in lane order; −1 for all */
export interface Job {
  id: string;
  upTo: number;
  want: Want;
}

/** The edited mesh of a piece, the reports of its edits, and the picks the last one left. */
interface Edited {
  mesh: PolyMesh;
  actions: ActionReport[];
  picked: Selection | null;
}

/** Telling more often would cost more than it says, ms. */
const TELL_EVERY = 40;
/** Answers come back together as long as they are quick, ms. */
const A_WHILE = 24;

type Tell = (piece: string, done: number, total: number, label: string) => void;

export class Builder {
  private readonly meshes = new StoredMeshes();
  /** The document as it was told. */
  private readonly pieces = new Map<string, Piece>();
  /** The evaluator has them. */
  private taken = false;
  private limits = LIMITS;
  private evaluator = new Evaluator(this.meshes);
  private tell: Tell | null = null;
  private told = 0;
  /** Set by the page to end what is being built. */
  private stop: Int32Array | null = null;
  private readonly sent = new LastSent();
  private readonly numbers = new ResultNumbers();
  private aside = new AskedAside(null);
  /** Meshes last sent as cages. */
  private readonly caged = new Map<string, PolyMesh>();

  /** @param ready when the kernel is loaded */
  constructor(private readonly ready: Promise<unknown>) {}

  setLimits(to: Limits): void {
    this.limits = to;
    this.evaluator = new Evaluator(this.meshes, false, to);
    this.evaluator.setPieces([...this.pieces.values()]);
  }

  /** Has questions that no hand waits for worked out by another worker. */
  connect(port: MessagePort): void {
    this.aside = new AskedAside(Comlink.wrap(port));
  }

  /** Sets the port that progress is told by, and the flag that tells a build to stop. */
  tellProgress(to: MessagePort, flag: Int32Array | null): void {
    this.tell = (...progress) => to.postMessage(progress);
    this.stop = flag;
  }

  /** Builds what it gets done in a while, at least one; the others are to be asked for again. */
  async build(patch: PiecesPatch | null, jobs: Job[]): Promise<Array<[string, Answer]>> {
    try {
      await this.take(patch);
    } catch (e) {
      return jobs.map(({ id }) => [id, { fault: faultOf(e) }]);
    }
    const until = performance.now() + A_WHILE;
    const answers: Array<[string, Answer]> = [];
    const buffers: ArrayBufferLike[] = [];
    for (const job of jobs) {
      if (job.want.draft) this.aside.stop(job.id);
      answers.push([job.id, this.answer(job, buffers)]);
      if (performance.now() > until) break;
    }
    return Comlink.transfer(answers, buffers as ArrayBuffer[]);
  }

  /** Makes ready for pieces that a piece works with to be dragged. */
  async prepare(patch: PiecesPatch | null, id: string, moving: string[]): Promise<void> {
    try {
      await this.take(patch);
      this.evaluator.prepare(id, moving, (done, total, label) => this.progress(id, done, total, label));
    } catch {
      // The next build of the piece tells the fault.
    }
  }

  /** Answers about a piece's mesh that is edited as it is; changes nothing. */
  async ask(patch: PiecesPatch | null, id: string, upTo: number | null, question: Question): Promise<Reply> {
    try {
      await this.take(patch);
      if (isAside(question)) {
        const built = this.evaluator.build(id);
        return await this.aside.ask(id, this.numbers.of(built), question, built);
      }
      const { mesh, picked } = this.meshAt(id, aboutBase(question) ? null : upTo);
      const { evaluator, limits } = this;
      return replyTo(question, { id, mesh, last: picked, built: upTo !== null, evaluator, limits });
    } catch (e) {
      return { fault: faultOf(e) };
    }
  }

  /** @param buffers takes what can be handed over with the answer */
  private answer({ id, upTo, want }: Job, buffers: ArrayBufferLike[]): Answer {
    try {
      const started = performance.now();
      const progress = (done: number, total: number, label: string): void =>
        this.progress(id, done, total, label);
      const result = this.evaluator.build(id, progress, upTo < 0 ? Infinity : upTo, want.draft);
      const number = this.numbers.of(result);
      const isThere = want.has.includes(number) || (!want.whole && this.numbers.isShown(number));
      this.numbers.shows(id, number);
      const display = isThere
        ? null
        : this.sent.toSend(id, displayOf(result, performance.now() - started), number, want.shown);
      const before = want.cage === 'changed' ? (this.caged.get(id) ?? null) : null;
      const { mesh, actions, picked } =
        want.site === null ? ofBase(result) : this.meshAt(id, want.site, want.draft);
      const cage = want.cage === 'none' ? null : cageOf(mesh, before);
      this.caged.set(id, mesh);
      const { draft } = result;
      const forTree = cage && spareForTree(cage);
      buffers.push(...(display ? buffersOf(display) : []), ...(cage ? cageBuffers(cage) : []));
      if (forTree) buffers.push(forTree.positions.buffer, forTree.index.buffer);
      return { number, display, actions, picked, cage, forTree, draft };
    } catch (e) {
      return { fault: e instanceof Stopped ? STOPPED : faultOf(e) };
    }
  }

  /** @throws Stopped where the page said so */
  private progress(id: string, done: number, total: number, label: string): void {
    if (isStopped(this.stop)) throw new Stopped();
    const now = performance.now();
    if (now - this.told < TELL_EVERY) return;
    this.told = now;
    this.tell?.(id, done, total, label);
  }

  /** @param upTo so many steps in lane order; null for the base */
  private meshAt(id: string, upTo: number | null, draft = false): Edited {
    if (upTo === null) {
      const { mesh, last, reports } = this.evaluator.editedPiece(id);
      return { mesh, picked: last, actions: reports };
    }
    const { mesh, steps } = this.evaluator.build(id, undefined, upTo, draft);
    const last = steps.at(-1);
    return { mesh, actions: last?.actions ?? [], picked: last?.picked ?? null };
  }

  /** @throws OperationError when a mesh they rest on cannot be had; it is tried again the next time */
  private async take(patch: PiecesPatch | null): Promise<void> {
    await this.ready;
    if (patch) applyPatch(this.pieces, patch);
    for (const id of patch?.gone ?? []) this.numbers.forget(id);
    this.taken &&= patch === null;
    if (this.taken) return;
    const all = [...this.pieces.values()];
    await this.meshes.load(all);
    this.evaluator.setPieces(all);
    this.taken = true;
  }
}

const ofBase = ({ base, actions, picked }: BuildResult): Edited => ({ mesh: base, actions, picked });

/** Copies the page can pass on to whoever builds the tree for pointing; copying them itself would hold it up. */
const spareForTree = ({ positions, shape }: Cage): TreeArrays | null =>
  shape && { positions: positions.slice(), index: shape.triangles.slice() };

/** Built pieces, outside Redux: filled by the pool, read by views through hooks. */
import type { ActionReport } from '@urnsmith/core/actions/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Fault } from '@urnsmith/core/mesh/errors';
import { buffersOf, type Display } from '@urnsmith/core/build/display';
import { inLaneOrder, LANES, laneOf, type Lane } from '@urnsmith/core/steps/index';
import type { Selection } from '@urnsmith/core/select/selection';
import type { Cage, CageShape } from '@urnsmith/core/build/cage';
import type { Answer } from './Builder';
import type { Question, Reply } from './questions';
import type { AsideQuestion } from './questions/aside';
import { STOPPED } from './stopping';
import { BuildPool, type Progress } from './BuildPool';
import type { DisplayList } from './LastDisplays';
import { KeptDisplays } from './KeptDisplays';
import type { Keeper } from './lastSeen';
import { groupingKey, placeKey, shapeKey } from './pieceKeys';
import { patchOf, type PiecesPatch } from './piecesPatch';
import { Reach } from './Reach';
import { putBack } from './sameTriangles';
import { Telling } from './Telling';
import type { TreeArrays } from './tree.worker';

export interface Built {
  /** The same for the same result. */
  number: number;
  display: Display | null;
  fault: Fault | null;
  actions: ActionReport[];
  /** Picks left by the last action. */
  picked: Selection | null;
  /** The mesh that is edited, while its elements are. */
  cage: WholeCage | null;
  /** Made quickly while a hand was at it, and not yet whole. */
  draft: boolean;
}

/** A cage with its shape, which is sent only when it changed. */
export type WholeCage = Omit<Cage, 'shape'> & { shape: CageShape; forTree?: TreeArrays | null };

/** A piece whose elements are edited. @property upTo on what so many steps in lane order make; null for its base */
export interface Caged {
  id: string;
  upTo: number | null;
}

type Pool = Pick<BuildPool, 'request' | 'prepare' | 'ask' | 'cancel' | 'close' | 'idle'> & {
  aside?: Keeper;
};
export type OpenPool = (...tell: Tail<ConstructorParameters<typeof BuildPool>>) => Pool;
type Tail<T extends unknown[]> = T extends [unknown, ...infer R] ? R : never;

/** A core is left to the page. */
const poolOfWorkers: OpenPool = (...tell) =>
  new BuildPool(Math.max(1, Math.min(4, (navigator.hardwareConcurrency || 2) - 1)), ...tell);

/** A scene that has been whole for so long is kept as it is seen, ms; larger ones than this are not, bytes. */
const KEEP_AFTER = 2500;
const KEPT_IN_ALL = 64 << 20;

/** A hand that has not moved for so long rests, ms. */
const REST = 250;
/** A question that gave way to a hand is asked again after so long, ms. */
const AGAIN = 1000;
/** No longer than this, however long building takes. */
const REST_AT_MOST = 1500;

export class Builds {
  private readonly results = new Map<string, Built>();
  private pieces: Piece[] = [];
  private pool: Pool | null = null;
  private stage: { id: string; lane: Lane } | null = null;
  private caged = new Map<string, number | null>();
  private draft = false;
  private reach = new Reach();
  private readonly kept = new KeptDisplays();
  /** Pieces built while a hand was at them, to be made whole and settled when it lets go. */
  private readonly unfinished = new Set<string>();
  /** How long building a piece whole took the last time, ms. */
  private readonly tookWhole = new Map<string, number>();
  private readonly awaited = new Set<string>();
  private keeping: ReturnType<typeof setTimeout> | undefined;
  private keptOf: Piece[] | null = null;
  private resting: ReturnType<typeof setTimeout> | undefined;
  /** Progress of a slow build; null when none is running. */
  progress: Progress | null = null;
  private readonly telling = new Telling();

  /** @param scene whose last displays are shown until it is built; none where it has no name */
  constructor(
    private readonly openPool: OpenPool = poolOfWorkers,
    private readonly scene: string | null = null,
  ) {}

  /**
   * Takes the document's pieces as they are to be shown, and builds what a change reached.
   * @param draft a hand is at them: what is quickly made will do until it lets go
   */
  show(pieces: Piece[], draft = false): void {
    if (pieces === this.pieces && draft === this.draft) return;
    this.draft = draft;
    clearTimeout(this.resting);
    if (draft) this.resting = setTimeout(() => this.finish(), this.patience());
    const patch = patchOf(this.pieces, pieces);
    const first = !this.pieces.length;
    this.pieces = pieces;
    if (patch) this.change(patch);
    if (first) void this.recall();
    if (!draft) this.finish();
    if (patch) this.telling.now();
  }

  /** Shows what the scene last was while it is being built. */
  private async recall(): Promise<void> {
    const { scene, pieces, pool } = this;
    if (!scene || !pool?.aside) return;
    const { lastSeen } = await import('./lastSeen');
    const last = await lastSeen(pool.aside, scene, pieces);
    if (this.pieces !== pieces) return;
    for (const [id, display] of last)
      if (!this.results.has(id)) this.results.set(id, { ...faulty(undefined, null), display });
    if (last.length) this.telling.now();
  }

  /** Keeps what the scene is seen as, once it has been whole for a while. */
  private keepSoon(): void {
    clearTimeout(this.keeping);
    this.keeping = setTimeout(() => void this.keepAll(), KEEP_AFTER);
  }

  private async keepAll(): Promise<void> {
    const { scene, pieces, pool, results } = this;
    const isWhole = this.idle && !this.draft && !this.stage && !this.caged.size;
    if (!scene || !pool?.aside || !isWhole || pieces === this.keptOf || this.memory().bytes > KEPT_IN_ALL)
      return;
    const all = [...results].flatMap(([id, b]): DisplayList =>
      b.display && !b.fault ? [[id, b.display]] : [],
    );
    if (all.length < results.size) return;
    this.keptOf = pieces;
    const { keepSeen } = await import('./lastSeen');
    if (this.pool === pool) await keepSeen(pool.aside, scene, pieces, all);
  }

  /** Makes whole what was made quickly. */
  private finish(): void {
    for (const id of this.unfinished) this.request(id, false);
  }

  /** How long a hand rests before what it is at is made whole: longer where that takes long. */
  private patience(): number {
    const took = Math.max(0, ...[...this.unfinished].map((id) => this.tookWhole.get(id) ?? 0));
    return Math.min(REST_AT_MOST, Math.max(REST, took / 2));
  }

  /** Asks for the pieces whose mesh a change of the document reaches, each once; for none where pieces only moved. */
  private change(patch: PiecesPatch): void {
    const { reach } = this;
    const before = new Map(patch.put.map((p) => [p.id, reach.pieces.get(p.id)]));
    const resettled = patch.put
      .filter((p) => groupingKey(before.get(p.id)) !== groupingKey(p))
      .map((p) => p.id);
    const lost = [...resettled, ...patch.gone].flatMap((id) => reach.usersOfGroupsAround(id));
    reach.take(patch);
    for (const id of patch.gone) {
      this.results.delete(id);
      this.unfinished.delete(id);
      this.tookWhole.delete(id);
      this.kept.forget(id);
      this.awaited.delete(id);
    }
    const reshaped = patch.put.filter((p) => shapeKey(before.get(p.id)) !== shapeKey(p)).map((p) => p.id);
    const moved = patch.put.filter((p) => before.get(p.id) && placeKey(before.get(p.id)!) !== placeKey(p));
    const displaced = moved.flatMap((p) => [...reach.displacedBy(p.id)]);
    const stirred = reach.builtFrom([...reshaped, ...patch.gone, ...displaced, ...lost]);
    for (const id of stirred) this.request(id);
  }

  showStage(stage: { id: string; lane: Lane } | null): void {
    if (stage?.id === this.stage?.id && stage?.lane === this.stage?.lane) return;
    const before = this.stage;
    this.stage = stage;
    if (before) this.request(before.id);
    if (stage) this.request(stage.id);
  }

  /** Pieces whose edited mesh is sent along with their builds. */
  editElementsOf(pieces: ReadonlyArray<Caged>): void {
    const before = this.caged;
    this.caged = new Map(pieces.map(({ id, upTo }) => [id, upTo]));
    for (const id of before.keys()) {
      if (this.caged.has(id)) continue;
      const b = this.results.get(id);
      if (b) this.results.set(id, { ...b, cage: null });
      this.request(id);
    }
    for (const [id, upTo] of this.caged) if (before.get(id) !== upTo) this.request(id);
    this.telling.now();
  }

  /** Asks about the mesh of a piece that is edited, else about its base; null when the piece is not being built. */
  async ask(id: string, question: Question): Promise<Reply | null> {
    return (await this.pool?.ask(this.pieces, id, this.caged.get(id) ?? null, question)) ?? null;
  }

  /**
   * Asks what is worked out aside, again and again while it has to give way to a hand.
   * @param wanted whether the answer still is
   * @returns null where it is not wanted any more, or the piece is not being built
   */
  async askAside(id: string, question: AsideQuestion, wanted: () => boolean): Promise<Reply | null> {
    for (;;) {
      const reply = await this.ask(id, question);
      if (!wanted() || !reply) return null;
      if (!('fault' in reply) || reply.fault.code !== STOPPED.code) return reply;
      await new Promise((later) => setTimeout(later, AGAIN));
    }
  }

  /** Makes ready for pieces to be dragged, as far as others are built with them. */
  prepareFor(moving: string[]): void {
    if (!this.idle || this.draft) return;
    for (const id of this.reach.usersOf(moving)) void this.pool?.prepare(this.pieces, id, moving);
  }

  /** Ends running builds; their pieces say so until they are built again. */
  cancel(): void {
    this.pool?.cancel();
  }

  again(id: string): void {
    this.request(id);
  }

  /** Builds everything again with fresh workers, as after a limit was set otherwise. */
  restart(): void {
    this.pool?.close();
    this.pool = null;
    for (const p of this.pieces) this.request(p.id);
  }

  /** Something drawn beside the builds has changed. */
  touch(): void {
    this.telling.now();
  }

  get idle(): boolean {
    return this.pool?.idle ?? true;
  }

  /** The piece was asked for and has not come yet. */
  isAwaited(id: string): boolean {
    return this.awaited.has(id);
  }

  clear(): void {
    clearTimeout(this.resting);
    clearTimeout(this.keeping);
    this.results.clear();
    this.kept.clear();
    this.awaited.clear();
    this.tookWhole.clear();
    this.unfinished.clear();
    this.reach = new Reach();
    this.pieces = [];
    this.stage = null;
    this.caged.clear();
    this.draft = false;
    this.pool?.close();
    this.pool = null;
    this.telling.now();
  }

  /** Memory of the built pieces, bytes; there are as many as the scene has. */
  memory(): { pieces: number; bytes: number } {
    let bytes = 0;
    for (const { display, cage } of this.results.values()) {
      if (display) for (const b of buffersOf(display)) bytes += b.byteLength;
      if (cage) bytes += cage.positions.byteLength;
    }
    return { pieces: this.results.size, bytes };
  }

  get(id: string): Built | undefined {
    return this.results.get(id);
  }

  all(): ReadonlyMap<string, Built> {
    return this.results;
  }

  readonly subscribe = (f: () => void): (() => void) => this.telling.subscribe(f);

  /** Counts up each time that views are told of a change. */
  get version(): number {
    return this.telling.version;
  }

  private request(id: string, draft = this.draft, whole = false): void {
    const piece = this.reach.pieces.get(id);
    if (!piece || 'group' in piece.base) return;
    this.pool ??= this.openPool(
      (piece_, answer) => this.take(piece_, answer),
      (p) => {
        this.progress = p;
        this.telling.now();
      },
    );
    this.awaited.add(id);
    const last = this.results.get(id);
    const kept = this.kept.numbersOf(id);
    const shown = last?.display ? last.number : null;
    this.pool.request(this.pieces, id, this.stage?.id === id ? stepsBefore(piece, this.stage.lane) : -1, {
      cage: !this.caged.has(id) ? 'none' : last?.cage ? 'changed' : 'whole',
      site: this.caged.get(id) ?? null,
      shown,
      has: shown === null ? kept : [shown, ...kept],
      whole,
      draft,
      yields: this.draft && !draft,
    });
  }

  private take(id: string, answer: Answer): void {
    this.awaited.delete(id);
    const old = this.results.get(id);
    const now = 'fault' in answer ? faulty(old, answer.fault) : this.merged(id, old, answer);
    if (!now) return;
    this.results.set(id, now);
    if (now.draft || this.draft) this.unfinished.add(id);
    else this.unfinished.delete(id);
    if (!now.draft && now.display !== old?.display && now.display) this.tookWhole.set(id, now.display.ms);
    // The hand let go while this was on its way.
    if (now.draft && !this.draft) this.request(id);
    this.keepSoon();
    this.telling.soon();
  }

  /** The state of a piece after an answer; null when what it leaves out is not there any more. */
  private merged(
    id: string,
    old: Built | undefined,
    answer: Exclude<Answer, { fault: Fault }>,
  ): Built | null {
    const { number, actions, picked, cage, forTree, draft } = answer;
    const shape = cage?.shape ?? old?.cage?.shape;
    const display = answer.display
      ? putBack(answer.display, old?.display ?? null)
      : this.displayOf(id, number);
    if (!display) {
      this.request(id, this.draft, true);
      return null;
    }
    this.kept.note(number, display);
    if (!draft && !this.draft) this.kept.keep(id, number, display);
    return {
      number,
      display,
      fault: null,
      actions,
      picked,
      draft,
      cage: cage && shape ? { positions: cage.positions, ranks: cage.ranks, shape, forTree } : null,
    };
  }

  private displayOf(id: string, number: number): Display | null {
    const now = this.results.get(id);
    return (now?.number === number && now.display) || this.kept.find(id, number);
  }
}

const faulty = (old: Built | undefined, fault: Fault | null): Built => ({
  number: 0,
  actions: [],
  picked: null,
  cage: null,
  display: null,
  ...old,
  draft: false,
  fault,
});

function stepsBefore(piece: Piece, lane: Lane): number {
  return inLaneOrder(piece.steps ?? []).filter((s) => LANES.indexOf(laneOf(s)) < LANES.indexOf(lane)).length;
}

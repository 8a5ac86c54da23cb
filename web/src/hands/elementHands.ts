/** Gestures on elements of the pieces in hand: pointing, picking, moving on to another piece. */
import type { OpenScene } from '../state/OpenScene';
import { handActions, picksOf, type ElementLevel, type Picks } from '../state/handSlice';
import { panelActions } from '../state/panelSlice';
import { pick } from '../state/elements';
import { allInHand, isEditable, KIND } from '../state/inHand';
import { piecesById } from '../state/selectors';
import { editHere } from '../state/twins';
import { underWay } from '../state/underWay';
import type { Stage } from '../viewport/Stage';
import { partsOfFace, wholeFaces } from '../viewport/wholeFaces';
import type { ElementHost, PointedIn } from './HandsHost';
import { asLook, edgeBeside, elementAmong, type Outline } from './pointing';

/** So many picks are not made again in a moment. */
const MANY_PICKS = 4;
/** Frames a piece that was just taken in hand may take until its cage is shown. */
const LONG = 120;

const state = (scene: OpenScene) => scene.store.getState();
const ascending = (indices: Iterable<number>): number[] => [...new Set(indices)].sort((a, b) => a - b);

export function elementHost(scene: OpenScene, stage: Stage, lasso: (o: Outline | null) => void): ElementHost {
  const level = (): ElementLevel => state(scene).hand.level as ElementLevel;
  const settings = () => state(scene).settings.elements;
  const picks = (): Picks => picksOf(state(scene).hand);
  const pickedOf = (id: string): ReadonlyArray<number> => picks()[id] ?? [];
  /** Extends faces to all parts that are drawn as one. @param indices ascending, each once */
  const whole = (id: string, indices: ReadonlyArray<number>): ReadonlyArray<number> => {
    const shape = stage.cages.of(id)?.cage?.shape;
    return shape && level() === 'face' ? wholeFaces(shape, indices) : indices;
  };
  const parts = ({ piece, element }: PointedIn): ReadonlyArray<number> => {
    const shape = stage.cages.of(piece)?.cage?.shape;
    return shape && level() === 'face' ? partsOfFace(shape, element) : [element];
  };
  const put = (all: Picks, lead?: string): void => {
    scene.store.dispatch(handActions.piecesPicked({ picks: all, lead }));
  };
  /** @param others keeps what is picked of other pieces */
  const set = (id: string, indices: Iterable<number>, others: Picks = {}): void => {
    const now = whole(id, ascending(indices));
    put({ ...others, [id]: now }, now.length ? id : undefined);
  };
  /** A click beside the model may be a slip: of many picks it says how they come back. */
  const letGo = (): void => {
    const many = Object.values(picks()).reduce((n, p) => n + p.length, 0);
    put({});
    if (many < MANY_PICKS) return;
    scene.store.dispatch(
      panelActions.noticed({ text: `${many} picks were let go.`, tone: 'info', picks: true }),
    );
  };
  const at = (x: number, y: number): PointedIn | null =>
    elementAmong(stage, level(), x, y, settings().pickRadius);
  const pickAt = (p: PointedIn, add: boolean): void => {
    if (!add) return set(p.piece, [p.element]);
    const all = parts(p);
    const before = pickedOf(p.piece);
    const had = before.includes(p.element);
    set(p.piece, had ? before.filter((i) => !all.includes(i)) : [...before, ...all], picks());
  };
  /** A click on another piece takes that in hand, with the element that is there. */
  const goOver = async (id: string, add: boolean, x: number, y: number): Promise<void> => {
    if (!editHere(scene, id)) return;
    scene.store.dispatch(handActions.selected({ ids: [id], mode: add ? 'add' : 'set' }));
    for (let k = 0; k < LONG && !stage.cages.of(id); k++)
      await new Promise((next) => requestAnimationFrame(next));
    const there = state(scene).hand.active === id && stage.cages.of(id) ? at(x, y) : null;
    if (there?.piece === id) pickAt(there, add);
  };
  const another = (x: number, y: number): string | null => {
    const id = stage.pick(x, y)?.piece ?? null;
    return id !== null && isEditable(piecesById(state(scene)).get(id)) ? id : null;
  };
  return {
    active: () => state(scene).hand.level !== 'piece',
    at,
    isPicked: (p) => pickedOf(p.piece).includes(p.element),
    point(p) {
      const { pointed, pointedOn } = state(scene).hand;
      if (pointed === (p?.element ?? null) && pointedOn === (p?.piece ?? null)) return;
      scene.store.dispatch(handActions.elementPointed(p && { element: p.element, on: p.piece }));
    },
    click(p, add, x, y) {
      if (p) return pickAt(p, add);
      const other = another(x, y);
      if (other !== null) return void underWay(scene, goOver(other, add, x, y));
      if (!add) letGo();
    },
    twice(p, add, across) {
      if (!p) return;
      const before = add ? picks() : {};
      set(p.piece, [p.element]);
      const edge = level() === 'face' ? edgeBeside(stage.cage, p, across) : null;
      const found =
        edge === null
          ? pick(scene, across ? 'ring' : 'loop', undefined, true)
          : pick(scene, 'rule', { select: { rule: 'strip', edge } }, true);
      void found.then(() => add && set(p.piece, [...(before[p.piece] ?? []), ...pickedOf(p.piece)], before));
    },
    async inside(drawn, add) {
      const of = KIND[level()];
      const found: Record<string, ReadonlyArray<number>> = {};
      const asked = allInHand(scene).map(async ({ piece }) => {
        const view = stage.cages.of(piece.id);
        if (!view?.cage) return;
        const reply = await scene.builds.ask(piece.id, {
          kind: 'inside',
          of,
          ...asLook(stage, view, drawn),
          through: settings().through,
        });
        if (reply && 'selection' in reply) found[piece.id] = reply.selection.indices;
      });
      await Promise.all(asked);
      if (state(scene).hand.level === 'piece' || KIND[level()] !== of) return;
      const every = Object.entries(found);
      const full = every.some(([, list]) => list.length);
      // A box over nothing but picked ones takes them away.
      const before = Object.fromEntries(every.map(([id]) => [id, new Set(pickedOf(id))]));
      const less = add && full && every.every(([id, list]) => list.every((i) => before[id].has(i)));
      const all: Record<string, ReadonlyArray<number>> = add ? { ...picks() } : {};
      for (const [id, list] of every) {
        const gone = new Set(list);
        const now = less ? [...before[id]].filter((i) => !gone.has(i)) : [...(all[id] ?? []), ...list];
        all[id] = whole(id, ascending(now));
      }
      put(all);
    },
    paint(p) {
      const before = pickedOf(p.piece);
      if (!before.includes(p.element)) set(p.piece, [...before, p.element], picks());
    },
    lasso,
  };
}

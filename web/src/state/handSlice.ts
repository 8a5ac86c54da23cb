/** The selection: pieces, step, level and picks, with the tool and the mode. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { LEVELS, type ElementLevel, type Level, type Tool } from '../viewport/terms';
import type { Mode } from './mode';

export { LEVELS };
export type { ElementLevel, Level, Tool };

export interface HandState {
  selected: string[];
  /** The piece whose build is shown; the last one selected. */
  active: string | null;
  /** Index of the chosen step in the active piece's list; null shows the piece itself. */
  step: number | null;
  level: Level;
  /** Picked elements of the active piece, of the level's kind; ascending. */
  picked: number[];
  /** The same of other selected pieces; none of them is empty. */
  beside: Record<string, number[]>;
  /** The element under the pointer, and the piece it is of. */
  pointed: number | null;
  pointedOn: string | null;
  /** The selection is what the last action left, until something else is picked. */
  following: boolean;
  /** Elements are picked on what the steps have made, or on the base; null leaves it to what the steps are. */
  onResult: boolean | null;
  /** Picks of an edit by hand that are being made anew. */
  anew: { step: number | null; action: number } | null;
  tool: Tool;
  mode: Mode | null;
}

/** Picked elements by piece. */
export type Picks = Readonly<Record<string, ReadonlyArray<number>>>;

const initialState: HandState = {
  selected: [],
  active: null,
  step: null,
  level: 'piece',
  picked: [],
  beside: {},
  pointed: null,
  pointedOn: null,
  following: false,
  onResult: null,
  anew: null,
  tool: 'select',
  mode: null,
};

/** A long list as it stays: frozen as a whole, so that nobody looks for changes in it element by element. */
const kept = (list: ReadonlyArray<number>): number[] => Object.freeze([...list]) as number[];

const sameList = (a: ReadonlyArray<number>, b: ReadonlyArray<number>): boolean =>
  a.length === b.length && a.every((x, k) => x === b[k]);

/** Picks by piece; pieces without picks are left out. */
export const picksOf = ({
  active,
  picked,
  beside,
}: Pick<HandState, 'active' | 'picked' | 'beside'>): Picks =>
  active !== null && picked.length ? { ...beside, [active]: picked } : beside;

/** Another piece leads: what is picked of the selected ones stays picked. */
function lead(s: HandState, active: string | null, picks: Picks): void {
  const own = active === null ? undefined : picks[active];
  s.picked = own?.length ? kept(own) : [];
  s.beside = {};
  for (const id of s.selected) if (id !== active && picks[id]?.length) s.beside[id] = kept(picks[id]);
  if (active === s.active) return;
  if (!s.active || !s.selected.includes(s.active)) s.onResult = null;
  s.active = active;
  s.step = null;
  s.pointed = s.pointedOn = null;
}

const slice = createSlice({
  name: 'hand',
  initialState,
  reducers: {
    selected: (s, { payload }: PayloadAction<{ ids: string[]; mode?: 'set' | 'toggle' | 'add' }>) => {
      const { ids, mode = 'set' } = payload;
      if (mode === 'set') s.selected = ids;
      else
        for (const id of ids) {
          const at = s.selected.indexOf(id);
          if (at < 0) s.selected.push(id);
          else if (mode === 'toggle') s.selected.splice(at, 1);
          else s.selected.push(...s.selected.splice(at, 1));
        }
      const active = s.selected.at(-1) ?? null;
      if (!active) s.level = 'piece';
      lead(s, active, picksOf(s));
    },
    /** Exactly these are picked, of selected pieces; one that has some leads. */
    piecesPicked: (s, { payload }: PayloadAction<{ picks: Picks; lead?: string }>) => {
      const { picks } = payload;
      const some = (id: string | null): boolean => id !== null && (picks[id]?.length ?? 0) > 0;
      const first = some(s.active) ? s.active : (s.selected.findLast(some) ?? s.active);
      const active = payload.lead ?? first;
      if (active !== null && active !== s.active)
        s.selected = [...s.selected.filter((id) => id !== active), active];
      lead(s, active, picks);
      s.following = false;
    },
    levelTaken: (s, { payload }: PayloadAction<Level>) => {
      s.mode = null;
      s.level = payload;
      s.picked = [];
      s.beside = {};
      // Another level is a choice of one's own: what the last action left no longer leads.
      s.following = false;
      s.pointed = s.pointedOn = null;
    },
    /** These of the active piece are picked, and none of others. */
    elementsPicked: (s, { payload }: PayloadAction<ReadonlyArray<number>>) => {
      s.picked = kept(payload);
      s.beside = {};
      s.following = false;
    },
    /** From now on the selection is what the last action leaves. */
    following: (s) => {
      s.following = true;
    },
    selectionFollowed: (s, { payload }: PayloadAction<{ level: ElementLevel; picks: Picks }>) => {
      s.level = payload.level;
      const before = picksOf(s);
      const same = (id: string): boolean => sameList(before[id] ?? [], payload.picks[id] ?? []);
      if (!s.selected.every(same)) lead(s, s.active, payload.picks);
    },
    /** @param on the piece; the active one without */
    elementPointed: (s, { payload }: PayloadAction<{ element: number; on?: string } | null>) => {
      s.pointed = payload?.element ?? null;
      s.pointedOn = payload ? (payload.on ?? s.active) : null;
    },
    /** Elements of another mesh are handled, so nothing is picked. */
    siteTaken: (s, { payload }: PayloadAction<{ onResult: boolean; step?: number | null }>) => {
      s.mode = null;
      s.onResult = payload.onResult;
      s.step = payload.step ?? null;
      s.picked = [];
      s.beside = {};
      s.pointed = s.pointedOn = null;
      s.following = false;
    },
    pickingAnew: (s, { payload }: PayloadAction<HandState['anew']>) => {
      s.anew = payload;
    },
    stepChosen: (s, { payload }: PayloadAction<number | null>) => {
      s.step = payload;
    },
    toolTaken: (s, { payload }: PayloadAction<Tool>) => {
      s.tool = payload;
    },
    modeTaken: (s, { payload }: PayloadAction<Mode | null>) => {
      s.mode = payload;
    },
  },
});

export const handActions = slice.actions;
export const handReducer = slice.reducer;

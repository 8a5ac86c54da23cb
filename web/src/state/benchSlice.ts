/** What is in hand on the Bench: selection, tool, look of the surface. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Anchor, AnchorTarget } from '@urnsmith/core/select/anchor';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import type { DrawnCut, DrawnOn, DrawnRepeat } from '@urnsmith/core/document/drawnCut';
import type { ShadingFaultKind } from '@urnsmith/core/shading/faults';
import type { Lane } from '@urnsmith/core/steps/index';
import { LEVELS, LOOKS, type ElementLevel, type Level, type Look, type Tool } from '../viewport/terms';
import { ELEMENT_SETTINGS, type ElementSettings, type SnapKind } from './elementSettings';

export type LedgerFilter = 'all' | 'solids' | 'cutters' | 'guides' | 'hidden';

export { LEVELS, LOOKS };
export type { ElementLevel, Level, Look, Tool };

/** What is being drawn on the stage, point by point or by a stroke, in the frame of the active piece. */
export interface Drawing {
  tool: 'knife' | 'face' | 'slice' | 'ring';
  lines: Array<Array<[number, number, number]>>;
}

/** A cut that is being drawn on a face. */
export interface CutDrawing {
  /** Looking for a face, pulling the outline open, pulling the depth. */
  stage: 'aim' | 'outline' | 'depth';
  host: string | null;
  /** Of the face, in the world: Y out of it. */
  frame: Matrix | null;
  /** Where the pointer is in X and Z of the frame, mm. */
  hover: [number, number] | null;
  from: [number, number];
  to: [number, number];
  points: Array<[number, number]>;
  /** Numbers that were typed count instead of the pointer's. */
  typed: { width?: number; length?: number; depth?: number };
  on: DrawnOn;
  /** The face that is drawn on, for a cutter that follows it; null while it is not known. */
  entry: { target: AnchorTarget; facing: Vec3 } | null;
}
/** A cutter that is being anchored, and how. */
export interface Anchoring {
  piece: string;
  hold: Anchor['hold'];
}

/** What there is at a place of a face: its lesser extent, and how thick the material is under it, mm. */
export interface FaceRoom {
  extent: number;
  depth: number;
}

/** What is being set down again and again: copies of a piece, or new holes. */
export interface PlacingAgain {
  /** Null for holes. */
  piece: string | null;
  /** Of holes, mm; by the face they hang on while nothing was typed. */
  radius?: number;
  /** Degrees about the way out of the face. */
  turn: number;
  /** Its turn and size to the frame of the face it sits on, and how high its origin stands over that, mm. */
  rel: Matrix;
  up: number;
  /** Where it hangs: the face's frame, and the place in X and Z of that. */
  at: { host: string; frame: Matrix; place: [number, number]; room: FaceRoom } | null;
  /** How many were set down. */
  placed?: number;
}
/** How cuts are drawn; the last one's settings are the next one's. */
export type CutSettings = Omit<DrawnCut, 'from' | 'to' | 'points'> & {
  thickness: number;
  repeat: DrawnRepeat;
};

/** A scope of rims that is being chosen by clicks. */
export interface RimsOf {
  piece: string;
  /** Of the step in the piece's list. */
  step: number;
  /** Of the scope in the step. */
  key: string;
}

export interface BenchState {
  level: Level;
  /** Picked elements of the active piece, of the level's kind; ascending. */
  picked: number[];
  /** The same of other selected pieces; none of them is empty. */
  beside: Record<string, number[]>;
  /** The element that is pointed at, and the piece it is of. */
  pointed: number | null;
  pointedOn: string | null;
  /** The selection is what the last action left, until something else is picked. */
  following: boolean;
  elements: ElementSettings;
  /** Elements are picked on what the steps have made, or on the base; null leaves it to what the steps are. */
  onResult: boolean | null;
  /** Picks of an edit by hand that are being made anew. */
  anew: { step: number | null; action: number } | null;
  /** A drawing tool in hand; null when none is. */
  drawing: Drawing | null;
  cutDrawing: CutDrawing | null;
  cutSettings: CutSettings;
  placing: PlacingAgain | null;
  /** Clicks on the piece choose whose rims a scope takes. */
  rimsOf: RimsOf | null;
  /** The next click on its host anchors a cutter. */
  anchoring: Anchoring | null;
  selected: string[];
  /** The piece whose build is shown; the last one selected. */
  active: string | null;
  /** Index of the chosen step in the active piece's list; null shows the piece itself. */
  step: number | null;
  hovered: string | null;
  /** The bead that is pointed at, as makers of faces are named; what it made lights up. */
  pointedBead: string | null;
  /** Which warning of the chosen step is pointed at on the Card. */
  pointedWarning: number | null;
  /** Which fault of shading is pointed at on the Card. */
  pointedFault: ShadingFaultKind | null;
  /** What led to the face of the active piece that is pointed at, the last first. */
  story: ReadonlyArray<string>;
  tool: Tool;
  look: Look;
  wire: boolean;
  xray: boolean;
  grid: boolean;
  parallel: boolean;
  snap: boolean;
  /** Grid step, mm, and angle step, degrees. */
  gridStep: number;
  angleStep: number;
  snapTo: SnapKind[];
  /** Where the working grid is seated (its frame in the world); null is level. */
  gridFrame: Matrix | null;
  /** Where the peg stands: a centre to turn about, snap to and place new pieces at. */
  peg: Matrix | null;
  isolated: boolean;
  /** Show the active piece as it stood before this lane. */
  stage: Lane | null;
  ledgerFilter: LedgerFilter;
  ledgerSearch: string;
  collapsed: string[];
  panels: { ledger: boolean; card: boolean };
  searchOpen: boolean;
  dialog: BenchDialog | null;
  notice: Notice | null;
}
/** Boxes that open over the scene. */
export type BenchDialog = 'history' | 'aside' | 'about' | 'keys' | 'outline' | 'presets' | 'interface';

/** Picked elements by piece. */
export type Picks = Readonly<Record<string, ReadonlyArray<number>>>;

export interface Notice {
  id: number;
  text: string;
  tone: 'info' | 'problem';
  /** Offers to take back what was just done. */
  undo?: boolean;
  /** It offers to take the last pick back. */
  picks?: boolean;
}

const initialState: BenchState = {
  level: 'piece',
  picked: [],
  beside: {},
  pointed: null,
  pointedOn: null,
  following: false,
  elements: ELEMENT_SETTINGS,
  onResult: null,
  anew: null,
  drawing: null,
  cutDrawing: null,
  placing: null,
  anchoring: null,
  rimsOf: null,
  cutSettings: {
    shape: 'rectangle',
    sides: 6,
    fromCentre: false,
    corner: 0,
    mode: 'subtract',
    reach: 'blind',
    depth: 5,
    thickness: 2,
    repeat: { pattern: 'once', count: 4, rows: 3, gap: 5, radius: 20 },
  },
  selected: [],
  active: null,
  step: null,
  hovered: null,
  pointedBead: null,
  pointedWarning: null,
  pointedFault: null,
  story: [],
  tool: 'select',
  look: 'clay',
  wire: true,
  xray: false,
  grid: true,
  parallel: false,
  snap: false,
  gridStep: 5,
  angleStep: 15,
  snapTo: ['grid'],
  gridFrame: null,
  peg: null,
  isolated: false,
  stage: null,
  ledgerFilter: 'all',
  ledgerSearch: '',
  collapsed: [],
  panels: { ledger: true, card: true },
  searchOpen: false,
  dialog: null,
  notice: null,
};

let notices = 0;

/** A long list as it stays: frozen as a whole, so that nobody looks for changes in it element by element. */
const kept = (list: ReadonlyArray<number>): number[] => Object.freeze([...list]) as number[];

const sameList = (a: ReadonlyArray<number>, b: ReadonlyArray<number>): boolean =>
  a.length === b.length && a.every((x, k) => x === b[k]);

/** What is picked of each piece; those without picks have none. */
export const picksOf = ({
  active,
  picked,
  beside,
}: Pick<BenchState, 'active' | 'picked' | 'beside'>): Picks =>
  active !== null && picked.length ? { ...beside, [active]: picked } : beside;

/** Another piece leads: what is picked of the selected ones stays picked. */
function lead(s: BenchState, active: string | null, picks: Picks): void {
  const own = active === null ? undefined : picks[active];
  s.picked = own?.length ? kept(own) : [];
  s.beside = {};
  for (const id of s.selected) if (id !== active && picks[id]?.length) s.beside[id] = kept(picks[id]);
  if (active === s.active) return;
  if (!s.active || !s.selected.includes(s.active)) s.onResult = null;
  s.active = active;
  s.step = null;
  s.pointed = s.pointedOn = null;
  s.drawing = null;
}

const slice = createSlice({
  name: 'bench',
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
      s.stage = null;
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
      if (payload !== 'piece') s.cutDrawing = s.placing = s.anchoring = s.rimsOf = null;
      s.level = payload;
      s.picked = [];
      s.beside = {};
      // Another level is a choice of one's own: what the last action left no longer leads.
      s.following = false;
      s.pointed = s.pointedOn = null;
      s.drawing = null;
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
    /** What was picked is of another mesh, so nothing is picked. */
    siteTaken: (s, { payload }: PayloadAction<{ onResult: boolean; step?: number | null }>) => {
      s.onResult = payload.onResult;
      s.step = payload.step ?? null;
      s.picked = [];
      s.beside = {};
      s.pointed = s.pointedOn = null;
      s.following = false;
      s.drawing = null;
    },
    pickingAnew: (s, { payload }: PayloadAction<BenchState['anew']>) => {
      s.anew = payload;
    },
    elementSettings: (s, { payload }: PayloadAction<Partial<ElementSettings>>) => {
      Object.assign(s.elements, payload);
    },
    drawn: (s, { payload }: PayloadAction<Drawing | null>) => {
      s.drawing = payload;
    },
    cutDrawingTaken: (s, { payload }: PayloadAction<CutDrawing | null>) => {
      s.cutDrawing = payload;
      if (payload) s.drawing = s.placing = s.anchoring = s.rimsOf = null;
    },
    placingTaken: (s, { payload }: PayloadAction<PlacingAgain | null>) => {
      s.placing = payload;
      if (payload) s.drawing = s.cutDrawing = s.anchoring = s.rimsOf = null;
    },
    anchoringTaken: (s, { payload }: PayloadAction<Anchoring | null>) => {
      s.anchoring = payload;
      if (payload) s.drawing = s.cutDrawing = s.placing = s.rimsOf = null;
    },
    rimsTaken: (s, { payload }: PayloadAction<RimsOf | null>) => {
      s.rimsOf = payload;
      if (payload) s.drawing = s.cutDrawing = s.placing = s.anchoring = null;
    },
    cutDrawn: (s, { payload }: PayloadAction<Partial<CutDrawing>>) => {
      if (s.cutDrawing) Object.assign(s.cutDrawing, payload);
    },
    cutSettings: (s, { payload }: PayloadAction<Partial<CutSettings>>) => {
      Object.assign(s.cutSettings, payload);
    },
    stepChosen: (s, { payload }: PayloadAction<number | null>) => {
      if (payload !== s.step) s.rimsOf = null;
      s.step = payload;
    },
    hovered: (s, { payload }: PayloadAction<string | null>) => {
      s.hovered = payload;
    },
    beadPointed: (s, { payload }: PayloadAction<string | null>) => {
      s.pointedBead = payload;
    },
    warningPointed: (s, { payload }: PayloadAction<number | null>) => {
      s.pointedWarning = payload;
    },
    faultPointed: (s, { payload }: PayloadAction<ShadingFaultKind | null>) => {
      s.pointedFault = payload;
    },
    storyTold: (s, { payload }: PayloadAction<ReadonlyArray<string>>) => {
      s.story = payload as string[];
    },
    toolTaken: (s, { payload }: PayloadAction<Tool>) => {
      s.tool = payload;
    },
    lookChosen: (s, { payload }: PayloadAction<Look>) => {
      s.look = payload;
    },
    toggled: (
      s,
      { payload }: PayloadAction<'wire' | 'xray' | 'grid' | 'parallel' | 'snap' | 'isolated' | 'searchOpen'>,
    ) => {
      s[payload] = !s[payload];
    },
    dialogOpened: (s, { payload }: PayloadAction<BenchDialog | null>) => {
      s.dialog = payload;
    },
    gridStepSet: (s, { payload }: PayloadAction<number>) => {
      s.gridStep = payload;
    },
    angleStepSet: (s, { payload }: PayloadAction<number>) => {
      s.angleStep = payload;
    },
    gridSeated: (s, { payload }: PayloadAction<Matrix | null>) => {
      s.gridFrame = payload;
    },
    snapToggled: (s, { payload }: PayloadAction<SnapKind>) => {
      s.snapTo = s.snapTo.includes(payload) ? s.snapTo.filter((k) => k !== payload) : [...s.snapTo, payload];
    },
    pegSet: (s, { payload }: PayloadAction<Matrix | null>) => {
      s.peg = payload;
    },
    stageShown: (s, { payload }: PayloadAction<Lane | null>) => {
      s.stage = payload;
    },
    ledgerFiltered: (s, { payload }: PayloadAction<LedgerFilter>) => {
      s.ledgerFilter = payload;
    },
    ledgerSearched: (s, { payload }: PayloadAction<string>) => {
      s.ledgerSearch = payload;
    },
    collapseToggled: (s, { payload }: PayloadAction<string>) => {
      const at = s.collapsed.indexOf(payload);
      if (at < 0) s.collapsed.push(payload);
      else s.collapsed.splice(at, 1);
    },
    panelToggled: (s, { payload }: PayloadAction<'ledger' | 'card'>) => {
      s.panels[payload] = !s.panels[payload];
    },
    noticed: {
      prepare: (n: Omit<Notice, 'id'>) => ({ payload: { ...n, id: ++notices } }),
      reducer: (s, { payload }: PayloadAction<Notice>) => {
        s.notice = payload;
      },
    },
    noticeClosed: (s) => {
      s.notice = null;
    },
    /** How another scene was looked at. */
    viewTaken: (s, { payload }: PayloadAction<Pick<BenchState, 'panels' | 'look'>>) => {
      Object.assign(s, payload);
    },
  },
});

export const bench = slice.actions;
export const benchReducer = slice.reducer;

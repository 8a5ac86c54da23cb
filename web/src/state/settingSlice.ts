/** How tools work: snapping, elements, and how cuts are drawn. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { DrawnCut, DrawnRepeat } from '@urnsmith/core/document/drawnCut';
import { ELEMENT_SETTINGS, type ElementSettings, type SnapKind } from './elementSettings';

/** How cuts are drawn; the last one's settings are the next one's. */
export type CutSettings = Omit<DrawnCut, 'from' | 'to' | 'points'> & {
  thickness: number;
  repeat: DrawnRepeat;
};

export interface SettingState {
  snap: boolean;
  /** Grid step, mm, and angle step, degrees. */
  gridStep: number;
  angleStep: number;
  snapTo: SnapKind[];
  elements: ElementSettings;
  cut: CutSettings;
}

const initialState: SettingState = {
  snap: false,
  gridStep: 5,
  angleStep: 15,
  snapTo: ['grid'],
  elements: ELEMENT_SETTINGS,
  cut: {
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
};

const slice = createSlice({
  name: 'settings',
  initialState,
  reducers: {
    snapSwitched: (s) => {
      s.snap = !s.snap;
    },
    gridStepSet: (s, { payload }: PayloadAction<number>) => {
      s.gridStep = payload;
    },
    angleStepSet: (s, { payload }: PayloadAction<number>) => {
      s.angleStep = payload;
    },
    snapToggled: (s, { payload }: PayloadAction<SnapKind>) => {
      s.snapTo = s.snapTo.includes(payload) ? s.snapTo.filter((k) => k !== payload) : [...s.snapTo, payload];
    },
    elementSettings: (s, { payload }: PayloadAction<Partial<ElementSettings>>) => {
      Object.assign(s.elements, payload);
    },
    cutSettings: (s, { payload }: PayloadAction<Partial<CutSettings>>) => {
      Object.assign(s.cut, payload);
    },
  },
});

export const settingActions = slice.actions;
export const settingReducer = slice.reducer;

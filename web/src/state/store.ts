/** The store of an open scene, and its typed hooks. */
import {
  combineReducers,
  configureStore,
  createListenerMiddleware,
  type ThunkDispatch,
  type UnknownAction,
} from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { scenesApi } from '../api/scenesApi';
import { settingsApi } from '../api/settingsApi';
import { apis } from './appStore';
import { documentReducer } from './documentSlice';
import { handReducer } from './handSlice';
import { hintReducer } from './hintSlice';
import { panelReducer } from './panelSlice';
import { settingReducer } from './settingSlice';
import { viewReducer } from './viewSlice';

const sceneReducer = combineReducers({
  document: documentReducer,
  hand: handReducer,
  hints: hintReducer,
  view: viewReducer,
  settings: settingReducer,
  panels: panelReducer,
  ...apis,
});
export type RootState = ReturnType<typeof sceneReducer>;
export type AppDispatch = ThunkDispatch<RootState, undefined, UnknownAction>;

export function createSceneStore() {
  const listeners = createListenerMiddleware<RootState, AppDispatch>();
  const store = configureStore({
    reducer: sceneReducer,
    middleware: (d) =>
      d({ serializableCheck: false, immutableCheck: false })
        .prepend(listeners.middleware)
        .concat(scenesApi.middleware, settingsApi.middleware),
  });
  return { store, listeners };
}

export type SceneStore = ReturnType<typeof createSceneStore>['store'];
export type SceneListeners = ReturnType<typeof createSceneStore>['listeners'];
export const useApp = useSelector.withTypes<RootState>();
export const useAct = useDispatch.withTypes<AppDispatch>();

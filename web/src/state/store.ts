/** The store of an open scene, and its typed hooks. */
import { configureStore, createListenerMiddleware, type ListenerMiddlewareInstance } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { scenesApi } from '../api/scenesApi';
import { settingsApi } from '../api/settingsApi';
import { benchReducer } from './benchSlice';
import { documentReducer } from './documentSlice';

const apis = {
  [scenesApi.reducerPath]: scenesApi.reducer,
  [settingsApi.reducerPath]: settingsApi.reducer,
};

/** What is not of any scene: the list of scenes and the settings. */
export const createAppStore = () =>
  configureStore({
    reducer: apis,
    middleware: (d) => d().concat(scenesApi.middleware, settingsApi.middleware),
  });

export function createSceneStore() {
  const listeners = createListenerMiddleware();
  const store = configureStore({
    reducer: { document: documentReducer, bench: benchReducer, ...apis },
    middleware: (d) =>
      d({ serializableCheck: false, immutableCheck: false })
        .prepend(listeners.middleware)
        .concat(scenesApi.middleware, settingsApi.middleware),
  });
  return { store, listeners: listeners as ListenerMiddlewareInstance<RootState, AppDispatch> };
}

export type SceneStore = ReturnType<typeof createSceneStore>['store'];
export type RootState = ReturnType<SceneStore['getState']>;
export type AppDispatch = SceneStore['dispatch'];
export const useApp = useSelector.withTypes<RootState>();
export const useAct = useDispatch.withTypes<AppDispatch>();

/** The store of what is not of any scene: the list of scenes and the settings. */
import { configureStore } from '@reduxjs/toolkit';
import { scenesApi } from '../api/scenesApi';
import { settingsApi } from '../api/settingsApi';

export const apis = {
  [scenesApi.reducerPath]: scenesApi.reducer,
  [settingsApi.reducerPath]: settingsApi.reducer,
};

export const createAppStore = () =>
  configureStore({
    reducer: apis,
    middleware: (d) => d().concat(scenesApi.middleware, settingsApi.middleware),
  });

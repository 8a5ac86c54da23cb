/** The store, and its typed hooks. */
import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { scenesApi } from '../api/scenesApi';
import { settingsApi } from '../api/settingsApi';
import { benchReducer } from './benchSlice';
import { documentReducer } from './documentSlice';

export const store = configureStore({
  reducer: {
    document: documentReducer,
    bench: benchReducer,
    [scenesApi.reducerPath]: scenesApi.reducer,
    [settingsApi.reducerPath]: settingsApi.reducer,
  },
  middleware: (d) =>
    d({ serializableCheck: false, immutableCheck: false }).concat(
      scenesApi.middleware,
      settingsApi.middleware,
    ),
});

export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useApp = useSelector.withTypes<RootState>();
export const useAct = useDispatch.withTypes<AppDispatch>();

/** What a person set for the whole workshop, through RTK Query. */
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { Preset } from '@urnsmith/core/document/presets';
import type { ChangedKeys } from './types';

export const settingsApi = createApi({
  reducerPath: 'settingsApi',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/settings' }),
  endpoints: (b) => ({
    keys: b.query<ChangedKeys, void>({ query: () => '/keys' }),
    presets: b.query<Preset[], void>({ query: () => '/presets' }),
    savePresets: b.mutation<object, Preset[]>({
      query: (body) => ({ url: '/presets', method: 'PUT', body }),
      onQueryStarted(presets, { dispatch, queryFulfilled }) {
        const shown = dispatch(settingsApi.util.upsertQueryData('presets', undefined, presets));
        queryFulfilled.catch(() => {
          shown.abort();
          void dispatch(settingsApi.endpoints.presets.initiate(undefined, { forceRefetch: true }));
        });
      },
    }),
    saveKeys: b.mutation<object, ChangedKeys>({
      query: (body) => ({ url: '/keys', method: 'PUT', body }),
      // Shown at once, and taken back should the server refuse.
      onQueryStarted(keys, { dispatch, queryFulfilled }) {
        const shown = dispatch(settingsApi.util.upsertQueryData('keys', undefined, keys));
        queryFulfilled.catch(() => {
          shown.abort();
          void dispatch(settingsApi.endpoints.keys.initiate(undefined, { forceRefetch: true }));
        });
      },
    }),
  }),
});

export const { useKeysQuery, useSaveKeysMutation, usePresetsQuery, useSavePresetsMutation } = settingsApi;

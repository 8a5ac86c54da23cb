/** What a person set for the whole workshop, through RTK Query. */
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { ChangedKeys } from '../commands/keymap';

export const settingsApi = createApi({
  reducerPath: 'settingsApi',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/settings' }),
  endpoints: (b) => ({
    keys: b.query<ChangedKeys, void>({ query: () => '/keys' }),
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

export const { useKeysQuery, useSaveKeysMutation } = settingsApi;

/** The scene library through RTK Query. */
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { SceneCard } from '@urnsmith/core/document/scene';

export const scenesApi = createApi({
  reducerPath: 'scenesApi',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/scenes' }),
  tagTypes: ['Scenes'],
  endpoints: (b) => ({
    scenes: b.query<SceneCard[], string>({
      query: (search) => ({ url: '', params: search ? { search } : {} }),
      providesTags: ['Scenes'],
    }),
    createScene: b.mutation<{ id: string }, { name: string }>({
      query: (body) => ({ url: '', method: 'POST', body }),
      invalidatesTags: ['Scenes'],
    }),
    /** A mesh file, or a scene saved as one file. */
    importScene: b.mutation<{ id: string }, { name: string; file: Blob; type: string }>({
      query: ({ name, file, type }) => ({
        url: '/import',
        params: { name },
        method: 'POST',
        body: file,
        headers: { 'content-type': type },
      }),
      invalidatesTags: ['Scenes'],
    }),
    renameScene: b.mutation<object, { id: string; name: string }>({
      query: ({ id, name }) => ({ url: `/${id}`, method: 'PATCH', body: { name } }),
      invalidatesTags: ['Scenes'],
    }),
    duplicateScene: b.mutation<{ id: string }, string>({
      query: (id) => ({ url: `/${id}/duplicate`, method: 'POST' }),
      invalidatesTags: ['Scenes'],
    }),
    deleteScene: b.mutation<object, string>({
      query: (id) => ({ url: `/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Scenes'],
    }),
    restoreScene: b.mutation<object, string>({
      query: (id) => ({ url: `/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Scenes'],
    }),
  }),
});

export const {
  useScenesQuery,
  useCreateSceneMutation,
  useImportSceneMutation,
  useRenameSceneMutation,
  useDuplicateSceneMutation,
  useDeleteSceneMutation,
  useRestoreSceneMutation,
} = scenesApi;

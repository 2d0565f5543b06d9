import {
  JobSchema,
  PersonSchema,
  ShelfSchema,
  StoredInstrumentSchema,
  StoredPartSchema,
  StoredRulesSchema,
  type Job,
  type Person,
  type Rounds,
  type RoundsPage,
  type Shelf,
  type StoredInstrument,
} from '@katharos/contract';
import type { HouseRules, Instrument, Part } from '@katharos/core';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { fetchPrefetched, PATIENCE_MS } from '../boot/prefetched.ts';

/** What the server knows. What is edited or worked out from is parsed by the contract's schemas as it enters; lists are shown as they come. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api', timeout: PATIENCE_MS, fetchFn: fetchPrefetched }),
  tagTypes: ['Rounds', 'Job', 'Shelf'],
  endpoints: (b) => ({
    getShelf: b.query<Shelf, null>({
      query: () => 'shelf',
      transformResponse: (r: unknown) => ShelfSchema.parse(r),
      providesTags: ['Shelf'],
    }),
    getRounds: b.query<Rounds, string>({
      query: (find) => ({ url: 'rounds', params: find === '' ? {} : { find } }),
      providesTags: ['Rounds'],
    }),
    getRoundsPage: b.query<RoundsPage, { list: 'open' | 'kept'; find: string; after: string }>({
      query: ({ list, find, after }) => ({
        url: `rounds/${list}`,
        params: { after, ...(find === '' ? {} : { find }) },
      }),
      providesTags: ['Rounds'],
    }),
    getJob: b.query<Job, string>({
      query: (id) => `jobs/${id}`,
      transformResponse: (r: unknown) => JobSchema.parse(r),
      providesTags: (_r, _e, id) => [{ type: 'Job', id }],
    }),
    putRules: b.mutation<{ rules: HouseRules; version: number }, { rules: HouseRules; version: number; by: string }>({
      query: (body) => ({ url: 'shelf/rules', method: 'PUT', body }),
      transformResponse: (r: unknown) => StoredRulesSchema.parse(r),
      invalidatesTags: ['Shelf', 'Rounds'],
    }),
    putPart: b.mutation<{ part: Part; version: number }, { part: Part; version: number | null; by: string }>({
      query: (body) => ({ url: `shelf/parts/${body.part.id}`, method: 'PUT', body }),
      transformResponse: (r: unknown) => StoredPartSchema.parse(r),
      invalidatesTags: ['Shelf', 'Rounds'],
    }),
    importParts: b.mutation<
      unknown,
      { parts: readonly Part[]; versions: Readonly<Record<string, number>>; by: string }
    >({
      query: (body) => ({ url: 'shelf/parts/import', method: 'POST', body }),
      invalidatesTags: ['Shelf', 'Rounds'],
    }),
    putInstrument: b.mutation<StoredInstrument, { instrument: Instrument; version: number | null; by: string }>({
      query: (body) => ({ url: `instruments/${body.instrument.id}`, method: 'PUT', body }),
      transformResponse: (r: unknown) => StoredInstrumentSchema.parse(r),
      invalidatesTags: ['Shelf'],
    }),
    importJob: b.mutation<{ jobId: string }, { file: unknown; by: string }>({
      query: (body) => ({ url: 'jobs/import', method: 'POST', body }),
      invalidatesTags: ['Rounds', 'Shelf'],
    }),
    addPerson: b.mutation<Person, { name: string }>({
      query: (body) => ({ url: 'people', method: 'POST', body }),
      transformResponse: (r: unknown) => PersonSchema.parse(r),
      invalidatesTags: ['Shelf'],
    }),
  }),
});

export const {
  useGetShelfQuery,
  useGetRoundsQuery,
  useLazyGetRoundsPageQuery,
  useGetJobQuery,
  useAddPersonMutation,
  useImportJobMutation,
  usePutRulesMutation,
  usePutPartMutation,
  useImportPartsMutation,
  usePutInstrumentMutation,
} = api;

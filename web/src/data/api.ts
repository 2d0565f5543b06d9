import {
  ChangePageSchema,
  DeviceSchema,
  FirmPersonSchema,
  JobSchema,
  MadeLinkSchema,
  ShelfSchema,
  StockSchema,
  StoredInstrumentSchema,
  StoredPartSchema,
  StoredRulesSchema,
  type ChangePage,
  type BroughtIn,
  type Coming,
  type Day,
  type Device,
  type Feed,
  type FirmPerson,
  type Found,
  type Job,
  type KeptDecision,
  type MadeFeed,
  type MadeLink,
  type Role,
  type Rounds,
  type RoundsPage,
  type Shelf,
  type Stock,
  type StockMove,
  type StoredInstrument,
} from '@katharos/contract';
import type { DayTable, FirmFigures, HouseRules, Instrument, Part } from '@katharos/core';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { fetchPrefetched, PATIENCE_MS } from '../boot/prefetched.ts';
import { orAsKept } from './kept/answer.ts';
import { asPerson, type SessionState } from './session.ts';

const plain = fetchBaseQuery({
  baseUrl: '/api',
  timeout: PATIENCE_MS,
  fetchFn: fetchPrefetched,
  prepareHeaders: (headers, { getState }) => {
    const { session } = getState() as { readonly session: SessionState };
    for (const [name, value] of Object.entries(asPerson(session.personId))) headers.set(name, value);
  },
});
/** Asks as who acts; an answer that lets nobody in is looked into. */
const asWhoActs: typeof plain = async (args, store, extra) => {
  const r = await plain(args, store, extra);
  if (r.error?.status === 401) whenShutOut(store.dispatch);
  return r;
};
let whenShutOut: (dispatch: (action: never) => unknown) => void = () => undefined;
/** Says what is done when the server lets nobody in. */
export function onShutOut(call: (dispatch: (action: never) => unknown) => void): void {
  whenShutOut = call;
}

/** Has what stands under these paths asked for anew, where it is on the page. */
export function readAnew(paths: readonly string[]): ReturnType<typeof api.util.invalidateTags> {
  return api.util.invalidateTags(
    paths.map((path) => {
      const id = /^jobs\/(.+)$/.exec(path)?.[1];
      if (id !== undefined) return { type: 'Job' as const, id };
      return path === 'shelf' ? ('Shelf' as const) : ('Rounds' as const);
    }),
  );
}

/** What the server knows. What is edited or worked out from is parsed by the contract's schemas as it enters; lists are shown as they come. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: orAsKept(asWhoActs, (dispatch, path) => dispatch(readAnew([path]) as never)),
  tagTypes: ['Rounds', 'Job', 'Shelf', 'Firm', 'Stock', 'Feeds'],
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
        params: { ...(after === '' ? {} : { after }), ...(find === '' ? {} : { find }) },
      }),
      providesTags: ['Rounds'],
    }),
    getComing: b.query<Coming, null>({
      query: () => 'rounds/coming',
      providesTags: ['Rounds'],
    }),
    getDay: b.query<Day, string>({
      query: (on) => ({ url: 'day', params: { on } }),
      providesTags: ['Rounds'],
    }),
    putDayTable: b.mutation<{ table: DayTable; version: number }, { table: DayTable; version: number | null }>({
      query: (body) => ({ url: 'day/table', method: 'PUT', body }),
      invalidatesTags: ['Rounds'],
    }),
    getFeeds: b.query<Feed[], null>({
      query: () => 'feeds',
      providesTags: ['Feeds'],
    }),
    makeFeed: b.mutation<MadeFeed, { fitter: string | null }>({
      query: (body) => ({ url: 'feeds', method: 'POST', body }),
      invalidatesTags: ['Feeds'],
    }),
    endFeed: b.mutation<unknown, string>({
      query: (id) => ({ url: `feeds/${id}/end`, method: 'POST' }),
      invalidatesTags: ['Feeds'],
    }),
    getFigures: b.query<FirmFigures, null>({
      query: () => 'figures',
      providesTags: ['Rounds'],
    }),
    find: b.query<Found, string>({
      query: (q) => ({ url: 'find', params: { q } }),
      providesTags: ['Rounds'],
    }),
    getDecision: b.query<KeptDecision | null, string>({
      query: (id) => `jobs/${id}/decision`,
    }),
    getJob: b.query<Job, string>({
      query: (id) => `jobs/${id}`,
      transformResponse: (r: unknown) => JobSchema.parse(r),
      providesTags: (_r, _e, id) => [{ type: 'Job', id }],
    }),
    getStock: b.query<Stock, null>({
      query: () => 'stock',
      transformResponse: (r: unknown) => StockSchema.parse(r),
      providesTags: ['Stock'],
    }),
    moveStock: b.mutation<Stock, { moves: readonly StockMove[] }>({
      query: (body) => ({ url: 'stock/moves', method: 'POST', body }),
      transformResponse: (r: unknown) => StockSchema.parse(r),
      invalidatesTags: ['Stock'],
    }),
    putRules: b.mutation<{ rules: HouseRules; version: number }, { rules: HouseRules; version: number }>({
      query: (body) => ({ url: 'shelf/rules', method: 'PUT', body }),
      transformResponse: (r: unknown) => StoredRulesSchema.parse(r),
      invalidatesTags: ['Shelf', 'Rounds'],
    }),
    putPart: b.mutation<{ part: Part; version: number }, { part: Part; version: number | null }>({
      query: (body) => ({ url: `shelf/parts/${body.part.id}`, method: 'PUT', body }),
      transformResponse: (r: unknown) => StoredPartSchema.parse(r),
      invalidatesTags: ['Shelf', 'Rounds'],
    }),
    importParts: b.mutation<unknown, { parts: readonly Part[]; versions: Readonly<Record<string, number>> }>({
      query: (body) => ({ url: 'shelf/parts/import', method: 'POST', body }),
      invalidatesTags: ['Shelf', 'Rounds'],
    }),
    putInstrument: b.mutation<StoredInstrument, { instrument: Instrument; version: number | null }>({
      query: (body) => ({ url: `instruments/${body.instrument.id}`, method: 'PUT', body }),
      transformResponse: (r: unknown) => StoredInstrumentSchema.parse(r),
      invalidatesTags: ['Shelf'],
    }),
    importJob: b.mutation<{ jobId: string }, { file: unknown }>({
      query: (body) => ({ url: 'jobs/import', method: 'POST', body }),
      invalidatesTags: ['Rounds', 'Shelf'],
    }),
    bringArchive: b.mutation<BroughtIn, File>({
      query: (body) => ({ url: 'archive', method: 'POST', body, headers: { 'content-type': 'application/zip' } }),
    }),
    getPeople: b.query<FirmPerson[], null>({
      query: () => 'people',
      transformResponse: (r: unknown) => FirmPersonSchema.array().parse(r),
      providesTags: ['Firm'],
    }),
    addPerson: b.mutation<FirmPerson, { id: string; name: string; role: Role }>({
      query: (body) => ({ url: 'people', method: 'POST', body }),
      transformResponse: (r: unknown) => FirmPersonSchema.parse(r),
      invalidatesTags: ['Shelf', 'Firm'],
    }),
    putPerson: b.mutation<FirmPerson, Omit<FirmPerson, 'ready'>>({
      query: ({ id, ...body }) => ({ url: `people/${id}`, method: 'PUT', body }),
      transformResponse: (r: unknown) => FirmPersonSchema.parse(r),
      invalidatesTags: ['Shelf', 'Firm'],
    }),
    makeLink: b.mutation<MadeLink, string>({
      query: (person) => ({ url: 'links', method: 'POST', body: { person } }),
      transformResponse: (r: unknown) => MadeLinkSchema.parse(r),
      invalidatesTags: ['Firm'],
    }),
    getDevices: b.query<Device[], null>({
      query: () => 'devices',
      transformResponse: (r: unknown) => DeviceSchema.array().parse(r),
      providesTags: ['Firm'],
    }),
    endDevice: b.mutation<unknown, string>({
      query: (id) => ({ url: `devices/${id}/end`, method: 'POST', body: {} }),
      invalidatesTags: ['Firm'],
    }),
    getAudit: b.query<ChangePage, { before?: string; person?: string }>({
      query: (params) => ({ url: 'audit', params }),
      transformResponse: (r: unknown) => ChangePageSchema.parse(r),
      providesTags: ['Firm'],
    }),
  }),
});

export const {
  useGetShelfQuery,
  useGetRoundsQuery,
  useLazyGetRoundsPageQuery,
  useFindQuery,
  useEndFeedMutation,
  useGetFeedsQuery,
  useGetFiguresQuery,
  useMakeFeedMutation,
  useGetComingQuery,
  useGetDayQuery,
  usePutDayTableMutation,
  useGetJobQuery,
  useGetDecisionQuery,
  useGetPeopleQuery,
  useAddPersonMutation,
  usePutPersonMutation,
  useMakeLinkMutation,
  useGetDevicesQuery,
  useEndDeviceMutation,
  useGetAuditQuery,
  useBringArchiveMutation,
  useImportJobMutation,
  usePutRulesMutation,
  useGetStockQuery,
  useMoveStockMutation,
  usePutPartMutation,
  useImportPartsMutation,
  usePutInstrumentMutation,
} = api;

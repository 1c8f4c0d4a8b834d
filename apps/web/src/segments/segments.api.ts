import type { Use } from '@palabra/contract/wire';
import type {
  FilterReply,
  FilterRequest,
  NewSegmentRequest,
  NewViewRequest,
  SegmentLine,
  SegmentReply,
  SegmentRequest,
  SiftReply,
  SiftRequest,
  StrainReply,
  ViewLine,
  ViewRequest,
  WhyReply,
  WhyRequest,
} from '@palabra/contract/segments';
import { listOf, one, server } from '../api/server';

export const segmentsApi = server.injectEndpoints({
  endpoints: (build) => ({
    segments: build.query<SegmentLine[], void>({
      query: () => '/segments',
      providesTags: listOf('Segment'),
    }),
    segment: build.query<SegmentReply, number>({
      query: (id) => `/segments/${id}`,
      providesTags: one('Segment'),
      keepUnusedDataFor: 0,
    }),
    addSegment: build.mutation<{ id: number; version: number }, NewSegmentRequest>({
      query: (body) => ({ url: '/segments', method: 'POST', body }),
      invalidatesTags: listOf('Segment'),
    }),
    // The editor holds the latest state itself; only lists and tallies elsewhere are told.
    saveSegment: build.mutation<{ version: number }, SegmentRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/segments/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Campaign'],
    }),
    removeSegment: build.mutation<null, number>({
      query: (id) => ({ url: `/segments/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Segment', 'Campaign', 'Change'],
    }),
    restoreSegment: build.mutation<null, number>({
      query: (id) => ({ url: `/segments/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Segment', 'Campaign', 'Change'],
    }),
    filter: build.query<FilterReply, string>({
      query: (key) => `/filters/${key}`,
      keepUnusedDataFor: 3600,
    }),
    keepFilter: build.mutation<FilterReply, FilterRequest>({
      query: (body) => ({ url: '/filters', method: 'POST', body }),
    }),
    views: build.query<ViewLine[], void>({
      query: () => '/views',
      providesTags: ['View'],
      keepUnusedDataFor: 600,
    }),
    addView: build.mutation<{ id: number; version: number }, NewViewRequest>({
      query: (body) => ({ url: '/views', method: 'POST', body }),
      invalidatesTags: ['View'],
    }),
    changeView: build.mutation<{ version: number }, ViewRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/views/${id}`, method: 'PUT', body }),
      invalidatesTags: ['View'],
    }),
    removeView: build.mutation<null, number>({
      query: (id) => ({ url: `/views/${id}`, method: 'DELETE' }),
      invalidatesTags: ['View'],
    }),
    restoreView: build.mutation<null, number>({
      query: (id) => ({ url: `/views/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['View'],
    }),
    startWith: build.mutation<null, number | null>({
      query: (id) =>
        id === null
          ? { url: '/views/start', method: 'DELETE' }
          : { url: `/views/${id}/start`, method: 'POST' },
      invalidatesTags: ['View'],
    }),
    sift: build.query<SiftReply, SiftRequest>({
      query: (body) => ({ url: '/segments/sift', method: 'POST', body }),
      providesTags: ['People'],
      keepUnusedDataFor: 5,
    }),
    strain: build.query<StrainReply, SiftRequest>({
      query: (body) => ({ url: '/segments/strain', method: 'POST', body }),
      providesTags: ['People'],
      keepUnusedDataFor: 5,
    }),
    segmentsOf: build.query<Use[], number>({
      query: (person) => `/segments/of/${person}`,
      providesTags: ['Segment', 'Person'],
    }),
    why: build.query<WhyReply, WhyRequest>({
      query: (body) => ({ url: '/segments/why', method: 'POST', body }),
      providesTags: ['People'],
      keepUnusedDataFor: 5,
    }),
  }),
});

export const {
  useSegmentsQuery,
  useSegmentQuery,
  useAddSegmentMutation,
  useSaveSegmentMutation,
  useRemoveSegmentMutation,
  useRestoreSegmentMutation,
  useFilterQuery,
  useKeepFilterMutation,
  useViewsQuery,
  useAddViewMutation,
  useChangeViewMutation,
  useRemoveViewMutation,
  useRestoreViewMutation,
  useStartWithMutation,
  useSiftQuery,
  useStrainQuery,
  useSegmentsOfQuery,
  useWhyQuery,
} = segmentsApi;

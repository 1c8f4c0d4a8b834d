import type {
  NewSegmentRequest,
  SegmentLine,
  SegmentReply,
  SegmentRequest,
  SiftReply,
  SiftRequest,
  StrainReply,
  WhyReply,
  WhyRequest,
} from '@palabra/contract/segments';
import { api } from '../app/api';

export const segmentsApi = api.injectEndpoints({
  endpoints: (build) => ({
    segments: build.query<SegmentLine[], void>({
      query: () => '/segments',
      providesTags: ['Segments'],
    }),
    segment: build.query<SegmentReply, number>({
      query: (id) => `/segments/${id}`,
      providesTags: ['Segments'],
      keepUnusedDataFor: 0,
    }),
    addSegment: build.mutation<{ id: number }, NewSegmentRequest>({
      query: (body) => ({ url: '/segments', method: 'POST', body }),
      invalidatesTags: ['Segments'],
    }),
    // The editor holds the latest state itself; only lists and tallies elsewhere are told.
    saveSegment: build.mutation<{ version: number }, SegmentRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/segments/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Campaigns'],
    }),
    removeSegment: build.mutation<null, number>({
      query: (id) => ({ url: `/segments/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Segments', 'Campaigns'],
    }),
    restoreSegment: build.mutation<null, number>({
      query: (id) => ({ url: `/segments/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Segments', 'Campaigns'],
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
  useSiftQuery,
  useStrainQuery,
  useWhyQuery,
} = segmentsApi;

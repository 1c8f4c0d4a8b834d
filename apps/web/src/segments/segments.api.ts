import type { Use } from '@palabra/contract/wire';
import type {
  AddressesReply,
  AddressesRequest,
  CombineRequest,
  CompareReply,
  CompareRequest,
  DraftDifference,
  FilterReply,
  FilterRequest,
  MembersReply,
  MembersRequest,
  NewSegmentRequest,
  NewViewRequest,
  OlderRule,
  RuleWordsReply,
  SegmentLine,
  SegmentReply,
  SegmentRequest,
  SiftReply,
  SiftRequest,
  SizeOnDay,
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
    // The editor holds the latest state itself; only lists elsewhere are told. A draft changes nothing else.
    saveSegment: build.mutation<{ version: number }, SegmentRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/segments/${id}`, method: 'PUT', body }),
      invalidatesTags: listOf('Segment'),
    }),
    putInForce: build.mutation<{ version: number }, { id: number; version: number }>({
      query: ({ id, version }) => ({
        url: `/segments/${id}/use`,
        method: 'POST',
        body: { version },
      }),
      invalidatesTags: ['Segment', 'Campaign', 'People'],
    }),
    difference: build.query<DraftDifference, { id: number; version: number }>({
      query: ({ id }) => `/segments/${id}/difference`,
      providesTags: ['People', 'Campaign'],
      keepUnusedDataFor: 5,
    }),
    olderRules: build.query<OlderRule[], number>({
      query: (id) => `/segments/${id}/rules`,
      keepUnusedDataFor: 0,
    }),
    segmentSizes: build.query<SizeOnDay[], number>({ query: (id) => `/segments/${id}/sizes` }),
    turnSegment: build.mutation<
      MembersReply,
      { id: number; version: number; into: 'fix' | 'unfix' }
    >({
      query: ({ id, version, into }) => ({
        url: `/segments/${id}/${into}`,
        method: 'POST',
        body: { version },
      }),
      invalidatesTags: ['Segment', 'Campaign', 'People'],
    }),
    putMembers: build.mutation<MembersReply, MembersRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/segments/${id}/members`, method: 'POST', body }),
      invalidatesTags: ['Segment', 'Campaign', 'People'],
    }),
    takeMembers: build.mutation<MembersReply, MembersRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/segments/${id}/members/take`, method: 'POST', body }),
      invalidatesTags: ['Segment', 'Campaign', 'People'],
    }),
    undoMembers: build.mutation<MembersReply, { id: number; at: string }>({
      query: ({ id, ...body }) => ({ url: `/segments/${id}/members/undo`, method: 'POST', body }),
      invalidatesTags: ['Segment', 'Campaign', 'People'],
    }),
    putAddresses: build.mutation<AddressesReply, AddressesRequest & { id: number }>({
      query: ({ id, ...body }) => ({
        url: `/segments/${id}/members/addresses`,
        method: 'POST',
        body,
      }),
      invalidatesTags: ['Segment', 'Campaign', 'People'],
    }),
    combine: build.mutation<{ id: number; version: number }, CombineRequest>({
      query: (body) => ({ url: '/segments/combine', method: 'POST', body }),
      invalidatesTags: listOf('Segment'),
    }),
    compare: build.query<CompareReply, CompareRequest>({
      query: (body) => ({ url: '/segments/compare', method: 'POST', body }),
      providesTags: ['People', 'Segment'],
      keepUnusedDataFor: 5,
    }),
    takeSegmentIn: build.mutation<{ id: number; version: number }, { segment: object }>({
      query: (body) => ({ url: '/segments/import', method: 'POST', body }),
      invalidatesTags: listOf('Segment'),
    }),
    campaignLinks: build.query<string[], number>({ query: (id) => `/segments/links/${id}` }),
    ruleWords: build.query<RuleWordsReply, void>({
      query: () => '/segments/words',
      providesTags: ['Segment', 'Campaign'],
      keepUnusedDataFor: 600,
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
  usePutInForceMutation,
  useDifferenceQuery,
  useOlderRulesQuery,
  useSegmentSizesQuery,
  useTurnSegmentMutation,
  usePutMembersMutation,
  useTakeMembersMutation,
  useUndoMembersMutation,
  usePutAddressesMutation,
  useCombineMutation,
  useCompareQuery,
  useTakeSegmentInMutation,
  useCampaignLinksQuery,
  useRuleWordsQuery,
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

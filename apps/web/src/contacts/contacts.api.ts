import type {
  BinPage,
  BinQuery,
  ChangeReply,
  ChangesPage,
  ContactRequest,
  CountReply,
  DeedRequest,
  DoNotMailRequest,
  ErasingReply,
  ErasureReply,
  NewContactRequest,
  OccurringValue,
  FieldFitReply,
  FieldKindRequest,
  FieldReply,
  FieldRequest,
  FieldTypeRequest,
  FieldUsesReply,
  GazetteerLoaded,
  GazetteerPlace,
  GazetteerQuery,
  GazetteerReply,
  MovedReply,
  OwnFieldRequest,
  PeopleFilter,
  PeoplePage,
  PeopleQuery,
  PeopleSelection,
  PeopleSummary,
  PermissionLine,
  PermissionRequest,
  PersonRatingReply,
  PersonReply,
  PlaceReply,
  RatingPreviewReply,
  RatingPreviewRequest,
  RatingScaleReply,
  RatingScaleRequest,
  SortedFilter,
  TaggingRequest,
  TagChangeRequest,
  TagCourse,
  TagReply,
  TagRequest,
  TagsReply,
  TellApartRequest,
  TimelinePage,
  TimelinePart,
  TopicReply,
  TopicRequest,
  VocabularyReply,
  WhichReply,
} from '@palabra/contract/contacts';
import type { Field } from '@palabra/core/contacts';
import { one, said, server } from '../api/server';

export type Filter = PeopleFilter;

/** What a change to people can be seen in. */
const people = ['People', 'Person', 'Change', 'Segment', 'Campaign'] as const;

export const contactsApi = server.injectEndpoints({
  endpoints: (build) => ({
    gazetteerAbout: build.query<GazetteerReply, void>({
      query: () => '/gazetteer/about',
      providesTags: ['People'],
    }),
    loadGazetteer: build.mutation<GazetteerLoaded, File>({
      query: (body) => ({
        url: '/gazetteer',
        method: 'POST',
        body,
        headers: { 'content-type': 'application/octet-stream' },
      }),
      invalidatesTags: ['People'],
    }),
    gazetteer: build.query<GazetteerPlace[], GazetteerQuery>({
      query: ({ q }) => `/gazetteer?q=${encodeURIComponent(q)}`,
      keepUnusedDataFor: 60,
    }),
    people: build.query<PeoplePage, PeopleQuery>({
      query: (query) => ({ url: '/people', params: said(query) }),
      providesTags: ['People'],
      keepUnusedDataFor: 300,
    }),
    summary: build.query<Omit<PeopleSummary, 'tags'>, Filter>({
      query: (filter) => ({ url: '/people/summary', params: said(filter) }),
      providesTags: ['People'],
    }),
    tagsAmong: build.query<PeopleSummary['tags'], Filter>({
      query: (filter) => ({ url: '/people/tags', params: said(filter) }),
      providesTags: ['People'],
    }),
    vocabulary: build.query<VocabularyReply, void>({
      query: () => '/vocabulary',
      providesTags: ['Vocabulary'],
      keepUnusedDataFor: 3600,
    }),
    occurring: build.query<OccurringValue[], { field: string }>({
      query: ({ field }) => `/fields/${encodeURIComponent(field)}/values`,
      providesTags: ['People'],
    }),
    person: build.query<PersonReply, number>({
      query: (id) => `/people/${id}`,
      providesTags: one('Person'),
    }),
    place: build.query<PlaceReply, SortedFilter & { id: number }>({
      query: ({ id, ...filter }) => ({ url: `/people/${id}/place`, params: said(filter) }),
      providesTags: ['People'],
    }),
    timeline: build.infiniteQuery<
      TimelinePage,
      { id: number; part?: TimelinePart; until?: string },
      string | undefined
    >({
      infiniteQueryOptions: {
        initialPageParam: undefined,
        getNextPageParam: ({ before }) => before ?? undefined,
      },
      query: ({ queryArg, pageParam }) => ({
        url: `/people/${queryArg.id}/timeline`,
        params: said({ before: pageParam ?? queryArg.until, part: queryArg.part }),
      }),
      providesTags: (result, error, { id }) => one('Person')(result, error, id),
    }),
    personRating: build.query<PersonRatingReply, number>({
      query: (id) => `/people/${id}/rating`,
      providesTags: one('Person'),
    }),
    moved: build.query<MovedReply, void>({
      query: () => '/ratings/moved',
      providesTags: ['People'],
    }),
    ratingScale: build.query<RatingScaleReply, void>({
      query: () => '/ratings/scale',
      providesTags: ['Rating'],
    }),
    changeRatingScale: build.mutation<RatingScaleReply, RatingScaleRequest>({
      query: (body) => ({ url: '/ratings/scale', method: 'PUT', body }),
      invalidatesTags: ['Rating', ...people],
    }),
    previewRating: build.mutation<RatingPreviewReply, RatingPreviewRequest>({
      query: (body) => ({ url: '/ratings/preview', method: 'POST', body }),
    }),
    addContact: build.mutation<{ id: number }, NewContactRequest>({
      query: (body) => ({ url: '/people', method: 'POST', body }),
      invalidatesTags: ['Change', 'People', 'Segment'],
    }),
    changeContact: build.mutation<
      { changeSet: number | null; version: number },
      ContactRequest & { id: number }
    >({
      query: ({ id, ...body }) => ({ url: `/people/${id}`, method: 'PATCH', body }),
      invalidatesTags: (result, error, { id }) => [
        'Change',
        'People',
        'Segment',
        ...one('Person')(result, error, id),
      ],
    }),
    changePermission: build.mutation<
      { changeSet: number | null },
      PermissionRequest & { id: number }
    >({
      query: ({ id, ...body }) => ({ url: `/people/${id}/permission`, method: 'PATCH', body }),
      invalidatesTags: (result, error, { id }) => [
        'Change',
        'People',
        'Segment',
        ...one('Person')(result, error, id),
      ],
    }),
    permissions: build.query<PermissionLine[], number>({
      query: (id) => `/people/${id}/permissions`,
      providesTags: one('Person'),
    }),
    erasing: build.query<ErasingReply, number>({
      query: (id) => `/people/${id}/erasing`,
      keepUnusedDataFor: 0,
    }),
    erase: build.mutation<null, number>({
      query: (id) => ({ url: `/people/${id}/erase`, method: 'POST' }),
      invalidatesTags: (result, error, id) =>
        error
          ? []
          : [
              'People',
              'Change',
              'Segment',
              'Campaign',
              'Bin',
              'Returned',
              'Task',
              ...one('Person')(result, error, id),
            ],
    }),
    erasure: build.query<ErasureReply, number>({
      query: (id) => `/people/${id}/erasure`,
      keepUnusedDataFor: 0,
    }),
    setDoNotMail: build.mutation<null, DoNotMailRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/people/${id}/do-not-mail`, method: 'POST', body }),
      invalidatesTags: ['Change', 'Person', 'People', 'Campaign'],
    }),
    tryAgain: build.mutation<null, number>({
      query: (id) => ({ url: `/people/${id}/try-again`, method: 'POST' }),
      invalidatesTags: ['Person', 'People', 'Campaign'],
    }),
    addTopic: build.mutation<TopicReply, TopicRequest>({
      query: (body) => ({ url: '/topics', method: 'POST', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    changeTopic: build.mutation<TopicReply, TopicRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/topics/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    changes: build.infiniteQuery<ChangesPage, void, number | undefined>({
      infiniteQueryOptions: {
        initialPageParam: undefined,
        getNextPageParam: ({ before }) => before ?? undefined,
      },
      query: ({ pageParam }) => ({ url: '/changes', params: said({ before: pageParam }) }),
      providesTags: ['Change'],
    }),
    change: build.query<ChangeReply, number>({
      query: (id) => `/changes/${id}`,
      providesTags: one('Change'),
    }),
    cancelChange: build.mutation<null, number>({
      query: (id) => ({ url: `/changes/${id}/cancel`, method: 'POST' }),
      invalidatesTags: people,
    }),
    tagging: build.mutation<ChangeReply, TaggingRequest>({
      query: (body) => ({ url: '/tagging', method: 'POST', body }),
      invalidatesTags: people,
    }),
    doToMany: build.mutation<ChangeReply, DeedRequest>({
      query: (body) => ({ url: '/deeds', method: 'POST', body }),
      invalidatesTags: [...people, 'Bin'],
    }),
    among: build.query<CountReply, PeopleSelection>({
      query: (body) => ({ url: '/people/among', method: 'POST', body }),
      providesTags: ['People'],
      keepUnusedDataFor: 5,
    }),
    which: build.query<WhichReply, PeopleSelection>({
      query: (body) => ({ url: '/people/which', method: 'POST', body }),
      providesTags: ['People'],
      keepUnusedDataFor: 5,
    }),
    bin: build.query<BinPage, BinQuery>({
      query: (params) => ({ url: '/bin', params: said(params) }),
      providesTags: ['Bin'],
      keepUnusedDataFor: 0,
    }),
    bringBack: build.mutation<null, number>({
      query: (id) => ({ url: `/bin/${id}/bring-back`, method: 'POST' }),
      invalidatesTags: [...people, 'Bin'],
    }),
    undo: build.mutation<ChangeReply, number>({
      query: (id) => ({ url: `/changes/${id}/undo`, method: 'POST' }),
      invalidatesTags: [...people, 'Import', 'Bin', 'Vocabulary'],
    }),
    handOver: build.mutation<ChangeReply, { from: number; to: number }>({
      query: ({ from, to }) => ({ url: `/owners/${from}/hand-over`, method: 'POST', body: { to } }),
      invalidatesTags: people,
    }),
    addTag: build.mutation<TagReply, TagRequest>({
      query: (body) => ({ url: '/tags', method: 'POST', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    tags: build.query<TagsReply, void>({
      query: () => '/tags',
      providesTags: ['Vocabulary', 'People', 'Segment', 'Campaign'],
    }),
    tagCourses: build.query<TagCourse[], void>({
      query: () => '/tags/courses',
      providesTags: ['People'],
      keepUnusedDataFor: 300,
    }),
    changeTag: build.mutation<TagReply & { version: number }, TagChangeRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/tags/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    mergeTag: build.mutation<ChangeReply, { id: number; into: number }>({
      query: ({ id, into }) => ({ url: `/tags/${id}/merge`, method: 'POST', body: { into } }),
      invalidatesTags: ['Vocabulary', ...people],
    }),
    removeTag: build.mutation<ChangeReply, number>({
      query: (id) => ({ url: `/tags/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Vocabulary', ...people],
    }),
    tellApart: build.mutation<null, TellApartRequest>({
      query: (body) => ({ url: '/tags/apart', method: 'PUT', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    fields: build.query<readonly FieldReply[], void>({
      query: () => '/fields',
      providesTags: ['Vocabulary'],
    }),
    addField: build.mutation<Field, OwnFieldRequest>({
      query: (body) => ({ url: '/fields', method: 'POST', body }),
      invalidatesTags: ['Vocabulary', 'Person'],
    }),
    changeField: build.mutation<FieldReply, FieldRequest & { key: string }>({
      query: ({ key, ...body }) => ({ url: `/fields/${key}`, method: 'PUT', body }),
      invalidatesTags: ['Vocabulary', 'Person', 'People'],
    }),
    orderFields: build.mutation<null, readonly string[]>({
      query: (keys) => ({ url: '/fields/order', method: 'PUT', body: { keys } }),
      invalidatesTags: ['Vocabulary', 'Person'],
    }),
    fieldUses: build.query<FieldUsesReply, string>({
      query: (key) => `/fields/${key}/uses`,
      keepUnusedDataFor: 0,
    }),
    fieldFit: build.query<FieldFitReply, FieldKindRequest & { key: string }>({
      query: ({ key, ...body }) => ({ url: `/fields/${key}/fit`, method: 'POST', body }),
      keepUnusedDataFor: 0,
    }),
    changeFieldType: build.mutation<ChangeReply, FieldTypeRequest & { key: string }>({
      query: ({ key, ...body }) => ({ url: `/fields/${key}/type`, method: 'PUT', body }),
      invalidatesTags: ['Vocabulary', ...people],
    }),
    removeField: build.mutation<null, string>({
      query: (key) => ({ url: `/fields/${key}`, method: 'DELETE' }),
      invalidatesTags: ['Vocabulary', 'Change', 'Person', 'People', 'Segment'],
    }),
    restoreField: build.mutation<null, string>({
      query: (key) => ({ url: `/fields/${key}/restore`, method: 'POST' }),
      invalidatesTags: ['Vocabulary', 'Change', 'Person', 'People', 'Segment'],
    }),
  }),
});

export const {
  useGazetteerAboutQuery,
  useLoadGazetteerMutation,
  usePeopleQuery,
  useLazyPeopleQuery,
  useSummaryQuery,
  useTagsAmongQuery,
  useVocabularyQuery,
  useOccurringQuery,
  usePersonQuery,
  usePlaceQuery,
  useTimelineInfiniteQuery,
  usePersonRatingQuery,
  useMovedQuery,
  useRatingScaleQuery,
  useChangeRatingScaleMutation,
  usePreviewRatingMutation,
  useAddContactMutation,
  useChangeContactMutation,
  useChangePermissionMutation,
  usePermissionsQuery,
  useErasingQuery,
  useEraseMutation,
  useErasureQuery,
  useSetDoNotMailMutation,
  useTryAgainMutation,
  useAddTopicMutation,
  useChangeTopicMutation,
  useTaggingMutation,
  useChangesInfiniteQuery,
  useChangeQuery,
  useCancelChangeMutation,
  useUndoMutation,
  useDoToManyMutation,
  useAmongQuery,
  useWhichQuery,
  useBinQuery,
  useBringBackMutation,
  useHandOverMutation,
  useAddTagMutation,
  useTagsQuery,
  useTagCoursesQuery,
  useChangeTagMutation,
  useMergeTagMutation,
  useRemoveTagMutation,
  useTellApartMutation,
  useAddFieldMutation,
  useFieldsQuery,
  useChangeFieldMutation,
  useOrderFieldsMutation,
  useFieldUsesQuery,
  useFieldFitQuery,
  useChangeFieldTypeMutation,
  useRemoveFieldMutation,
  useRestoreFieldMutation,
} = contactsApi;

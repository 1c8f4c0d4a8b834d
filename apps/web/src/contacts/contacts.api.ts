import type {
  ChangeReply,
  ChangesPage,
  ContactRequest,
  DoNotMailRequest,
  NewContactRequest,
  OwnFieldRequest,
  PeopleFilter,
  PeoplePage,
  PeopleQuery,
  PeopleSummary,
  PermissionRequest,
  PersonReply,
  PlaceReply,
  TaggingRequest,
  TagReply,
  TagRequest,
  TimelinePage,
  TopicReply,
  TopicRequest,
  VocabularyReply,
} from '@palabra/contract/contacts';
import type { Field } from '@palabra/core/contacts';
import { api } from '../app/api';

export type Filter = PeopleFilter;

const params = (query: object): Record<string, string | number> =>
  Object.fromEntries(
    Object.entries(query).filter(([, value]) => value !== undefined && value !== ''),
  );

export const contactsApi = api.injectEndpoints({
  endpoints: (build) => ({
    people: build.query<PeoplePage, PeopleQuery>({
      query: (query) => ({ url: '/people', params: params(query) }),
      providesTags: ['People'],
    }),
    summary: build.query<Omit<PeopleSummary, 'tags'>, Filter>({
      query: (filter) => ({ url: '/people/summary', params: params(filter) }),
      providesTags: ['People'],
    }),
    tagsAmong: build.query<PeopleSummary['tags'], Filter>({
      query: (filter) => ({ url: '/people/tags', params: params(filter) }),
      providesTags: ['People'],
    }),
    vocabulary: build.query<VocabularyReply, void>({
      query: () => '/vocabulary',
      providesTags: ['Vocabulary'],
      keepUnusedDataFor: 3600,
    }),
    person: build.query<PersonReply, number>({
      query: (id) => `/people/${id}`,
      providesTags: ['Person'],
    }),
    place: build.query<PlaceReply, Filter & { id: number }>({
      query: ({ id, ...filter }) => ({ url: `/people/${id}/place`, params: params(filter) }),
      providesTags: ['People'],
    }),
    timeline: build.query<TimelinePage, { id: number; before?: string }>({
      query: ({ id, before }) => ({ url: `/people/${id}/timeline`, params: params({ before }) }),
      providesTags: ['Person'],
    }),
    addContact: build.mutation<{ id: number }, NewContactRequest>({
      query: (body) => ({ url: '/people', method: 'POST', body }),
      invalidatesTags: ['Changes', 'People', 'Segments'],
    }),
    changeContact: build.mutation<{ changeSet: number | null }, ContactRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/people/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Changes', 'Person', 'People', 'Segments'],
    }),
    changePermission: build.mutation<
      { changeSet: number | null },
      PermissionRequest & { id: number }
    >({
      query: ({ id, ...body }) => ({ url: `/people/${id}/permission`, method: 'PATCH', body }),
      invalidatesTags: ['Changes', 'Person', 'People', 'Segments'],
    }),
    setDoNotMail: build.mutation<null, DoNotMailRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/people/${id}/do-not-mail`, method: 'POST', body }),
      invalidatesTags: ['Changes', 'Person', 'People'],
    }),
    tryAgain: build.mutation<null, number>({
      query: (id) => ({ url: `/people/${id}/try-again`, method: 'POST' }),
      invalidatesTags: ['Person', 'People', 'Campaigns'],
    }),
    addTopic: build.mutation<TopicReply, TopicRequest>({
      query: (body) => ({ url: '/topics', method: 'POST', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    changeTopic: build.mutation<TopicReply, TopicRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/topics/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    changes: build.query<ChangesPage, { before?: number }>({
      query: (query) => ({ url: '/changes', params: params(query) }),
      providesTags: ['Changes'],
    }),
    change: build.query<ChangeReply, number>({
      query: (id) => `/changes/${id}`,
      providesTags: ['Changes'],
    }),
    cancelChange: build.mutation<null, number>({
      query: (id) => ({ url: `/changes/${id}/cancel`, method: 'POST' }),
      invalidatesTags: ['Changes', 'People', 'Person', 'Segments', 'Campaigns'],
    }),
    tagging: build.mutation<ChangeReply, TaggingRequest>({
      query: (body) => ({ url: '/tagging', method: 'POST', body }),
      invalidatesTags: ['Changes', 'People', 'Person', 'Segments', 'Campaigns'],
    }),
    undo: build.mutation<ChangeReply, number>({
      query: (id) => ({ url: `/changes/${id}/undo`, method: 'POST' }),
      invalidatesTags: ['Changes', 'Imports', 'People', 'Person', 'Segments', 'Campaigns'],
    }),
    addTag: build.mutation<TagReply, TagRequest>({
      query: (body) => ({ url: '/tags', method: 'POST', body }),
      invalidatesTags: ['Vocabulary'],
    }),
    addField: build.mutation<Field, OwnFieldRequest>({
      query: (body) => ({ url: '/fields', method: 'POST', body }),
      invalidatesTags: ['Vocabulary', 'Person'],
    }),
  }),
});

export const {
  usePeopleQuery,
  useSummaryQuery,
  useTagsAmongQuery,
  useVocabularyQuery,
  usePersonQuery,
  usePlaceQuery,
  useTimelineQuery,
  useLazyTimelineQuery,
  useAddContactMutation,
  useChangeContactMutation,
  useChangePermissionMutation,
  useSetDoNotMailMutation,
  useTryAgainMutation,
  useAddTopicMutation,
  useChangeTopicMutation,
  useTaggingMutation,
  useChangesQuery,
  useChangeQuery,
  useCancelChangeMutation,
  useUndoMutation,
  useAddTagMutation,
  useAddFieldMutation,
} = contactsApi;

import type { ResultLine, ResultReply, SinceReply } from '@palabra/contract/results';
import { one, said, server } from '../api/server';

const PAGE = 30;

export const resultsApi = server.injectEndpoints({
  endpoints: (build) => ({
    latestResults: build.query<ResultLine[], { limit: number }>({
      query: (params) => ({ url: '/results', params }),
      providesTags: ['Result'],
    }),
    results: build.infiniteQuery<ResultLine[], void, string | undefined>({
      infiniteQueryOptions: {
        initialPageParam: undefined,
        getNextPageParam: (page) => (page.length < PAGE ? undefined : page.at(-1)?.startedAt),
      },
      query: ({ pageParam }) => ({ url: '/results', params: said({ before: pageParam }) }),
      providesTags: ['Result'],
    }),
    result: build.query<ResultReply, number>({
      query: (id) => `/results/${id}`,
      providesTags: one('Result'),
    }),
    since: build.query<SinceReply, void>({
      query: () => '/results/since',
      providesTags: ['People', 'Result'],
    }),
  }),
});

export const { useLatestResultsQuery, useResultsInfiniteQuery, useResultQuery, useSinceQuery } =
  resultsApi;

import type { ResultLine, ResultReply, SinceReply } from '@palabra/contract/results';
import { api } from '../app/api';

export const resultsApi = api.injectEndpoints({
  endpoints: (build) => ({
    results: build.query<ResultLine[], { before?: string; limit?: number }>({
      query: (params) => ({ url: '/results', params }),
      providesTags: ['Results'],
    }),
    result: build.query<ResultReply, number>({
      query: (id) => `/results/${id}`,
      providesTags: ['Results'],
    }),
    since: build.query<SinceReply, void>({
      query: () => '/results/since',
      providesTags: ['People', 'Results'],
    }),
  }),
});

export const { useResultsQuery, useLazyResultsQuery, useResultQuery, useSinceQuery } = resultsApi;

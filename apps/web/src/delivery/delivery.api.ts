import type {
  ProgressReply,
  ProofReply,
  ReturnedPage,
  SettleRequest,
  SortReturnedRequest,
  StandbyReply,
  StandbyWord,
} from '@palabra/contract/delivery';
import { one, said, server } from '../api/server';

export const deliveryApi = server.injectEndpoints({
  endpoints: (build) => ({
    progress: build.query<ProgressReply, number>({
      query: (id) => `/campaigns/${id}/progress`,
      providesTags: one('Campaign'),
    }),
    proof: build.mutation<ProofReply, number>({
      query: (id) => ({ url: `/campaigns/${id}/proof`, method: 'POST' }),
    }),
    settle: build.mutation<{ count: number }, SettleRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/campaigns/${id}/uncertain`, method: 'POST', body }),
      invalidatesTags: ['Campaign', 'Result'],
    }),
    standby: build.query<{ standby: StandbyReply | null }, void>({
      query: () => '/standby',
      providesTags: ['Standby', 'Campaign'],
    }),
    decideStandby: build.mutation<null, { id: number; word: StandbyWord }>({
      query: ({ id, word }) => ({ url: `/standby/${id}/${word}`, method: 'POST' }),
      invalidatesTags: ['Standby', 'Campaign', 'Result', 'People'],
    }),
    endStandby: build.mutation<null, void>({
      query: () => ({ url: '/standby/end', method: 'POST' }),
      invalidatesTags: ['Standby', 'Campaign'],
    }),
    returned: build.infiniteQuery<ReturnedPage, { open: 'yes' | 'no' }, number | undefined>({
      infiniteQueryOptions: {
        initialPageParam: undefined,
        getNextPageParam: ({ before }) => before ?? undefined,
      },
      query: ({ queryArg, pageParam }) => ({
        url: '/returned',
        params: said({ ...queryArg, before: pageParam }),
      }),
      providesTags: ['Returned'],
    }),
    sortReturned: build.mutation<null, SortReturnedRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/returned/${id}/sort`, method: 'POST', body }),
      invalidatesTags: ['Returned', 'Result', 'Person', 'People'],
    }),
  }),
});

export const {
  useProgressQuery,
  useProofMutation,
  useSettleMutation,
  useStandbyQuery,
  useDecideStandbyMutation,
  useEndStandbyMutation,
  useReturnedInfiniteQuery,
  useSortReturnedMutation,
} = deliveryApi;

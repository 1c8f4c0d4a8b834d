import type {
  CampaignLine,
  CampaignReply,
  CampaignRequest,
  NewCampaignRequest,
  ProgressReply,
  ProofReply,
  ReturnedPage,
  SendRequest,
  SettleRequest,
  SortReturnedRequest,
  TallyReply,
  StandbyReply,
  StandbyWord,
} from '@palabra/contract/campaigns';
import { api } from '../app/api';

export type Move = 'pause' | 'go-on' | 'stop' | 'agree' | 'back-to-draft' | 'unschedule';

export const campaignsApi = api.injectEndpoints({
  endpoints: (build) => ({
    campaigns: build.query<CampaignLine[], void>({
      query: () => '/campaigns',
      providesTags: ['Campaigns'],
    }),
    campaign: build.query<CampaignReply, number>({
      query: (id) => `/campaigns/${id}`,
      providesTags: ['Campaigns'],
    }),
    tally: build.query<TallyReply, number>({
      query: (id) => `/campaigns/${id}/tally`,
      providesTags: ['Campaigns', 'People', 'Segments', 'Letters'],
      keepUnusedDataFor: 0,
    }),
    /** People behind each entry under “who”, by `segment.4` or `tag.2`. */
    whoCounts: build.query<Record<string, number>, number>({
      query: (id) => `/campaigns/${id}/who`,
      providesTags: ['Campaigns', 'People', 'Segments'],
      keepUnusedDataFor: 0,
    }),
    progress: build.query<ProgressReply, number>({
      query: (id) => `/campaigns/${id}/progress`,
      providesTags: ['Campaigns'],
    }),
    addCampaign: build.mutation<{ id: number }, NewCampaignRequest>({
      query: (body) => ({ url: '/campaigns', method: 'POST', body }),
      invalidatesTags: ['Campaigns'],
    }),
    saveCampaign: build.mutation<{ version: number }, CampaignRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/campaigns/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Campaigns'],
    }),
    removeCampaign: build.mutation<null, number>({
      query: (id) => ({ url: `/campaigns/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Campaigns'],
    }),
    restoreCampaign: build.mutation<null, number>({
      query: (id) => ({ url: `/campaigns/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Campaigns'],
    }),
    proof: build.mutation<ProofReply, number>({
      query: (id) => ({ url: `/campaigns/${id}/proof`, method: 'POST' }),
    }),
    send: build.mutation<null, SendRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/campaigns/${id}/send`, method: 'POST', body }),
      invalidatesTags: ['Campaigns'],
    }),
    move: build.mutation<null, { id: number; move: Move }>({
      query: ({ id, move }) => ({ url: `/campaigns/${id}/move/${move}`, method: 'POST' }),
      invalidatesTags: ['Campaigns', 'Results'],
    }),
    settle: build.mutation<{ count: number }, SettleRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/campaigns/${id}/uncertain`, method: 'POST', body }),
      invalidatesTags: ['Campaigns', 'Results'],
    }),
    standby: build.query<{ standby: StandbyReply | null }, void>({
      query: () => '/standby',
      providesTags: ['Standby', 'Campaigns'],
    }),
    decideStandby: build.mutation<null, { id: number; word: StandbyWord }>({
      query: ({ id, word }) => ({ url: `/standby/${id}/${word}`, method: 'POST' }),
      invalidatesTags: ['Standby', 'Campaigns', 'Results', 'People'],
    }),
    endStandby: build.mutation<null, void>({
      query: () => ({ url: '/standby/end', method: 'POST' }),
      invalidatesTags: ['Standby', 'Campaigns'],
    }),
    returned: build.query<ReturnedPage, { open: 'yes' | 'no'; before?: number }>({
      query: ({ open, before }) => ({
        url: '/returned',
        params: before ? { open, before } : { open },
      }),
      providesTags: ['Returned'],
    }),
    sortReturned: build.mutation<null, SortReturnedRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/returned/${id}/sort`, method: 'POST', body }),
      invalidatesTags: ['Returned', 'Results', 'Person', 'People'],
    }),
  }),
});

export const {
  useCampaignsQuery,
  useCampaignQuery,
  useTallyQuery,
  useWhoCountsQuery,
  useProgressQuery,
  useAddCampaignMutation,
  useSaveCampaignMutation,
  useRemoveCampaignMutation,
  useRestoreCampaignMutation,
  useProofMutation,
  useSendMutation,
  useMoveMutation,
  useSettleMutation,
  useReturnedQuery,
  useStandbyQuery,
  useDecideStandbyMutation,
  useEndStandbyMutation,
  useSortReturnedMutation,
} = campaignsApi;

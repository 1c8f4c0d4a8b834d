import type {
  CampaignLine,
  CampaignReply,
  CampaignRequest,
  ChosenRequest,
  NewCampaignRequest,
  SendRequest,
  TallyReply,
  WhoCountsReply,
} from '@palabra/contract/campaigns';
import { listOf, one, server } from '../api/server';

export type Move = 'pause' | 'go-on' | 'stop' | 'agree' | 'back-to-draft' | 'unschedule';

export const campaignsApi = server.injectEndpoints({
  endpoints: (build) => ({
    campaigns: build.query<CampaignLine[], void>({
      query: () => '/campaigns',
      providesTags: listOf('Campaign'),
    }),
    campaign: build.query<CampaignReply, number>({
      query: (id) => `/campaigns/${id}`,
      providesTags: one('Campaign'),
    }),
    tally: build.query<TallyReply, number>({
      query: (id) => `/campaigns/${id}/tally`,
      providesTags: (result, error, id) => [
        ...one('Campaign')(result, error, id),
        'People',
        'Segment',
        'Letter',
      ],
      keepUnusedDataFor: 0,
    }),
    /** People behind each entry under “who”, by `segment.4` or `tag.2`. */
    whoCounts: build.query<WhoCountsReply, number>({
      query: (id) => `/campaigns/${id}/who`,
      providesTags: (result, error, id) => [
        ...one('Campaign')(result, error, id),
        'People',
        'Segment',
      ],
      keepUnusedDataFor: 0,
    }),
    addCampaign: build.mutation<CampaignReply, NewCampaignRequest>({
      query: (body) => ({ url: '/campaigns', method: 'POST', body }),
      invalidatesTags: ['Campaign', 'Letter'],
    }),
    choose: build.mutation<{ id: number }, ChosenRequest>({
      query: (body) => ({ url: '/campaigns/people', method: 'POST', body }),
    }),
    saveCampaign: build.mutation<{ version: number }, CampaignRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/campaigns/${id}`, method: 'PUT', body }),
      invalidatesTags: one('Campaign'),
    }),
    removeCampaign: build.mutation<null, number>({
      query: (id) => ({ url: `/campaigns/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Campaign', 'Letter', 'Segment', 'Change'],
    }),
    restoreCampaign: build.mutation<null, number>({
      query: (id) => ({ url: `/campaigns/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Campaign', 'Letter', 'Segment', 'Change'],
    }),
    send: build.mutation<null, SendRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/campaigns/${id}/send`, method: 'POST', body }),
      invalidatesTags: ['Campaign', 'Letter'],
    }),
    move: build.mutation<null, { id: number; move: Move }>({
      query: ({ id, move }) => ({ url: `/campaigns/${id}/move/${move}`, method: 'POST' }),
      invalidatesTags: ['Campaign', 'Letter', 'Result'],
    }),
  }),
});

export const {
  useCampaignsQuery,
  useCampaignQuery,
  useTallyQuery,
  useWhoCountsQuery,
  useAddCampaignMutation,
  useChooseMutation,
  useSaveCampaignMutation,
  useRemoveCampaignMutation,
  useRestoreCampaignMutation,
  useSendMutation,
  useMoveMutation,
} = campaignsApi;

/** The letter of a campaign: as it is while that can change, as it went out from then on. */
export const letterOf = (id: number): string => `/api/campaigns/${id}/letter.html`;

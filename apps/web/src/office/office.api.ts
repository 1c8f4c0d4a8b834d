import type {
  Account,
  AccountRequest,
  MeReply,
  OfficeReply,
  OfficeRequest,
  PasswordRequest,
  SetUpRequest,
  SignInRequest,
  StandstillReply,
} from '@palabra/contract/office';
import { api } from '../app/api';

export const officeApi = api.injectEndpoints({
  endpoints: (build) => ({
    me: build.query<MeReply, void>({ query: () => '/me', providesTags: ['Me'] }),
    signIn: build.mutation<null, SignInRequest>({
      query: (body) => ({ url: '/session', method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    signOut: build.mutation<null, void>({
      query: () => ({ url: '/session', method: 'DELETE' }),
      async onQueryStarted(_, { dispatch, queryFulfilled }) {
        await queryFulfilled;
        dispatch(api.util.resetApiState());
      },
    }),
    setUp: build.mutation<{ done: true }, SetUpRequest>({
      query: (body) => ({ url: '/setup', method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    changeOffice: build.mutation<OfficeReply, OfficeRequest>({
      query: (body) => ({ url: '/office', method: 'PUT', body }),
      invalidatesTags: ['Me', 'Campaigns', 'People'],
    }),
    changePassword: build.mutation<null, PasswordRequest>({
      query: (body) => ({ url: '/password', method: 'PUT', body }),
    }),
    accounts: build.query<Account[], void>({
      query: () => '/accounts',
      providesTags: ['Accounts'],
    }),
    standstills: build.query<StandstillReply[], void>({
      query: () => '/standstills',
      providesTags: ['Standstills'],
    }),
    decideStandstill: build.mutation<null, { work: string; thing: number; how: 'again' | 'leave' }>(
      {
        query: ({ work, thing, how }) => ({
          url: `/standstills/${work}/${thing}/${how}`,
          method: 'POST',
        }),
        invalidatesTags: ['Standstills', 'Changes', 'Imports', 'Campaigns', 'People'],
      },
    ),
    addAccount: build.mutation<Account, AccountRequest>({
      query: (body) => ({ url: '/accounts', method: 'POST', body }),
      invalidatesTags: ['Accounts', 'Vocabulary'],
    }),
  }),
});

export const {
  useMeQuery,
  useSignInMutation,
  useSignOutMutation,
  useSetUpMutation,
  useChangeOfficeMutation,
  useChangePasswordMutation,
  useAccountsQuery,
  useStandstillsQuery,
  useDecideStandstillMutation,
  useAddAccountMutation,
} = officeApi;

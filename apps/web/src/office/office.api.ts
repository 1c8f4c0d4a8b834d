import type {
  Account,
  AccountLine,
  AccountRequest,
  EntryReply,
  EntryRequest,
  ForgottenRequest,
  LinkReply,
  LinkRequest,
  MeReply,
  OfficeReply,
  OfficeRequest,
  OwnAccountRequest,
  PasswordRequest,
  SessionLine,
  SetUpRequest,
  SignInRequest,
  StandstillReply,
} from '@palabra/contract/office';
import { server } from '../api/server';

export const officeApi = server.injectEndpoints({
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
        dispatch(server.util.resetApiState());
      },
    }),
    setUp: build.mutation<{ done: true }, SetUpRequest>({
      query: (body) => ({ url: '/setup', method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    changeOffice: build.mutation<OfficeReply, OfficeRequest>({
      query: (body) => ({ url: '/office', method: 'PUT', body }),
      invalidatesTags: ['Me', 'Campaign', 'People'],
    }),
    changePassword: build.mutation<null, PasswordRequest>({
      query: (body) => ({ url: '/password', method: 'PUT', body }),
      invalidatesTags: ['Sessions'],
    }),
    changeOwnAccount: build.mutation<Account, OwnAccountRequest>({
      query: (body) => ({ url: '/me', method: 'PUT', body }),
      invalidatesTags: ['Me', 'Accounts', 'Vocabulary'],
    }),
    welcomed: build.mutation<null, void>({
      query: () => ({ url: '/me/welcomed', method: 'POST' }),
      invalidatesTags: ['Me'],
    }),
    sessions: build.query<SessionLine[], void>({
      query: () => '/sessions',
      providesTags: ['Sessions'],
    }),
    endSession: build.mutation<null, number>({
      query: (id) => ({ url: `/sessions/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Sessions', 'Me'],
    }),
    accounts: build.query<AccountLine[], void>({
      query: () => '/accounts',
      providesTags: ['Accounts'],
    }),
    addAccount: build.mutation<Account, AccountRequest>({
      query: (body) => ({ url: '/accounts', method: 'POST', body }),
      invalidatesTags: ['Accounts', 'Vocabulary'],
    }),
    changeAccount: build.mutation<Account, AccountRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/accounts/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Accounts', 'Vocabulary', 'Me'],
    }),
    moveAccount: build.mutation<null, { id: number; move: 'close' | 'open' }>({
      query: ({ id, move }) => ({ url: `/accounts/${id}/${move}`, method: 'POST' }),
      invalidatesTags: ['Accounts', 'Vocabulary'],
    }),
    makeLink: build.mutation<LinkReply, LinkRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/accounts/${id}/link`, method: 'POST', body }),
      invalidatesTags: ['Accounts'],
    }),
    forgotten: build.mutation<null, ForgottenRequest>({
      query: (body) => ({ url: '/forgotten', method: 'POST', body }),
    }),
    entry: build.query<EntryReply, string>({
      query: (token) => `/entry/${encodeURIComponent(token)}`,
      keepUnusedDataFor: 0,
    }),
    enter: build.mutation<null, EntryRequest>({
      query: (body) => ({ url: '/entry', method: 'POST', body }),
      invalidatesTags: ['Me'],
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
        invalidatesTags: ['Standstills', 'Change', 'Import', 'Campaign', 'People'],
      },
    ),
  }),
});

export const {
  useMeQuery,
  useSignInMutation,
  useSignOutMutation,
  useSetUpMutation,
  useChangeOfficeMutation,
  useChangePasswordMutation,
  useChangeOwnAccountMutation,
  useWelcomedMutation,
  useSessionsQuery,
  useEndSessionMutation,
  useAccountsQuery,
  useAddAccountMutation,
  useChangeAccountMutation,
  useMoveAccountMutation,
  useMakeLinkMutation,
  useForgottenMutation,
  useEntryQuery,
  useEnterMutation,
  useStandstillsQuery,
  useDecideStandstillMutation,
} = officeApi;

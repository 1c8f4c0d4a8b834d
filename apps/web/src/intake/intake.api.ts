import type {
  ImportReply,
  LeftoverReply,
  LookPage,
  MendRequest,
  PlanRequest,
  ReadingRequest,
  RefusedPage,
  StartImportRequest,
  TakingBackReply,
} from '@palabra/contract/intake';
import type { LookPart } from '@palabra/core/intake';
import { listOf, one, said, server } from '../api/server';

export const intakeApi = server.injectEndpoints({
  endpoints: (build) => ({
    imports: build.query<ImportReply[], void>({
      query: () => '/imports',
      providesTags: listOf('Import'),
    }),
    importOne: build.query<ImportReply, number>({
      query: (id) => `/imports/${id}`,
      providesTags: one('Import'),
    }),
    refused: build.query<RefusedPage, { id: number; after?: number }>({
      query: ({ id, ...query }) => ({ url: `/imports/${id}/refused`, params: said(query) }),
      providesTags: one('Import'),
    }),
    /** Rows as they would come in; `look` says of which look, so that the next one is asked for anew. */
    lookRows: build.query<LookPage, { id: number; part: LookPart; from: number; look: number }>({
      query: ({ id, part, from }) => ({ url: `/imports/${id}/rows`, params: { part, from } }),
      providesTags: ['ImportRow'],
    }),
    savePlan: build.mutation<ImportReply, PlanRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/imports/${id}/plan`, method: 'PUT', body }),
      invalidatesTags: one('Import'),
    }),
    mendRow: build.mutation<null, Partial<MendRequest> & { id: number; row: number }>({
      query: ({ id, row, ...body }) => ({
        url: `/imports/${id}/rows/${row}`,
        method: 'POST',
        body,
      }),
      invalidatesTags: (_, __, { id }) => [{ type: 'Import', id }, 'ImportRow'],
    }),
    mendAll: build.mutation<null, { id: number; how: 'leave-out' | 'take-as-they-are' | 'unmend' }>(
      {
        query: ({ id, how }) => ({ url: `/imports/${id}/${how}`, method: 'POST' }),
        invalidatesTags: one('Import'),
      },
    ),
    dropImport: build.mutation<null, number>({
      query: (id) => ({ url: `/imports/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Import'],
    }),
    restoreImport: build.mutation<null, number>({
      query: (id) => ({ url: `/imports/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Import'],
    }),
    leftovers: build.query<LeftoverReply, number>({
      query: (id) => `/imports/${id}/leftovers`,
      providesTags: ['Vocabulary', 'Import'],
    }),
    takeLeftovers: build.mutation<null, number>({
      query: (id) => ({ url: `/imports/${id}/leftovers`, method: 'DELETE' }),
      invalidatesTags: ['Vocabulary', 'Import', 'Change'],
    }),
    /** A file, or rows that were pasted. */
    upload: build.mutation<{ id: number }, { name: string; contents: Blob }>({
      query: ({ name, contents }) => ({
        url: '/imports',
        method: 'POST',
        params: { name },
        body: contents,
        headers: { 'content-type': 'application/octet-stream' },
      }),
      invalidatesTags: listOf('Import'),
    }),
    readAgain: build.mutation<null, ReadingRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/imports/${id}/reading`, method: 'POST', body }),
      invalidatesTags: one('Import'),
    }),
    startImport: build.mutation<null, StartImportRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/imports/${id}/start`, method: 'POST', body }),
      invalidatesTags: one('Import'),
    }),
    cancelImport: build.mutation<null, number>({
      query: (id) => ({ url: `/imports/${id}/cancel`, method: 'POST' }),
      invalidatesTags: ['Import', 'People'],
    }),
    takingBack: build.query<TakingBackReply, number>({
      query: (id) => `/imports/${id}/take-back`,
      providesTags: (result, error, id) => [...one('Import')(result, error, id), 'People'],
    }),
    takeBackImport: build.mutation<ImportReply, number>({
      query: (id) => ({ url: `/imports/${id}/take-back`, method: 'POST' }),
      invalidatesTags: ['Change', 'Import', 'People', 'Person', 'Segment', 'Campaign'],
    }),
  }),
});

export const {
  useImportsQuery,
  useDropImportMutation,
  useImportOneQuery,
  useLeftoversQuery,
  useLookRowsQuery,
  useMendAllMutation,
  useMendRowMutation,
  useRestoreImportMutation,
  useSavePlanMutation,
  useTakeLeftoversMutation,
  useRefusedQuery,
  useUploadMutation,
  useReadAgainMutation,
  useStartImportMutation,
  useCancelImportMutation,
  useTakingBackQuery,
  useTakeBackImportMutation,
} = intakeApi;

import type {
  ImportReply,
  ReadingRequest,
  RefusedPage,
  StartImportRequest,
  TakingBackReply,
} from '@palabra/contract/intake';
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
    upload: build.mutation<{ id: number }, File>({
      query: (file) => ({
        url: '/imports',
        method: 'POST',
        params: { name: file.name },
        body: file,
        headers: { 'content-type': 'text/csv' },
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
  useImportOneQuery,
  useRefusedQuery,
  useUploadMutation,
  useReadAgainMutation,
  useStartImportMutation,
  useCancelImportMutation,
  useTakingBackQuery,
  useTakeBackImportMutation,
} = intakeApi;

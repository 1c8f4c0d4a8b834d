import type {
  ImportReply,
  ReadingRequest,
  RefusedPage,
  StartImportRequest,
  TakingBackReply,
} from '@palabra/contract/intake';
import { api } from '../app/api';

export const intakeApi = api.injectEndpoints({
  endpoints: (build) => ({
    imports: build.query<ImportReply[], void>({
      query: () => '/imports',
      providesTags: ['Imports'],
    }),
    importOne: build.query<ImportReply, number>({
      query: (id) => `/imports/${id}`,
      providesTags: ['Imports'],
    }),
    refused: build.query<RefusedPage, { id: number; after?: number }>({
      query: ({ id, after }) => ({ url: `/imports/${id}/refused`, params: after ? { after } : {} }),
      providesTags: ['Imports'],
    }),
    upload: build.mutation<{ id: number }, File>({
      query: (file) => ({
        url: '/imports',
        method: 'POST',
        params: { name: file.name },
        body: file,
        headers: { 'content-type': 'text/csv' },
      }),
      invalidatesTags: ['Imports'],
    }),
    readAgain: build.mutation<null, ReadingRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/imports/${id}/reading`, method: 'POST', body }),
      invalidatesTags: ['Imports'],
    }),
    startImport: build.mutation<null, StartImportRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/imports/${id}/start`, method: 'POST', body }),
      invalidatesTags: ['Imports'],
    }),
    cancelImport: build.mutation<null, number>({
      query: (id) => ({ url: `/imports/${id}/cancel`, method: 'POST' }),
      invalidatesTags: ['Imports', 'People'],
    }),
    takingBack: build.query<TakingBackReply, number>({
      query: (id) => `/imports/${id}/take-back`,
      providesTags: ['Imports', 'People'],
    }),
    takeBackImport: build.mutation<ImportReply, number>({
      query: (id) => ({ url: `/imports/${id}/take-back`, method: 'POST' }),
      invalidatesTags: ['Changes', 'Imports', 'People', 'Person', 'Segments', 'Campaigns'],
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

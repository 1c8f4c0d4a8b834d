import type {
  LetterLine,
  LetterReply,
  LetterRequest,
  NewLetterRequest,
  PictureReply,
  PreviewReply,
} from '@palabra/contract/letters';
import { api } from '../app/api';

export const lettersApi = api.injectEndpoints({
  endpoints: (build) => ({
    letters: build.query<LetterLine[], void>({
      query: () => '/letters',
      providesTags: ['Letters'],
    }),
    letter: build.query<LetterReply, number>({
      query: (id) => `/letters/${id}`,
      providesTags: ['Letters'],
    }),
    addLetter: build.mutation<{ id: number }, NewLetterRequest>({
      query: (body) => ({ url: '/letters', method: 'POST', body }),
      invalidatesTags: ['Letters'],
    }),
    saveLetter: build.mutation<{ version: number }, LetterRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/letters/${id}`, method: 'PUT', body }),
    }),
    removeLetter: build.mutation<null, number>({
      query: (id) => ({ url: `/letters/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Letters'],
    }),
    restoreLetter: build.mutation<null, number>({
      query: (id) => ({ url: `/letters/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Letters'],
    }),
    preview: build.query<PreviewReply, { id: number; as?: number; saved: number }>({
      query: ({ id, as }) => ({ url: `/letters/${id}/preview`, params: as ? { as } : {} }),
      keepUnusedDataFor: 0,
    }),
    addPicture: build.mutation<PictureReply, File>({
      query: (file) => ({
        url: '/pictures',
        method: 'POST',
        body: file,
        headers: { 'content-type': file.type || 'application/octet-stream' },
      }),
    }),
  }),
});

export const {
  useLettersQuery,
  useLetterQuery,
  useAddLetterMutation,
  useSaveLetterMutation,
  useRemoveLetterMutation,
  useRestoreLetterMutation,
  usePreviewQuery,
  useAddPictureMutation,
} = lettersApi;

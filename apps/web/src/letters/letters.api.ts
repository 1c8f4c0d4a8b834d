import type {
  LetterLine,
  LetterReply,
  LetterRequest,
  NewLetterRequest,
  PictureReply,
  PreviewReply,
} from '@palabra/contract/letters';
import { listOf, one, server } from '../api/server';

export const lettersApi = server.injectEndpoints({
  endpoints: (build) => ({
    letters: build.query<LetterLine[], void>({
      query: () => '/letters',
      providesTags: listOf('Letter'),
    }),
    letter: build.query<LetterReply, number>({
      query: (id) => `/letters/${id}`,
      providesTags: one('Letter'),
    }),
    addLetter: build.mutation<{ id: number }, NewLetterRequest>({
      query: (body) => ({ url: '/letters', method: 'POST', body }),
      invalidatesTags: listOf('Letter'),
    }),
    // The editor holds the latest state itself; others learn of it when it is left.
    saveLetter: build.mutation<{ version: number }, LetterRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/letters/${id}`, method: 'PUT', body }),
    }),
    removeLetter: build.mutation<null, number>({
      query: (id) => ({ url: `/letters/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Letter', 'Campaign', 'Change'],
    }),
    restoreLetter: build.mutation<null, number>({
      query: (id) => ({ url: `/letters/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Letter', 'Campaign', 'Change'],
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

/** The letter as it is kept, for a picture of it; a newer version is another picture. */
export const pictureOf = (id: number, version: number | string): string =>
  `/api/letters/${id}/preview.html?round=${encodeURIComponent(version)}`;

// The one way to the server. Capabilities add their endpoints in their own *.api.ts.
import type { Problem } from '@palabra/contract/wire';
import {
  createApi,
  fetchBaseQuery,
  type BaseQueryFn,
  type FetchArgs,
  type FetchBaseQueryError,
} from '@reduxjs/toolkit/query/react';

const plain = fetchBaseQuery({
  baseUrl: '/api',
  prepareHeaders: (headers) => headers.set('x-requested-by', 'palabra'),
});

/** An ended session shows the sign-in over the page; what was typed stays. */
const baseQuery: BaseQueryFn<string | FetchArgs, unknown, FetchBaseQueryError> = async (
  args,
  context,
  extra,
) => {
  const result = await plain(args, context, extra);
  if (result.error?.status === 401 && (typeof args === 'string' || args.url !== '/session'))
    context.dispatch(api.util.invalidateTags(['Me']));
  return result;
};

export const api = createApi({
  reducerPath: 'api',
  baseQuery,
  keepUnusedDataFor: 30,
  refetchOnReconnect: true,
  tagTypes: [
    'Me',
    'Vocabulary',
    'People',
    'Person',
    'Segments',
    'Letters',
    'Campaigns',
    'Results',
    'Imports',
    'Accounts',
    'Changes',
    'Returned',
    'Topics',
    'Standstills',
    'Standby',
  ],
  endpoints: () => ({}),
});

/** The problem behind a failed request, in words for the reader. */
export function problemOf(error: unknown): Problem {
  const { data, status } = (error ?? {}) as { data?: unknown; status?: unknown };
  if (typeof data === 'object' && data !== null && 'detail' in data) return data as Problem;
  const detail =
    status === 'FETCH_ERROR'
      ? 'Palabra can’t be reached. What you typed is still here; try again in a moment.'
      : 'That did not work. Try again in a moment.';
  return {
    type: 'about:blank',
    title: 'Not possible',
    status: typeof status === 'number' ? status : 0,
    detail,
  };
}

// The one way to the server. Capabilities add their endpoints in their own *.api.ts.
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
    context.dispatch(server.util.invalidateTags(['Me']));
  return result;
};

/** What can be out of date. A tag with an id is one thing; without one, all of its kind. */
export const kinds = [
  'Me',
  'Accounts',
  'Sessions',
  'Standstills',
  'Vocabulary',
  'People',
  'Person',
  'Rating',
  'Task',
  'Told',
  'Bin',
  'Change',
  'Segment',
  'View',
  'Letter',
  'Campaign',
  'Standby',
  'Returned',
  'Result',
  'Import',
  'ImportRow',
] as const;
export type Kind = (typeof kinds)[number];

export const server = createApi({
  reducerPath: 'server',
  baseQuery,
  keepUnusedDataFor: 30,
  refetchOnReconnect: true,
  tagTypes: kinds,
  endpoints: () => ({}),
});

/** The tag of one thing. */
export const one =
  <K extends Kind>(type: K) =>
  (
    _result: unknown,
    _error: unknown,
    argument: number | { readonly id: number },
  ): { type: K; id: number }[] => [
    { type, id: typeof argument === 'number' ? argument : argument.id },
  ];

/** A list is out of date when one of its things comes or goes; how they are, it asks when it is shown again. */
export const listOf = <K extends Kind>(type: K): K[] => [type];

/** What a query carries in its address: nothing of what is not said. */
export const said = (query: object): Record<string, string | number> =>
  Object.fromEntries(
    Object.entries(query).filter(([, value]) => value !== undefined && value !== ''),
  );

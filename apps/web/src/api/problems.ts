import type { Problem } from '@palabra/contract/wire';

/** The problem behind a failed request, in words for the reader. */
export function problemOf(error: unknown): Problem {
  const { data, status } = (error ?? {}) as { data?: unknown; status?: unknown };
  if (typeof data === 'object' && data !== null && 'detail' in data) return data as Problem;
  const detail =
    status === 'FETCH_ERROR'
      ? 'Palabra can’t be reached. What you typed is still here; try again in a moment.'
      : error instanceof Error && error.message !== ''
        ? error.message
        : 'That did not work. Try again in a moment.';
  return {
    type: 'about:blank',
    title: 'Not possible',
    status: typeof status === 'number' ? status : 0,
    detail,
  };
}

/** Thrown where one field is edited: the server's words about that field, or about the whole. */
export function refusalOf(error: unknown): Error {
  const problem = problemOf(error);
  return new Error(problem.errors?.[0]?.message ?? problem.detail, { cause: error });
}

export const isGone = (error: unknown): boolean => problemOf(error).status === 404;

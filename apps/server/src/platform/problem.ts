// Every error on the wire is a problem (RFC 9457): what is wrong, where, and what to do.
import { Catch, HttpException, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import type { Problem as Wire, FieldProblem } from '@palabra/contract/wire';
import type { ValidationError } from 'class-validator';
import type { Response } from 'express';
import { isConnectionLost } from './database.js';
import { log, safeError } from './log.js';

/** A refusal on its way to the client; made by the maps of `refusals.ts`. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    /** Its stable code, as the `type` of the problem. */
    readonly type: string,
    detail: string,
    readonly extra: Readonly<Record<string, unknown>> = {},
  ) {
    super(detail);
  }

  /** The same with what the client needs to go on, e.g. both states of a conflict. */
  with(extra: Readonly<Record<string, unknown>>): Problem {
    return new Problem(this.status, this.type, this.message, { ...this.extra, ...extra });
  }

  /** The same, said of a field of the request, in other words where its place says enough. */
  about(path: string, message = this.message): Problem {
    return this.with({ errors: [{ path, message }] });
  }
}

const titles: Record<number, string> = {
  400: 'That can’t be read',
  401: 'Sign in first',
  403: 'Not allowed',
  404: 'Not found',
  405: 'Not that way',
  409: 'Changed in the meantime',
  413: 'Too large',
  415: 'Not that kind',
  421: 'Not here',
  422: 'Not possible',
  429: 'Too many tries',
  500: 'Something broke',
  503: 'Just a moment',
};

/** What has no code of its own is said by its status alone. */
export const NO_CODE = 'about:blank';

export function wire(
  status: number,
  detail: string,
  extra: Readonly<Record<string, unknown>> = {},
  type = NO_CODE,
): Wire {
  return { type, title: titles[status] ?? 'Not possible', status, detail, ...extra };
}

/** More errors than anybody reads at once. */
const MOST_ERRORS = 50;
const cut = (text: string): string => (text.length <= 200 ? text : `${text.slice(0, 199)}…`);

/** Turns class-validator's errors into sentences with the path of the field, as many as can be read. */
export function fieldProblems(errors: readonly ValidationError[]): FieldProblem[] {
  const found: FieldProblem[] = [];
  const walk = (level: readonly ValidationError[], path: string): void => {
    for (const error of level) {
      if (found.length >= MOST_ERRORS) return;
      const at = path === '' ? error.property : `${path}.${error.property}`;
      for (const message of Object.values(error.constraints ?? {}))
        found.push({ path: cut(at), message: cut(message) });
      walk(error.children ?? [], at);
    }
  };
  walk(errors, '');
  return found.slice(0, MOST_ERRORS);
}

export const validationProblem = (errors: readonly ValidationError[]): Problem => {
  const found = fieldProblems(errors);
  return new Problem(
    400,
    NO_CODE,
    found[0]?.message ?? 'The request has parts that can’t be read.',
    { errors: found },
  );
};

/** SQLSTATE classes that only bad input brings about: data exceptions, and text PostgreSQL can't store. */
const BAD_DATA = /^22/;
/** Integrity: two wrote the same at once, or what one refers to was just taken away by the other. */
const CLASH = /^23/;

export function sqlState(error: unknown): string | undefined {
  for (let one: unknown = error; one; one = (one as { cause?: unknown }).cause) {
    const { code } = one as { code?: unknown };
    if (typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code)) return code;
  }
  return undefined;
}

@Catch()
export class ProblemFilter implements ExceptionFilter {
  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    if (response.headersSent) {
      response.end();
      return;
    }
    const problem = this.translate(error);
    if (problem.status === 503) response.setHeader('Retry-After', '2');
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  }

  private translate(error: unknown): Wire {
    if (error instanceof Problem) return wire(error.status, error.message, error.extra, error.type);
    if (error instanceof HttpException)
      return wire(error.getStatus(), plain(error.getStatus(), error.message));
    if (isConnectionLost(error))
      return wire(
        503,
        'The database is starting again. Nothing was changed; try again in a moment.',
      );
    const state = sqlState(error);
    if (state && BAD_DATA.test(state))
      return wire(400, 'The request holds signs or numbers that can’t be stored.');
    if (state && CLASH.test(state))
      return wire(
        409,
        'Somebody has just written something that does not go together with this. Nothing was changed; look at what is there now.',
      );
    const status = (error as { status?: unknown }).status;
    if (typeof status === 'number' && status >= 400 && status < 500)
      return wire(status, plain(status, (error as Error).message));
    log.error({ error: safeError(error) }, 'unexpected error');
    return wire(
      500,
      'That is our fault. Nothing was changed; try again, and tell us if it happens twice.',
    );
  }
}

/** Messages of the framework are for programmers; these are for people. */
function plain(status: number, message: string): string {
  if (status === 404) return 'There is nothing at this address.';
  if (status === 413) return 'That is too large to be taken.';
  if (status === 400)
    return /JSON/.test(message)
      ? 'The request is not readable JSON.'
      : 'The request can’t be read.';
  return message;
}

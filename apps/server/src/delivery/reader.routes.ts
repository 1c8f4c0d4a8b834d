// The addresses in letters, answered before the framework: open picture, links, leaving, pictures.
import express, { Router, type NextFunction, type Request, type Response } from 'express';
import { findOffice } from '../office/index.js';
import type { Database } from '../platform/database.js';
import { findFile, readFile } from '../platform/files/files.store.js';
import type { TokenBody } from '@palabra/core/delivery';
import type { Keys } from '../platform/keys.js';
import {
  cameBackPage,
  comeBackPage,
  confirmedPage,
  confirmPage,
  letterPage,
  ownPage,
  proofPage,
  READER_POLICY,
  unknownPage,
  wayBackPage,
  type PageOffice,
  type Said,
} from './reader-pages.js';
import type { ReaderService } from './reader.service.js';
import type { ResponsesService } from './responses.service.js';
import { hitOf, PIXEL } from './tracked.js';

/** The values of a form's field, as text; a field may come once, several times or not at all. */
function fieldsOf(request: Request, name: string): string[] {
  const value = ((request.body ?? {}) as Record<string, unknown>)[name];
  return (Array.isArray(value) ? value : [value]).filter((one) => typeof one === 'string');
}

export function readerRoutes(
  database: Database,
  keys: Keys,
  responses: ResponsesService,
  reader: ReaderService,
): Router {
  const router = Router();
  const office = async (): Promise<PageOffice> =>
    (await findOffice(database.db)) ?? { name: '', colour: '' };
  const html = (response: Response, status: number, body: string): void => {
    response.status(status).setHeader('Content-Security-Policy', READER_POLICY);
    response.setHeader('Cache-Control', 'no-store');
    response.setHeader('Referrer-Policy', 'no-referrer');
    response.type('html').send(body);
  };
  const handle =
    (work: (request: Request, response: Response) => Promise<void>) =>
    (request: Request, response: Response, next: NextFunction) => {
      work(request, response).catch(next);
    };
  const token = (request: Request): string => String(request.params['token'] ?? '');

  // What is known of these addresses is answered elsewhere, before anything else.
  router.get('/o/:token', (_request, response) => {
    response.status(404).setHeader('Cache-Control', 'no-store, private');
    response.type('gif').send(PIXEL);
  });

  router.get(
    '/c/:token',
    handle(async (request, response) => {
      const body = keys.verify('click', token(request));
      const target = body && (await responses.target(body));
      if (!target) return html(response, 404, unknownPage(await office()));
      responses.clicked(body, hitOf(request));
      response.setHeader('Cache-Control', 'no-store');
      response.setHeader('Referrer-Policy', 'no-referrer');
      response.redirect(302, target);
    }),
  );

  const formBody = express.urlencoded({ extended: false, limit: '20kb', parameterLimit: 200 });
  const statusOf = (said: Said | undefined): number => (said?.kind === 'wrong' ? 422 : 200);
  const unknown = async (response: Response): Promise<void> =>
    html(response, 404, unknownPage(await office()));

  /** The page behind the link in a letter, after `deed` was done. */
  const byLetter = (deed?: (body: TokenBody, request: Request) => Promise<Said | undefined>) =>
    handle(async (request, response) => {
      if (token(request) === 'proof') return html(response, 200, proofPage(await office()));
      const body = keys.verify('leave', token(request));
      const said = body && deed ? await deed(body, request) : undefined;
      const view = body && (await reader.view(body, said));
      if (!view) return unknown(response);
      html(response, statusOf(said), letterPage(await office(), `/leave/${token(request)}`, view));
    });
  const ids = (request: Request, name: string): number[] => fieldsOf(request, name).map(Number);

  const given = (request: Request): Record<string, string> =>
    Object.fromEntries(
      Object.keys((request.body ?? {}) as object).map((name) => [
        name,
        fieldsOf(request, name)[0] ?? '',
      ]),
    );

  router.get('/leave/:token', byLetter());
  router.post(
    '/leave/:token',
    formBody,
    byLetter(async (body) => {
      await reader.leave(body);
      return undefined;
    }),
  );
  router.post(
    '/leave/:token/topics',
    formBody,
    byLetter((body, request) =>
      reader.chooseTopics(body, ids(request, 'shown'), ids(request, 'topic')),
    ),
  );
  router.post(
    '/leave/:token/link',
    formBody,
    byLetter((body) => reader.askLink(body)),
  );
  router.post(
    '/leave/:token/again',
    formBody,
    byLetter((body, request) => reader.askBack(body, given(request)['address'] ?? '')),
  );
  // A page that was posted to, opened again by its address.
  router.get(
    ['/leave/:token/topics', '/leave/:token/link', '/leave/:token/again'],
    (request, response) => response.redirect(303, `/leave/${encodeURIComponent(token(request))}`),
  );

  /** The reader's own page, behind a link that was mailed, after `deed` was done. */
  const byMail = (deed?: (secret: string, request: Request) => Promise<Said | undefined>) =>
    handle(async (request, response) => {
      const said = deed ? await deed(token(request), request) : undefined;
      const view = deed && !said ? undefined : await reader.ownView(token(request), said);
      if (!view) return unknown(response);
      html(response, statusOf(said), ownPage(await office(), `/yours/${token(request)}`, view));
    });
  router.get('/yours/:token', byMail());
  router.post(
    '/yours/:token/leave',
    formBody,
    byMail((secret) => reader.leaveOwn(secret)),
  );
  router.post(
    '/yours/:token/back',
    formBody,
    byMail((secret) => reader.comeBack(secret)),
  );
  router.post(
    '/yours/:token/topics',
    formBody,
    byMail((secret, request) =>
      reader.chooseOwnTopics(secret, ids(request, 'shown'), ids(request, 'topic')),
    ),
  );
  router.post(
    '/yours/:token/data',
    formBody,
    byMail((secret, request) => reader.correct(secret, given(request))),
  );
  router.get(
    ['/yours/:token/leave', '/yours/:token/back', '/yours/:token/topics', '/yours/:token/data'],
    (request, response) => response.redirect(303, `/yours/${encodeURIComponent(token(request))}`),
  );

  router.get(
    '/confirm/:token',
    handle(async (request, response) => {
      const address = await reader.pending(token(request));
      if (!address) return unknown(response);
      html(response, 200, confirmPage(await office(), `/confirm/${token(request)}`, address));
    }),
  );
  router.post(
    '/confirm/:token',
    formBody,
    handle(async (request, response) => {
      const address = await reader.confirm(token(request));
      if (!address) return unknown(response);
      html(response, 200, confirmedPage(await office(), address));
    }),
  );
  router.get(
    '/again/:token',
    handle(async (request, response) => {
      if (!(await reader.mayComeBack(token(request)))) return unknown(response);
      html(response, 200, comeBackPage(await office(), `/again/${token(request)}`));
    }),
  );
  router.post(
    '/again/:token',
    formBody,
    handle(async (request, response) => {
      if (!(await reader.comeBackErased(token(request)))) return unknown(response);
      html(response, 200, cameBackPage(await office()));
    }),
  );
  router.get(
    '/back/:token',
    handle(async (request, response) => {
      const addresses = await reader.wayBack(token(request));
      if (!addresses) return unknown(response);
      html(response, 200, wayBackPage(await office(), `/back/${token(request)}`, addresses));
    }),
  );
  router.post(
    '/back/:token',
    formBody,
    handle(async (request, response) => {
      const address = await reader.goBack(token(request));
      if (!address) return unknown(response);
      html(response, 200, confirmedPage(await office(), address));
    }),
  );

  router.get(
    '/files/:token',
    handle(async (request, response) => {
      const id = token(request);
      const file = /^[0-9a-f]{64}$/.test(id) ? await findFile(database.db, id) : undefined;
      if (!file || !file.type.startsWith('image/')) {
        response.status(404).type('text').send('There is no such picture.');
        return;
      }
      response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
      response.setHeader('Content-Security-Policy', "default-src 'none'");
      response.setHeader('Cross-Origin-Resource-Policy', 'cross-origin');
      response.setHeader('Content-Length', String(file.size));
      response.type(file.type);
      for await (const piece of readFile(database.db, id)) response.write(piece);
      response.end();
    }),
  );
  return router;
}

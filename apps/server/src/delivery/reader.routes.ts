// The addresses in letters, answered before the framework: open picture, links, leaving, pictures.
import express, { Router, type NextFunction, type Request, type Response } from 'express';
import { findOffice } from '../office/index.js';
import type { Database } from '../platform/database.js';
import { findFile, readFile } from '../platform/files/files.store.js';
import type { TokenBody } from '@palabra/core/delivery';
import type { Keys } from '../platform/keys.js';
import { confirmedPage, confirmPage, proofPage, READER_POLICY, readerPage, unknownPage, type PageOffice, type ReaderView } from './reader-pages.js';
import type { ReaderService } from './reader.service.js';
import type { ResponsesService } from './responses.service.js';
import { hitOf, PIXEL } from './tracked.js';

/** The values of a form's field, as text; a field may come once, several times or not at all. */
function fieldsOf(request: Request, name: string): string[] {
  const value = ((request.body ?? {}) as Record<string, unknown>)[name];
  return (Array.isArray(value) ? value : [value]).filter((one) => typeof one === 'string');
}

export function readerRoutes(database: Database, keys: Keys, responses: ResponsesService, reader: ReaderService): Router {
  const router = Router();
  const office = async (): Promise<PageOffice> => (await findOffice(database.db)) ?? { name: '', colour: '' };
  const html = (response: Response, status: number, body: string): void => {
    response.status(status).setHeader('Content-Security-Policy', READER_POLICY);
    response.setHeader('Cache-Control', 'no-store');
    response.setHeader('Referrer-Policy', 'no-referrer');
    response.type('html').send(body);
  };
  const handle = (work: (request: Request, response: Response) => Promise<void>) => (request: Request, response: Response, next: NextFunction) => {
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

  /** The reader's own page, after `deed` was done. */
  const ownPage = (deed?: (body: TokenBody, request: Request) => Promise<ReaderView['said']>) =>
    handle(async (request, response) => {
      if (token(request) === 'proof') return html(response, 200, proofPage(await office()));
      const body = keys.verify('leave', token(request));
      const said = body && deed ? await deed(body, request) : undefined;
      const view = body && (await reader.view(body, said));
      if (!view) return html(response, 404, unknownPage(await office()));
      html(response, view.said?.kind === 'wrong' ? 422 : 200, readerPage(await office(), `/leave/${token(request)}`, view));
    });
  const formBody = express.urlencoded({ extended: false, limit: '20kb', parameterLimit: 200 });

  router.get('/leave/:token', ownPage());
  router.post(
    '/leave/:token',
    formBody,
    ownPage(async (body) => {
      await reader.leave(body);
      return undefined;
    }),
  );
  router.post('/leave/:token/back', formBody, ownPage((body) => reader.comeBack(body)));
  router.post(
    '/leave/:token/topics',
    formBody,
    ownPage((body, request) => reader.chooseTopics(body, fieldsOf(request, 'shown').map(Number), fieldsOf(request, 'topic').map(Number))),
  );
  router.post(
    '/leave/:token/data',
    formBody,
    ownPage((body, request) => reader.correct(body, Object.fromEntries(Object.keys((request.body ?? {}) as object).map((name) => [name, fieldsOf(request, name)[0] ?? ''])))),
  );
  // A page that was posted to, opened again by its address.
  router.get(['/leave/:token/back', '/leave/:token/topics', '/leave/:token/data'], (request, response) => response.redirect(303, `/leave/${encodeURIComponent(token(request))}`));

  router.get(
    '/confirm/:token',
    handle(async (request, response) => {
      const address = await reader.pending(token(request));
      html(response, address ? 200 : 404, address ? confirmPage(await office(), `/confirm/${token(request)}`, address) : unknownPage(await office()));
    }),
  );
  router.post(
    '/confirm/:token',
    formBody,
    handle(async (request, response) => {
      const address = await reader.confirm(token(request));
      html(response, address ? 200 : 404, address ? confirmedPage(await office(), address) : unknownPage(await office()));
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

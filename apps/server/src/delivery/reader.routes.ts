// The addresses in letters, answered before the framework: open picture, links, leaving, pictures.
import express, { Router, type NextFunction, type Request, type Response } from 'express';
import { findOffice } from '../office/index.js';
import type { Database } from '../platform/database.js';
import { findFile, readFile } from '../platform/files/files.store.js';
import type { Keys } from '../platform/keys.js';
import { delivery } from './delivery.store.js';
import { leavePage, leftPage, proofLeavePage, READER_POLICY, unknownPage } from './reader-pages.js';
import type { ReaderHit, ResponsesService } from './responses.service.js';

const PIXEL = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

const header = (request: Request, name: string): string => {
  const value = request.headers[name];
  return (Array.isArray(value) ? value[0] : value) ?? '';
};

const hitOf = (request: Request): ReaderHit => ({
  method: request.method,
  agent: header(request, 'user-agent'),
  purpose: header(request, 'sec-purpose') || header(request, 'purpose') || header(request, 'x-moz'),
});

export function readerRoutes(database: Database, keys: Keys, responses: ResponsesService): Router {
  const router = Router();
  const office = async (): Promise<string> => (await findOffice(database.db))?.name ?? '';
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

  router.get('/o/:token', (request, response) => {
    const body = keys.verify('open', token(request));
    if (body) responses.opened(body, hitOf(request));
    response.status(body ? 200 : 404).setHeader('Cache-Control', 'no-store, private');
    response.type('gif').send(PIXEL);
  });

  router.get(
    '/c/:token',
    handle(async (request, response) => {
      const body = keys.verify('click', token(request));
      const target = body && (await responses.clicked(body, hitOf(request)));
      if (!target) return html(response, 404, unknownPage(await office()));
      response.setHeader('Cache-Control', 'no-store');
      response.setHeader('Referrer-Policy', 'no-referrer');
      response.redirect(302, target);
    }),
  );

  router.get(
    '/leave/:token',
    handle(async (request, response) => {
      if (token(request) === 'proof') return html(response, 200, proofLeavePage(await office()));
      const body = keys.verify('leave', token(request));
      const row = body && (await delivery(database.db, body.campaign, body.contact));
      if (!row) return html(response, 404, unknownPage(await office()));
      html(response, 200, row.left_at ? leftPage(await office(), row.address ?? 'This address') : leavePage(await office(), row.address ?? 'This address'));
    }),
  );

  router.post(
    '/leave/:token',
    express.urlencoded({ extended: false, limit: '10kb' }),
    handle(async (request, response) => {
      if (token(request) === 'proof') return html(response, 200, proofLeavePage(await office()));
      const body = keys.verify('leave', token(request));
      if (!body || (await responses.leave(body)) === 'unknown') return html(response, 404, unknownPage(await office()));
      const row = await delivery(database.db, body.campaign, body.contact);
      html(response, 200, leftPage(await office(), row?.address ?? 'This address'));
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

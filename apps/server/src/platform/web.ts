// Serves the interface: assets that never change, and one page with a fresh nonce per response.
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';

const NONCE = '__NONCE__';

export function securityHeaders(app: NestExpressApplication, publicUrl: string): void {
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          styleSrc: [
            "'self'",
            (_: unknown, response: unknown) => `'nonce-${nonceOf(response as Response)}'`,
          ],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          frameSrc: ["'self'"],
          frameAncestors: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
        },
      },
      // Only where it is reached by HTTPS at all; for this name alone, others in the domain are not ours.
      strictTransportSecurity: publicUrl.startsWith('https:') && {
        maxAge: 31_536_000,
        includeSubDomains: false,
      },
      crossOriginResourcePolicy: false,
      originAgentCluster: false,
    }),
  );
}

function nonceOf(response: Response): string {
  const locals = response.locals as { nonce?: string };
  locals.nonce ??= randomBytes(16).toString('base64');
  return locals.nonce;
}

/** Everything that is not the API, a file or a reader's address is a place in the interface. */
export function serveInterface(app: NestExpressApplication, webDir: string): void {
  const index = join(webDir, 'index.html');
  if (!existsSync(index)) return;
  const page = readFileSync(index, 'utf8');
  app.use(
    '/assets',
    express.static(join(webDir, 'assets'), { immutable: true, maxAge: '365d', fallthrough: false }),
  );
  app.use((request: Request, response: Response, next: NextFunction) => {
    const isPlace =
      request.method === 'GET' &&
      !/^\/(api|files|assets|o|c|leave|confirm|yours|back)(\/|$)/.test(request.path) &&
      !request.path.includes('.');
    if (!isPlace) return next();
    response.setHeader('Cache-Control', 'no-store');
    response.type('html').send(page.replaceAll(NONCE, nonceOf(response)));
  });
}

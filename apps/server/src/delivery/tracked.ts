// Open and click addresses, answered before the framework: they come by the thousand after a send.
import type { IncomingMessage, ServerResponse } from 'node:http';
import { urlOf } from '@palabra/core/kernel';
import type { Keys } from '../platform/keys.js';
import type { ReaderRequest, ResponsesService } from './responses.service.js';

export const PIXEL = Buffer.from(
  'R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7',
  'base64',
);

const header = (request: IncomingMessage, name: string): string => {
  const value = request.headers[name];
  return (Array.isArray(value) ? value[0] : value) ?? '';
};

export const hitOf = (request: IncomingMessage): ReaderRequest => ({
  method: request.method ?? '',
  agent: header(request, 'user-agent'),
  purpose: header(request, 'sec-purpose') || header(request, 'purpose') || header(request, 'x-moz'),
});

const ADDRESS = /^\/([oc])\/([\w-]+)(?:\?.*)?$/;

/** A handler that answers what it knows; false when a request is for somebody else, who also says what is wrong with it. */
export function trackedAddresses(
  keys: Keys,
  responses: ResponsesService,
): (request: IncomingMessage, response: ServerResponse) => boolean {
  return (request, response) => {
    const [, kind, token = ''] = ADDRESS.exec(request.url ?? '') ?? [];
    if (!kind || (request.method !== 'GET' && request.method !== 'HEAD')) return false;
    const body = keys.verify(kind === 'o' ? 'open' : 'click', token);
    if (!body) return false;
    if (kind === 'o') {
      responses.opened(body, hitOf(request));
      response.writeHead(200, {
        'Content-Type': 'image/gif',
        'Content-Length': PIXEL.length,
        'Cache-Control': 'no-store, private',
        'X-Content-Type-Options': 'nosniff',
        'Cross-Origin-Resource-Policy': 'cross-origin',
      });
      response.end(PIXEL);
      return true;
    }
    const target = urlOf(responses.knownTarget(body) ?? '');
    if (!target) return false;
    responses.clicked(body, hitOf(request));
    response.writeHead(302, {
      Location: target.href,
      'Content-Length': 0,
      'Cache-Control': 'no-store',
      'Referrer-Policy': 'no-referrer',
    });
    response.end();
    return true;
  };
}

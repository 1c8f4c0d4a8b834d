// What is answered before the framework, and what is left to it.
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { TokenBody } from '@palabra/core/delivery';
import type { Keys } from '../platform/keys.js';
import type { ResponsesService } from './responses.service.js';
import { PIXEL, trackedAddresses } from './tracked.js';

const targets = [
  'https://example.com/there',
  'https://example.com',
  'https://bücher.example/ä b?q=ß#x',
  'not an address',
  "https://example.com/a'b\r\nSet-Cookie: x=1",
];

/** Tokens of the form `<purpose>-<link>` are good ones. */
function ask(
  url: string,
  method = 'GET',
  headers: Record<string, string> = { 'user-agent': 'Lantern/4.2' },
) {
  const counted: unknown[] = [];
  const note = (kind: string) => (body: TokenBody, hit: unknown) =>
    counted.push({ kind, link: body.link, hit });
  const keys = {
    verify: (purpose: string, token: string) =>
      token.startsWith(`${purpose}-`)
        ? { campaign: 1, contact: 2, link: Number(token.split('-')[1]) }
        : undefined,
  } as unknown as Keys;
  const responses = {
    opened: note('opened'),
    clicked: note('clicked'),
    knownTarget: ({ link }: TokenBody) => targets[link],
  } as unknown as ResponsesService;
  const sent: { status?: number; headers?: Record<string, string | number>; body?: Buffer } = {};
  const response = {
    writeHead: (status: number, given: Record<string, string | number>) =>
      Object.assign(sent, { status, headers: given }),
    end: (body?: Buffer) => Object.assign(sent, { body }),
  } as unknown as ServerResponse;
  const isAnswered = trackedAddresses(keys, responses)(
    { url, method, headers } as unknown as IncomingMessage,
    response,
  );
  return { isAnswered, counted, ...sent };
}

it('answers an open with a picture that mail readers may show, and counts it', () => {
  const { isAnswered, counted, status, headers, body } = ask('/o/open-0');
  expect([isAnswered, status, body]).toEqual([true, 200, PIXEL]);
  expect(headers).toMatchObject({
    'Content-Type': 'image/gif',
    'Cache-Control': 'no-store, private',
    'Cross-Origin-Resource-Policy': 'cross-origin',
  });
  expect(counted).toEqual([
    { kind: 'opened', link: 0, hit: { method: 'GET', agent: 'Lantern/4.2', purpose: '' } },
  ]);
});

it.each([
  ['/c/click-0', 'https://example.com/there'],
  ['/c/click-0?utm=1', 'https://example.com/there'],
  ['/c/click-1', 'https://example.com/'],
  ['/c/click-2', 'https://xn--bcher-kva.example/%C3%A4%20b?q=%C3%9F#x'],
  ['/c/click-4', "https://example.com/a'bSet-Cookie:%20x=1"],
])('leads from %s to %s', (url, location) => {
  const { isAnswered, counted, status, headers } = ask(url);
  expect([isAnswered, status, headers?.['Location'], counted.length]).toEqual([
    true,
    302,
    location,
    1,
  ]);
});

it('leads to a name beyond ASCII however often it is asked', () => {
  expect(
    Array.from({ length: 20_000 }, () => ask('/c/click-2').status).every(
      (status) => status === 302,
    ),
  ).toBe(true);
});

it.each([
  ['a forged open', '/o/click-0', 'GET'],
  ['a forged click', '/c/open-0', 'GET'],
  ['a link that the letter does not have', '/c/click-9', 'GET'],
  ['a link whose target can’t be read', '/c/click-3', 'GET'],
  ['a form that is sent there', '/c/click-0', 'POST'],
  ['something behind the token', '/o/open-0/more', 'GET'],
  ['signs that no token has', '/o/open-0%00', 'GET'],
  ['another address', '/leave/leave-0', 'GET'],
  ['no address', '', 'GET'],
])('leaves %s to others and counts nothing', (_, url, method) => {
  expect(ask(url, method)).toEqual({ isAnswered: false, counted: [] });
});

it('passes on how it was asked', () => {
  expect(
    ask('/c/click-0', 'HEAD', { 'user-agent': 'x', 'sec-purpose': 'prefetch' }).counted,
  ).toEqual([
    { kind: 'clicked', link: 0, hit: { method: 'HEAD', agent: 'x', purpose: 'prefetch' } },
  ]);
  expect(ask('/o/open-0', 'GET', { 'x-moz': 'prefetch' }).counted).toEqual([
    { kind: 'opened', link: 0, hit: { method: 'GET', agent: '', purpose: 'prefetch' } },
  ]);
});

// The outside's own pages: everybody's mailboxes, and the web site that letters lead to.
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import PostalMime, { type Email } from 'postal-mime';
import type { Kept, Mailboxes } from './mailboxes.js';

const escape = (text: string): string =>
  text.replace(
    /[&<>"']/g,
    (sign) =>
      ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[sign] ?? sign,
  );
const PAGE = 50;

const page = (
  title: string,
  body: string,
): string => `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${escape(title)}</title><style>
body{font:16px/1.5 Georgia,serif;max-width:62rem;margin:0 auto;padding:1.5rem;color:#2b2620;background:#fbf8f1}a{color:#1d5d68}table{border-collapse:collapse;width:100%}td{padding:.35rem .75rem .35rem 0;border-bottom:1px solid #e3dccb;vertical-align:top}
td:first-child{white-space:nowrap;color:#6d6454}iframe{width:100%;height:70vh;border:1px solid #d8d0bd;background:#fff}pre{white-space:pre-wrap;overflow-wrap:anywhere;background:#fff;border:1px solid #e3dccb;padding:1rem}input{font:inherit;padding:.3rem .5rem;width:20rem}
</style></head><body><p><a href="/">The outside: everybody’s mailboxes</a></p><h1>${escape(title)}</h1>${body}</body></html>`;

const send = (
  response: ServerResponse,
  status: number,
  type: string,
  body: string,
  policy = "default-src 'none'; style-src 'unsafe-inline'; frame-src 'self'; form-action 'self'",
): void => {
  response.writeHead(status, {
    'Content-Type': `${type}; charset=utf-8`,
    'Content-Security-Policy': policy,
    'Cache-Control': 'no-store',
  });
  response.end(body);
};

async function list(mailboxes: Mailboxes, url: URL): Promise<string> {
  const to = url.searchParams.get('to') ?? '';
  const before = Number(url.searchParams.get('before')) || Infinity;
  const kept = mailboxes.latest(PAGE, to, before);
  const rows = await Promise.all(
    kept.map(async (one) => {
      const mail = await PostalMime.parse(mailboxes.raw(one.id) ?? '');
      return `<tr><td>${escape(one.at.slice(0, 19).replace('T', ' '))}</td><td>${escape(one.to)}</td><td><a href="/letter/${one.id}">${escape(mail.subject ?? 'no subject')}</a></td></tr>`;
    }),
  );
  const last = kept.at(-1);
  const more =
    kept.length === PAGE && last
      ? `<p><a href="/?to=${encodeURIComponent(to)}&before=${last.id}">earlier letters</a></p>`
      : '';
  return page(
    `${mailboxes.count.toLocaleString('en')} letters`,
    `<form><label>for <input name="to" value="${escape(to)}" placeholder="an address or part of one"></label> <button>show</button></form>${rows.length > 0 ? `<table>${rows.join('')}</table>` : '<p>No letters here yet.</p>'}${more}`,
  );
}

function letter(kept: Kept, mail: Email, as: string): string {
  const views = ['rendered', 'plain', 'source']
    .map((view) =>
      view === as
        ? `<strong>${view}</strong>`
        : `<a href="/letter/${kept.id}?as=${view}">${view}</a>`,
    )
    .join(' · ');
  const head = `<p>to ${escape(kept.to)}, from ${escape(mail.from?.name ?? '')} &lt;${escape(mail.from?.address ?? '')}&gt;, ${escape(kept.at)}</p><p>${views}</p>`;
  if (as === 'plain')
    return page(mail.subject ?? '', `${head}<pre>${escape(mail.text ?? '')}</pre>`);
  return page(
    mail.subject ?? '',
    `${head}<iframe title="the letter" sandbox="allow-popups allow-popups-to-escape-sandbox" src="/letter/${kept.id}/body"></iframe>`,
  );
}

export function pageServer(mailboxes: Mailboxes): Server {
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const url = new URL(request.url ?? '/', 'http://outside.test');
    if (url.pathname === '/') return send(response, 200, 'text/html', await list(mailboxes, url));
    if (url.pathname === '/api/letters') {
      const kept = mailboxes.latest(100, url.searchParams.get('to') ?? '');
      const letters = await Promise.all(
        kept.map(async (one) => {
          const mail = await PostalMime.parse(mailboxes.raw(one.id) ?? '');
          return {
            id: one.id,
            to: one.to,
            from: one.from,
            at: one.at,
            subject: mail.subject,
            text: mail.text,
            html: mail.html,
            headers: mail.headers,
          };
        }),
      );
      return send(
        response,
        200,
        'application/json',
        JSON.stringify({ count: mailboxes.count, letters }),
      );
    }
    if (url.pathname.startsWith('/garden')) {
      return send(
        response,
        200,
        'text/html',
        page(
          decodeURIComponent(url.pathname.slice(8).replaceAll('-', ' ')) || 'Quillwater Garden',
          '<p>A page of the garden’s web site. There is not much to see here: it exists so that the links in letters lead somewhere.</p>',
        ),
      );
    }
    const found = /^\/letter\/(\d{1,9})(\/body)?$/.exec(url.pathname);
    const kept = found && mailboxes.one(Number(found[1]));
    const raw = kept && mailboxes.raw(kept.id);
    if (!kept || !raw)
      return send(response, 404, 'text/html', page('Not here', '<p>There is no such letter.</p>'));
    const mail = await PostalMime.parse(raw);
    if (found[2])
      return send(
        response,
        200,
        'text/html',
        mail.html ?? '<p>This letter has no HTML part.</p>',
        "default-src 'none'; img-src http: https: data:; style-src 'unsafe-inline'; sandbox allow-popups allow-popups-to-escape-sandbox",
      );
    const as = url.searchParams.get('as') ?? 'rendered';
    if (as === 'source')
      return send(
        response,
        200,
        'text/html',
        page(
          mail.subject ?? '',
          `<p><a href="/letter/${kept.id}">rendered</a></p><pre>${escape(raw.toString('utf8'))}</pre>`,
        ),
      );
    send(response, 200, 'text/html', letter(kept, mail, as));
  };
  return createServer((request, response) => {
    answer(request, response).catch(() =>
      send(response, 500, 'text/plain', 'The outside stumbled.'),
    );
  });
}

// The pages a reader sees: no scripts, readable at 360 px, in the office's name.
import { escapeHtml } from '@palabra/core/letters';

export const READER_POLICY = "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

function page(title: string, office: string, body: string): string {
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex"><title>${escapeHtml(title)}</title><style>
:root{color-scheme:light dark}body{margin:0;font:17px/1.6 Verdana,Arial,sans-serif;color:#1f1b2e;background:#f7f6fa}main{max-width:34rem;margin:0 auto;padding:2.5rem 1.25rem}
h1{font-size:1.5rem;line-height:1.25;margin:.25rem 0 1rem}p{margin:0 0 1rem}.office{color:#625c73;font-weight:bold}
button{font:inherit;font-weight:bold;color:#fff;background:#8a2b5b;border:0;border-radius:4px;padding:.7rem 1.2rem;min-height:44px;cursor:pointer}button:focus-visible{outline:3px solid #1f1b2e;outline-offset:2px}
@media(prefers-color-scheme:dark){body{color:#f1eef7;background:#17141f}.office{color:#b9b2c8}button:focus-visible{outline-color:#fff}}
</style></head><body><main><p class="office">${escapeHtml(office)}</p><h1>${escapeHtml(title)}</h1>${body}</main></body></html>`;
}

export const leavePage = (office: string, address: string): string =>
  page('Leave these letters?', office, `<p>${escapeHtml(address)} will get no more letters from us.</p><form method="post"><button type="submit">Yes, no more letters</button></form>`);

export const leftPage = (office: string, address: string): string => page('You have left', office, `<p>${escapeHtml(address)} gets no more letters from us, from this moment on. You can close this page.</p>`);

export const proofLeavePage = (office: string): string => page('This was a proof', office, '<p>In a real letter, this link lets the reader leave. Here it changes nothing.</p>');

export const unknownPage = (office: string): string => page('This link does not work', office, '<p>It may be incomplete: some mail programs cut long links in two. Open the letter again and use the link there, or answer the letter and ask us.</p>');

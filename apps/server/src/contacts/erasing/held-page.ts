// Everything that is held about somebody, as one file that reads by itself and prints.
import { personalPlaces, type PersonalPlace } from '@palabra/core/contacts';
import { escapeHtml } from '@palabra/core/letters';
import type { Held } from './places.js';

interface HeldPage {
  readonly office: string;
  readonly timeZone: string;
  readonly name: string;
  readonly at: Date;
  readonly places: readonly { readonly place: PersonalPlace; readonly lines: readonly Held[] }[];
}

export function heldPage({ office, timeZone, name, at, places }: HeldPage): string {
  const format = new Intl.DateTimeFormat('en-GB', {
    timeZone,
    dateStyle: 'long',
    timeStyle: 'short',
  });
  const line = ({ at: when, what, text }: Held): string =>
    `<tr><td>${when ? escapeHtml(format.format(when)) : ''}</td><td>${escapeHtml(what)}</td><td>${escapeHtml(text ?? '').replaceAll('\n', '<br>')}</td></tr>`;
  const parts = places.map(
    ({ place, lines }) =>
      `<h2>${escapeHtml(personalPlaces[place])}</h2>${lines.length === 0 ? '<p>Nothing.</p>' : `<table><tbody>${lines.map(line).join('\n')}</tbody></table>`}`,
  );
  const title = `What ${office} holds about ${name}`;
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${escapeHtml(title)}</title><style>
body{font:15px/1.5 Verdana,Arial,sans-serif;color:#1f1b2e;max-width:60rem;margin:0 auto;padding:2rem 1.25rem;overflow-wrap:anywhere}h1{font-size:1.5rem;line-height:1.3}h2{font-size:1.1rem;margin:2rem 0 .4rem}
table{border-collapse:collapse;width:100%}td{vertical-align:top;padding:.3rem .8rem .3rem 0;border-top:1px solid #d9d5e4}td:first-child{width:13rem}td:nth-child(2){width:16rem}p{margin:.4rem 0}
</style></head><body><h1>${escapeHtml(title)}</h1><p>As of ${escapeHtml(format.format(at))} (${escapeHtml(timeZone)}).</p>
${parts.join('\n')}
</body></html>
`;
}

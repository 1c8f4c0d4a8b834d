// The pages a reader sees: no scripts, readable at 360 px, in the office's name and colour.
import { escapeHtml } from '@palabra/core/letters';

export const READER_POLICY =
  "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

export interface PageOffice {
  readonly name: string;
  /** `#RRGGBB`, or empty for the application's own. */
  readonly colour: string;
}

export interface ReaderTopic {
  readonly id: number;
  readonly name: string;
  readonly description: string;
  readonly isWanted: boolean;
}

export interface ReaderData {
  readonly givenName: string;
  readonly familyName: string;
  readonly address: string;
  readonly town: string;
  readonly postcode: string;
}

/** What was just done, or is wrong. */
export interface Said {
  readonly kind: 'good' | 'wrong';
  readonly text: string;
}

/** What the link in a letter shows: little, because letters are forwarded. */
export interface LetterView {
  /** With only its first sign and its domain. */
  readonly address: string;
  readonly gets: 'letters' | 'nothing: left' | 'nothing: other' | 'nothing: erased';
  readonly topics: readonly ReaderTopic[];
  readonly said: Said | undefined;
}

/** What a link shows that was mailed to the address on record. */
export interface OwnView extends LetterView {
  /** Undefined when the person was deleted. */
  readonly data: ReaderData | undefined;
}

/** Dark text on light colours, light on dark ones: contrast by relative luminance (WCAG 2.2). */
function textOn(colour: string): string {
  const parts = [1, 3, 5]
    .map((at) => parseInt(colour.slice(at, at + 2), 16) / 255)
    .map((value) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4));
  const luminance = 0.2126 * (parts[0] ?? 0) + 0.7152 * (parts[1] ?? 0) + 0.0722 * (parts[2] ?? 0);
  return (luminance + 0.05) / 0.05 > 1.05 / (luminance + 0.05) ? '#1f1b2e' : '#ffffff';
}

function page(title: string, office: PageOffice, body: string): string {
  const colour = /^#[0-9a-f]{6}$/i.test(office.colour) ? office.colour : '#8a2b5b';
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex"><title>${escapeHtml(title)}</title><style>
:root{color-scheme:light dark}body{margin:0;font:17px/1.6 Verdana,Arial,sans-serif;color:#1f1b2e;background:#f7f6fa;overflow-wrap:anywhere}main{max-width:34rem;margin:0 auto;padding:2rem 1.25rem 3rem;border-top:6px solid ${colour}}
h1{font-size:1.5rem;line-height:1.25;margin:.25rem 0 1rem}h2{font-size:1.1rem;margin:2.2rem 0 .6rem;padding-top:1.2rem;border-top:1px solid #d9d5e4}p{margin:0 0 1rem}.office{color:#625c73;font-weight:bold}.soft{color:#625c73;font-size:.9rem}
button{font:inherit;font-weight:bold;color:${textOn(colour)};background:${colour};border:0;border-radius:4px;padding:.7rem 1.2rem;min-height:44px;cursor:pointer}button:focus-visible,input:focus-visible{outline:3px solid #1f1b2e;outline-offset:2px}
label{display:block;margin:0 0 .8rem}label.tick{display:flex;gap:.7rem;align-items:flex-start}label.tick input{width:22px;height:22px;flex:none;margin:.15rem 0 0;accent-color:${colour}}label.tick b{display:block}
input[type=text],input[type=email]{display:block;box-sizing:border-box;width:100%;font:inherit;color:inherit;background:#fff;border:1px solid #736d85;border-radius:4px;padding:.55rem .7rem;margin-top:.2rem;min-height:44px}
.said{border-left:4px solid #2b6b55;background:#fff;padding:.7rem 1rem}.said.wrong{border-color:#a1262b}
@media(prefers-color-scheme:dark){body{color:#f1eef7;background:#17141f}.office,.soft{color:#b9b2c8}h2{border-color:#3b3548}.said,input[type=text],input[type=email]{background:#221e2d}button:focus-visible,input:focus-visible{outline-color:#fff}}
</style></head><body><main><p class="office">${escapeHtml(office.name)}</p><h1>${escapeHtml(title)}</h1>${body}</main></body></html>`;
}

const form = (action: string, body: string): string =>
  `<form method="post" action="${escapeHtml(action)}">${body}</form>`;
const button = (text: string): string => `<button type="submit">${escapeHtml(text)}</button>`;
const input = (
  name: string,
  label: string,
  value: string,
  type: 'text' | 'email' = 'text',
  autocomplete = 'off',
): string =>
  `<label>${escapeHtml(label)}<input type="${type}" name="${name}" value="${escapeHtml(value)}" maxlength="254" autocomplete="${autocomplete}"></label>`;

function topicsPart(base: string, { topics }: LetterView): string {
  if (topics.length === 0) return '';
  const ticks = topics.map(
    ({ id, name, description, isWanted }) =>
      `<input type="hidden" name="shown" value="${id}"><label class="tick"><input type="checkbox" name="topic" value="${id}"${isWanted ? ' checked' : ''}><span><b>${escapeHtml(name)}</b>${description ? `<span class="soft">${escapeHtml(description)}</span>` : ''}</span></label>`,
  );
  return `<h2>What you get</h2><p>Take the tick away from what you don’t want.</p>${form(`${base}/topics`, `${ticks.join('')}${button('Keep my choice')}`)}`;
}

function dataPart(base: string, { data }: OwnView): string {
  if (!data) return '';
  return `<h2>About you</h2>${form(
    `${base}/data`,
    `${input('given_name', 'First name', data.givenName, 'text', 'given-name')}${input('family_name', 'Family name', data.familyName, 'text', 'family-name')}${input('address', 'Email address', data.address, 'email', 'email')}<p class="soft">A new address counts once you answer the letter that we send there.</p>${input('postcode', 'Postcode', data.postcode, 'text', 'postal-code')}${input('town', 'Town', data.town, 'text', 'address-level2')}${button('Keep this')}`,
  )}`;
}

const saidPart = ({ said }: LetterView): string =>
  said ? `<p class="said ${said.kind}" role="status">${escapeHtml(said.text)}</p>` : '';

const linkPart = (base: string, title: string, text: string): string =>
  `<h2>${escapeHtml(title)}</h2><p>${escapeHtml(text)} This letter may have been passed on, so that goes by a link which we mail to the address that our letters go to.</p>${form(`${base}/link`, button('Mail me the link'))}`;

/** The page behind the link in a letter: leave by one click, choose topics; for everything else a link is mailed. `base`: its address. */
export function letterPage(office: PageOffice, base: string, view: LetterView): string {
  const address = escapeHtml(view.address);
  if (view.gets === 'letters') {
    const leaving = `<p>${address} gets letters from us. One click, and it gets no more.</p>${form(base, button('Yes, no more letters'))}`;
    return page(
      'Leave these letters?',
      office,
      `${saidPart(view)}${leaving}${topicsPart(base, view)}${linkPart(base, 'About you', 'Would you like to see or correct what we know of you, or give us another address?')}`,
    );
  }
  if (view.gets === 'nothing: erased')
    return page(
      'We know nothing of you any more',
      office,
      `${saidPart(view)}<p>You asked us to take out everything we knew of you, and we did. You get no letters from us.</p><h2>Changed your mind?</h2><p>Give the address that our letters came to. We mail a link there; with it you are back.</p>${form(`${base}/again`, `${input('address', 'Email address', '', 'email', 'email')}${button('Mail me the link')}`)}`,
    );
  const back =
    view.gets === 'nothing: left'
      ? linkPart(base, 'Changed your mind?', 'You can come back.')
      : `<p class="soft">${WRITE_TO_US}</p>`;
  return page(
    'You have left',
    office,
    `${saidPart(view)}<p>${address} gets no more letters from us, from this moment on. You can close this page.</p>${back}`,
  );
}

const WRITE_TO_US = 'Would you like letters again? Write to us; we gladly put that right.';

/** The reader's own page: see and correct one's data, choose topics, leave and come back. */
export function ownPage(office: PageOffice, base: string, view: OwnView): string {
  const address = escapeHtml(view.address);
  if (view.gets === 'letters') {
    const leaving = `<h2>No more letters?</h2>${form(`${base}/leave`, button('Yes, no more letters'))}`;
    return page(
      'Your page',
      office,
      `${saidPart(view)}<p>${address} gets letters from us.</p>${topicsPart(base, view)}${dataPart(base, view)}${leaving}`,
    );
  }
  const back =
    view.gets === 'nothing: left'
      ? form(`${base}/back`, button(comingBack(office.name)))
      : `<p class="soft">${WRITE_TO_US}</p>`;
  return page(
    'Your page',
    office,
    `${saidPart(view)}<p>${address} gets no letters from us.</p>${back}${dataPart(base, view)}`,
  );
}

export const confirmPage = (office: PageOffice, base: string, address: string): string =>
  page(
    'Your new address',
    office,
    `<p>From now on our letters go to ${escapeHtml(address)}.</p>${form(base, button('Yes, that is my address'))}`,
  );

export const confirmedPage = (office: PageOffice, address: string): string =>
  page(
    'Kept',
    office,
    `<p>Our letters now go to ${escapeHtml(address)}. You can close this page.</p>`,
  );

export const wayBackPage = (
  office: PageOffice,
  base: string,
  { old, now }: { readonly old: string; readonly now: string },
): string =>
  page(
    'Take the new address back?',
    office,
    `<p>Our letters used to come to ${escapeHtml(old)}. Now they go to ${escapeHtml(now)}.</p>${form(base, button('Send them to my old address again'))}`,
  );

/** What somebody agrees to who comes back, word for word. */
export const comingBack = (office: string): string => `Send me letters from ${office} again`;

export const comeBackPage = (office: PageOffice, base: string): string =>
  page(
    'Letters again?',
    office,
    `<p>We know nothing of you but your address, once you say so.</p>${form(base, button(comingBack(office.name)))}`,
  );

export const cameBackPage = (office: PageOffice): string =>
  page(
    'Good to have you back',
    office,
    '<p>You get letters from us again. Of earlier times we know nothing. You can close this page.</p>',
  );

export const proofPage = (office: PageOffice): string =>
  page(
    'This was a proof',
    office,
    '<p>In a real letter, this link lets the reader leave, choose topics and ask for their own page. Here it changes nothing.</p>',
  );

export const unknownPage = (office: PageOffice): string =>
  page(
    'This link does not work',
    office,
    '<p>It may be incomplete or too old: some mail programs cut long links in two. Open the letter again and use the link there, or answer the letter and ask us.</p>',
  );

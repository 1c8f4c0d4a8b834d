// From blocks to a compiled letter, once per campaign: MJML, tracked links, text version, split at the sentinels.
import { randomBytes } from 'node:crypto';
import {
  Sentinels,
  splitAtSentinels,
  subjectSource,
  toMjml,
  type CompiledLetter,
  type LetterContent,
  type LetterLook,
  type TrackedLink,
} from '@palabra/core/letters';
import { convert } from 'html-to-text';
import mjml2html from 'mjml';
import { parse, type DefaultTreeAdapterMap } from 'parse5';

type Node = DefaultTreeAdapterMap['node'];
type Element = DefaultTreeAdapterMap['element'];

interface Href {
  readonly start: number;
  readonly end: number;
  readonly url: string;
  readonly label: string;
}

const isElement = (node: Node): node is Element => 'tagName' in node;

function textOf(node: Node): string {
  if ('value' in node) return node.value;
  if (isElement(node) && node.tagName === 'img')
    return node.attrs.find(({ name }) => name === 'alt')?.value ?? '';
  return 'childNodes' in node ? node.childNodes.map(textOf).join('') : '';
}

/** Positions of all web links; mailto:, tel:, fragments and the way out are left alone. */
function findHrefs(html: string): Href[] {
  const found: Href[] = [];
  const walk = (node: Node): void => {
    if (isElement(node) && node.tagName === 'a') {
      const url = node.attrs.find(({ name }) => name === 'href')?.value ?? '';
      const place = node.sourceCodeLocation?.attrs?.['href'];
      if (place && /^https?:\/\//i.test(url))
        found.push({
          start: place.startOffset,
          end: place.endOffset,
          url,
          label: textOf(node).replace(/\s+/g, ' ').trim(),
        });
    }
    if ('childNodes' in node) node.childNodes.forEach(walk);
  };
  walk(parse(html, { sourceCodeLocationInfo: true }));
  return found.sort((a, b) => a.start - b.start);
}

/** Replaces every web link by a sentinel for its number. */
function trackLinks(html: string, sentinels: Sentinels): { html: string; links: TrackedLink[] } {
  const links: TrackedLink[] = [];
  let out = '';
  let from = 0;
  for (const { start, end, url, label } of findHrefs(html)) {
    const plain = label.replace(new RegExp(`${sentinels.nonce}n\\d+z`, 'g'), '…') || url;
    const link = links.push({ url, label: plain }) - 1;
    out += `${html.slice(from, start)}href="${sentinels.put({ slot: 'link', link })}"`;
    from = end;
  }
  return { html: out + html.slice(from), links };
}

/** Indentation between tags says nothing to a reader and weighs a third; `height="auto"` is no number, and the style says it, too. */
const squeeze = (html: string): string =>
  html
    .replaceAll(' height="auto"', '')
    .replace(/>(\s+)</g, (whole, gap: string) => (gap.includes('\n') ? '><' : whole))
    .replace(/\n\s+/g, '\n');

export async function compileLetter(
  letter: LetterContent,
  look: LetterLook,
  random: () => string = () => randomBytes(12).toString('hex'),
): Promise<CompiledLetter> {
  const sentinels = new Sentinels(random());
  const mjml = toMjml(letter, sentinels, look);
  const { html } = await mjml2html(mjml, {
    fonts: {},
    ignoreIncludes: true,
    validationLevel: 'soft',
  });
  const tracked = trackLinks(squeeze(html), sentinels);
  const links = [...tracked.links];
  let hidden = '';
  if (look.hiddenLink) {
    const link = links.push({ url: look.baseUrl, label: '', isHidden: true }) - 1;
    hidden = `<a href="${sentinels.put({ slot: 'link', link })}" style="display:none" tabindex="-1" aria-hidden="true"></a>`;
  }
  const withOpen = tracked.html.replace(
    /<\/body>/i,
    `${hidden}<img src="${sentinels.put({ slot: 'open' })}" alt="" width="1" height="1" style="display:block;width:1px;height:1px" /></body>`,
  );
  const text = convert(tracked.html, {
    wordwrap: false,
    formatters: {
      // What a picture shows, where it leads somewhere; elsewhere it is not missed.
      alt: (picture, _walk, builder) => {
        const alt = (picture.attribs as Readonly<Record<string, string>>)['alt'] ?? '';
        if (alt !== '' && picture.parent?.type === 'tag' && picture.parent.name === 'a')
          builder.addInline(alt);
      },
    },
    selectors: [
      { selector: 'img', format: 'alt' },
      { selector: 'h1', options: { uppercase: false } },
      { selector: 'a', options: { hideLinkHrefIfSameAsText: true } },
      { selector: 'title', format: 'skip' },
    ],
  });
  return {
    v: 1,
    subject: splitAtSentinels(subjectSource(letter, sentinels), sentinels.nonce, sentinels.slots),
    html: splitAtSentinels(withOpen, sentinels.nonce, sentinels.slots),
    text: splitAtSentinels(text, sentinels.nonce, sentinels.slots),
    links,
  };
}

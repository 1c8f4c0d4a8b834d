// A visiting card of one person (vCard 4.0, RFC 6350).

export const exportFormats = ['csv', 'xlsx', 'vcf'] as const;
export type ExportFormat = (typeof exportFormats)[number];
export const exportFormatNames: Readonly<Record<ExportFormat, string>> = {
  csv: 'CSV',
  xlsx: 'a spreadsheet',
  vcf: 'visiting cards',
};

interface Card {
  readonly name: string;
  readonly given: string;
  readonly family: string;
  /** The first is the usual one. */
  readonly emails: readonly string[];
  readonly phones: readonly string[];
  readonly title: string;
  readonly street: string;
  readonly town: string;
  readonly region: string;
  readonly postcode: string;
  readonly country: string;
}

/** RFC 6350, 3.4: backslash, comma, semicolon and line ends are escaped in a text. */
const escaped = (text: string): string =>
  text.replace(/[\\,;]/g, '\\$&').replace(/\r\n|\r|\n/g, '\\n');

const LINE = 75;

/** How long a sign is in UTF-8 (RFC 3629, 3). */
const octetsOf = (code: number): number =>
  code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;

/** RFC 6350, 3.2: lines are at most 75 octets, without the line break; no sign is cut in two. */
function folded(line: string): string {
  const parts: string[] = [];
  let part = '';
  let size = 0;
  for (const sign of line) {
    const octets = octetsOf(sign.codePointAt(0) ?? 0);
    if (size + octets > LINE) {
      parts.push(part);
      // The space that marks a continued line counts.
      [part, size] = ['', 1];
    }
    part += sign;
    size += octets;
  }
  return [...parts, part].join('\r\n ');
}

/** RFC 6350, 5.3: where there are several, the preferred one says so. */
const ranked = (name: string, values: readonly string[]): string[] =>
  values.map(
    (value, at) => `${name}${at === 0 && values.length > 1 ? ';PREF=1' : ''}:${escaped(value)}`,
  );

export function vcard(card: Card): string {
  const { street, town, region, postcode, country } = card;
  const address = ['', '', street, town, region, postcode, country];
  const lines = [
    'BEGIN:VCARD',
    'VERSION:4.0',
    `FN:${escaped(card.name)}`,
    ...(card.given || card.family ? [`N:${escaped(card.family)};${escaped(card.given)};;;`] : []),
    ...ranked('EMAIL', card.emails),
    ...ranked('TEL', card.phones),
    ...(card.title ? [`TITLE:${escaped(card.title)}`] : []),
    ...(address.some(Boolean) ? [`ADR:${address.map(escaped).join(';')}`] : []),
    'END:VCARD',
  ];
  return lines.map((line) => `${folded(line)}\r\n`).join('');
}

// Visiting cards as a table: a row for each. vCard 3 (RFC 2426) and 4 (RFC 6350), and what is left of 2.1 in old address
// books. Read by hand, line by line: a card that breaks the rules in one line keeps what its other lines say.

/** Heads of the columns: each is known by its name, so that cards fill fields by themselves. */
export const cardColumns = [
  'given name',
  'family name',
  'email address',
  'further addresses',
  'phone',
  'further phones',
  'position',
  'organisation',
  'street',
  'postcode',
  'town',
  'region',
  'country',
  'birthday',
  'web',
  'note',
  'tags',
] as const;

export interface CardRow {
  readonly cells: readonly string[];
  /** Line of the file on which the card begins, from 1. */
  readonly line: number;
}

/** A line of a card: `group.NAME;PARAM=value:value`. */
interface Line {
  readonly name: string;
  /** In capitals, without quotation marks; a bare one of vCard 2.1 is a type. */
  readonly types: readonly string[];
  readonly parameters: ReadonlyMap<string, string>;
  readonly value: string;
}

const HEAD_MOST = 2000;

/** Where the value begins: the first colon outside quotation marks. */
function colonOf(line: string): number {
  let quoted = false;
  for (let at = 0; at < Math.min(line.length, HEAD_MOST); at++) {
    if (line[at] === '"') quoted = !quoted;
    else if (line[at] === ':' && !quoted) return at;
  }
  return -1;
}

function parsedLine(line: string): Line | undefined {
  const colon = colonOf(line);
  if (colon < 1) return undefined;
  const [head = '', ...rest] = line.slice(0, colon).split(';');
  const parameters = new Map<string, string>();
  const types: string[] = [];
  for (const one of rest) {
    const [key = '', ...values] = one.split('=');
    const value = values.join('=').replaceAll('"', '');
    if (values.length === 0) types.push(key.trim().toUpperCase());
    else if (key.trim().toUpperCase() === 'TYPE') types.push(...value.toUpperCase().split(','));
    else parameters.set(key.trim().toUpperCase(), value);
  }
  const name = head
    .slice(head.lastIndexOf('.') + 1)
    .trim()
    .toUpperCase();
  return { name, types, parameters, value: line.slice(colon + 1) };
}

/** What a byte is as a hexadecimal digit; -1 where it is none. */
function hexDigit(byte = 0): number {
  if (byte >= 0x30 && byte <= 0x39) return byte - 0x30;
  const letter = byte | 0x20;
  return letter >= 0x61 && letter <= 0x66 ? letter - 0x61 + 10 : -1;
}

/** RFC 2045, 6.7, as vCard 2.1 has it. */
function fromQuotedPrintable(text: string, charset: string): string {
  const bytes = new TextEncoder().encode(text);
  let length = 0;
  for (let at = 0; at < bytes.length; at++) {
    const [high, low] = [hexDigit(bytes[at + 1]), hexDigit(bytes[at + 2])];
    const isCoded = bytes[at] === 0x3d && high >= 0 && low >= 0;
    bytes[length++] = isCoded ? high * 16 + low : (bytes[at] ?? 0);
    if (isCoded) at += 2;
  }
  const read = (label: string): string => new TextDecoder(label).decode(bytes.subarray(0, length));
  try {
    return read(charset);
  } catch {
    return read('utf-8');
  }
}

const decoded = ({ value, types, parameters }: Line): string =>
  parameters.get('ENCODING')?.toUpperCase() === 'QUOTED-PRINTABLE' ||
  types.includes('QUOTED-PRINTABLE')
    ? fromQuotedPrintable(value, parameters.get('CHARSET') ?? 'utf-8')
    : value;

/** RFC 6350, 3.4: `\n`, and a sign behind a backslash stands for itself. */
const plain = (text: string): string =>
  text
    .replace(/\\([\s\S])/g, (_, sign: string) => (sign === 'n' || sign === 'N' ? '\n' : sign))
    .trim();

/** The parts between marks that no backslash stands before. */
function parts(text: string, mark: ';' | ','): string[] {
  const found: string[] = [];
  let from = 0;
  for (let at = 0; at < text.length; at++) {
    if (text[at] === '\\') at++;
    else if (text[at] === mark) {
      found.push(text.slice(from, at));
      from = at + 1;
    }
  }
  found.push(text.slice(from));
  return found.map(plain);
}

/** The preferred one first: `PREF=1` of version 4, `TYPE=pref` before it. */
const rank = ({ types, parameters }: Line): number =>
  types.includes('PREF') ? 0 : Number(parameters.get('PREF') ?? 101);

const DAY = /^(\d{4})-?(\d{2})-?(\d{2})/;

function rowOf(lines: readonly Line[]): string[] {
  const all = (name: string): Line[] =>
    lines.filter((line) => line.name === name).sort((a, b) => rank(a) - rank(b));
  const text = (name: string): string => {
    const [line] = all(name);
    return line ? plain(decoded(line)) : '';
  };
  const texts = (name: string, without = ''): string[] => [
    ...new Set(
      all(name)
        .map((line) => plain(decoded(line)).replace(new RegExp(`^${without}`, 'i'), ''))
        .filter((one) => one !== ''),
    ),
  ];
  const [name] = all('N');
  const [family = '', given = '', middle = ''] = name ? parts(decoded(name), ';') : [];
  const whole = text('FN');
  const isNamed = family !== '' || given !== '';
  const cut = whole.lastIndexOf(' ');
  const [place] = all('ADR');
  const [box = '', more = '', street = '', town = '', region = '', postcode = '', country = ''] =
    place ? parts(decoded(place), ';') : [];
  const [address = '', ...addresses] = texts('EMAIL', 'mailto:');
  const [phone = '', ...phones] = texts('TEL', 'tel:');
  const [organisation] = all('ORG');
  const day = DAY.exec(text('BDAY'));
  const tags = all('CATEGORIES').flatMap((line) => parts(decoded(line), ','));
  return [
    isNamed ? [given, middle].filter(Boolean).join(' ') : cut < 0 ? whole : whole.slice(0, cut),
    isNamed ? family : cut < 0 ? '' : whole.slice(cut + 1),
    address,
    addresses.join('\n'),
    phone,
    phones.join('\n'),
    text('TITLE'),
    organisation ? parts(decoded(organisation), ';').filter(Boolean).join(', ') : '',
    [street, more, box].filter(Boolean).join(', '),
    postcode,
    town,
    region,
    country,
    day ? day.slice(1).join('-') : '',
    text('URL'),
    text('NOTE'),
    tags.filter(Boolean).join(', '),
  ];
}

/** So much of one line is read: a picture in a card may be megabytes. */
const LINE_MOST = 100_000;
const LINES_MOST = 2000;
/** What says how a line is written is not further behind. */
const SOFT_HEAD = 260;

/** Takes the lines of a file one after another, and gives the cards they make. */
export class CardReader {
  private card: Line[] | undefined;
  private begun = 0;
  /** The line that may go on, as it was written: joined once, when it is over. */
  private open: string[] = [];
  private length = 0;
  private at = 0;
  private depth = 0;
  private readonly rows: CardRow[] = [];

  /** `line` without its end; the last one is followed by `end`. */
  take(line: string): void {
    this.at++;
    const last = this.open.at(-1);
    if (last?.endsWith('=') && this.isSoft()) {
      this.open[this.open.length - 1] = last.slice(0, -1);
      this.length--;
      this.join(line);
    }
    // A line that is continued goes on behind a blank (RFC 6350, 3.2).
    else if (this.length > 0 && /^[ \t]/.test(line)) this.join(line.slice(1));
    else {
      this.close();
      this.join(line);
    }
  }

  /** Whether an equals sign at its end says that the open line goes on; that stands at its beginning. */
  private isSoft(): boolean {
    let head = '';
    for (const part of this.open) {
      head += part.slice(0, SOFT_HEAD);
      if (head.length >= SOFT_HEAD) break;
    }
    return /^(?:[^:]{0,200};)?(?:ENCODING=)?QUOTED-PRINTABLE/i.test(head);
  }

  private join(more: string): void {
    if (more === '' || (this.length > 0 && this.length + more.length > LINE_MOST)) return;
    this.open.push(more);
    this.length += more.length;
  }

  private close(): void {
    const line = parsedLine(this.open.join('').slice(0, LINE_MOST));
    this.open = [];
    this.length = 0;
    if (!line) return;
    const isCard = line.value.trim().toUpperCase() === 'VCARD';
    if (line.name === 'BEGIN' && isCard) {
      // One card within another (vCard 2.1) is not somebody of their own.
      if (this.card) this.depth++;
      else [this.card, this.begun] = [[], this.at - 1];
    } else if (line.name === 'END' && isCard) {
      if (this.depth > 0) this.depth--;
      else {
        if (this.card) this.rows.push({ cells: rowOf(this.card), line: Math.max(1, this.begun) });
        this.card = undefined;
      }
    } else if (this.card && this.depth === 0 && this.card.length < LINES_MOST) this.card.push(line);
  }

  /** The cards that are whole by now; each is given once. */
  get done(): CardRow[] {
    return this.rows.splice(0);
  }

  end(): CardRow[] {
    this.close();
    // A file that is cut off: what the last card says counts.
    if (this.card) this.rows.push({ cells: rowOf(this.card), line: Math.max(1, this.begun) });
    this.card = undefined;
    return this.done;
  }
}

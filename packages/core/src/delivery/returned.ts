// What a message that came back says. Sources: RFC 3464 (delivery status notifications), RFC 5965
// (complaints), RFC 3834 (automatic replies), RFC 3463 (status codes). Many real notices follow none of them.
import { bounceOf, statusIn, type BounceKind } from './answer.js';
import { says } from './sayings.js';
import type { Purpose, TokenBody } from './token.js';

export const returnedKinds = [
  'bounce',
  'complaint',
  'reply',
  'auto-reply',
  'challenge',
  'leave',
  'delay',
  'receipt',
  'unread',
] as const;
export type ReturnedKind = (typeof returnedKinds)[number];

/** What showed which letter a message answers, strongest first. An address alone is only a hint. */
export const evidences = ['envelope', 'headers', 'original', 'address', 'by hand'] as const;
export type Evidence = (typeof evidences)[number];

/** A message as a parser hands it over. Header names in small letters, the first value of each. */
export interface ReturnedMessage {
  /** Recipients of the envelope; empty when it was fetched from a mailbox. */
  readonly envelopeTo: readonly string[];
  /** Sender of the envelope; empty for notices (RFC 5321), undefined where it is not known. */
  readonly envelopeFrom?: string;
  readonly from: string;
  readonly to: readonly string[];
  readonly subject: string;
  readonly headers: ReadonlyMap<string, string>;
  readonly text: string;
  /** Attached parts by their type: `message/delivery-status`, `message/feedback-report`, `message/disposition-notification`, `message/rfc822`, `text/rfc822-headers`. */
  readonly parts: readonly { readonly type: string; readonly content: string }[];
}

export interface Returned {
  readonly kind: ReturnedKind;
  readonly bounce: BounceKind | null;
  readonly letter: TokenBody | null;
  readonly evidence: Evidence | null;
  /** The address a notice speaks of, where it names one. */
  readonly address: string | null;
  readonly diagnosis: string | null;
  /** Judged by loose words alone, which never put anybody on do not mail without a hand. */
  readonly isLoose: boolean;
}

export type Verify = (purpose: Purpose, token: string) => TokenBody | undefined;

/** Local parts that mailers write from. */
const MAILER =
  /^(mailer-?daemon|postmaster|mail-?daemon|mail-?delivery|mdaemon|bounces?|bounce-\w+|mail\.?system)$/i;
/** A person’s answer keeps our subject behind this, whatever words are in it. */
const ANSWER = /^(re|aw|antw|sv|vs|odp|rif|res|ref)\s?:/i;

/** Fields of a block of headers (RFC 5322 folding), names in small letters. */
function fieldsIn(block: string): Map<string, string> {
  const fields = new Map<string, string>();
  for (const line of block.replace(/\r?\n[ \t]+/g, ' ').split(/\r?\n/)) {
    const colon = line.indexOf(':');
    if (colon <= 0) continue;
    const name = line.slice(0, colon).trim().toLowerCase();
    if (!fields.has(name)) fields.set(name, line.slice(colon + 1).trim());
  }
  return fields;
}

/** What can't stand in an address as notices write it. */
const EDGE = /[\s<>;,:"()]/;

/** Addresses and where they begin, in the order of the text. Each sign is looked at twice at the most. */
function* addressesIn(
  text: string,
): Generator<{ readonly address: string; readonly from: number }> {
  let free = 0;
  for (let at = text.indexOf('@'); at >= 0; at = text.indexOf('@', Math.max(free, at + 1))) {
    let from = at;
    while (from > free && !EDGE.test(text[from - 1] ?? ' ')) from--;
    let to = at + 1;
    while (to < text.length && !EDGE.test(text[to] ?? ' ')) to++;
    free = to;
    if (from < at && to > at + 1) yield { address: text.slice(from, to).toLowerCase(), from };
  }
}

/** `rfc822; someone@example.com` and its like. */
function addressIn(text: string | undefined): string | null {
  for (const { address } of addressesIn(text ?? '')) return address;
  return null;
}

const BEFORE = 44;

/** The first address that stands in angle brackets, or close behind a word that says whose it is. */
function namedAddressIn(text: string): string | null {
  for (const { address, from } of addressesIn(text)) {
    const before = text.slice(Math.max(0, from - BEFORE), from);
    if (
      /recipient|address|to|</i.test(
        before.slice(Math.max(before.lastIndexOf('\n'), before.lastIndexOf('@')) + 1),
      )
    )
      return address;
  }
  return null;
}

const LOCAL = /^<?(bounce|leave)\+([\w-]+)@/i;

function localToken(address: string, word: 'bounce' | 'leave'): string | undefined {
  const [, found = '', token] = LOCAL.exec(address.trim()) ?? [];
  return found.toLowerCase() === word ? token : undefined;
}

interface Link {
  readonly letter: TokenBody;
  readonly evidence: Evidence;
}

/** Which letter a message answers, by the strongest evidence there is. */
function letterOf(message: ReturnedMessage, verify: Verify): Link | undefined {
  const byEnvelope = (addresses: readonly string[]): TokenBody | undefined => {
    for (const address of addresses) {
      const bounced = localToken(address, 'bounce');
      const left = localToken(address, 'leave');
      const letter = (bounced && verify('bounce', bounced)) || (left && verify('leave', left));
      if (letter) return letter;
    }
    return undefined;
  };
  const envelope =
    byEnvelope(message.envelopeTo) ??
    byEnvelope([
      ...message.to,
      message.headers.get('delivered-to') ?? '',
      message.headers.get('x-original-to') ?? '',
    ]);
  if (envelope) return { letter: envelope, evidence: 'envelope' };
  const byMessageId = (text: string): TokenBody | undefined => {
    for (const [, token = ''] of text.matchAll(/<([\w-]{12,60})@[^\s<>@]+>/g)) {
      const letter = verify('message', token);
      if (letter) return letter;
    }
    return undefined;
  };
  const headers = byMessageId(
    ['in-reply-to', 'references'].map((name) => message.headers.get(name) ?? '').join(' '),
  );
  if (headers) return { letter: headers, evidence: 'headers' };
  for (const text of [...message.parts.map(({ content }) => content), message.text]) {
    const quoted = byMessageId(text) ?? byLinks(text, verify);
    if (quoted) return { letter: quoted, evidence: 'original' };
  }
  return undefined;
}

/** Leave and click addresses in a quoted letter. */
function byLinks(text: string, verify: Verify): TokenBody | undefined {
  const whole = text.replace(/=\r?\n/g, '').replace(/=3D/gi, '=');
  for (const [, kind, token = ''] of whole.matchAll(/\/(leave|c|o)\/([\w-]{12,60})/g)) {
    const letter = verify(kind === 'leave' ? 'leave' : kind === 'c' ? 'click' : 'open', token);
    if (letter) return { ...letter, link: 0 };
  }
  return undefined;
}

/** Reads a message that came back. What it can't read, it says so: kind `unread`. */
export function readReturned(message: ReturnedMessage, verify: Verify): Returned {
  const link = letterOf(message, verify);
  const result = (kind: ReturnedKind, more: Partial<Returned> = {}): Returned => {
    const address = more.address ?? null;
    return {
      kind,
      bounce: null,
      diagnosis: null,
      isLoose: false,
      letter: link?.letter ?? null,
      evidence: link?.evidence ?? (address ? 'address' : null),
      ...more,
      address,
    };
  };
  const part = (type: string): string | undefined =>
    message.parts.find((one) => one.type === type)?.content;

  const report = part('message/feedback-report');
  if (report !== undefined) {
    const fields = fieldsIn(report);
    const kind = (fields.get('feedback-type') ?? '').toLowerCase();
    const address = addressIn(fields.get('original-rcpt-to'));
    return kind === 'not-spam'
      ? result('unread', { diagnosis: 'the reader says it is not spam', address })
      : result('complaint', { diagnosis: kind || null, address });
  }

  const status = part('message/delivery-status');
  if (status !== undefined) return readStatus(status, result);
  // A mail program says what it did with a letter (RFC 8098): it is there, and nobody has answered.
  if (part('message/disposition-notification') !== undefined) return result('receipt');

  if (message.envelopeTo.some((address) => localToken(address, 'leave')) && link)
    return result('leave');

  const submitted = message.headers.get('auto-submitted')?.toLowerCase() ?? 'no';
  const precedence = message.headers.get('precedence') ?? '';
  const isAutomatic =
    submitted !== 'no' ||
    /auto_?reply|auto-?response|bulk|junk/i.test(precedence) ||
    message.headers.has('x-autoreply') ||
    message.headers.has('x-autorespond');
  // Only a mailer, or who leaves the envelope's sender empty, writes notices: a person, a shop or “Re:” doesn't.
  const isMailer = isMailerAddress(message.from) || message.headers.has('x-failed-recipients');
  const hasNoSender =
    message.envelopeFrom === '' || message.headers.get('return-path')?.trim() === '<>';
  const isAnswer = ANSWER.test(message.subject.trim());
  if (!isAnswer && !isMailer) {
    if (
      says('challenge', message.subject) ||
      (isAutomatic && says('challenge', ownWords(message.text)))
    )
      return result('challenge');
    if (says('away', message.subject)) return result('auto-reply');
  }
  if (isMailer || hasNoSender) {
    // Automatic answers leave the sender empty, too (RFC 3834): from a person's address only a quoted reply makes a notice.
    const notice = readWords(message, result);
    if (
      isMailer ||
      (notice.kind !== 'unread' && (!isAutomatic || statusIn(message.text) !== undefined))
    )
      return notice;
  }
  if (isAutomatic) return result('auto-reply');
  return result(link ? 'reply' : 'unread');
}

function isMailerAddress(from: string): boolean {
  for (const { address } of addressesIn(from))
    return MAILER.test(address.slice(0, address.indexOf('@')));
  return MAILER.test(from.trim());
}

const RULED = /^[-_=*]{2}/;
const COPY =
  /\b(original|copy|forwarded|begin|returned|ursprüngliche|nachricht|mensaje|message d'origine|messaggio|bericht)\b/i;
const HEADER =
  /^(received|return-path|dkim-signature|list-unsubscribe|list-id|message-id|mime-version|x-mailer): /i;

/** Where a quoted letter begins: what stands there is ours, and judged it would speak against its reader. */
function beginsQuote(line: string): boolean {
  const start = line.trimStart();
  return HEADER.test(start) || (RULED.test(start) && COPY.test(start));
}

/** The words of whoever wrote the message, without what they quote. */
function ownWords(text: string): string {
  const own: string[] = [];
  for (const line of text.split(/\r?\n/)) {
    if (beginsQuote(line)) break;
    if (!/^\s*[>|]/.test(line)) own.push(line);
  }
  return own.join('\n');
}

type Make = (kind: ReturnedKind, more?: Partial<Returned>) => Returned;

/** A notice by the book: one block about the message, then one per recipient. */
function readStatus(status: string, result: Make): Returned {
  const blocks = status.split(/\r?\n\s*\r?\n/).map(fieldsIn);
  const about =
    blocks.find((fields) => fields.has('action')) ?? blocks.find((fields) => fields.has('status'));
  const address =
    addressIn(about?.get('original-recipient')) ?? addressIn(about?.get('final-recipient'));
  const code = /\d\.\d{1,3}\.\d{1,3}/.exec(about?.get('status') ?? '')?.[0];
  const words = about?.get('diagnostic-code')?.replace(/^[a-z-]+;\s*/i, '') ?? null;
  const more = { address, diagnosis: words ?? code ?? null };
  switch (about?.get('action')?.toLowerCase()) {
    case 'failed':
      return result('bounce', {
        ...more,
        bounce: bounceOf(code === '5.0.0' ? undefined : code, words ?? ''),
      });
    case 'delayed':
      return result('delay', more);
    case 'delivered':
    case 'relayed':
    case 'expanded':
      return result('receipt', more);
    default:
      return code
        ? result(code.startsWith('4') ? 'delay' : code.startsWith('2') ? 'receipt' : 'bounce', {
            ...more,
            bounce: code.startsWith('5') ? bounceOf(code, words ?? '') : null,
          })
        : result('unread', more);
  }
}

/** `Status: 5.1.1` on a line of its own, as reports have it. */
function statusLine(text: string): string | undefined {
  for (const line of text.split('\n')) {
    const found = /^status:[ \t]{0,8}([45]\.\d{1,3}\.\d{1,3})$/i.exec(line.trim())?.[1];
    if (found) return found;
  }
  return undefined;
}

/** A permanent reply (RFC 5321) as it is quoted, but not a telephone number; or a code as some mailers write their own. */
const PERMANENT = /(?<![\d.])5[0-5]\d(?:$|[ -](?!\d\d))|\(#5\.\d{1,3}\.\d{1,3}\)/;
const TRANSIENT = /(?<![\d.])4\d\d[ -]/;

/** A notice's lines that quote a reply, each with the lines that go on with it: of the same reply, or set in. */
function repliesIn(words: string): string[] {
  const replies: string[] = [];
  let isOpen = false;
  for (const line of words.split('\n')) {
    const isReply = PERMANENT.test(line) || statusIn(line) !== undefined;
    if (isOpen && (isReply || /^[ \t]+\S/.test(line)))
      replies.push(`${replies.pop() ?? ''} ${line.trim()}`);
    else if (isReply) replies.push(line.trim());
    isOpen = isReply || (isOpen && /^[ \t]+\S/.test(line));
  }
  return replies;
}

/** The paragraphs with a reply in them. What a notice says before and behind is about itself, not about the address. */
function aboutReplies(words: string): string {
  const paragraphs = words
    .split(/\n[ \t]*\n/)
    .filter((one) =>
      one.split('\n').some((line) => PERMANENT.test(line) || statusIn(line) !== undefined),
    );
  return paragraphs.length > 0 ? paragraphs.join('\n') : words;
}

/** A notice in somebody's own words. */
function readWords(message: ReturnedMessage, result: Make): Returned {
  const words = ownWords(message.text);
  const text = `${message.subject}\n${words}`;
  const replies = repliesIn(words);
  const line =
    replies[0] ??
    text.split('\n').find((one) => statusIn(one) !== undefined || TRANSIENT.test(one));
  const code = statusIn(text) ?? statusLine(words);
  const failed = addressIn(message.headers.get('x-failed-recipients'));
  const more = {
    address: failed ?? namedAddressIn(words),
    diagnosis: line?.trim().slice(0, 300) ?? null,
  };
  if (says('later', text) && !code?.startsWith('5')) return result('delay', more);
  const bounce = bounceOf(code, aboutReplies(words));
  // A number somewhere and loose words elsewhere are no quoted reply; a mailer that names the address it failed at is one.
  const isEvident =
    code?.startsWith('5') === true || failed !== null || replies.some((one) => says('dead', one));
  const isClear =
    code !== undefined ||
    bounce !== 'other' ||
    replies.length > 0 ||
    failed !== null ||
    says('failed', message.subject);
  return isClear
    ? result('bounce', { ...more, bounce, isLoose: bounce === 'hard' && !isEvident })
    : result('unread', more);
}

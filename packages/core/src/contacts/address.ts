// Email addresses: what is accepted, and the key that says two are the same.
import { fail, normalized, ok, urlOf, type Result } from '../kernel/index.js';

export type AddressProblem =
  | 'empty'
  | 'no-at'
  | 'several'
  | 'doubled-at'
  | 'line-break'
  | 'local-part'
  | 'beyond-ascii'
  | 'domain'
  | 'too-long';

export interface Address {
  /** As written, trimmed. */
  readonly address: string;
  /** NFC, lower-cased, domain as A-labels (RFC 5890); no provider-specific tricks. */
  readonly key: string;
}

export const addressProblems: Record<AddressProblem, string> = {
  empty: 'there is no address',
  'no-at': 'an address needs one @, as in name@example.com',
  'doubled-at': 'there are two @ in a row; an address has one',
  several: 'there are several addresses; keep one',
  'line-break': 'the address contains a line break or another control sign',
  'local-part': 'the part before the @ has signs that are not allowed there',
  'beyond-ascii': 'the part before the @ has letters that many mail servers do not accept',
  domain: 'the part after the @ is not a domain, as in example.com',
  'too-long': 'the address is longer than mail allows',
};

// RFC 5321 section 4.1.2, dot-string, with the letters of RFC 6531; quoted strings are not accepted.
const ATOM = /^[\p{L}\p{M}\p{N}!#$%&'*+/=?^_`{|}~-]+$/u;
const LABEL = /^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$/;
// eslint-disable-next-line no-control-regex -- control signs are what is being refused
const CONTROL = /[\u0000-\u001f\u007f-\u009f\u2028\u2029]/;

/** In signs; RFC 1035 section 2.3.4 has 255 octets, of which two are not written. */
const LONGEST_DOMAIN = 253;
/** What could still be an address with a name before it; nobody reads through more. */
const LONGEST_TEXT = 1000;

function asciiDomain(domain: string): string | undefined {
  if (domain.length > LONGEST_DOMAIN || !/^[\p{L}\p{M}\p{N}.-]+$/u.test(domain)) return undefined;
  return urlOf(`http://${domain}`)?.hostname;
}

const octets = (text: string): number => new TextEncoder().encode(text).length;

/** Whether the part in front of the @ has letters beyond ASCII, which a mail server takes only if it offers SMTPUTF8 (RFC 6531). `key`: of an `Address`. */
// eslint-disable-next-line no-control-regex -- the ASCII range
export const isBeyondAscii = (key: string): boolean => /[^\u0000-\u007f]/.test(key);

/** Reads one address as a person or a spreadsheet writes it; `mailto:` and angle brackets are taken off. */
export function parseAddress(text: string): Result<Address, AddressProblem> {
  if (text.length > LONGEST_TEXT) return fail('too-long');
  const trimmed = text.trim();
  if (CONTROL.test(trimmed)) return fail('line-break');
  const bare = trimmed
    .replace(/^mailto:/i, '')
    .replace(/^[^<>]*<([^<>]*)>$/, '$1')
    .trim();
  if (bare === '') return fail('empty');
  if (/[,;\s]/.test(bare) && bare.split('@').length > 2) return fail('several');
  const at = bare.lastIndexOf('@');
  if (at > 1 && bare.indexOf('@') === at - 1) return fail('doubled-at');
  if (at < 1 || bare.indexOf('@') !== at) return fail(at < 1 ? 'no-at' : 'several');
  const local = bare.slice(0, at);
  if (!local.split('.').every((atom) => ATOM.test(atom))) return fail('local-part');
  const domain = asciiDomain(normalized(bare.slice(at + 1)).toLowerCase());
  if (!domain || !domain.includes('.') || !domain.split('.').every((label) => LABEL.test(label)))
    return fail('domain');
  if (/^\d+$/.test(domain.split('.').at(-1) ?? '')) return fail('domain');
  const key = `${normalized(local.toLowerCase())}@${domain}`;
  if (octets(local) > 64 || octets(key) > 254) return fail('too-long');
  return ok({ address: bare, key });
}

/** An address that every mail server takes: of a sender, or of an account. */
export function parsePlainAddress(text: string): Result<Address, AddressProblem> {
  const parsed = parseAddress(text);
  return parsed.ok && isBeyondAscii(parsed.value.key) ? fail('beyond-ascii') : parsed;
}

/** What may be shown of an address to who only has a letter: its first sign and its domain, `a…@example.com`. */
export function maskedAddress(address: string): string {
  const at = address.lastIndexOf('@');
  return `${[...address][0] ?? ''}…${at < 0 ? '' : address.slice(at)}`;
}

/** As it stands in an envelope (RFC 5321): the local part as written, the domain as A-labels, which every server takes. */
export function envelopeAddress(address: string): string {
  const parsed = parseAddress(address);
  if (!parsed.ok) return address;
  const { address: bare, key } = parsed.value;
  return bare.slice(0, bare.lastIndexOf('@')) + key.slice(key.lastIndexOf('@'));
}

/** How an address, or a part of one, is looked for as it is shown: a domain in its own letters, not as A-labels. */
export const shownAddressKey = (text: string): string =>
  normalized(text.trim()).toLowerCase().replaceAll('ς', 'σ');

/** A domain, or the end of one, with its letters beyond ASCII as A-labels; undefined where there are none, or it is none. */
export function asciiForm(text: string): string | undefined {
  // eslint-disable-next-line no-control-regex -- the ASCII range
  if (!/[^\u0000-\u007f]/.test(text)) return undefined;
  const at = text.lastIndexOf('@');
  const domain = asciiDomain(normalized(text.slice(at + 1)).toLowerCase());
  return domain === undefined ? undefined : text.slice(0, at + 1).toLowerCase() + domain;
}

// What a mail server's answer means. Sources: RFC 5321 (reply codes), RFC 3463 (enhanced status codes).
import { says } from './sayings.js';

export type BounceKind = 'hard' | 'soft' | 'policy' | 'other';

export type Answer =
  | { readonly kind: 'accepted' }
  | { readonly kind: 'deferred' }
  | { readonly kind: 'bounced'; readonly bounce: BounceKind };

/** The address is dead: bad mailbox, bad system, bad syntax, moved, null MX, disabled. */
const HARD = new Set(['5.1.1', '5.1.2', '5.1.3', '5.1.6', '5.1.10', '5.2.1']);

/** RFC 3463: the sender's address, the message's size, a loop, the message's form; none of them about the address. */
const ABOUT_THE_LETTER = /^5\.(1\.[78]|3\.4|4\.(6|14)|6\.\d+)$/;

/**
 * A refusal of the sender or of the message says nothing about the address, whatever code stands beside it: sender
 * verification, SPF, DKIM, DMARC, block lists, spam, size, relaying, being too busy, greylisting, the machine that sends.
 */
const ABOUT_US =
  /\b(spf|dkim|dmarc|dnsbl|rbl|spam\w*|junk|virus\w*|malware|phish\w*|blocked|mail from|from:? header|header from|gr[ea]ylist\w*|reputation|rate limit|throttl\w*|unsolicited|relay(?! recipient)\w*)\b|\b(block|black|deny|allow)[- ]?list\w*|(?<!\bto (?:the )?)\b(sender|envelope from|return[- ]path|from address)\b.{0,60}\b(verif\w+|reject\w*|denied|refused|invalid|unknown|not (exist|found|allowed))|\b(message|mail) (is )?(too (large|big)|size)|\bsize limit|\btoo (many|busy)\b|\b(ip|ip address|client|helo|ehlo|ptr|rdns|reverse|authenticat\w+)\b|\bcontent (reject\w*|filter\w*)|\bnot (allowed|permitted|authori[sz]ed) to send\b|\b(hop count|(mail|routing) loop)\b|\b(bad|invalid) (outbound )?sender\b/i;

/** A try that came to nothing, without a word about the address. */
const FOR_NOW = /\b(temporar(y|ily)|retry time(out)?|timed out|connection refused)\b/i;

/** An enhanced status code right behind its reply code, with no digit or dot around it: `550 5.1.1`, but not `203.5.1.1`. */
const CODED = /(?<![\d.])[245]\d\d[ \t-]+\(?#?([245]\.\d{1,3}\.\d{1,3})(?!\.?\d)/;
export const statusIn = (text: string): string | undefined => CODED.exec(text)?.[1];

/** `code`: the three-digit reply; `text`: the whole reply line. */
export function readAnswer(code: number, text: string): Answer {
  if (code >= 200 && code < 300) return { kind: 'accepted' };
  if (code >= 400 && code < 500) return { kind: 'deferred' };
  // The reply line may come with its code or without.
  return { kind: 'bounced', bounce: bounceOf(statusIn(text) ?? statusIn(`${code} ${text}`), text) };
}

/** Words without addresses, addresses of pages and, where asked, names of hosts: `spam.example.org` says nothing. */
function withoutNames(text: string, hosts: boolean): string {
  return text.replace(/[^\s<>"'(),;:[\]]+/g, (word) =>
    word.includes('@') ||
    word.startsWith('//') ||
    (hosts && /^[\w-]+(\.[\w-]+)*\.[a-z]{2,}\.?$/.test(word))
      ? ' '
      : word,
  );
}

/** What kind of bounce an enhanced status code (RFC 3463) means, or without one the words; a refusal that is about us is never one of the address. */
export function bounceOf(status: string | undefined, text: string): BounceKind {
  const words = withoutNames(text, false);
  if (ABOUT_US.test(withoutNames(text, true)) || says('sender', words)) return 'policy';
  // Full says itself in words under any code; an address with a mailbox is not dead.
  if (says('full', words) || FOR_NOW.test(words)) return 'soft';
  if (status && ABOUT_THE_LETTER.test(status)) return 'policy';
  if (status && HARD.has(status)) return 'hard';
  if (status && /^4\.|^\d\.2\.2$/.test(status)) return 'soft';
  // Many servers say under any code, or none, that nobody is there; a bare 5xx may as well be policy.
  if (says('dead', words) || (status === '5.4.1' && /recipient address rejected/i.test(words)))
    return 'hard';
  return status && /^5\.7\./.test(status) ? 'policy' : 'other';
}

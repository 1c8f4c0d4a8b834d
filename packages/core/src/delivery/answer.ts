// What a mail server's answer means. Sources: RFC 5321 (reply codes), RFC 3463 (enhanced status codes).

export type BounceKind = 'hard' | 'soft' | 'policy' | 'other';

export type Answer = { readonly kind: 'accepted' } | { readonly kind: 'deferred' } | { readonly kind: 'bounced'; readonly bounce: BounceKind };

/** The address is dead: bad mailbox, bad system, bad syntax, moved, null MX, disabled. */
const HARD = new Set(['5.1.1', '5.1.2', '5.1.3', '5.1.6', '5.1.10', '5.2.1']);
const DEAD_WORDS = /(user|mailbox|recipient|address)\b.{0,40}\b(unknown|not found|does(n't|n’t| not) exist|no longer|invalid)|no such (user|mailbox|person|recipient|address)|unknown (user|recipient|mailbox|address)/i;
const FULL_WORDS = /\b(mailbox|inbox|quota|storage)\b.{0,40}\b(full|exceeded|over)|over quota|out of storage/i;

/**
 * A refusal of the sender or of the message says nothing about the address, whatever code stands beside it: sender
 * verification, SPF, DKIM, DMARC, block lists, spam, size, relaying, being too busy, greylisting.
 */
const ABOUT_US =
  /\b(spf|dkim|dmarc|dnsbl|rbl|spam|junk|virus|malware|phish|gr[ea]ylist\w*|reputation|rate limit|throttl\w*|unsolicited|relay\w*)\b|\b(block|black|deny)[- ]?list\w*|\b(sender|envelope from|return[- ]path|from address)\b.{0,60}\b(verif\w+|reject\w*|denied|refused|invalid|unknown|not (exist|found|allowed))|\b(message|mail) (is )?(too (large|big)|size)|\bsize limit|\btoo (many|busy)\b|\bcontent (reject\w*|filter\w*)/i;

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

/** What kind of bounce an enhanced status code (RFC 3463) means, or without one the words; a refusal that is about us is never one of the address. */
export function bounceOf(status: string | undefined, text: string): BounceKind {
  const isAboutUs = ABOUT_US.test(text);
  if (status) {
    if (HARD.has(status)) return isAboutUs ? 'policy' : 'hard';
    if (/^5\.7\./.test(status)) return 'policy';
    return /^4\.|^\d\.2\.2$/.test(status) ? 'soft' : 'other';
  }
  // Without an enhanced code a 5xx may as well be policy: only plain words make an address dead.
  if (isAboutUs) return 'policy';
  if (FULL_WORDS.test(text)) return 'soft';
  return DEAD_WORDS.test(text) ? 'hard' : 'other';
}

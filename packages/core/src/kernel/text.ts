// The one door through which text from outside comes to steps that take time by its shape: Unicode's normal forms are made
// by sorting the marks behind each letter, and the labels of a domain by moving what was written, both in the square of
// their length. Elsewhere neither is called (eslint.config.mjs).

/** So many marks a letter may carry, more than any language writes: the limit of UAX #15, section 13 (stream-safe text). */
export const MOST_MARKS = 30;

/** Longer than any address of a page that browsers and mail programs pass on. */
const LONGEST_URL = 2048;

// The two half-width signs become marks in the compatibility forms.
const LONG_RUN = /([\p{M}\uff9e\uff9f]{30})[\p{M}\uff9e\uff9f]+/gu;
// Marks begin at U+0300.
const PLAIN = /^[\u0000-\u02ff]*$/; // eslint-disable-line no-control-regex -- a range of signs, not one of them

/** Whether some letter carries more marks than is taken. */
export const hasLongRun = (text: string): boolean =>
  !PLAIN.test(text) && /[\p{M}\uff9e\uff9f]{31}/u.test(text);

/** The normal form of a text, in time that grows with its length: marks past the thirtieth on one letter are dropped. */
export function normalized(text: string, form: 'NFC' | 'NFKC' | 'NFKD' = 'NFC'): string {
  const safe = PLAIN.test(text) ? text : text.replace(LONG_RUN, '$1');
  return safe.normalize(form);
}

/** The web address that a text is; undefined where it is none, or longer than any that works. */
export function urlOf(text: string, base?: string): URL | undefined {
  if (text.length > LONGEST_URL) return undefined;
  // `URL.canParse` of Node 20 denies good ones with signs beyond ASCII once it has been called often.
  try {
    return new URL(text, base);
  } catch {
    return undefined;
  }
}

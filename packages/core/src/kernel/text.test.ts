import fc from 'fast-check';
import { hasLongRun, MOST_MARKS, normalized, urlOf } from './text.js';

const grave = '\u0300';
const below = '\u0316';

describe('text from outside', () => {
  it.each([
    ['no marks', 'abc', false],
    ['as many marks as a letter may carry', `a${grave.repeat(MOST_MARKS)}`, false],
    ['one more', `a${grave.repeat(MOST_MARKS + 1)}`, true],
    ['many letters with a mark each', `a${grave}`.repeat(1000), false],
    ['half-width signs that become marks', `a${'\uff9e\u0300'.repeat(20)}`, true],
    ['marks beyond the basic plane', `a${'\u{1d165}'.repeat(31)}`, true],
  ])('is looked through for long runs: %s', (_, text, isLong) => {
    expect(hasLongRun(text)).toBe(isLong);
  });

  it('is in its normal form, whatever was not refused', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary' }),
        fc.constantFrom('NFC', 'NFKC', 'NFKD'),
        (text, form) => {
          fc.pre(!hasLongRun(text));
          expect(normalized(text, form as 'NFC')).toBe(text.normalize(form));
        },
      ),
    );
  });

  it('loses marks past the thirtieth', () => {
    expect(normalized(`a${below.repeat(50)}b`)).toBe(`a${below.repeat(30)}b`);
  });

  it('takes time that grows with its length', () => {
    const took = (marks: number): number => {
      const text = `a${(grave + below).repeat(marks)}`;
      const started = performance.now();
      for (const form of ['NFC', 'NFKC', 'NFKD'] as const) normalized(text, form);
      return performance.now() - started;
    };
    took(1000);
    // In the square of the length this would take minutes, where a straight way takes milliseconds.
    expect(took(500_000)).toBeLessThan(2000);
  });

  it('is a web address only where it is no longer than any that works', () => {
    expect(urlOf('https://example.org/a')?.hostname).toBe('example.org');
    expect(urlOf('nothing')).toBeUndefined();
    expect(urlOf(`https://${'語'.repeat(16_000)}.example`)).toBeUndefined();
  });
});

// A whole name in one cell becomes the two parts that are kept.
import { oneLine, searchKey, type PersonName } from '../contacts/index.js';

/** Small words that belong to the family name behind them. */
const particles = new Set(
  'al ap ben bin da dal de del della den der des di dos du el ibn la le lo mac mc san st ter ten van von vom zu zum zur y e'.split(
    ' ',
  ),
);
/** What stands behind a name and is none. */
const suffixes = new Set(['jr', 'jr.', 'sr', 'sr.', 'ii', 'iii', 'iv']);

/**
 * “Ona van der Meer” and “van der Meer, Ona” are both Ona; a single word is the given name, which letters greet by. With more
 * than two words the last one, and the small words before it, are the family name.
 */
export function splitName(text: string): PersonName {
  const name = oneLine(text);
  const comma = name.indexOf(',');
  if (comma > 0) {
    const [family, given] = [name.slice(0, comma).trim(), name.slice(comma + 1).trim()];
    // “Ona Brightwell, Jr.” has no given name behind its comma.
    if (given !== '' && !suffixes.has(given.toLowerCase())) return { given, family };
  }
  const words = name.split(' ').filter((word) => word !== '');
  if (words.length < 2) return { given: name, family: '' };
  let from = words.length - 1;
  if (suffixes.has((words[from] ?? '').toLowerCase()) && from > 1) from -= 1;
  while (from > 1 && particles.has(searchKey(words[from - 1] ?? ''))) from -= 1;
  return { given: words.slice(0, from).join(' '), family: words.slice(from).join(' ') };
}

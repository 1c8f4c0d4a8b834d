// Which signs the bytes of a file stand for. UTF-8 is known for sure; of the others the one under which words look like
// words, and somebody who knows the names can tell.

/** Every encoding of the WHATWG standard that files come in, the usual ones first. */
export const encodingNames = {
  'utf-8': 'UTF-8',
  'windows-1252': 'Windows-1252, western Europe',
  'utf-16le': 'UTF-16',
  'utf-16be': 'UTF-16, big-endian',
  'windows-1250': 'Windows-1250, central Europe',
  'windows-1251': 'Windows-1251, Cyrillic',
  'windows-1253': 'Windows-1253, Greek',
  'windows-1254': 'Windows-1254, Turkish',
  'windows-1255': 'Windows-1255, Hebrew',
  'windows-1256': 'Windows-1256, Arabic',
  'windows-1257': 'Windows-1257, Baltic',
  'windows-1258': 'Windows-1258, Vietnamese',
  'windows-874': 'Windows-874, Thai',
  'iso-8859-2': 'ISO 8859-2, central Europe',
  'iso-8859-5': 'ISO 8859-5, Cyrillic',
  'iso-8859-7': 'ISO 8859-7, Greek',
  'iso-8859-8': 'ISO 8859-8, Hebrew',
  'iso-8859-15': 'ISO 8859-15, western Europe',
  macintosh: 'Macintosh',
  'x-mac-cyrillic': 'Macintosh, Cyrillic',
  ibm866: 'IBM 866, Cyrillic',
  'koi8-r': 'KOI8-R, Russian',
  'koi8-u': 'KOI8-U, Ukrainian',
  gb18030: 'GB 18030, Chinese',
  big5: 'Big5, Chinese',
  shift_jis: 'Shift JIS, Japanese',
  'euc-jp': 'EUC-JP, Japanese',
  'iso-2022-jp': 'ISO 2022-JP, Japanese',
  'euc-kr': 'EUC-KR, Korean',
} as const;
export type Encoding = keyof typeof encodingNames;
export const encodings = Object.keys(encodingNames) as readonly Encoding[];

/** What is tried where a file is not UTF-8, the likeliest first: of two that read as well, the earlier. */
export const guessed: readonly Encoding[] = [
  'windows-1252',
  'windows-1250',
  'windows-1251',
  'windows-1253',
  'windows-1254',
  'macintosh',
  'koi8-r',
  'ibm866',
  'shift_jis',
  'gb18030',
  'euc-kr',
];

/** Neither blanks nor what parts cells, nor signs that nobody sees. */
const WORDS = /[^\s\p{Cc},;|"()<>/]+/gu;
// eslint-disable-next-line no-control-regex -- the ASCII range
const isOdd = (word: string): boolean => /[^\u0000-\u007f]/.test(word);

/** The first words with signs beyond ASCII, none twice: by them one sees whether a text is read rightly. */
export function oddWords(text: string, most: number): string[] {
  const found = new Set<string>();
  for (const [word] of text.matchAll(WORDS)) {
    if (isOdd(word) && word.length <= 40) found.add(word);
    if (found.size === most) break;
  }
  return [...found];
}

/** A word as somebody writes it: of one script, capital at most at its beginning, or wholly in capitals. */
const LIKELY =
  /^[’'„“”‚‘«»]?(?:\p{Script=Latin}[\p{Script=Latin}\p{M}’'-]*|[\p{Script=Cyrillic}’'-]+|[\p{Script=Greek}’'-]+|[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}ー々]+|\p{Script=Hangul}+|\p{Script=Hebrew}+|\p{Script=Arabic}+|\p{Script=Thai}+)[.!?:“”‘«»]*$/u;
// eslint-disable-next-line no-control-regex -- the ASCII range
const ODD_LETTERS = /(?![\u0000-\u007f])\p{L}/gu;
const INSIDE = /\p{Ll}\p{Lu}/u;
/** Letters beyond ASCII that names and words of western Europe have; a file that needs others is read rightly by few. */
const USUAL = /[àáâãäåæçèéêëìíîïñòóôõöøùúûüýÿœšžßÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØÙÚÛÜÝŒŠŽ’‘“”€–]/;

/** How much like words the odd words of a text are, from -1 to 1; 0 where there are none. */
export function likeliness(text: string): number {
  // A sign alone, such as that of a currency, says nothing.
  const words = oddWords(text, 400).filter((word) => /[\p{L}\ufffd]/u.test(word));
  if (words.length === 0) return 0;
  const sum = words.reduce((total, word) => {
    if (word.includes('\ufffd') || !LIKELY.test(word) || INSIDE.test(word)) return total - 1;
    if (!/\p{Script=Latin}/u.test(word)) return total + 1;
    // Few Latin words have more letters with marks than without.
    const odd = word.match(ODD_LETTERS)?.length ?? 0;
    if (odd > 1 && odd * 2 > word.length) return total - 1;
    return total + (USUAL.test(word) ? 1 : 0.9);
  }, 0);
  return sum / words.length;
}

// A set of keys, a bit for each: a hundred thousand people are 12 kB, and what several sets have in common is found in no time.

/** Keys are whole numbers from 0 on. Sets are never changed. */
export class KeySet {
  /** @param words Bit `key % 32` of word `floor(key / 32)` is set for each key; what is behind the last word is not in. */
  constructor(readonly words: Int32Array) {}

  static readonly empty = new KeySet(new Int32Array(0));

  static of(keys: Iterable<number>): KeySet {
    const all = [...keys];
    const last = all.reduce((most, key) => Math.max(most, key), -1);
    const words = new Int32Array(Math.ceil((last + 1) / 32));
    for (const key of all) words[key >>> 5] = word(words, key >>> 5) | (1 << key);
    return new KeySet(words);
  }

  get size(): number {
    let size = 0;
    for (let at = 0; at < this.words.length; at++) size += bitsOf(word(this.words, at));
    return size;
  }

  has(key: number): boolean {
    return ((word(this.words, key >>> 5) >>> key) & 1) === 1;
  }

  and(other: KeySet): KeySet {
    const words = this.words.slice(0, other.words.length);
    for (let at = 0; at < words.length; at++) words[at] = word(words, at) & word(other.words, at);
    return new KeySet(words);
  }

  without(other: KeySet): KeySet {
    const words = this.words.slice();
    for (let at = Math.min(words.length, other.words.length); at-- > 0;)
      words[at] = word(words, at) & ~word(other.words, at);
    return new KeySet(words);
  }

  or(other: KeySet): KeySet {
    if (this.words.length < other.words.length) return other.or(this);
    const words = this.words.slice();
    for (let at = other.words.length; at-- > 0;)
      words[at] = word(words, at) | word(other.words, at);
    return new KeySet(words);
  }

  /** In ascending order. */
  *[Symbol.iterator](): Generator<number> {
    for (let at = 0; at < this.words.length; at++)
      for (let left = word(this.words, at); left !== 0; left &= left - 1)
        yield at * 32 + 31 - Math.clz32(left & -left);
  }
}

const word = (words: Int32Array, at: number): number => words[at] ?? 0;

/** How many bits of a word are set: added up in pairs, in fours, in bytes. */
function bitsOf(bits: number): number {
  const pairs = bits - ((bits >>> 1) & 0x55555555);
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return Math.imul((fours + (fours >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

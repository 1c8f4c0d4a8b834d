// Passwords that are tried first: common words with a number behind them, rows of keys, counting, repetition.
import { normalized } from '../kernel/index.js';

const WORDS = new Set(
  `password passwort contrasena motdepasse senha parola wachtwoord salasana haslo admin administrator root guest test tester testing
  welcome willkommen bienvenue bemvindo hello hallo letmein openup opensesame changeme change default temporary temppass secret
  topsecret private login signin access master superuser user username office company newsletter marketing coordinator manager
  iloveyou loveyou lovely sunshine princess princesa prinzessin dragon monkey football fussball soccer baseball basketball hockey
  superman batman starwars pokemon charlie michael jessica ashley daniel thomas jordan jennifer andrew matthew joshua nicole
  summer winter spring autumn sommer fruehling herbst january february march april june july august september october november
  december monday friday sunday shadow ninja mustang ferrari porsche mercedes harley freedom whatever trustno nothing internet
  computer samsung google apple flower flowers garden kitten tigger cookie chocolate cheese pepper ginger buster maggie bailey
  killer hunter ranger cowboy blink rockyou hottie angel angels forever family friends friendship jesus christ jesuschrist blessed
  palabra quillwater`.split(/\s+/),
);

const ROWS = [
  'qwertyuiop',
  'asdfghjkl',
  'zxcvbnm',
  'qwertzuiop',
  'azertyuiop',
  '1234567890',
  'abcdefghijklmnopqrstuvwxyz',
  '1q2w3e4r5t6y7u8i9o0p',
  '1qaz2wsx3edc4rfv5tgb6yhn7ujm',
  'qazwsxedcrfvtgbyhnujm',
];
/** Signs people put for letters. */
const LEET: Record<string, string> = {
  '0': 'o',
  '1': 'i',
  '3': 'e',
  '4': 'a',
  '5': 's',
  '7': 't',
  '@': 'a',
  $: 's',
  '!': 'i',
};

const isRepeated = (text: string): boolean => /^(.{1,5}?)\1+.?.?.?$/su.test(text);

/** Made of runs of at least four along a row of keys or the alphabet, forwards or backwards. */
function isRow(text: string): boolean {
  const rows = ROWS.flatMap((row) => [
    row + row,
    [...row].reverse().join('') + [...row].reverse().join(''),
  ]);
  let at = 0;
  while (at < text.length) {
    let longest = 0;
    for (let end = text.length; end >= at + 4 && longest === 0; end--)
      if (rows.some((row) => row.includes(text.slice(at, end)))) longest = end - at;
    if (longest === 0) return text.length - at <= 2 && at > 0;
    at += longest;
  }
  return true;
}

export function isCommonPassword(password: string): boolean {
  const text = normalized(password.slice(0, 200), 'NFKC').toLowerCase().trim();
  if (isRepeated(text) || isRow(text)) return true;
  const letters = [...text.matchAll(/[a-z]/gu)];
  const core = text.slice(
    letters.at(0)?.index ?? text.length,
    (letters.at(-1)?.index ?? text.length) + 1,
  );
  const plain = (word: string): string =>
    word.replace(/[013457@$!]/g, (sign) => LEET[sign] ?? sign).replace(/[\W_]+/gu, '');
  const isWord = (word: string): boolean =>
    WORDS.has(word) ||
    (word.length >= 6 &&
      word.length % 2 === 0 &&
      word.slice(0, word.length / 2) === word.slice(word.length / 2) &&
      WORDS.has(word.slice(0, word.length / 2)));
  if (core === '') return /^\d{6,}\W*$/.test(text) && new Set(text).size <= 4;
  return (
    isWord(core) ||
    isWord(plain(core)) ||
    isWord(plain(text)) ||
    isWord(plain(text).replace(/[a-z]?$/, ''))
  );
}

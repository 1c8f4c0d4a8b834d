import fc from 'fast-check';
import { paragraph } from '../letters/index.js';
import { dueness, NOTE_LIMITS, parseDue, parseNote, parseTaskText, plainText } from './index.js';

const doc = (...content: unknown[]): unknown => ({ type: 'doc', content });

it('keeps marks, lists and links of a note, and its words', () => {
  const text = doc(
    { type: 'paragraph', content: [{ type: 'text', text: 'Wants ', marks: [{ type: 'bold' }] }] },
    {
      type: 'bulletList',
      content: [
        { type: 'listItem', content: [paragraph('the grafting day')] },
        { type: 'listItem', content: [paragraph('two places')] },
      ],
    },
  );
  const read = parseNote(text);
  expect(read).toEqual({ ok: true, value: text });
  expect(read.ok && plainText(read.value.content)).toBe('Wants \nthe grafting day\ntwo places');
});

it.each<[string, unknown, RegExp]>([
  ['nothing', doc(), /Write something/],
  ['blanks', doc(paragraph('  '), paragraph('\t')), /Write something/],
  [
    'a megabyte',
    doc(paragraph('x'.repeat(20_000)), ...Array(50).fill(paragraph('x'.repeat(19_000)))),
    /at most 20,000/,
  ],
  ['one sign too many', doc(paragraph('x'.repeat(NOTE_LIMITS.note))), /20,001/],
  [
    'a personal field',
    doc(paragraph('Dear ', { field: 'given_name', fallback: '' })),
    /personal fields/,
  ],
  [
    'a script as a link',
    doc({
      type: 'paragraph',
      content: [
        {
          type: 'text',
          text: 'x',
          marks: [{ type: 'link', attrs: { href: 'javascript:alert(1)' } }],
        },
      ],
    }),
    /must begin with/,
  ],
  ['a picture', doc({ type: 'image' }), /can't be used/],
  ['a text', 'hello', /broken/],
  ['nothing at all', undefined, /broken/],
])('refuses %s', (_, raw, why) => {
  const read = parseNote(raw);
  expect(read.ok ? '' : read.error).toMatch(why);
});

it('never throws for what it is given', () => {
  fc.assert(fc.property(fc.anything(), (raw) => typeof parseNote(raw).ok === 'boolean'));
});

it.each([
  ['  call\n back ', 'call back'],
  ['', ''],
])('reads what is to be done: %j', (raw, text) => {
  expect(parseTaskText(raw)).toEqual({ ok: true, value: text });
});
it.each([[5], [null], ['x'.repeat(501)]])('refuses it: %j', (raw) => {
  expect(parseTaskText(raw).ok).toBe(false);
});

it.each([
  [null, true],
  ['2026-03-02', true],
  ['2026-02-30', false],
  ['0026-03-02', false],
  ['tomorrow', false],
  [3, false],
  [undefined, false],
])('a day it is due: %j', (raw, isOne) => {
  expect(parseDue(raw).ok).toBe(isOne);
});

it('says how a task stands to today', () => {
  expect(
    ['2026-03-09', '2026-03-10', '2026-03-11', null].map((due) => dueness(due, '2026-03-10')),
  ).toEqual(['overdue', 'today', 'later', 'none']);
});

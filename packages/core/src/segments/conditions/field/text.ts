// Ways of asking a text. Case and accents don't count.
import { normalized } from '../../../kernel/index.js';
import { atHome, phoneDigits, shownAddressKey, type Field } from '../../../contacts/index.js';
import { join, type Fragment } from '../../fragment.js';
import { comparable, isEmpty, isFilled, way, type Asked } from './way.js';

/** `%`, `_` and the escape itself stand for themselves in a LIKE pattern. */
const literally = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

/** One way in which a text is written: where it stands, and what is looked for there. */
interface Form {
  readonly column: Fragment;
  /** The same of one person: of the key, and of the text as given. */
  readonly own: (key: string, given: string) => string;
  readonly sought: string;
}

const isPhone = ({ type }: Pick<Field, 'type'>): boolean => type === 'phone' || type === 'phones';

/** A part of a number is no number: its digits are looked for as it is written, and as it is dialled from abroad and at home. */
function phoneForms({ column, field }: Asked, text: string): readonly Form[] {
  const sought = phoneDigits(text);
  const { dialling } = field;
  const forms: Form[] = [
    { column: [column], own: (key) => key, sought },
    {
      column: [
        { ref: { of: 'phone digits', field: field.type === 'phone' ? 'phone' : 'more_phones' } },
      ],
      own: (_, given) => phoneDigits(given),
      sought,
    },
  ];
  if (!dialling) return forms;
  return [
    ...forms,
    {
      column: [
        "substr(regexp_replace(' ' || ",
        column,
        ', ',
        { param: ` ${dialling.code}`, type: 'text' },
        ', ',
        { param: ` ${dialling.trunk}`, type: 'text' },
        ", 'g'), 2)",
      ],
      own: (key) => atHome(key, dialling),
      sought,
    },
  ];
}

/** In which ways a text that holds another one is looked at: an address with its domain as A-labels, and as it is shown. */
function formsOf(asked: Asked, text: string): readonly Form[] {
  const { column, field } = asked;
  if (isPhone(field)) return phoneForms(asked, text);
  const plain: Form = {
    column: [column],
    own: (key) => key,
    sought: comparable(field, text),
  };
  if (field.type === 'addresses') return [{ ...plain, sought: shownAddressKey(text) }];
  if (field.key !== 'address') return [plain];
  return [
    { ...plain, sought: normalized(text.trim()).toLowerCase() },
    {
      column: [{ ref: { of: 'shown address' } }],
      own: (_, given) => shownAddressKey(given),
      sought: shownAddressKey(text),
    },
  ];
}

const like = (asked: Asked, text: string, [before, after]: [string, string]): Fragment =>
  join(
    formsOf(asked, text).map(({ column, sought }): Fragment => [
      'coalesce(',
      ...column,
      ' like ',
      { param: `${before}${literally(sought)}${after}`, type: 'text' },
      ', false)',
    ]),
    ' or ',
  );

/** In texts that may be long, in less time than a pattern takes; an address has an index that knows patterns. */
const holding = (asked: Asked, text: string): Fragment =>
  asked.field.key === 'address'
    ? like(asked, text, ['%', '%'])
    : join(
        formsOf(asked, text).map(({ column, sought }): Fragment => [
          'coalesce(strpos(',
          ...column,
          ', ',
          { param: sought, type: 'text' },
          ') > 0, false)',
        ]),
        ' or ',
      );

/** Whether one of the ways in which somebody's text is written is so. */
const isSo = (
  actual: unknown,
  text: string,
  asked: Asked,
  is: (own: string, sought: string) => boolean,
): boolean =>
  formsOf(asked, text).some(({ own, sought }) =>
    is(own(String(actual), asked.given ?? String(actual)), sought),
  );

/** Whether there is anything to look for: of a number there are its digits. */
const says = (text: string, field: Field): boolean =>
  (isPhone(field) ? phoneDigits(text) : comparable(field, text)) !== '';

/** A few of them, and how many more. */
const listed = (texts: readonly string[]): string =>
  texts.length > 6
    ? `${texts.slice(0, 4).join(' or ')} or one of ${(texts.length - 4).toLocaleString('en')} more`
    : texts.join(' or ');

const isThere = (text: string, field: Field): boolean => comparable(field, text) !== '';
const areThere = (texts: readonly string[], field: Field): boolean =>
  keysOf(field, texts).length > 0;

const keysOf = (field: Field, texts: readonly string[]): string[] =>
  texts.map((text) => comparable(field, text)).filter((text) => text !== '');

/** A list is made a table of, which is looked up in once; a long one would be gone through for everybody. */
const among = ({ column, field }: Asked, texts: readonly string[]): Fragment => [
  column,
  ' in (select unnest(',
  { param: keysOf(field, texts), type: 'text[]' },
  '))',
];

export const textWays = {
  is: way({
    operand: 'text',
    compile: ({ column, field }, text) =>
      field.key === 'address'
        ? [column, ' = ', { param: comparable(field, text), type: 'text' }]
        : [
            { ref: { of: 'keys' } },
            ' @> ',
            { param: JSON.stringify({ [field.key]: comparable(field, text) }), type: 'jsonb' },
          ],
    holds: (actual, text, { field }) => actual === comparable(field, text),
    says: isThere,
    words: (text) => `is ${text}`,
  }),
  'is not': way({
    operand: 'text',
    empty: true,
    compile: ({ column, field }, text) => [
      column,
      ' <> ',
      { param: comparable(field, text), type: 'text' },
    ],
    holds: (actual, text, { field }) => actual !== comparable(field, text),
    says: isThere,
    words: (text) => `is not ${text}`,
  }),
  'is one of': way({
    operand: 'texts',
    compile: among,
    holds: (actual, texts, { field }) => keysOf(field, texts).includes(String(actual)),
    says: areThere,
    words: (texts) => `is ${listed(texts)}`,
  }),
  'is none of': way({
    operand: 'texts',
    empty: true,
    compile: (asked, texts) => ['not (', ...among(asked, texts), ')'],
    holds: (actual, texts, { field }) => !keysOf(field, texts).includes(String(actual)),
    says: areThere,
    words: (texts) => `is not ${listed(texts)}`,
  }),
  contains: way({
    operand: 'text',
    compile: holding,
    holds: (actual, text, asked) =>
      isSo(actual, text, asked, (own, sought) => own.includes(sought)),
    says,
    words: (text) => `contains ${text}`,
  }),
  'does not contain': way({
    operand: 'text',
    empty: true,
    compile: (asked, text) => ['not (', ...holding(asked, text), ')'],
    holds: (actual, text, asked) =>
      !isSo(actual, text, asked, (own, sought) => own.includes(sought)),
    says,
    words: (text) => `does not contain ${text}`,
  }),
  'starts with': way({
    operand: 'text',
    compile: (asked, text) => like(asked, text, ['', '%']),
    holds: (actual, text, asked) =>
      isSo(actual, text, asked, (own, sought) => own.startsWith(sought)),
    says,
    words: (text) => `starts with ${text}`,
  }),
  'ends with': way({
    operand: 'text',
    compile: (asked, text) => like(asked, text, ['%', '']),
    holds: (actual, text, asked) =>
      isSo(actual, text, asked, (own, sought) => own.endsWith(sought)),
    says,
    words: (text) => `ends with ${text}`,
  }),
  between: way({
    operand: 'bounds',
    compile: ({ column, field }, [from, to]) => {
      const numbered = numbers(field, from, to);
      if (numbered) {
        const number: Fragment = [
          'substring(',
          column,
          ' from ',
          { param: `^${numbered.letters}([0-9]{1,18})`, type: 'text' },
          ')::bigint',
        ];
        return [
          'coalesce(',
          ...number,
          ' between ',
          { param: numbered.from, type: 'int' },
          ' and ',
          { param: numbered.to, type: 'int' },
          ', false)',
        ];
      }
      const last = comparable(field, to ?? '');
      return [
        column,
        ' collate "C" >= ',
        { param: comparable(field, from ?? ''), type: 'text' },
        ' and left(',
        column,
        ', ',
        { param: [...last].length, type: 'int' },
        ') collate "C" <= ',
        { param: last, type: 'text' },
      ];
    },
    holds: (actual, [from, to], { field }) => {
      const numbered = numbers(field, from, to);
      if (numbered) {
        const { letters, from: least, to: most } = numbered;
        const text = String(actual);
        const [digits] = /^\d{1,18}/.exec(text.slice(letters.length)) ?? [];
        return (
          text.startsWith(letters) &&
          digits !== undefined &&
          Number(digits) >= least &&
          Number(digits) <= most
        );
      }
      const [own, last] = [[...String(actual)], [...comparable(field, to ?? '')]];
      return (
        inOrder([...comparable(field, from ?? '')], own) && inOrder(own.slice(0, last.length), last)
      );
    },
    says: (bounds, field) =>
      bounds.every((text) => text !== null && comparable(field, text) !== ''),
    words: ([from, to]) => `is from ${from ?? '…'} to ${to ?? '…'}`,
  }),
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;

/**
 * Bounds of the same letters and a number each, such as the postcodes QW1 to QW4: they are compared by the number, so that
 * QW10 is not among them. Undefined of any others, which are compared sign by sign.
 */
function numbers(
  field: Field,
  from: string | null | undefined,
  to: string | null | undefined,
): { readonly letters: string; readonly from: number; readonly to: number } | undefined {
  const parts = (text: string | null | undefined): RegExpExecArray | null =>
    /^([a-z]{1,8})(\d{1,8})$/.exec(comparable(field, text ?? ''));
  const [one, other] = [parts(from), parts(to)];
  return one?.[1] !== undefined && one[1] === other?.[1]
    ? { letters: one[1], from: Number(one[2]), to: Number(other[2]) }
    : undefined;
}

/** Whether one text comes before another, or is it, sign by sign, as the database compares. */
function inOrder(one: readonly string[], other: readonly string[]): boolean {
  for (const [at, sign] of one.entries()) {
    const against = other[at];
    if (against === undefined) return false;
    if (sign !== against) return (sign.codePointAt(0) ?? 0) < (against.codePointAt(0) ?? 0);
  }
  return true;
}

/** Several lines are not compared as one. */
export const linesWays = {
  contains: textWays.contains,
  'does not contain': textWays['does not contain'],
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;

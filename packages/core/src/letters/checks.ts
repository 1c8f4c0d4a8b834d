// What a letter must have before it may go, one small check each. A check that does not pass names its place.
import { fieldsOf, lacksOf, saysSomething, withChildren, type Block } from './blocks/index.js';
import type { LetterContent } from './content.js';
import { lineFields, lineText } from './text.js';

export type CheckLevel = 'stop' | 'caution' | 'passed';

export interface Place {
  /** Which part of the sheet or letter to go to. */
  readonly at: 'subject' | 'preview' | 'letter' | 'who' | 'from' | 'when' | 'settings';
  readonly block?: string;
}

export interface CheckResult {
  readonly check: string;
  readonly level: CheckLevel;
  readonly text: string;
  readonly place?: Place;
}

export interface LetterSituation {
  readonly content: LetterContent;
  readonly officeName: string;
  readonly postalAddress: string;
  /** Keys of the fields that exist. */
  readonly fields: readonly string[];
}

type LetterCheck = (situation: LetterSituation) => CheckResult[];

export const PREVIEW = { least: 40, most: 140 } as const;

const passed = (check: string): CheckResult[] => [{ check, level: 'passed', text: check }];

const subject: LetterCheck = ({ content }) =>
  lineText(content.subject).trim() === ''
    ? [
        {
          check: 'subject',
          level: 'stop',
          text: 'There is no subject line.',
          place: { at: 'subject' },
        },
      ]
    : passed('subject');

const preview: LetterCheck = ({ content }) => {
  const length = [...lineText(content.preview)].length;
  const place = { at: 'preview' } as const;
  if (length === 0)
    return [
      {
        check: 'preview line',
        level: 'caution',
        text: 'There is no preview line; the inbox will show the first words of the letter.',
        place,
      },
    ];
  if (length < PREVIEW.least)
    return [
      {
        check: 'preview line',
        level: 'caution',
        text: `The preview line is short: ${length} signs, ${PREVIEW.least} to ${PREVIEW.most} work.`,
        place,
      },
    ];
  if (length > PREVIEW.most)
    return [
      {
        check: 'preview line',
        level: 'caution',
        text: `The preview line is long: ${length} signs, ${PREVIEW.least} to ${PREVIEW.most} work.`,
        place,
      },
    ];
  return passed('preview line');
};

const letterPlace = (block: Block): Place => ({ at: 'letter', block: block.id });

const emptyLinks: LetterCheck = ({ content }) => {
  const found = withChildren(content.blocks).flatMap((block) =>
    lacksOf(block).flatMap((lack): CheckResult[] =>
      lack.lacks === 'target'
        ? [
            {
              check: 'links',
              level: 'stop',
              text: `${lack.what} leads nowhere.`,
              place: letterPlace(block),
            },
          ]
        : [],
    ),
  );
  return found.length > 0 ? found : passed('links');
};

const pictures: LetterCheck = ({ content }) => {
  const found = withChildren(content.blocks).flatMap((block) =>
    lacksOf(block).flatMap((lack): CheckResult[] => {
      const place = letterPlace(block);
      if (lack.lacks === 'picture')
        return [
          { check: 'pictures', level: 'stop', text: 'A picture block has no picture yet.', place },
        ];
      return lack.lacks === 'alt text'
        ? [
            {
              check: 'alt texts',
              level: 'caution',
              text: 'A picture has no alt text; many readers see only that.',
              place,
            },
          ]
        : [];
    }),
  );
  return found.length > 0 ? found : passed('alt texts');
};

const somethingToRead: LetterCheck = ({ content }) =>
  withChildren(content.blocks).some(saysSomething)
    ? passed('content')
    : [
        {
          check: 'content',
          level: 'stop',
          text: 'The letter has nothing to read yet.',
          place: { at: 'letter' },
        },
      ];

const wayOut: LetterCheck = ({ content }) =>
  content.blocks.at(-1)?.kind === 'footer'
    ? passed('way out')
    : [
        {
          check: 'way out',
          level: 'stop',
          text: 'The letter has no footer with a way out.',
          place: { at: 'letter' },
        },
      ];

const postalAddress: LetterCheck = ({ postalAddress: address }) =>
  address.trim() === ''
    ? [
        {
          check: 'postal address',
          level: 'stop',
          text: 'The office has no postal address; the footer needs one.',
          place: { at: 'settings' },
        },
      ]
    : passed('postal address');

const fieldsExist: LetterCheck = ({ content, fields }) => {
  const known = new Set(fields);
  const used = [
    ...lineFields(content.subject),
    ...lineFields(content.preview),
    ...withChildren(content.blocks).flatMap(fieldsOf),
  ];
  const gone = used.filter((field) => !known.has(field));
  return gone.length > 0
    ? [
        {
          check: 'personal fields',
          level: 'stop',
          text: 'A personal field in the letter no longer exists. Take it out.',
          place: { at: 'letter' },
        },
      ]
    : passed('personal fields');
};

const letterChecks: readonly LetterCheck[] = [
  subject,
  preview,
  somethingToRead,
  emptyLinks,
  pictures,
  wayOut,
  postalAddress,
  fieldsExist,
];

export const checkLetter = (situation: LetterSituation): CheckResult[] =>
  letterChecks.flatMap((check) => check(situation));

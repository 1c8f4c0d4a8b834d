// What a letter must have before it may go, one small check each. A check that does not pass names its place.
import {
  isSafeHref,
  lineText,
  type Block,
  type LetterContent,
  type RichText,
  type TextNode,
} from './content.js';

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

function textLinks(
  nodes: readonly TextNode[],
): { readonly href: string; readonly words: string }[] {
  return nodes.flatMap((node) =>
    node.type === 'paragraph'
      ? (node.content ?? []).flatMap((inline) =>
          inline.type === 'text'
            ? (inline.marks ?? []).flatMap((mark) =>
                mark.type === 'link' ? [{ href: mark.attrs.href, words: inline.text }] : [],
              )
            : [],
        )
      : node.content.flatMap((item) => textLinks(item.content)),
  );
}

const emptyLinks: LetterCheck = ({ content }) => {
  const found = content.blocks.flatMap((block): CheckResult[] => {
    const nowhere = (what: string): CheckResult => ({
      check: 'links',
      level: 'stop',
      text: `${what} leads nowhere.`,
      place: letterPlace(block),
    });
    switch (block.kind) {
      case 'button':
        return isSafeHref(block.href)
          ? []
          : [nowhere(lineText(block.label) === '' ? 'A button' : `“${lineText(block.label)}”`)];
      case 'text':
        return textLinks(block.text.content)
          .filter(({ href }) => !isSafeHref(href))
          .map(({ words }) => nowhere(`“${words}”`));
      default:
        return [];
    }
  });
  return found.length > 0 ? found : passed('links');
};

const altTexts: LetterCheck = ({ content }) => {
  const found = content.blocks.flatMap((block): CheckResult[] => {
    if (block.kind !== 'picture') return [];
    if (block.file === '')
      return [
        {
          check: 'pictures',
          level: 'stop',
          text: 'A picture block has no picture yet.',
          place: letterPlace(block),
        },
      ];
    return block.alt.trim() === ''
      ? [
          {
            check: 'alt texts',
            level: 'caution',
            text: 'A picture has no alt text; many readers see only that.',
            place: letterPlace(block),
          },
        ]
      : [];
  });
  return found.length > 0 ? found : passed('alt texts');
};

const isEmptyText = (text: RichText): boolean =>
  text.content.every(
    (node) =>
      node.type === 'paragraph' &&
      (node.content ?? []).every((inline) => inline.type === 'text' && inline.text.trim() === ''),
  );

const somethingToRead: LetterCheck = ({ content }) =>
  content.blocks.some(
    (block) =>
      (block.kind === 'text' && !isEmptyText(block.text)) ||
      (block.kind === 'heading' && lineText(block.text) !== '') ||
      (block.kind === 'picture' && block.file !== ''),
  )
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
  const lines = [
    content.subject,
    content.preview,
    ...content.blocks.flatMap((block) =>
      block.kind === 'heading' ? [block.text] : block.kind === 'button' ? [block.label] : [],
    ),
  ];
  const inLines = lines.flat().flatMap((part) => (typeof part === 'string' ? [] : [part.field]));
  const inTexts = content.blocks.flatMap((block) =>
    block.kind === 'text' ? textFields(block.text.content) : [],
  );
  const gone = [...inLines, ...inTexts].filter((field) => !known.has(field));
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

const textFields = (nodes: readonly TextNode[]): string[] =>
  nodes.flatMap((node) =>
    node.type === 'paragraph'
      ? (node.content ?? []).flatMap((inline) =>
          inline.type === 'personalField' ? [inline.attrs.field] : [],
        )
      : node.content.flatMap((item) => textFields(item.content)),
  );

const letterChecks: readonly LetterCheck[] = [
  subject,
  preview,
  somethingToRead,
  emptyLinks,
  altTexts,
  wayOut,
  postalAddress,
  fieldsExist,
];

export const checkLetter = (situation: LetterSituation): CheckResult[] =>
  letterChecks.flatMap((check) => check(situation));

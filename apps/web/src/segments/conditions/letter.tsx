// What became of letters: what is asked, of which letters, and in how many of them.
import { TextInput } from '@mantine/core';
import {
  letterScopes,
  LETTERS_LAST,
  lettersWhose,
  mayCountMachines,
  type HowMany,
  type LetterCondition,
  type LetterDeed,
  type LettersOf,
  type LettersWhose,
} from '@palabra/core/segments';
import type { ComponentProps } from 'react';
import { Pick } from '../../ui/Pick';
import { useCampaignLinksQuery } from '../segments.api';
import { SpanAnswer } from './answers';
import { Campaigns } from './Campaigns';
import type { EditorContext, EditorOf } from './kind';
import { Whole } from './Whole';

type Props = ComponentProps<EditorOf<LetterCondition>['Operand']>;

/** What is asked, in one word each; “not” is none of the letters, whether they were sent or not. */
const asked = [
  { value: 'sent', label: 'was sent', did: 'sent' },
  { value: 'not sent', label: 'was not sent', did: 'sent', isNot: true },
  { value: 'delivered', label: 'got', did: 'delivered' },
  { value: 'got, not opened', label: 'got and did not open', did: 'not opened' },
  { value: 'opened', label: 'opened', did: 'opened' },
  { value: 'not opened', label: 'did not open, sent or not', did: 'opened', isNot: true },
  { value: 'clicked', label: 'clicked in', did: 'clicked' },
  { value: 'not clicked', label: 'did not click in, sent or not', did: 'clicked', isNot: true },
  { value: 'bounced', label: 'had come back', did: 'bounced' },
  { value: 'replied', label: 'replied to', did: 'replied' },
  { value: 'left', label: 'left by', did: 'left' },
] as const satisfies readonly {
  readonly value: string;
  readonly label: string;
  readonly did: LetterDeed;
  readonly isNot?: true;
}[];
type Asked = (typeof asked)[number];
const isNegative = (one: Asked): boolean => 'isNot' in one;

const askedOf = ({ did, many }: LetterCondition): Asked =>
  asked.find((one) => one.did === did && isNegative(one) === (many === 'none')) ??
  asked.find((one) => one.did === did) ??
  asked[0];

const scopeWords: { readonly [S in LettersOf['in']]: string } = {
  these: 'these campaigns',
  last: 'the last letters',
  lately: 'letters of the last',
  since: 'letters since',
  ever: 'any letter ever',
};
const begun = (scope: LettersOf['in'], { campaigns }: EditorContext): LettersOf => {
  switch (scope) {
    case 'these':
      return { in: scope, campaigns: [] };
    case 'last':
      return { in: scope, count: 3, whose: 'of the office' };
    case 'lately':
      return { in: scope, within: { count: 30, unit: 'days' } };
    case 'since':
      return { in: scope, ...(campaigns[0] ? { campaign: campaigns[0].id } : {}) };
    case 'ever':
      return { in: scope };
  }
};

const manyWords = (many: HowMany): string =>
  typeof many === 'string' ? many : 'atLeast' in many ? 'at least' : 'at most';
const manyOf = (words: string): HowMany =>
  words === 'any' || words === 'all' || words === 'none'
    ? words
    : words === 'at least'
      ? { atLeast: 2 }
      : { atMost: 2 };

/** Of other letters the number of a link means nothing. */
function withLetters(condition: LetterCondition, letters: LettersOf): LetterCondition {
  const { link, ...rest } = condition;
  return { ...rest, letters, ...(link && 'contains' in link ? { link } : {}) };
}

function Operand({ condition, context, disabled, onChange }: Props) {
  const { letters, many, did } = condition;
  const { link: _, machines: counted, ...base } = condition;
  const now = askedOf(condition);
  const ask = (value: Asked['value'] | null): void => {
    const next = asked.find((one) => one.value === value);
    if (!next) return;
    const isNot = isNegative(next);
    onChange({
      ...base,
      did: next.did,
      many: isNot ? 'none' : many === 'none' ? 'any' : many,
      ...(counted && mayCountMachines(next.did) ? { machines: counted } : {}),
    });
  };
  const isOne = letters.in === 'these' && letters.campaigns.length <= 1;
  return (
    <>
      <Pick
        label="What became of the letter"
        disabled={disabled}
        value={now.value}
        options={asked}
        onChange={ask}
      />
      {!isNegative(now) && !isOne && (
        <Pick
          label="In how many of them"
          disabled={disabled}
          value={manyWords(many)}
          options={['any', 'all', 'none', 'at least', 'at most'].map((value) => ({
            value,
            label: value === 'any' || value === 'all' || value === 'none' ? `${value} of` : value,
          }))}
          onChange={(words) => words && onChange({ ...condition, many: manyOf(words) })}
        />
      )}
      {typeof many !== 'string' && (
        <Whole
          label="How many letters"
          least={'atLeast' in many ? 1 : 0}
          most={1000}
          disabled={disabled}
          value={'atLeast' in many ? many.atLeast : many.atMost}
          onChange={(next) =>
            next !== undefined &&
            onChange({
              ...condition,
              many: 'atLeast' in many ? { atLeast: next } : { atMost: next },
            })
          }
        />
      )}
      <Pick
        label="Which letters"
        disabled={disabled}
        value={letters.in}
        options={letterScopes.map((value) => ({ value, label: scopeWords[value] }))}
        onChange={(scope) => scope && onChange(withLetters(condition, begun(scope, context)))}
      />
      <Letters
        value={letters}
        context={context}
        disabled={disabled}
        onChange={(next) => onChange(withLetters(condition, next))}
      />
      {did === 'clicked' && (
        <ClickedLink
          value={condition.link}
          campaign={letters.in === 'these' && isOne ? letters.campaigns[0] : undefined}
          disabled={disabled}
          onChange={(link) =>
            onChange({
              ...base,
              ...(counted ? { machines: counted } : {}),
              ...(link === undefined ? {} : { link }),
            })
          }
        />
      )}
      {mayCountMachines(did) && (
        <Pick
          label="Whose opens and clicks count"
          disabled={disabled}
          value={counted ? 'machines' : 'people'}
          options={[
            { value: 'people', label: 'by people' },
            { value: 'machines', label: 'by people or machines' },
          ]}
          onChange={(next) => {
            const { machines: __, ...rest } = condition;
            onChange(next === 'machines' ? { ...rest, machines: true } : rest);
          }}
        />
      )}
    </>
  );
}

/** Any link; one of the only campaign that is asked for; or those whose address contains a text. */
function ClickedLink({
  value,
  campaign,
  disabled,
  onChange,
}: {
  readonly value: LetterCondition['link'];
  readonly campaign: number | undefined;
  readonly disabled: boolean;
  readonly onChange: (value: LetterCondition['link']) => void;
}) {
  const { data: links = [] } = useCampaignLinksQuery(campaign ?? 0, {
    skip: campaign === undefined,
  });
  const kind = value === undefined ? 'any' : 'contains' in value ? 'contains' : value.number;
  return (
    <>
      <Pick<string>
        label="Which link"
        disabled={disabled}
        value={String(kind)}
        options={[
          { value: 'any', label: 'any link' },
          { value: 'contains', label: 'links whose address contains' },
          ...(campaign === undefined
            ? []
            : links.map((url, number) => ({ value: String(number), label: url }))),
        ]}
        onChange={(next) =>
          onChange(
            next === 'contains'
              ? { contains: '' }
              : next === null || next === 'any'
                ? undefined
                : { number: Number(next) },
          )
        }
      />
      {value && 'contains' in value && (
        <TextInput
          variant="line"
          aria-label="A part of the address of the link"
          placeholder="a part of its address"
          maxLength={200}
          w={200}
          disabled={disabled}
          value={value.contains}
          onChange={(event) => onChange({ contains: event.currentTarget.value })}
        />
      )}
    </>
  );
}

function Letters({
  value,
  context,
  disabled,
  onChange,
}: {
  readonly value: LettersOf;
  readonly context: EditorContext;
  readonly disabled: boolean;
  readonly onChange: (value: LettersOf) => void;
}) {
  switch (value.in) {
    case 'these':
      return (
        <Campaigns
          value={value.campaigns}
          context={context}
          disabled={disabled}
          onChange={(campaigns) => onChange({ ...value, campaigns })}
        />
      );
    case 'last':
      return (
        <>
          <Whole
            label="How many of the last letters"
            most={LETTERS_LAST}
            disabled={disabled}
            value={value.count}
            onChange={(count) => count !== undefined && onChange({ ...value, count })}
          />
          <Pick<LettersWhose>
            label="Whose last letters"
            disabled={disabled}
            value={value.whose}
            options={lettersWhose.map((whose) => ({ value: whose, label: whose }))}
            onChange={(whose) => whose && onChange({ ...value, whose })}
          />
        </>
      );
    case 'lately':
      return (
        <SpanAnswer
          value={value.within}
          disabled={disabled}
          onChange={(within) => within && onChange({ ...value, within })}
        />
      );
    case 'since':
      return (
        <Campaigns
          one
          value={value.campaign === undefined ? [] : [value.campaign]}
          context={context}
          disabled={disabled}
          onChange={([campaign]) =>
            onChange({ in: 'since', ...(campaign === undefined ? {} : { campaign }) })
          }
        />
      );
    case 'ever':
      return null;
  }
}

export const letter: EditorOf<LetterCondition> = {
  choices: ({ campaigns }) =>
    campaigns.length > 0 ? [{ value: 'letter', label: 'letter: sent, opened, clicked …' }] : [],
  chosen: () => 'letter',
  title: 'letter',
  begin: (choice, context) =>
    choice === 'letter'
      ? { kind: 'letter', did: 'opened', letters: begun('last', context), many: 'any' }
      : undefined,
  Operand,
};

// What the demo world knows of its people beside names and places: fields of its own, stages and sources, telephones.
import {
  builtInFields,
  diallingOf,
  joinKeys,
  searchKey,
  textKey,
  type Choice,
  type Field,
} from '@palabra/core/contacts';
import type pg from 'pg';
import type { Random } from './random.js';
import * as words from './words.js';

const DAY = 86_400_000;

const choicesOf = (labels: readonly string[]): Choice[] =>
  labels.map((label, at) => ({ key: `c${at + 1}`, label }));
const stages = choicesOf(words.stages);
const sources = choicesOf([...words.sources, 'garden fair']);
const memberships = choicesOf(words.memberships);
const likes = choicesOf(words.likes);
const keyOf = (choices: readonly Choice[], label: string): string =>
  choices.find((one) => one.label === label)?.key ?? '';
export const stageKey = (label: string): string => keyOf(stages, label);

/** Their keys; stage and source are there before them. */
export const ownKeys = {
  membership: 'own_3',
  until: 'own_4',
  likes: 'own_5',
  visits: 'own_6',
  since: 'own_7',
  given: 'own_9',
  notes: 'own_10',
} as const;
/** In the order of their keys. */
const own: readonly (Omit<Field, 'key'> & { readonly position: number })[] = [
  { label: 'membership', type: 'choice', choices: memberships, group: 'Membership', position: 1 },
  {
    label: 'membership until',
    type: 'date',
    group: 'Membership',
    help: 'The last day of the year that is paid for',
    position: 3,
  },
  { label: 'likes', type: 'choices', choices: likes, group: 'Garden', position: 5 },
  { label: 'visits last year', type: 'number', group: 'Garden', position: 6 },
  { label: 'member since', type: 'date', group: 'Membership', position: 2 },
  {
    label: 'years a member',
    type: 'computed',
    since: { day: ownKeys.since, unit: 'years' },
    group: 'Membership',
    position: 4,
  },
  { label: 'given so far', type: 'money', currency: 'GBP', position: 7 },
  {
    label: 'notes',
    type: 'long text',
    help: 'What a colleague should know before calling',
    position: 8,
  },
];

export async function addFields(client: pg.PoolClient, started: Date): Promise<void> {
  for (const [field, choices] of [
    ['stage', stages],
    ['source', sources],
  ] as const)
    await client.query('update own_fields set choices = $2, created_at = $3 where built_in = $1', [
      field,
      JSON.stringify(choices),
      started,
    ]);
  for (const { label, type, choices = [], group = '', help = '', currency, since, position } of own)
    await client.query(
      `insert into own_fields (label, label_key, type, choices, group_name, help, currency, since_day, since_unit, position, created_at)
        values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
      [
        label,
        searchKey(label),
        type,
        JSON.stringify(choices),
        group,
        help,
        currency ?? null,
        since?.day ?? null,
        since?.unit ?? null,
        position,
        started,
      ],
    );
}

/** What was drawn of somebody before the rest is. */
interface Drawn {
  readonly stage: string;
  readonly membership: string | undefined;
  readonly until: string | undefined;
  readonly likes: readonly string[];
  readonly visits: number | undefined;
  readonly createdAt: Date;
  readonly isFromFair: boolean;
}

export interface Known {
  readonly street: string | null;
  readonly stage: string;
  readonly source: string | null;
  readonly phone: string | null;
  readonly closeness: string | null;
  readonly externalNumber: string | null;
  readonly fields: Record<string, string | number>;
  readonly keys: Record<string, string>;
}

const phoneField = builtInFields({ owners: [], dialling: diallingOf(words.office.country) }).find(
  ({ key }) => key === 'phone',
);

/** Numbers that are kept for stories: nobody has them. */
const phoneOf = (random: Random): string => {
  const last = String(random.int(1000)).padStart(3, '0');
  return random.chance(0.6) ? `07700 900${last}` : `01632 960${last}`;
};

const lanes = [
  'Mill Lane',
  'Orchard Walk',
  'Weir Street',
  'Church Row',
  'Fernhill Rise',
  'Station Road',
  'The Green',
  'Tannery Yard',
];
/** Of most; the same for a number every time. */
const streetOf = (id: number): string | null =>
  id % 5 === 0 ? null : `${1 + ((id * 7) % 94)} ${lanes[(id * 13) % lanes.length] ?? ''}`;

export function known(id: number, drawn: Drawn, random: Random): Known {
  const phone = random.chance(0.55) ? phoneOf(random) : null;
  const isMember = drawn.membership !== undefined;
  const externalNumber = isMember ? `M-${String(10_000 + id)}` : null;
  const fields: Record<string, string | number> = {};
  if (drawn.membership) fields[ownKeys.membership] = keyOf(memberships, drawn.membership);
  if (drawn.until) fields[ownKeys.until] = drawn.until;
  if (drawn.likes.length > 0)
    fields[ownKeys.likes] = joinKeys(drawn.likes.map((one) => keyOf(likes, one)));
  if (drawn.visits !== undefined) fields[ownKeys.visits] = drawn.visits;
  if (isMember)
    fields[ownKeys.since] = new Date(drawn.createdAt.getTime() - random.int(3000) * DAY)
      .toISOString()
      .slice(0, 10);
  if (drawn.stage === 'donor')
    fields[ownKeys.given] = 10 * (1 + random.int(60)) + (random.chance(0.2) ? 0.5 : 0);
  const note = random.chance(0.02) ? random.pick(words.notes) : undefined;
  if (note) fields[ownKeys.notes] = note;
  const street = streetOf(id);
  return {
    stage: stageKey(drawn.stage),
    street,
    source: drawn.isFromFair
      ? keyOf(sources, 'garden fair')
      : keyOf(sources, random.pick(words.sources)),
    phone,
    closeness: random.chance(0.25) ? random.pick(['close', 'known', 'known', 'distant']) : null,
    externalNumber,
    fields,
    keys: {
      ...(street ? { street: searchKey(street) } : {}),
      ...(phone && phoneField ? { phone: textKey(phoneField, phone) } : {}),
      ...(externalNumber ? { external_number: searchKey(externalNumber) } : {}),
      ...(note ? { [ownKeys.notes]: searchKey(note) } : {}),
    },
  };
}

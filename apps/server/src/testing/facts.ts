// Facts that are kept by adding must be what the log of events says, reckoned anew in loops that share nothing with the
// statements.
import {
  latestFirst,
  reckonBounces,
  reckonLetter,
  reckonPerson,
  type EventRow,
  type LetterRow,
} from '@palabra/core/reckoning';
import { LETTERS_LAST } from '@palabra/core/segments';
import { sql } from 'drizzle-orm';
import { writeRecentLetters } from '../contacts/index.js';
import { recentLetters } from '../delivery/person-facts.store.js';
import { execute, type Db } from '../platform/database.js';

/** Everybody's last letters count as known: whatever becomes of one from here on has to say that they are not any more. */
export const countRecent = (db: Db): Promise<void> =>
  writeRecentLetters(db, recentLetters, 0, 2 ** 31 - 1);

type Row = Record<string, unknown>;
type Wrong = Record<string, unknown>;

const time = (value: unknown): number | null => (value instanceof Date ? value.getTime() : null);
const asText = (value: unknown): string | null =>
  Buffer.isBuffer(value) ? value.toString('hex') : null;

function grouped<T>(rows: readonly Row[], read: (row: Row) => T): Map<number, T[]> {
  const groups = new Map<number, T[]>();
  for (const row of rows) {
    const id = Number(row['contact_id']);
    const group = groups.get(id);
    if (group) group.push(read(row));
    else groups.set(id, [read(row)]);
  }
  return groups;
}

const letterOf = (row: Row): LetterRow & { readonly row: Row } => ({
  row,
  campaign: Number(row['campaign_id']),
  state: String(row['state']),
  bounce: row['bounce'] as string | null,
  to: asText(row['address_hash']) ?? '',
  triedAt: time(row['first_tried_at']),
  acceptedAt: time(row['accepted_at']),
});
const eventOf = (row: Row): EventRow => ({
  campaign: Number(row['campaign_id']),
  kind: String(row['kind']),
  at: time(row['at']) ?? NaN,
  machine: row['machine'] === true,
  link: row['link'] as number | null,
});

/** Each kept figure with what was reckoned; what is the same on both sides is left out. */
function different(what: string, id: unknown, pairs: Readonly<Record<string, [unknown, unknown]>>) {
  const wrong = Object.entries(pairs).filter(
    ([, [kept, reckoned]]) => JSON.stringify(kept) !== JSON.stringify(reckoned),
  );
  return wrong.length === 0 ? [] : [{ what, id, ...Object.fromEntries(wrong) } as Wrong];
}

const deliveryPairs = (row: Row, did: ReturnType<typeof reckonLetter>) =>
  ({
    opens: [row['opens'], did.opens],
    machineOpens: [row['machine_opens'], did.machineOpens],
    clicks: [row['clicks'], did.clicks],
    machineClicks: [row['machine_clicks'], did.machineClicks],
    firstOpened: [time(row['first_opened_at']), did.firstOpened],
    lastOpened: [time(row['last_opened_at']), did.lastOpened],
    firstClicked: [time(row['first_clicked_at']), did.firstClicked],
    lastClicked: [time(row['last_clicked_at']), did.lastClicked],
    links: [[...(row['links'] as number[])].sort((a, b) => a - b), did.links],
    machineLinks: [[...(row['machine_links'] as number[])].sort((a, b) => a - b), did.machineLinks],
    left: [time(row['left_at']), did.left],
    complained: [time(row['complained_at']), did.complained],
    replied: [time(row['replied_at']), did.replied],
  }) satisfies Record<string, [unknown, unknown]>;

const CLOSED = ['accepted', 'bounced', 'gave up'];

/** The last letters that nothing more becomes of, as a text of signs each, the latest first. */
function recentPairs(person: Row, letters: readonly LetterRow[], events: readonly EventRow[]) {
  const last = latestFirst(letters.filter(({ state }) => CLOSED.includes(state))).slice(
    0,
    LETTERS_LAST,
  );
  const kept = (bit: string): string =>
    BigInt(person[`recent_${bit}`] as number)
      .toString(2)
      .split('')
      .reverse()
      .join('')
      .padEnd(LETTERS_LAST, '0');
  const reckoned = (is: (letter: LetterRow) => boolean): string =>
    last
      .map((letter) => (is(letter) ? '1' : '0'))
      .join('')
      .padEnd(LETTERS_LAST, '0');
  const did = (letter: LetterRow) => reckonLetter(letter.campaign, events);
  return {
    letters: [kept('letters'), reckoned(() => true)],
    accepted: [kept('accepted'), reckoned(({ state }) => state === 'accepted')],
    opened: [kept('opened'), reckoned((letter) => did(letter).firstOpened !== null)],
    clicked: [kept('clicked'), reckoned((letter) => did(letter).firstClicked !== null)],
    bounced: [kept('bounced'), reckoned(({ state }) => state === 'bounced')],
  } satisfies Record<string, [unknown, unknown]>;
}

/** Deliveries and contacts whose facts are not what was reckoned; empty when all is well. */
export const wrongFacts = (db: Db): Promise<Wrong[]> =>
  // All of one moment, whatever is written meanwhile.
  db.transaction(async (tx) => wrongIn(tx), { isolationLevel: 'repeatable read' });

async function wrongIn(db: Db): Promise<Wrong[]> {
  const all = async (query: ReturnType<typeof sql>): Promise<Row[]> =>
    (await execute<Row>(db, query)).rows;
  const deliveries = grouped(await all(sql`select * from deliveries`), letterOf);
  const events = grouped(await all(sql`select * from events`), eventOf);
  const wrong: Wrong[] = [];
  for (const person of await all(sql`select * from contacts`)) {
    const letters = deliveries.get(Number(person['id'])) ?? [];
    const log = events.get(Number(person['id'])) ?? [];
    for (const { row, campaign } of letters)
      wrong.push(
        ...different(
          'delivery',
          `${campaign}/${String(person['id'])}`,
          deliveryPairs(row, reckonLetter(campaign, log)),
        ),
      );
    const figures = reckonPerson(letters, log);
    const bounces = reckonBounces(
      letters,
      asText(person['address_hash']),
      time(person['soft_since']),
    );
    wrong.push(
      ...different('contact', person['id'], {
        delivered: [person['delivered_count'], figures.delivered],
        opened: [person['opened_count'], figures.opened],
        clicked: [person['clicked_count'], figures.clicked],
        lastSent: [time(person['last_sent_at']), figures.lastSent],
        lastOpened: [time(person['last_opened_at']), figures.lastOpened],
        lastClicked: [time(person['last_clicked_at']), figures.lastClicked],
        softBounces: [person['soft_bounces'], bounces.soft],
        unreadBounces: [person['unread_bounces'], bounces.unread],
      }),
    );
    if (person['recent_letters'] !== null && person['rating_due'] !== true)
      wrong.push(...different('recent letters', person['id'], recentPairs(person, letters, log)));
  }
  return wrong.slice(0, 5);
}

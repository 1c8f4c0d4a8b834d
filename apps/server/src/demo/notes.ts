// What the office of the demo world wrote down about people, and what it is to do.
import type pg from 'pg';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

const heard = [
  ['call', 'Rang about the grafting day; would come if a place is free.'],
  ['note', 'Prefers the paper programme, but reads the newsletter.'],
  ['meeting', 'Met at the plant sale. Brings a friend to the next tour.'],
  ['call', 'Asked what the membership costs for two.'],
  ['note', 'Gave the old apple crates for the harvest supper.'],
  ['meeting', 'Walked through the glasshouse together; likes alpines best.'],
  ['note', 'Writes for the village paper now and then.'],
] as const;

const toDo = [
  ['call', 'is there still a place on the grafting day?'],
  ['write', 'thank for the crates'],
  ['call', 'membership for two'],
  ['meet', 'show the new alpine house'],
  ['other', 'send the paper programme'],
  ['call', 'about the lantern walk'],
] as const;

interface Somebody {
  readonly id: number;
  readonly opened: number;
}

const paragraph = (text: string, strong = false) => ({
  type: 'paragraph',
  content: [{ type: 'text', text, ...(strong ? { marks: [{ type: 'bold' }] } : {}) }],
});

/** `people` are of the house pool; `users` are the colleagues, the coordinator first. */
export async function addNotes(
  client: pg.PoolClient,
  people: readonly Somebody[],
  users: readonly number[],
  now: Date,
): Promise<void> {
  const who = [...people].sort((a, b) => b.opened - a.opened || a.id - b.id);
  const at = (place: number): number => who[place % Math.max(1, who.length)]?.id ?? 0;
  const by = (place: number): number => users[[0, 2, 3, 0, 4][place % 5] ?? 0] ?? 1;
  for (let place = 0; place < Math.min(70, who.length); place++) {
    const [kind, text] = heard[place % heard.length] ?? heard[0];
    const when = new Date(now.getTime() - (place + 1) * 3.1 * DAY - (place % 7) * HOUR);
    const pinned = place % 9 === 4;
    const doc = {
      type: 'doc',
      content: pinned ? [paragraph('Before you ring:', true), paragraph(text)] : [paragraph(text)],
    };
    const { rows } = await client.query<{ id: number }>(
      'insert into notes (contact_id, user_id, kind, text, at, pinned) values ($1, $2, $3, $4, $5, $6) returning id',
      [at(place * 3), by(place), kind, JSON.stringify(doc), when, pinned],
    );
    if (kind !== 'note')
      await client.query(
        'update contacts set last_contact_at = greatest(last_contact_at, $2) where id = $1',
        [at(place * 3), when],
      );
    if (place === 1)
      await client.query('insert into notes_told (note_id, user_id) values ($1, $2)', [
        rows[0]?.id,
        users[0],
      ]);
  }
  for (let place = 0; place < Math.min(24, who.length); place++) {
    const [kind, text] = toDo[place % toDo.length] ?? toDo[0];
    const isDone = place % 4 === 3;
    const due = place % 5 === 4 ? null : new Date(now.getTime() + (place - 2) * DAY);
    const made = new Date(now.getTime() - (9 + place) * DAY);
    await client.query(
      'insert into tasks (contact_id, user_id, made_by, kind, text, due, remind, created_at, done_at, done_by) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)',
      [
        at(place * 2),
        place % 3 === 2 ? by(place) : (users[0] ?? 1),
        by(place + 1),
        kind,
        text,
        due?.toISOString().slice(0, 10) ?? null,
        false,
        made,
        isDone ? new Date(now.getTime() - place * DAY) : null,
        isDone ? (users[0] ?? 1) : null,
      ],
    );
  }
}

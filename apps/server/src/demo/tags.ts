// When the people of the demo world were tagged: month by month, by those who look after them.
import type pg from 'pg';
import { Loader } from './copy.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const MONTH = 30.4 * DAY;
/** What is younger can be taken back, and is told apart. */
const YOUNGEST = 31 * DAY;

interface Tagged {
  readonly id: number;
  /** Milliseconds since 1970. */
  readonly created: number;
  readonly tags: ReadonlySet<number>;
}

/** Between 0 and 1, always the same for a number. */
const share = (id: number): number => ((id * 2_654_435_761) >>> 0) / 2 ** 32;

/** Writes down that tags were put on, in one change for each tag and month; whom `isTold` names for a tag is left out. */
export async function addTagHistory(
  client: pg.PoolClient,
  people: readonly Tagged[],
  tags: readonly { readonly id: number; readonly name: string }[],
  users: readonly number[],
  now: Date,
  isTold: (person: number, tag: number) => boolean,
): Promise<void> {
  const latest = now.getTime() - YOUNGEST;
  const found = new Map<string, { readonly tag: number; readonly at: number; ids: number[] }>();
  for (const [place, tag] of tags.entries())
    for (const { id, created, tags: own } of people) {
      // Who came lately had it from the beginning.
      if (!own.has(tag.id) || isTold(id, tag.id) || created >= latest) continue;
      const when = created + share(id + place) * (latest - created);
      const month = Math.floor((latest - when) / MONTH);
      const key = `${tag.id} ${month}`;
      // Some day of that month, at a time when people work.
      const day = latest - (month + share(place * 31 + month)) * MONTH;
      const at = Math.floor(day / DAY) * DAY + (9 + 7 * share(month * 7 + place)) * HOUR;
      const known = found.get(key) ?? { tag: place, at: Math.min(latest, at), ids: [] };
      known.ids.push(id);
      found.set(key, known);
    }
  // The log is in the order of its keys.
  for (const { tag: place, at, ids } of [...found.values()].sort(
    (one, other) => one.at - other.at,
  )) {
    const tag = tags[place];
    const { rows } = await client.query<{ id: number }>(
      `insert into change_sets (kind, user_id, at, what, count, undoable, finished_at) values ('tagging', $1, $2, $3, $4, false, $2) returning id`,
      [users[ids.length % users.length], new Date(at), `tagged “${tag?.name ?? ''}”`, ids.length],
    );
    const happened = new Loader(client, 'happenings (set_id, contact_id, kind, which)');
    for (const id of ids) await happened.add(rows[0]?.id ?? 0, id, 'tag put on', String(tag?.id));
    await happened.flush();
  }
  await client.query(
    `update contact_tags t set at = p.at from (
       select h.contact_id, h.which::int as tag_id, max(s.at) as at from happenings h join change_sets s on s.id = h.set_id where h.kind = 'tag put on' group by 1, 2) p
     where p.contact_id = t.contact_id and p.tag_id = t.tag_id`,
  );
}

// Two hundred people answer at once: each is counted, in their figures as in the log.
import { sql } from 'drizzle-orm';
import { execute } from '../platform/database.js';
import { countRecent, wrongFacts } from '../testing/facts.js';
import { startMailServer, type TestMailServer } from '../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startTestServer, until, type TestServer } from '../testing/server.js';

const PEOPLE = 200;
const agent = { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) Lantern/4.2' };

let mail: TestMailServer;
let server: TestServer;
let campaign: number;
beforeAll(async () => {
  mail = await startMailServer();
  // Reader time goes as the clock does, or a click soon after another would be a machine's.
  server = await startTestServer({ SMTP_URL: mail.url, PACE: '60000' });
  await importPeople(
    server,
    `email,first name\n${Array.from({ length: PEOPLE }, (_, at) => `p${at}@example.com,P${at}`).join('\n')}\n`,
  );
  ({ campaign } = await makeCampaign(server));
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  await countRecent(server.database.db);
  // As in an office that has sent before: how a database joins depends on how many it takes there to be.
  await execute(
    server.database.db,
    sql`insert into deliveries (campaign_id, contact_id, state, address_hash) select ${campaign} + 1000 + n, c.id, 'waiting', c.address_hash from contacts c, generate_series(1, 30) n`,
  );
  for (const table of ['contacts', 'deliveries', 'events'])
    await execute(server.database.db, sql.raw(`vacuum analyze ${table}`));
}, 120_000);
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const one = async <T>(statement: ReturnType<typeof sql>): Promise<T> =>
  (await execute<{ value: T }>(server.database.db, statement)).rows[0]?.value as T;
const written = (kind: string, count: number): Promise<void> =>
  until(
    `${count} × ${kind}`,
    async () =>
      (await one(sql`select count(*)::int as value from events where kind = ${kind}`)) === count,
  );
const linkIn = (raw: string, kind: 'o' | 'c'): string =>
  new RegExp(`http://letters\\.example\\.com(/${kind}/[\\w-]+)`).exec(
    raw.replace(/=\r\n/g, '').replace(/=3D/g, '='),
  )?.[1] ?? '';
const ask = (path: string) => server.call('GET', path, undefined, { cookie: '', headers: agent });

it('counts every one of those who open and click at the same moment', async () => {
  await Promise.all(mail.taken.map(({ raw }) => ask(linkIn(raw, 'o'))));
  await written('opened', PEOPLE);
  expect(await one(sql`select count(*)::int as value from contacts where opened_count = 1`)).toBe(
    PEOPLE,
  );
  await Promise.all(mail.taken.slice(0, 120).map(({ raw }) => ask(linkIn(raw, 'c'))));
  await written('clicked', 120);
  expect(await one(sql`select count(*)::int as value from contacts where clicked_count = 1`)).toBe(
    120,
  );
  expect(await wrongFacts(server.database.db)).toEqual([]);
});

it('finds what is not as it happened, puts it right at night, and says so', async () => {
  const { db } = server.database;
  await execute(
    db,
    sql`update contacts set opened_count = 0, last_opened_at = null where id % 2 = 0`,
  );
  await execute(db, sql`update deliveries set clicks = 7 where contact_id = 1`);
  await execute(
    db,
    sql`update contacts set rating_due = false, recent_letters = 1, recent_opened = 0 where id = 3`,
  );
  const wrong = await one<number>(
    sql`select count(*)::int as value from contacts where id % 2 = 0 or id in (1, 3)`,
  );
  expect(await wrongFacts(db)).not.toEqual([]);
  await execute(db, sql`update rating_scales set checked_at = now() - interval '2 days'`);
  const check = async () =>
    (await server.call('GET', '/api/ratings/scale')).body.check as {
      wrong: number;
      isUnderWay: boolean;
      at: string;
    };
  await until('the check', async () => {
    const { at, isUnderWay } = await check();
    return !isUnderWay && Date.parse(at) > Date.now() - 3600_000;
  });
  expect((await check()).wrong).toBe(wrong);
  expect(await wrongFacts(db)).toEqual([]);
});

// What a reader or the office decided about being mailed is about the person: whichever way their address changes,
// it goes with them. Only that an address is dead stays with the address.
import { sql } from 'drizzle-orm';
import { execute } from '../../platform/database.js';
import { Keys } from '../../platform/keys.js';
import { startMailServer, type TestMailServer } from '../../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../../testing/round.js';
import { startTestServer, until, type TestServer } from '../../testing/server.js';

let mail: TestMailServer;
let server: TestServer;
let campaign: number;
let topic: number;
let keys: Keys;
const reasons = ['left', 'complained', 'by hand', 'hard bounce'] as const;
const ways = [
  'on their page',
  'in two steps',
  'by an undo',
  'by the reader',
  'by the reader, and back',
] as const;
const nameOf = (way: string, reason: string): string => `${way} ${reason}`.replaceAll(/\W+/g, '.');
const oldAddress = (way: string, reason: string): string =>
  `${nameOf(way, reason)}@old.example.com`;
const newAddress = (way: string, reason: string): string =>
  `${nameOf(way, reason)}@new.example.com`;

beforeAll(async () => {
  mail = await startMailServer();
  server = await startTestServer({ SMTP_URL: mail.url });
  const everybody = ways.flatMap((way) => reasons.map((reason) => oldAddress(way, reason)));
  await importPeople(server, `email\n${everybody.join('\n')}\n`);
  ({ campaign } = await makeCampaign(server));
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  topic = (await server.call('POST', '/api/topics', { name: 'News', description: '' })).body
    .id as number;
  keys = await Keys.load(server.database.db, new Date());
}, 60_000);
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const person = async (address: string) => {
  const { body } = await server.call('GET', `/api/people?q=${encodeURIComponent(address)}`);
  return (await server.call('GET', `/api/people/${(body.rows as { id: number }[])[0]?.id ?? 0}`))
    .body as {
    id: number;
    version: number;
    doNotMail: { reason: string; note: string | null } | null;
    droppedTopics: number[];
  };
};
const change = async (id: number, address: string): Promise<number> => {
  const { version } = (await server.call('GET', `/api/people/${id}`)).body as { version: number };
  const reply = await server.call('PATCH', `/api/people/${id}`, { version, values: { address } });
  expect(reply.status).toBe(200);
  return reply.body.changeSet as number;
};
const put = (address: string, reason: string): Promise<unknown> =>
  execute(
    server.database.db,
    sql`insert into do_not_mail (address_hash, address, reason, at, note) values (${keys.addressHash(address)}, ${address}, ${reason}, now(), 'why')`,
  );
const drop = (address: string): Promise<unknown> =>
  execute(
    server.database.db,
    sql`insert into dropped_topics (address_hash, topic_id, at) values (${keys.addressHash(address)}, ${topic}, now())`,
  );
const post = (path: string, form: Record<string, string> = {}) =>
  server.call('POST', path, new URLSearchParams(form).toString(), {
    cookie: '',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
  });
async function mailed(address: string, place: string): Promise<string> {
  const found = (): string =>
    mail.taken
      .filter(({ to }) => to === address)
      .map(({ raw }) => new RegExp(`/${place}/[\\w-]+`).exec(raw.replace(/=\r\n/g, ''))?.[0] ?? '')
      .findLast((link) => link !== '') ?? '';
  await until(`a mail to ${address}`, () => Promise.resolve(found() !== ''));
  return found();
}

/** Decides, then moves, or the other way round where only a reader who still gets mail can move. */
async function move(way: (typeof ways)[number], reason: string): Promise<string> {
  const [from, to] = [oldAddress(way, reason), newAddress(way, reason)];
  const { id } = await person(from);
  const decide = async (address: string): Promise<void> => {
    await put(address, reason);
    await drop(address);
  };
  switch (way) {
    case 'on their page':
      await decide(from);
      await change(id, to);
      return to;
    case 'in two steps':
      await decide(from);
      await change(id, '');
      await change(id, to);
      return to;
    case 'by an undo': {
      const set = await change(id, to);
      await decide(to);
      expect((await server.call('POST', `/api/changes/${set}/undo`)).body).toMatchObject({
        count: 1,
      });
      return from;
    }
    default: {
      const token = keys.sign('leave', { campaign, contact: id, link: 0 } as never);
      await post(`/leave/${token}/link`);
      const own = await mailed(from, 'yours');
      await post(`${own}/data`, { address: to });
      if (way === 'by the reader') await decide(from);
      expect((await post(await mailed(to, 'confirm'))).status).toBe(200);
      if (way === 'by the reader') return to;
      await decide(to);
      expect((await post(await mailed(from, 'back'))).status).toBe(200);
      return from;
    }
  }
}

it.each(ways.flatMap((way) => reasons.map((reason) => [way, reason] as const)))(
  'an address changed %s: who is there for “%s”',
  async (way, reason) => {
    const now = await move(way, reason);
    const found = await person(now);
    expect(found.doNotMail).toEqual(
      reason === 'hard bounce' ? null : expect.objectContaining({ reason, note: 'why' }),
    );
    expect(found.droppedTopics).toEqual([topic]);
    // The old address stays as it is: whoever has it next is not mailed.
    const { rows } = await execute<{ reason: string }>(
      server.database.db,
      sql`select reason from do_not_mail where address in (${oldAddress(way, reason)}, ${newAddress(way, reason)}) order by 1`,
    );
    expect(rows.map((row) => row.reason)).toEqual(
      reason === 'hard bounce' ? [reason] : [reason, reason],
    );
  },
);

it('what is about the person outweighs that the new address is dead', async () => {
  await importPeople(server, 'email\nperson.left@example.com\n');
  const { id } = await person('person.left@example.com');
  await put('person.left@example.com', 'left');
  await put('person.dead@example.com', 'hard bounce');
  await change(id, 'person.dead@example.com');
  expect((await person('person.dead@example.com')).doNotMail).toMatchObject({ reason: 'left' });
});

// The reader's own page, asked as a browser without scripts asks, by those whom the letter reached and by others.
import { sql } from 'drizzle-orm';
import { execute } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { countRecent, wrongFacts } from '../testing/facts.js';
import { startMailServer, type TestMailServer } from '../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startTestServer, until, type Reply, type TestServer } from '../testing/server.js';

let mail: TestMailServer;
let server: TestServer;
let campaign: number;
/** Contacts by the first part of their address. */
const ids = new Map<string, number>();
let sign: (purpose: 'leave' | 'click' | 'open', contact: number) => string;

beforeAll(async () => {
  mail = await startMailServer();
  server = await startTestServer({ SMTP_URL: mail.url });
  await importPeople(
    server,
    `email,first name,surname,town\n${['ada', 'bela', 'cora', 'dag', 'edda', 'finn', 'gul'].map((name) => `${name}@example.com,${name},Wren,Millrace`).join('\n')}\n`,
  );
  ({ campaign } = await makeCampaign(server));
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  const { body } = await server.call('GET', '/api/people');
  for (const { id, address } of body.rows as { id: number; address: string }[])
    ids.set(address.split('@')[0] ?? '', id);
  const keys = await Keys.load(server.database.db, new Date());
  sign = (purpose, contact) => keys.sign(purpose, { campaign, contact, link: 0 } as never);
}, 60_000);
afterAll(async () => {
  await server.stop();
  await mail.stop();
});
beforeEach(async () => {
  mail.reset();
  await countRecent(server.database.db);
});

const idOf = (name: string): number => ids.get(name) ?? 0;
const pageOf = (name: string): string => `/leave/${sign('leave', idOf(name))}`;
const get = (path: string): Promise<Reply> => server.call('GET', path, undefined, { cookie: '' });
const post = (
  path: string,
  form: Record<string, string | readonly string[]> = {},
): Promise<Reply> => {
  const body = new URLSearchParams(
    Object.entries(form).flatMap(([name, value]) =>
      typeof value === 'string' ? [[name, value]] : value.map((one) => [name, one]),
    ),
  );
  return server.call('POST', path, body.toString(), {
    cookie: '',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
  });
};
const plain = (raw: string): string => raw.replace(/=\r\n/g, '').replaceAll('=3D', '=');
/** The link of the latest mail to an address, without the place where it leads. */
async function mailedTo(address: string, place: 'yours' | 'confirm' | 'back'): Promise<string> {
  const latest = () =>
    mail.taken.findLast(({ to, raw }) => to === address && plain(raw).includes(`/${place}/`));
  await until(`a mail to ${address}`, async () => latest() !== undefined);
  return (
    new RegExp(`http://letters\\.example\\.com(/${place}/[\\w-]+)`).exec(
      plain(latest()?.raw ?? ''),
    )?.[1] ?? ''
  );
}
const links = new Map<string, string>();
/** The reader's own page, by the link that is mailed to them; asked for once. */
async function ownPageOf(name: string): Promise<string> {
  const known = links.get(name);
  if (known) return known;
  const reply = await post(`${pageOf(name)}/link`);
  expect(reply.text).toContain('We are sending a letter with a link');
  const link = await mailedTo(`${name}@example.com`, 'yours');
  links.set(name, link);
  return link;
}
const nothingMailed = async (): Promise<void> => {
  await until(
    'notes to be seen to',
    async () =>
      Number(
        (
          await execute<{ count: number }>(
            server.database.db,
            sql`select count(*) as count from outbox where state in ('waiting', 'handing over')`,
          )
        ).rows[0]?.count,
      ) === 0,
  );
  expect(mail.taken).toEqual([]);
};
const person = async (name: string) =>
  (await server.call('GET', `/api/people/${idOf(name)}`)).body as {
    version: number;
    address: string;
    givenName: string;
    doNotMail: { reason: string } | null;
    droppedTopics: number[];
    fields: { field: { key: string }; value: unknown }[];
  };
const field = async (name: string, key: string): Promise<unknown> =>
  (await person(name)).fields.find((one) => one.field.key === key)?.value;

describe('leaving', () => {
  it('shows the page to a look and leaves only on a post', async () => {
    const page = await get(pageOf('ada'));
    expect([
      page.status,
      page.headers.get('cache-control'),
      page.headers.get('referrer-policy'),
    ]).toEqual([200, 'no-store', 'no-referrer']);
    expect(page.text).toContain('Leave these letters?');
    expect((await person('ada')).doNotMail).toBeNull();
    expect((await post(pageOf('ada'), { 'List-Unsubscribe': 'One-Click' })).text).toContain(
      'You have left',
    );
    expect((await person('ada')).doNotMail?.reason).toBe('left');
  });

  it('says the same the second time, counts once, and takes back by a link mailed to the reader', async () => {
    expect((await post(pageOf('ada'))).text).toContain('You have left');
    expect(
      (await server.call('GET', `/api/people/summary?of=campaign.${campaign}.left`)).body.total,
    ).toBe(1);
    expect((await get(pageOf('ada'))).text).toContain('Changed your mind?');
    const own = await ownPageOf('ada');
    expect((await get(own)).text).toContain('Send me letters from Garden again');
    expect((await post(`${own}/back`)).text).toContain('Good to have you back');
    expect((await person('ada')).doNotMail).toBeNull();
    expect((await post(`${own}/back`)).text).toContain('You get letters from us.');
    expect((await post(`${own}/leave`)).text).toContain('gets no letters from us');
    expect((await person('ada')).doNotMail?.reason).toBe('left');
  });

  it('neither mails nor takes back somebody whom the office put on do not mail', async () => {
    const own = await ownPageOf('bela');
    mail.reset();
    await server.call('POST', `/api/people/${idOf('bela')}/do-not-mail`, {
      put: true,
      note: 'asked by telephone',
    });
    const reply = await post(`${own}/back`);
    expect([reply.status, reply.text.includes('That can’t be done here')]).toEqual([422, true]);
    expect((await person('bela')).doNotMail?.reason).toBe('by hand');
    expect((await post(`${pageOf('bela')}/link`)).text).toContain('We are sending a letter');
    await nothingMailed();
  });

  it.each([
    ['another purpose', () => `/leave/${sign('click', idOf('ada'))}`],
    ['somebody who got no letter', () => `/leave/${sign('leave', 99_999)}`],
    ['a broken link', () => pageOf('ada').slice(0, -4)],
    ['a longer one', () => `${pageOf('ada')}AAAA`],
  ])('knows nobody by %s', async (_, path) => {
    for (const reply of [
      await get(path()),
      await post(path()),
      await post(`${path()}/link`),
      await post(`${path()}/topics`, { shown: '1' }),
    ]) {
      expect(reply.status).toBe(404);
      expect(reply.text).toContain('This link does not work');
      expect(reply.text).not.toContain('ada@example.com');
    }
  });

  it.each(['link', 'topics'])(
    'leads from %s, opened again by its address, to the page',
    async (part) => {
      const reply = await get(`${pageOf('ada')}/${part}`);
      expect([reply.status, reply.headers.get('location')]).toEqual([303, pageOf('ada')]);
    },
  );

  it('shows of an address what a stranger may see, and of the person nothing', async () => {
    for (const path of [pageOf('cora'), pageOf('gul')]) {
      const { text } = await get(path);
      expect(text).toMatch(/[cg]…@example\.com gets letters/);
      for (const hidden of [
        'cora',
        'gul',
        'Wren',
        'Millrace',
        'name="given_name"',
        'name="address"',
      ])
        expect(text).not.toContain(hidden);
    }
    for (const [path, form] of [
      ['/back', {}],
      ['/data', { town: 'x' }],
    ] as const)
      expect((await post(`${pageOf('cora')}${path}`, form)).status).toBe(404);
    expect(await field('cora', 'town')).toBe('Millrace');
  });

  it('mails a link a few times a day, however many ask at once, and never says to where', async () => {
    const replies = await Promise.all(
      Array.from({ length: 30 }, () => post(`${pageOf('cora')}/link`)),
    );
    expect(replies.filter(({ status }) => status === 200)).toHaveLength(3);
    for (const { text } of replies) expect(text).not.toContain('cora@');
    await until('the mails', async () => mail.taken.length >= 3);
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect(mail.taken.map(({ to }) => to)).toEqual([
      'cora@example.com',
      'cora@example.com',
      'cora@example.com',
    ]);
    links.set('cora', await mailedTo('cora@example.com', 'yours'));
  });

  it.each(['yours', 'confirm', 'back'])(
    'knows nobody by /%s with a made-up secret',
    async (place) => {
      for (const secret of ['x', 'A'.repeat(32), '%00', 'null']) {
        expect((await get(`/${place}/${secret}`)).status).toBe(404);
        expect(
          (await post(`/${place}/${secret}${place === 'yours' ? '/data' : ''}`, { town: 'x' }))
            .status,
        ).toBe(404);
      }
    },
  );

  it('has a page for proofs that changes nothing', async () => {
    for (const reply of [
      await get('/leave/proof'),
      await post('/leave/proof'),
      await post('/leave/proof/link'),
    ])
      expect([reply.status, reply.text.includes('This was a proof')]).toEqual([200, true]);
  });
});

describe('topics', () => {
  const topic = async (name: string): Promise<number> =>
    ((await server.call('POST', '/api/topics', { name, description: '' })).body as { id: number })
      .id;
  it('drops what is not ticked, and takes back what is', async () => {
    const [news, sale] = [await topic('News'), await topic('Plant sale')];
    const shown = [`${news}`, `${sale}`];
    expect((await get(pageOf('cora'))).text).toContain('Plant sale');
    expect((await post(`${pageOf('cora')}/topics`, { shown, topic: `${news}` })).text).toContain(
      'Your choice is kept.',
    );
    expect((await person('cora')).droppedTopics).toEqual([sale]);
    await post(`${pageOf('cora')}/topics`, { shown, topic: shown });
    expect((await person('cora')).droppedTopics).toEqual([]);
    await post(`${pageOf('cora')}/topics`, { shown });
    expect((await person('cora')).droppedTopics.sort()).toEqual([news, sale].sort());
  });

  it('leaves alone a topic that came up while the page was open, and numbers that are none', async () => {
    const before = (await person('cora')).droppedTopics;
    const later = await topic('Talks');
    await post(`${pageOf('cora')}/topics`, {
      shown: before.map(String),
      topic: ['x', '-1', '999999', '1e9'],
    });
    expect((await person('cora')).droppedTopics.sort()).toEqual([...before].sort());
    await post(`${pageOf('cora')}/topics`, { shown: `${later}` });
    expect((await person('cora')).droppedTopics.sort()).toEqual([...before, later].sort());
  });
});

describe('one’s own data', () => {
  it('is kept as a change of the reader, cut to one line, with what was not on the form left alone', async () => {
    const own = await ownPageOf('dag');
    expect((await get(own)).text).toContain('value="Millrace"');
    const reply = await post(`${own}/data`, {
      given_name: 'Dag\r\nBcc: x',
      family_name: '<b>Wren</b>',
      town: 'Saltcote',
      hidden: 'x',
      permission: 'unknown',
      owner: '99',
    });
    expect([reply.status, reply.text.includes('Kept. Thank you.')]).toEqual([200, true]);
    expect(reply.text).not.toContain('<b>Wren</b>');
    expect((await person('dag')).givenName).toBe('Dag Bcc: x');
    expect(await field('dag', 'town')).toBe('Saltcote');
    const { body } = await server.call('GET', '/api/changes');
    expect((body.changes ?? body)[0]).toMatchObject({
      kind: 'reader',
      what: 'corrected own data',
      by: null,
      count: 1,
    });
  });

  it('says what is wrong with an address and keeps nothing', async () => {
    const reply = await post(`${await ownPageOf('dag')}/data`, {
      address: 'dag at example',
      town: 'Elsewhere',
    });
    expect([reply.status, reply.text.includes('can’t be right')]).toEqual([422, true]);
    expect(await field('dag', 'town')).toBe('Saltcote');
  });

  it('takes a new address once the letter sent there is answered, tells the old one, and goes back from there', async () => {
    const own = await ownPageOf('edda');
    const reply = await post(`${own}/data`, { address: 'Edda.New@example.com' });
    expect(reply.text).toContain('We are sending a letter to Edda.New@example.com');
    expect((await person('edda')).address).toBe('edda@example.com');
    const link = await mailedTo('Edda.New@example.com', 'confirm');
    expect((await get(link)).text).toContain('Your new address');
    expect((await person('edda')).address).toBe('edda@example.com');
    expect((await post(link)).text).toContain('Our letters now go to Edda.New@example.com');
    expect((await person('edda')).address).toBe('Edda.New@example.com');
    expect([(await post(link)).status, (await get(link)).status]).toEqual([404, 404]);
    // What was mailed to the old address shows nothing of a person who is reached elsewhere now …
    expect([(await get(own)).status, (await post(`${own}/data`, { town: 'x' })).status]).toEqual([
      404, 404,
    ]);
    expect((await get(pageOf('edda'))).text).toContain('e…@example.com');
    // … but who reads it there is told, and can undo it.
    const back = await mailedTo('edda@example.com', 'back');
    expect((await get(back)).text).toContain('E…@example.com');
    expect((await person('edda')).address).toBe('Edda.New@example.com');
    expect((await post(back)).text).toContain('Our letters now go to edda@example.com');
    expect((await person('edda')).address).toBe('edda@example.com');
  });

  it('has fourteen days for the way back', async () => {
    const { rows } = await execute<{ days: number }>(
      server.database.db,
      sql`select round(extract(epoch from expires_at - now()) / 86400) as days from reader_links where kind = 'way back'`,
    );
    expect(rows).toEqual([{ days: 14 }]);
  });

  it('does not tell whether an address is known, writes to nobody who did not ask, and does the same work for both', async () => {
    const own = await ownPageOf('finn');
    mail.reset();
    const counts = async () =>
      (
        await execute(
          server.database.db,
          sql`select (select count(*) from reader_links where kind = 'new address') as links, (select last_value from outbox_id_seq) as notes`,
        )
      ).rows[0] as { links: number; notes: number };
    const before = await counts();
    const known = await post(`${own}/data`, { address: 'gul@example.com' });
    const between = await counts();
    const unknown = await post(`${own}/data`, { address: 'nobody.yet@example.com' });
    const after = await counts();
    expect(known.text.replaceAll('gul@example.com', '…')).toBe(
      unknown.text.replaceAll('nobody.yet@example.com', '…'),
    );
    expect([between.links - before.links, between.notes - before.notes]).toEqual([
      after.links - between.links,
      after.notes - between.notes,
    ]);
    await mailedTo('nobody.yet@example.com', 'confirm');
    expect(mail.taken.map(({ to }) => to)).toEqual(['nobody.yet@example.com']);
    expect((await person('finn')).address).toBe('finn@example.com');
  });

  it('does not hang a reader’s page on the mail server: what it refuses is given up, what it puts off is tried again', async () => {
    mail.answer = () => ({ code: 550, text: '5.1.1 no' });
    expect(
      (await post(`${await ownPageOf('finn')}/data`, { address: 'nowhere@example.com' })).status,
    ).toBe(200);
    await nothingMailed();
  });

  it('asks few strangers in a day, however many requests come at once', async () => {
    const own = await ownPageOf('gul');
    mail.reset();
    const replies = await Promise.all(
      Array.from({ length: 30 }, (_, one) =>
        post(`${own}/data`, { address: `gul${one}@example.com` }),
      ),
    );
    expect(replies.filter(({ status }) => status === 200)).toHaveLength(3);
    expect(replies.filter(({ status }) => status === 422)).toHaveLength(27);
    await until('the mails', async () => mail.taken.length >= 3);
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect(mail.taken).toHaveLength(3);
  });

  it('is gone when the person is', async () => {
    await server.database.db.execute(
      `update contacts set deleted_at = now() where id = ${idOf('finn')}`,
    );
    expect((await get(pageOf('finn'))).status).toBe(200);
    const own = await get(await ownPageOf('finn'));
    expect([own.status, own.text.includes('About you')]).toEqual([200, false]);
    expect((await post(`${await ownPageOf('finn')}/data`, { town: 'x' })).status).toBe(422);
    expect((await post(pageOf('finn'))).text).toContain('You have left');
  });
});

it('keeps accounts true through all of it', async () =>
  expect(await wrongFacts(server.database.db)).toEqual([]));

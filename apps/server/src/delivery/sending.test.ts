// Sending against a mail server that takes, refuses, puts off, hangs up and vanishes; and what readers do then.
import { keepMailTakesUtf8 } from '../office/index.js';
import { countRecent, wrongFacts } from '../testing/facts.js';
import { startMailServer, type TestMailServer } from '../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startTestServer, until, type TestServer } from '../testing/server.js';
import { Lane } from './smtp.js';

let mail: TestMailServer;
let server: TestServer;
beforeAll(async () => {
  mail = await startMailServer();
  server = await startTestServer({
    SMTP_URL: mail.url,
    BOUNCE_DOMAIN: 'bounces.example.com',
    SMTP_TIMEOUT_MS: '1500',
  });
}, 60_000);
afterAll(async () => {
  await server.stop();
  await mail.stop();
});
beforeEach(async () => {
  mail.reset();
  await countRecent(server.database.db);
});

const progress = async (campaign: number) =>
  (await server.call('GET', `/api/campaigns/${campaign}/progress`)).body as Record<string, number>;
const count = async (of: string): Promise<number> =>
  (await server.call('GET', `/api/people/summary?of=${of}`)).body.total as number;
const linkIn = (raw: string, kind: 'o' | 'c' | 'leave'): string => {
  const plain = raw.replace(/=\r\n/g, '').replace(/=3D/g, '=');
  const found = new RegExp(`http://letters\\.example\\.com(/${kind}/[\\w-]+)`).exec(plain)?.[1];
  if (!found) throw new Error(`no /${kind}/ in the letter`);
  return found;
};
const agent = { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) Lantern/4.2' };

it('accounts for every answer a mail server gives', async () => {
  await importPeople(
    server,
    'email,first name\ndead@example.com,Dead\nfull@example.com,Full\npolicy@example.com,Policy\nfine@example.com,"Fi, ne"\nhangs@example.com,Hangs\nlost@example.com,Lost\n',
  );
  const { campaign } = await makeCampaign(server);
  mail.answer = (to, attempt) => {
    if (to.startsWith('dead')) return { code: 550, text: '5.1.1 no such mailbox' };
    if (to.startsWith('policy')) return { code: 554, text: '5.7.1 not today' };
    if (to.startsWith('full') && attempt === 1) return { code: 452, text: '4.2.2 mailbox full' };
    if (to.startsWith('hangs') && attempt === 1) return { code: 421, text: '4.3.2 closing' };
    if (to.startsWith('lost')) return 'hang up after';
    return undefined;
  };
  expect((await send(server, campaign)).status).toBe(204);
  await untilStatus(server, campaign, 'sent');
  expect(await progress(campaign)).toMatchObject({
    accepted: 3,
    bounced: 2,
    uncertain: 1,
    waiting: 0,
    deferred: 0,
    total: 6,
  });
  expect(mail.taken.map(({ to }) => to).sort()).toEqual([
    'fine@example.com',
    'full@example.com',
    'hangs@example.com',
    'lost@example.com',
  ]);
  expect(await count(`campaign.${campaign}.bounced-hard`)).toBe(1);
  expect(await count(`campaign.${campaign}.uncertain`)).toBe(1);

  const [letter] = mail.taken.filter(({ to }) => to.startsWith('fine'));
  expect(letter?.from).toMatch(/^bounce\+[\w-]+@bounces\.example\.com$/);
  expect(letter?.raw).toMatch(/^List-Unsubscribe-Post: List-Unsubscribe=One-Click\r$/m);
  expect(letter?.raw).toMatch(/^List-Unsubscribe: <http:\/\/letters\.example\.com\/leave\//m);
  expect(letter?.raw).toContain('Subject: A word before the weekend, Fi, ne');

  // Only the dead address is on do not mail: a policy says nothing about the person.
  const { body } = await server.call('GET', `/api/people/summary?standing=do%20not%20mail`);
  expect(body.total).toBe(1);
});

it('settles an uncertain letter when its reader is seen, and counts people apart from machines', async () => {
  const lost = mail;
  const { campaign } = await makeCampaign(server, 'Seen');
  lost.answer = (to) => (to.startsWith('lost') ? 'hang up after' : undefined);
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  const letter = mail.taken.find(({ to }) => to.startsWith('lost'));
  const other = mail.taken.find(({ to }) => to.startsWith('fine'));
  if (!letter || !other) throw new Error('no letters');
  expect(await count(`campaign.${campaign}.uncertain`)).toBe(1);

  expect(
    (await server.call('HEAD', linkIn(other.raw, 'c'), undefined, { headers: agent })).status,
  ).toBe(302);
  await server.call('GET', linkIn(other.raw, 'o'), undefined, {
    headers: { 'user-agent': 'garden-crawler/1.0 (+https://example.com/bot)' },
  });
  const click = await server.call('GET', linkIn(letter.raw, 'c'), undefined, { headers: agent });
  expect(click.headers.get('location')).toBe('https://example.com/there');
  await server.call('GET', linkIn(letter.raw, 'o'), undefined, { headers: agent });
  await until('the responses', async () => (await count(`campaign.${campaign}.clicked`)) === 1);

  const { body } = await server.call('GET', `/api/results/${campaign}`);
  expect(body.counts).toMatchObject({
    opened: 1,
    clicked: 1,
    machineOpened: 1,
    machineClicked: 1,
    uncertain: 0,
  });
  expect(body.links).toEqual([
    { link: 0, label: 'Go there', url: 'https://example.com/there', people: 1, machines: 1 },
  ]);
});

it('lets a reader leave by one click, and holds them back ever after', async () => {
  const { campaign } = await makeCampaign(server, 'Leaving');
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  const letter = mail.taken.find(({ to }) => to.startsWith('fine'));
  const leave = linkIn(letter?.raw ?? '', 'leave');

  const page = await server.call('GET', leave, undefined, { cookie: '' });
  expect(page.status).toBe(200);
  expect(page.text).toContain('f…@example.com gets letters from us');
  expect(await count(`campaign.${campaign}.left`)).toBe(0);

  const left = await server.call('POST', leave, 'List-Unsubscribe=One-Click', {
    cookie: '',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
  });
  expect(left.status).toBe(200);
  await server.call('POST', leave, '', { cookie: '' });
  expect(await count(`campaign.${campaign}.left`)).toBe(1);

  await importPeople(server, 'email\nFINE@example.com\n');
  const next = await makeCampaign(server, 'After leaving');
  const { body } = await server.call('GET', `/api/campaigns/${next.campaign}/tally`);
  expect(body.tally.heldBack['do not mail']).toBe(2);
  expect(await count(`campaign.${next.campaign}.do-not-mail`)).toBe(2);
});

it('gives nothing to somebody who leaves between fixing and handing over', async () => {
  await importPeople(
    server,
    `email\n${Array.from({ length: 12 }, (_, at) => `slow${at}@example.com`).join('\n')}\n`,
  );
  const { campaign } = await makeCampaign(server, 'Slow');
  mail.delay = 300;
  await send(server, campaign);
  await untilStatus(server, campaign, 'sending');
  await server.call('POST', `/api/campaigns/${campaign}/move/pause`);
  const { body } = await server.call('GET', `/api/people?of=campaign.${campaign}.waiting&q=slow11`);
  const person = body.rows[0] as { id: number };
  await server.call('POST', `/api/people/${person.id}/do-not-mail`, { put: true, note: '' });
  await server.call('POST', `/api/campaigns/${campaign}/move/go-on`);
  await untilStatus(server, campaign, 'sent');
  expect(mail.taken.some(({ to }) => to === 'slow11@example.com')).toBe(false);
  expect(await progress(campaign)).toMatchObject({ heldBack: 1, waiting: 0 });
  expect(await count(`campaign.${campaign}.held-back-late`)).toBe(1);
});

it('pauses, goes on and stops for good', async () => {
  const { campaign } = await makeCampaign(server, 'Stopped');
  mail.delay = 200;
  await send(server, campaign);
  await untilStatus(server, campaign, 'sending');
  await server.call('POST', `/api/campaigns/${campaign}/move/pause`);
  await until('the lanes to come to rest', async () => {
    const before = mail.taken.length;
    await new Promise((resolve) => setTimeout(resolve, 500));
    return mail.taken.length === before;
  });
  const paused = mail.taken.length;
  expect(paused).toBeLessThan(15);
  expect((await server.call('POST', `/api/campaigns/${campaign}/move/stop`)).status).toBe(204);
  await until('the rest to be stopped', async () => (await progress(campaign))['waiting'] === 0);
  expect(mail.taken.length).toBe(paused);
  const after = await progress(campaign);
  expect((after['accepted'] ?? 0) + (after['stopped'] ?? 0)).toBe(after['total']);
  expect((await server.call('POST', `/api/campaigns/${campaign}/move/go-on`)).status).toBe(422);
});

it('asks again when the tally changed between looking and sending', async () => {
  const { campaign } = await makeCampaign(server, 'Changed');
  const { body: seen } = await server.call('GET', `/api/campaigns/${campaign}/tally`);
  await importPeople(server, 'email\nnewcomer@example.com\n');
  const { body: sheet } = await server.call('GET', `/api/campaigns/${campaign}`);
  await server.call('POST', `/api/campaigns/${campaign}/send`, {
    version: sheet.version,
    seen: seen.tally,
  });
  await untilStatus(server, campaign, 'differs');
  expect(mail.taken).toEqual([]);
  const { body } = await server.call('GET', `/api/campaigns/${campaign}`);
  expect(body.differences).toContainEqual({
    line: 'receives',
    seen: seen.tally.receives,
    now: (seen.tally.receives as number) + 1,
  });
  await server.call('POST', `/api/campaigns/${campaign}/move/back-to-draft`);
  await untilStatus(server, campaign, 'draft');
  expect((await send(server, campaign)).status).toBe(204);
  await untilStatus(server, campaign, 'sent');
  expect(mail.taken.filter(({ to }) => to === 'newcomer@example.com')).toHaveLength(1);
});

it('holds people back after soft bounces or refusals nobody could read in a row, until somebody tries again; never for what is about the sender', async () => {
  await importPeople(
    server,
    'email,first name\nbrimful@example.com,Brim\nriddle@example.com,Riddle\nwalled@example.com,Walled\n',
  );
  mail.answer = (to) => {
    if (to.startsWith('brimful')) return { code: 552, text: '5.2.2 over quota' };
    if (to.startsWith('riddle')) return { code: 554, text: 'Transaction failed' };
    return to.startsWith('walled') ? { code: 550, text: '5.7.1 rejected as spam' } : undefined;
  };
  const one = async (name: string) => {
    const { body } = await server.call('GET', `/api/people?q=${name}`);
    return (await server.call('GET', `/api/people/${body.rows[0].id as number}`)).body;
  };
  for (const round of [1, 2, 3]) {
    const { campaign } = await makeCampaign(server, `Full ${round}`);
    await send(server, campaign);
    await untilStatus(server, campaign, 'sent');
    expect(await count(`campaign.${campaign}.bounced-soft`)).toBe(1);
  }
  expect(await one('brimful')).toMatchObject({ softBounces: 3, unreadBounces: 0, doNotMail: null });
  expect(await one('riddle')).toMatchObject({ softBounces: 0, unreadBounces: 3, doNotMail: null });
  expect(await one('walled')).toMatchObject({ softBounces: 0, unreadBounces: 0, doNotMail: null });
  const held = await makeCampaign(server, 'Held');
  const heldBack = async () =>
    (await server.call('GET', `/api/campaigns/${held.campaign}/tally`)).body.tally.heldBack;
  expect(await heldBack()).toMatchObject({ 'soft bounces': 1, 'unread bounces': 1 });
  expect(await count(`campaign.${held.campaign}.soft-bounces`)).toBe(1);
  expect(await count(`campaign.${held.campaign}.unread-bounces`)).toBe(1);
  for (const name of ['brimful', 'riddle'])
    await server.call('POST', `/api/people/${(await one(name)).id as number}/try-again`);
  expect(await heldBack()).toMatchObject({ 'soft bounces': 0, 'unread bounces': 0 });
  expect(await wrongFacts(server.database.db)).toEqual([]);
  mail.answer = () => undefined;
  await send(server, held.campaign);
  await untilStatus(server, held.campaign, 'sent');
  expect(await one('brimful')).toMatchObject({ softBounces: 0 });
  expect(await one('riddle')).toMatchObject({ unreadBounces: 0 });
});

it('writes to a name beyond ASCII where the mail server takes it, and holds back where it doesn’t', async () => {
  await importPeople(server, 'email,first name\njörg@example.com,Jörg\n');
  const { campaign } = await makeCampaign(server, 'To Jörg');
  const heldBack = async () =>
    (await server.call('GET', `/api/campaigns/${campaign}/tally`)).body.tally.heldBack[
      'beyond ascii'
    ] as number;
  // It is known from the letters that were handed over before.
  expect(await heldBack()).toBe(0);
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  expect(mail.taken.filter(({ to }) => to === 'jörg@example.com')).toHaveLength(1);
  const old = await startMailServer({ hideSMTPUTF8: true });
  const offers: boolean[] = [];
  const lane = new Lane(old.url, 2000, (takesUtf8) => offers.push(takesUtf8));
  expect(await lane.send('a@example.com', 'jörg@example.com', Buffer.from('x'))).toMatchObject({
    kind: 'answered',
    code: 553,
  });
  lane.close();
  expect([offers, old.taken]).toEqual([[false], []]);
  await old.stop();
  await keepMailTakesUtf8(server.database.db, false);
  const { campaign: next } = await makeCampaign(server, 'Not to Jörg');
  expect(
    (await server.call('GET', `/api/campaigns/${next}/tally`)).body.tally.heldBack['beyond ascii'],
  ).toBe(1);
});

it.each<
  [
    string,
    (to: string, attempt: number) => ReturnType<TestMailServer['answer']>,
    (counts: Record<string, number>) => void,
  ]
>([
  [
    'puts everything off once, then takes it',
    (_, attempt) => (attempt % 2 === 1 ? { code: 451, text: '4.3.0 not now' } : undefined),
    (counts) => expect(counts).toMatchObject({ accepted: counts['total'], bounced: 0 }),
  ],
  [
    'refuses everything',
    () => ({ code: 550, text: '5.7.1 not from you' }),
    (counts) => expect(counts).toMatchObject({ accepted: 0, bounced: counts['total'] }),
  ],
  [
    'closes after each message',
    () => 'close after',
    (counts) => expect(counts).toMatchObject({ accepted: counts['total'], uncertain: 0 }),
  ],
  [
    'stalls in the middle of one message',
    (to, attempt) => (to.startsWith('slow3@') && attempt === 1 ? 'stall' : undefined),
    (counts) =>
      expect((counts['accepted'] ?? 0) + (counts['uncertain'] ?? 0)).toBe(counts['total']),
  ],
])(
  'accounts for everybody when the mail server %s',
  async (name, answer, check) => {
    const seen = new Map<string, number>();
    mail.answer = (to) => {
      seen.set(to, (seen.get(to) ?? 0) + 1);
      return answer(to, Math.ceil((seen.get(to) ?? 0) / 2));
    };
    const { campaign } = await makeCampaign(server, name);
    await send(server, campaign);
    await untilStatus(server, campaign, 'sent');
    const counts = await progress(campaign);
    expect(counts).toMatchObject({ waiting: 0, deferred: 0 });
    check(counts);
    const got = mail.taken.map(({ to }) => to);
    expect(new Set(got).size).toBe(got.length);
    expect(got.length).toBeGreaterThanOrEqual(counts['accepted'] ?? 0);
  },
  60_000,
);

it('keeps accounts true: the facts equal what the event log says', async () => {
  expect(await wrongFacts(server.database.db)).toEqual([]);
});

it('goes on by itself when the mail server vanishes and comes back', async () => {
  const gone = await startMailServer();
  const other = await startTestServer({ SMTP_URL: gone.url });
  try {
    await importPeople(
      other,
      `email\n${Array.from({ length: 30 }, (_, at) => `v${at}@example.com`).join('\n')}\n`,
    );
    const { campaign } = await makeCampaign(other);
    gone.delay = 60;
    await send(other, campaign);
    await until('the first letters', async () => gone.taken.length > 5);
    gone.answer = () => 'hang up';
    await until('the trouble to be told', async () =>
      String((await other.call('GET', `/api/campaigns/${campaign}`)).body.trouble).includes(
        'mail server',
      ),
    );
    gone.answer = () => undefined;
    await untilStatus(other, campaign, 'sent');
    const { body } = await other.call('GET', `/api/campaigns/${campaign}/progress`);
    const addresses = gone.taken.map(({ to }) => to);
    expect(new Set(addresses).size).toBe(addresses.length);
    expect((body.accepted as number) + (body.uncertain as number)).toBe(30);
    expect(addresses.length).toBeGreaterThanOrEqual(body.accepted as number);
  } finally {
    await other.stop();
    await gone.stop();
  }
}, 90_000);

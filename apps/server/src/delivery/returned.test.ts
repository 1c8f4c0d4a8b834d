// What comes back after a letter was taken: notices, complaints, replies and readers' own pages.
import { createTransport } from 'nodemailer';
import { countRecent, wrongFacts } from '../testing/facts.js';
import { startMailbox, type TestMailbox } from '../testing/imap-server.js';
import { startMailServer, type Taken, type TestMailServer } from '../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startTestServer, until, type TestServer } from '../testing/server.js';

let mail: TestMailServer;
let mailbox: TestMailbox;
let server: TestServer;
let campaign = 0;
let letters: readonly Taken[] = [];

beforeAll(async () => {
  mail = await startMailServer();
  mailbox = await startMailbox();
  server = await startTestServer({
    SMTP_URL: mail.url,
    BOUNCE_DOMAIN: 'bounces.example.com',
    RETURNS_PORT: '0',
    IMAP_URL: mailbox.url,
    IMAP_EVERY_MS: '200',
  });
  await importPeople(
    server,
    `email,first name\n${['hard', 'soft', 'policy', 'angry', 'kind', 'away', 'leaver', 'unsure', 'reader', 'mover', 'boxed', 'alias', 'riddle', 'asker'].map((name) => `${name}@example.com,${name}`).join('\n')}\n`,
  );
  for (const name of ['Newsletter', 'Plant sales'])
    await server.call('POST', '/api/topics', { name, description: `About ${name}` });
  campaign = (await makeCampaign(server)).campaign;
  mail.answer = (to) => (to.startsWith('unsure') ? 'hang up after' : undefined);
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  letters = [...mail.taken];
  await countRecent(server.database.db);
}, 90_000);
afterAll(async () => {
  await server.stop();
  await mailbox.stop();
  await mail.stop();
});

const letterTo = (name: string): Taken => {
  const found = letters.find(({ to }) => to === `${name}@example.com`);
  if (!found) throw new Error(`no letter to ${name}`);
  return found;
};
const messageIdOf = ({ raw }: Taken): string => /^Message-ID: (<[^>]+>)/im.exec(raw)?.[1] ?? '';
const give = (to: string, raw: string): Promise<unknown> =>
  createTransport({ host: '127.0.0.1', port: server.returnsPort, ignoreTLS: true }).sendMail({
    envelope: { from: '', to: [to] },
    raw,
  });
const count = async (of: string): Promise<number> =>
  (await server.call('GET', `/api/people/summary?of=campaign.${campaign}.${of}`)).body
    .total as number;
const person = async (name: string) => {
  const { body } = await server.call('GET', `/api/people?q=${name}`);
  return (await server.call('GET', `/api/people/${(body.rows[0] as { id: number }).id}`)).body;
};
const returned = async (open: 'yes' | 'no' = 'yes') =>
  (await server.call('GET', `/api/returned?open=${open}`)).body as {
    mails: Record<string, unknown>[];
    open: number;
  };

const notice = (to: string, status: string, text: string): string =>
  `From: MAILER-DAEMON@mx.example.net\r\nTo: nobody\r\nSubject: Delivery Status Notification (Failure)\r\nMIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nSorry.\r\n--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; mx.example.net\r\n\r\nFinal-Recipient: rfc822; ${to}@example.com\r\nAction: failed\r\nStatus: ${status}\r\nDiagnostic-Code: smtp; ${text}\r\n\r\n--b--\r\n`;

it('takes late notices at the letter’s own address, and puts only the dead on do not mail', async () => {
  await give(letterTo('hard').from, notice('hard', '5.1.1', '550 5.1.1 no such user'));
  await give(letterTo('hard').from, notice('hard', '5.1.1', '550 5.1.1 no such user'));
  await give(letterTo('soft').from, notice('soft', '5.2.2', '552 5.2.2 full'));
  await give(letterTo('policy').from, notice('policy', '5.7.1', '554 5.7.1 not today'));
  expect([
    await count('bounced-hard'),
    await count('bounced-soft'),
    await count('bounced-policy'),
  ]).toEqual([1, 1, 1]);
  expect(await person('hard')).toMatchObject({ doNotMail: { reason: 'hard bounce' } });
  expect(await person('soft')).toMatchObject({ doNotMail: null, softBounces: 1 });
  expect(await person('policy')).toMatchObject({ doNotMail: null, softBounces: 0 });
  expect((await returned('no')).mails).toHaveLength(3);
  expect((await returned()).open).toBe(0);
});

it('waits for a hand where a notice speaks of another address than the one it went to', async () => {
  await give(letterTo('alias').from, notice('somewhere.else', '5.1.1', '550 5.1.1 no such user'));
  expect(await person('alias')).toMatchObject({ doNotMail: null });
  const { mails } = await returned();
  const mail = mails.find(
    ({ person: whose }) => (whose as { givenName: string } | null)?.givenName === 'alias',
  );
  expect(mail).toMatchObject({ kind: 'bounce', bounce: 'hard' });
  await server.call('POST', `/api/returned/${String(mail?.['id'])}/sort`, { kind: 'nothing' });
  expect((await returned()).open).toBe(0);
});

it('counts a refusal that nobody can read, and a question whether a human wrote as nothing', async () => {
  await give(letterTo('riddle').from, notice('riddle', '5.0.0', '554 Transaction failed'));
  expect(await person('riddle')).toMatchObject({
    doNotMail: null,
    softBounces: 0,
    unreadBounces: 1,
  });
  expect((await server.call('GET', '/api/people/summary?of=refused.1')).body.total).toBe(1);
  expect((await server.call('GET', '/api/people/summary?of=refused.2')).body.total).toBe(0);
  await give(
    letterTo('asker').from,
    `From: asker@example.com\r\nSubject: Please confirm your message\r\nIn-Reply-To: ${messageIdOf(letterTo('asker'))}\r\n\r\nProve that you are human.\r\n`,
  );
  const { mails } = await returned();
  expect(mails).toMatchObject([{ kind: 'challenge' }]);
  expect([await count('replied'), (await person('asker')).unreadBounces]).toEqual([0, 0]);
  await server.call('POST', `/api/returned/${String(mails[0]?.['id'])}/sort`, { kind: 'nothing' });
  expect(await wrongFacts(server.database.db)).toEqual([]);
});

it('refuses mail to addresses that stand in no letter', async () => {
  const { from } = letterTo('kind');
  for (const to of [
    'bounce+forged@bounces.example.com',
    'coordinator@example.com',
    from.replace('bounce+', 'leave+'),
    from.slice(0, 9) + 'A' + from.slice(10),
  ]) {
    await expect(give(to, 'Subject: x\r\n\r\nx')).rejects.toMatchObject({ responseCode: 550 });
  }
});

it('takes a complaint for a leave that the reader did not ask for nicely', async () => {
  const { from, raw } = letterTo('angry');
  await give(
    from,
    `From: abuse@example.net\r\nMIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=feedback-report; boundary="b"\r\n\r\n--b\r\nContent-Type: message/feedback-report\r\n\r\nFeedback-Type: abuse\r\nVersion: 1\r\n\r\n--b\r\nContent-Type: message/rfc822\r\n\r\n${raw}\r\n--b--\r\n`,
  );
  expect(await count('complained')).toBe(1);
  expect(await person('angry')).toMatchObject({ doNotMail: { reason: 'complained' } });
});

it('keeps automatic answers apart from replies, and lets a reply settle what was uncertain', async () => {
  await give(
    letterTo('away').from,
    `From: away@example.com\r\nSubject: Out of office\r\nAuto-Submitted: auto-replied\r\n\r\nBack on Monday.`,
  );
  await give(
    letterTo('kind').from,
    `From: kind@example.com\r\nSubject: Re: News\r\n\r\nHow lovely!`,
  );
  expect(await count('uncertain')).toBe(1);
  await give(
    letterTo('unsure').from,
    `From: unsure@example.com\r\nSubject: Re: News\r\n\r\nThank you.`,
  );
  expect([await count('replied'), await count('uncertain')]).toEqual([2, 0]);
  const { mails } = await returned();
  expect(mails.map(({ kind, sender }) => [kind, sender])).toEqual([
    ['reply', 'unsure@example.com'],
    ['reply', 'kind@example.com'],
  ]);
  for (const { id } of mails)
    expect(
      (await server.call('POST', `/api/returned/${id as number}/sort`, { kind: 'nothing' })).status,
    ).toBe(204);
  expect((await returned()).open).toBe(0);
});

it('lets a reader leave by mail', async () => {
  const token =
    /<mailto:(leave\+[\w-]+@[^>]+)>/.exec(
      letterTo('leaver').raw.replace(/\r\n[ \t]+/g, ' '),
    )?.[1] ?? '';
  await give(token, 'From: leaver@example.com\r\nSubject: unsubscribe\r\n\r\n');
  expect(await count('left')).toBe(1);
  expect(await person('leaver')).toMatchObject({ doNotMail: { reason: 'left' } });
});

it('reads a mailbox by IMAP, once each, and leaves other mail alone', async () => {
  mailbox.add('From: shop@example.org\r\nSubject: Your order\r\n\r\nIt was sent.');
  mailbox.add(
    `From: boxed@example.com\r\nTo: letters@example.com\r\nSubject: Re: News\r\nIn-Reply-To: ${messageIdOf(letterTo('boxed'))}\r\n\r\nI got it.`,
  );
  mailbox.add(
    'From: MAILER-DAEMON@mx.example.net\r\nSubject: failure notice\r\n\r\n<boxed@example.com>: 550 5.1.1 no such user\r\n',
  );
  await until('the mailbox to be read', async () => (await returned()).open === 2);
  const { mails } = await returned();
  // Only an address: nobody is put on do not mail on a guess.
  expect(mails[0]).toMatchObject({
    kind: 'bounce',
    bounce: 'hard',
    evidence: 'address',
    isOpen: true,
  });
  expect(mails[1]).toMatchObject({ kind: 'reply', evidence: 'headers' });
  expect(await person('boxed')).toMatchObject({ doNotMail: null });
  mailbox.renew();
  mailbox.add(
    `From: boxed@example.com\r\nTo: letters@example.com\r\nSubject: Re: News\r\nIn-Reply-To: ${messageIdOf(letterTo('boxed'))}\r\n\r\nI got it.`,
  );
  await new Promise((resolve) => setTimeout(resolve, 700));
  expect((await returned()).open).toBe(2);

  const id = mails[0]?.['id'] as number;
  expect(
    (
      await server.call('POST', `/api/returned/${id}/sort`, {
        kind: 'bounce',
        bounce: 'hard',
        contact: 999_999,
      })
    ).status,
  ).toBe(404);
  expect(
    (await server.call('POST', `/api/returned/${id}/sort`, { kind: 'bounce', bounce: 'hard' }))
      .status,
  ).toBe(204);
  expect(await person('boxed')).toMatchObject({ doNotMail: { reason: 'hard bounce' } });
  expect((await server.call('POST', `/api/returned/${id}/sort`, { kind: 'nothing' })).status).toBe(
    422,
  );
});

describe('the reader’s own page', () => {
  const leaveOf = (name: string): string =>
    /List-Unsubscribe: <http:\/\/letters\.example\.com(\/leave\/[\w-]+)>/i.exec(
      letterTo(name).raw.replace(/\r\n[ \t]+/g, ' '),
    )?.[1] ?? '';
  const post = (path: string, body = '') =>
    server.call('POST', path, body, {
      cookie: '',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
    });
  const page = (path: string) => server.call('GET', path, undefined, { cookie: '' });

  it('drops topics, and whoever dropped one is held back from it and gets the rest', async () => {
    const path = leaveOf('reader');
    expect((await page(path)).text).toContain('About Plant sales');
    const { topics } = (await server.call('GET', '/api/vocabulary')).body as {
      topics: { id: number; name: string }[];
    };
    const [news, sales] = [
      topics.find(({ name }) => name === 'Newsletter')?.id ?? 0,
      topics.find(({ name }) => name === 'Plant sales')?.id ?? 0,
    ];
    expect(
      (
        await post(
          `${path}/topics`,
          `shown=${news}&shown=${sales}&topic=${news}&topic=999&topic=junk`,
        )
      ).text,
    ).toContain('Your choice is kept');
    expect(await person('reader')).toMatchObject({ droppedTopics: [sales], doNotMail: null });
    const next = await makeCampaign(server, 'Sale');
    const { body: sheet } = await server.call('GET', `/api/campaigns/${next.campaign}`);
    const heldBack = async (topicId: number) => {
      const { body: now } = await server.call('GET', `/api/campaigns/${next.campaign}`);
      const { name, who, letterId, senderName, senderAddress, replyTo, sendAt } = sheet;
      expect(
        (
          await server.call('PUT', `/api/campaigns/${next.campaign}`, {
            version: now.version,
            name,
            who,
            letterId,
            senderName,
            senderAddress,
            replyTo,
            sendAt,
            topicId,
          })
        ).status,
      ).toBe(200);
      return (await server.call('GET', `/api/campaigns/${next.campaign}/tally`)).body.tally
        .heldBack['dropped topic'] as number;
    };
    expect([await heldBack(sales), await heldBack(news)]).toEqual([1, 0]);
    expect(
      (
        await server.call('PUT', `/api/campaigns/${next.campaign}`, {
          version: 99,
          name: 'x',
          who: sheet.who,
          letterId: null,
          senderName: '',
          senderAddress: '',
          replyTo: '',
          sendAt: null,
          topicId: 999,
        })
      ).status,
    ).toBe(404);
  });

  it.each(['', 'A', 'proofs', 'AgIDBAAix0Z-6iNCO1uJ', '%00', '..%2f..'])(
    'answers a link that is not one with a page: %j',
    async (token) => {
      expect((await page(`/leave/${token}x`)).status).toBe(404);
      expect((await post(`/leave/${token}x/topics`, 'topic=1')).status).toBe(404);
      expect((await page(`/confirm/${token}x`)).status).toBe(404);
    },
  );
});

it('shows a member nothing of the mail that came back', async () => {
  await server.account({ name: 'Milo', address: 'milo@example.com', role: 'member' });
  const cookie = await server.signIn('milo@example.com');
  const { body } = await server.call('GET', '/api/returned?open=no', undefined, { cookie });
  expect(body).toEqual({ mails: [], open: 0, before: null });
  expect(
    (await server.call('POST', '/api/returned/1/sort', { kind: 'nothing' }, { cookie })).status,
  ).toBe(403);
});

it('keeps accounts true through all of it', async () =>
  expect(await wrongFacts(server.database.db)).toEqual([]));

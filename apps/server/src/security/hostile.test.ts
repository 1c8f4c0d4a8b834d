// One request, one mail or one file must not stop the office: whatever comes, others are answered meanwhile.
import { connect } from 'node:net';
import { createTransport } from 'nodemailer';
import { importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startMailbox, type TestMailbox } from '../testing/imap-server.js';
import { startMailServer, type Taken, type TestMailServer } from '../testing/mail-server.js';
import { PASSWORD, startTestServer, until, type TestServer } from '../testing/server.js';
import { underWatch } from '../testing/watchdog.js';

let mail: TestMailServer;
let mailbox: TestMailbox;
let server: TestServer;
let letters: readonly Taken[];
let campaign: number;
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
    `email,first name\n${Array.from({ length: 24 }, (_, at) => `reader${at}@example.com,Reader ${at}`).join('\n')}\n`,
  );
  ({ campaign } = await makeCampaign(server));
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  letters = [...mail.taken];
}, 90_000);
afterAll(async () => {
  await server.stop();
  await mailbox.stop();
  await mail.stop();
});

const json = { headers: { 'content-type': 'application/json' } };
const keys = (count: number): string =>
  Array.from({ length: count }, (_, at) => `"k${at}":1`).join(',');
const rule = (root: unknown) => ({ pools: [1], rule: { v: 1, root } });
const condition = { kind: 'field', field: 'town', op: 'contains', value: 'x' };

describe('a body', () => {
  it.each<[string, string, string, string]>([
    [
      'many keys from nobody',
      'POST',
      '/api/session',
      `{"address":"a@example.com","password":"x",${keys(190_000)}}`,
    ],
    ['many keys to the first visit', 'POST', '/api/setup', `{${keys(150_000)}}`],
    [
      'a megabyte of letters from nobody',
      'POST',
      '/api/session',
      `{"address":"${'a'.repeat(1_000_000)}","password":"x"}`,
    ],
    [
      'nothing but marks from nobody, as an address',
      'POST',
      '/api/setup',
      `{"code":"x","officeName":"x","postalAddress":"x","timeZone":"Europe/Lisbon","name":"x","address":"${'\u0300\u0316'.repeat(3500)}@example.com","password":"x"}`,
    ],
    [
      'nothing but marks, written as escapes',
      'POST',
      '/api/session',
      `{"address":"${'\\u0300\\u0316'.repeat(1200)}@example.com","password":"x"}`,
    ],
    [
      'a domain of thousands of letters',
      'POST',
      '/api/forgotten',
      `{"address":"a@${'\u8a9e'.repeat(5000)}.example"}`,
    ],
    [
      'as much as a stranger may say',
      'POST',
      '/api/session',
      `{"address":"${'a@'.repeat(7000)}","password":"x"}`,
    ],
  ])('with %s is refused before anybody reads it', async (_, method, path, body) => {
    await underWatch(server.url, path, async () => {
      for (let times = 0; times < 5; times++) {
        const reply = await server.call(method, path, body, { ...json, cookie: '' });
        expect(reply.status).toBeGreaterThanOrEqual(400);
        expect(reply.status).toBeLessThan(500);
        expect(reply.headers.get('content-type')).toContain('application/problem+json');
      }
    });
  });

  it.each<[string, string, string, string]>([
    [
      '100,000 values',
      'POST',
      '/api/people',
      `{"values":{${keys(100_000)}},"permission":"asked","source":""}`,
    ],
    [
      '500 values',
      'POST',
      '/api/people',
      `{"values":{${keys(500)}},"permission":"asked","source":""}`,
    ],
    ['500 fields that are none', 'POST', '/api/people', `{${keys(500)}}`],
    [
      '900,000 entries',
      'POST',
      '/api/tagging',
      `{"people":{"ids":[${'1,'.repeat(899_999)}1]},"tag":1,"put":true}`,
    ],
    [
      '10,000 wrong entries',
      'POST',
      '/api/tagging',
      `{"people":{"ids":[${'"x",'.repeat(9999)}"x"]},"tag":1,"put":true}`,
    ],
    [
      '10,000 lists in a list',
      'POST',
      '/api/tagging',
      `{"people":{"ids":[${'[],'.repeat(9999)}[]]},"tag":1,"put":true}`,
    ],
    [
      '10,000 things for a mapping',
      'PUT',
      '/api/imports/1/plan',
      `{"mapping":[${'{"to":"x"},'.repeat(9999)}{}],"permission":"asked","source":"","tagIds":[]}`,
    ],
    [
      'two million letters as an address',
      'POST',
      '/api/accounts',
      `{"name":"x","address":"${'a.'.repeat(900_000)}@b","role":"member","password":"${'x'.repeat(100_000)}"}`,
    ],
    [
      '120 kB of marks as a name',
      'POST',
      '/api/tags',
      `{"name":"${'\u0300\u0316'.repeat(30_000)}","colour":"moss"}`,
    ],
    [
      'marks in a key',
      'POST',
      '/api/people',
      `{"values":{"${'\u0300\u0316'.repeat(30_000)}":"x"},"permission":"asked","source":""}`,
    ],
    [
      'half-width signs that become marks',
      'POST',
      '/api/tags',
      `{"name":"${'\uff9e\u0300'.repeat(30_000)}","colour":"moss"}`,
    ],
    ['nothing but blanks', 'POST', '/api/people', ' '.repeat(2_000_000)],
    ['nothing but quotes', 'POST', '/api/people', '"'.repeat(1_900_000)],
    [
      'a letter of 50,000 parts',
      'PUT',
      '/api/letters/1',
      `{"version":1,"name":"x","content":{"v":1,"subject":[],"preview":[],"blocks":[${'{"id":"x","kind":"text","text":[]},'.repeat(9999)}{}]}}`,
    ],
    [
      'a very long line of a letter',
      'PUT',
      '/api/letters/1',
      `{"version":1,"name":"x","content":{"v":1,"subject":["${'{{ '.repeat(500_000)}"],"preview":[],"blocks":[]}}`,
    ],
    [
      'a very long link in a letter',
      'PUT',
      '/api/letters/1',
      `{"version":1,"name":"x","content":{"v":1,"subject":[],"preview":[],"blocks":[{"id":"b","kind":"button","label":["x"],"href":"http://${'a.'.repeat(800_000)}"}]}}`,
    ],
  ])('with %s keeps nobody waiting', async (_, method, path, body) => {
    const reply = await underWatch(server.url, path, () => server.call(method, path, body, json));
    expect(reply.status).toBeGreaterThanOrEqual(400);
    expect(reply.status).toBeLessThan(500);
    expect(reply.text.length).toBeLessThan(60_000);
  });

  it('has at most fifty errors in its answer', async () => {
    const { status, body } = await server.call('POST', '/api/people', `{${keys(400)}}`, json);
    expect(status).toBe(400);
    expect((body.errors as unknown[]).length).toBeLessThanOrEqual(50);
    const long = await server.call('POST', '/api/people', `{"${'k'.repeat(500_000)}":1}`, json);
    expect(long.text.length).toBeLessThan(10_000);
  });
});

it('keeps of a letter and a campaign only what was read, and a subject in one line', async () => {
  const { letter, campaign: sheet } = await makeCampaign(server, 'Lines');
  const { body: before } = await server.call('GET', `/api/letters/${letter}`);
  const broken = 'One\r\nBcc: all@example.com\u2028two\u0085three\tfour';
  const subject = [broken, { field: 'given_name', fallback: 'my\r\nfriend', extra: 'x' }];
  expect(
    (
      await server.call('PUT', `/api/letters/${letter}`, {
        version: before.version,
        name: 'Li\nnes',
        content: { ...before.content, subject, hidden: 'kept?' },
      })
    ).status,
  ).toBe(200);
  const { body: after } = await server.call('GET', `/api/letters/${letter}`);
  expect(after).toMatchObject({
    name: 'Li nes',
    content: {
      subject: [
        'One Bcc: all@example.com two three four',
        { field: 'given_name', fallback: 'my friend' },
      ],
    },
  });
  expect(JSON.stringify(after)).not.toMatch(/kept\?|extra/);
  const { body: was } = await server.call('GET', `/api/campaigns/${sheet}`);
  const change = {
    version: was.version,
    name: 'x',
    who: { ...was.who, hidden: 'kept?' },
    letterId: letter,
    senderName: 'A\r\nB',
    senderAddress: 'a@example.com\r\nBcc: b@example.com',
    replyTo: '',
    sendAt: null,
  };
  expect((await server.call('PUT', `/api/campaigns/${sheet}`, change)).status).toBe(200);
  const { body: now } = await server.call('GET', `/api/campaigns/${sheet}`);
  expect(now).toMatchObject({
    senderName: 'A B',
    senderAddress: 'a@example.com Bcc: b@example.com',
    who: was.who,
  });
  expect(JSON.stringify(now)).not.toContain('kept?');
});

describe('an address in a request', () => {
  it.each([
    [
      'a thousand parameters',
      `/api/people?${Array.from({ length: 1000 }, (_, at) => `q${at}=1`).join('&')}`,
    ],
    ['one parameter a thousand times', `/api/people?${'of=segment.1&'.repeat(900)}`],
    ['a long search', `/api/people?q=${'%25a'.repeat(1500)}`],
    ['many words', `/api/people?q=${'ab+'.repeat(60)}`],
  ])('with %s keeps nobody waiting', async (_, path) => {
    const reply = await underWatch(server.url, path, () => server.call('GET', path));
    expect(reply.status).toBeLessThan(500);
  });
});

describe('a rule', () => {
  it('counts its groups among its parts', async () => {
    const groups = rule({
      of: 'all',
      items: Array.from({ length: 1500 }, () => ({ of: 'any', items: [] })),
    });
    for (const path of ['sift', 'strain']) {
      const reply = await underWatch(server.url, path, () =>
        server.call('POST', `/api/segments/${path}`, groups),
      );
      expect([reply.status, reply.body.detail]).toEqual([
        422,
        expect.stringContaining('more than 200 groups'),
      ]);
    }
  });

  it.each<[string, unknown]>([
    ['190 conditions', { of: 'all', items: Array.from({ length: 190 }, () => condition) }],
    [
      '190 empty groups',
      { of: 'any', items: Array.from({ length: 190 }, () => ({ of: 'any', items: [] })) },
    ],
    [
      'groups in groups',
      Array.from({ length: 10 }).reduce<unknown>(
        (inner) => ({ of: 'none', items: [inner, ...Array.from({ length: 8 }, () => condition)] }),
        { of: 'all', items: [] },
      ),
    ],
  ])('with %s is counted while others are answered', async (_, root) => {
    for (const path of ['sift', 'strain']) {
      const reply = await underWatch(server.url, path, () =>
        server.call('POST', `/api/segments/${path}`, rule(root)),
      );
      expect(reply.status).toBe(200);
    }
  });
});

describe('returned mail', () => {
  const letterTo = (at: number): Taken => {
    const found = letters.find(({ to }) => to === `reader${at}@example.com`);
    if (!found) throw new Error('no such letter');
    return found;
  };
  const give = (to: string, raw: string): Promise<unknown> =>
    createTransport({ host: '127.0.0.1', port: server.returnsPort, ignoreTLS: true }).sendMail({
      envelope: { from: '', to: [to] },
      raw,
    });
  const plain = (subject: string, text: string, headers = ''): string =>
    `From: MAILER-DAEMON@mx.example.net\r\nSubject: ${subject}\r\n${headers}\r\n${text}\r\n`;
  const nested = (depth: number): string => {
    const parts = Array.from(
      { length: depth },
      (_, at) => `Content-Type: multipart/mixed; boundary="b${at}"\r\n\r\n--b${at}\r\n`,
    );
    return `From: x@example.net\r\nSubject: deep\r\nMIME-Version: 1.0\r\n${parts.join('')}Content-Type: text/plain\r\n\r\nx\r\n`;
  };

  it.each<[string, string]>([
    ['toto', plain('Undeliverable', 'toto'.repeat(15_000))],
    ['to and at', plain('Undeliverable', 'to@'.repeat(15_000))],
    ['brackets', plain('Undeliverable', '<'.repeat(60_000))],
    ['addresses', plain('Undeliverable', 'a@b '.repeat(30_000))],
    ['half addresses', plain('Undeliverable', 'aaaa@ '.repeat(30_000))],
    ['codes', plain('Undeliverable', '5.1.1 '.repeat(30_000))],
    ['deliver', plain('deliver '.repeat(4000), 'deliver fail '.repeat(10_000))],
    ['a long header', plain('x', 'y', `X-Failed-Recipients: ${'a'.repeat(30_000)}\r\n`)],
    ['a long subject', plain('out of office '.repeat(3000), 'y')],
    [
      'HTML of brackets',
      plain('x', '<'.repeat(200_000), 'MIME-Version: 1.0\r\nContent-Type: text/html\r\n'),
    ],
    [
      'HTML of styles',
      plain('x', '<style>'.repeat(60_000), 'MIME-Version: 1.0\r\nContent-Type: text/html\r\n'),
    ],
    [
      'flowing lines',
      plain(
        'x',
        'a \r\n'.repeat(120_000),
        'MIME-Version: 1.0\r\nContent-Type: text/plain; format=flowed\r\n',
      ),
    ],
    ['encoded words', plain('=?utf-8?q?a?= '.repeat(10_000), 'y')],
    [
      'many headers',
      plain('x', 'y', Array.from({ length: 20_000 }, (_, at) => `X-${at}: y\r\n`).join('')),
    ],
  ])('of %s keeps nobody waiting', async (what, raw) => {
    await underWatch(server.url, what, () =>
      give(letterTo(0).from, raw).catch((error: unknown) =>
        expect(error).toMatchObject({ responseCode: 554 }),
      ),
    );
  });

  it('that can’t be parsed is refused by SMTP, and in a mailbox kept as unread and passed by', async () => {
    await expect(give(letterTo(1).from, nested(300))).rejects.toMatchObject({ responseCode: 554 });
    const notice = (to: string): string =>
      plain('failure notice', `<${to}>: 550 5.1.1 no such user`);
    mailbox.add(nested(300));
    mailbox.add(notice('reader2@example.com'));
    mailbox.add(notice('reader3@example.com'));
    const open = async () =>
      (await server.call('GET', '/api/returned?open=yes')).body as {
        mails: { kind: string; subject: string }[];
      };
    await until(
      'the mailbox to be read',
      async () => (await open()).mails.filter(({ kind }) => kind === 'bounce').length >= 2,
    );
    expect((await open()).mails).toContainEqual(
      expect.objectContaining({ kind: 'unread', subject: 'A message that can’t be read' }),
    );
  });

  it('brings a handful of messages of one letter a day, and leaving always', async () => {
    const { from, raw } = letterTo(4);
    const count = async (): Promise<number> =>
      (await server.call('GET', '/api/returned')).body.mails.filter(
        ({ sender }: { sender: string }) => sender === 'flood@example.com',
      ).length as number;
    for (let one = 0; one < 12; one++)
      await give(from, `From: flood@example.com\r\nSubject: Re: News ${one}\r\n\r\nHello ${one}`);
    expect(await count()).toBe(6);
    const leave = /<mailto:(leave\+[\w-]+@[^>]+)>/.exec(raw.replace(/\r\n[ \t]+/g, ' '))?.[1] ?? '';
    await give(leave, 'From: reader4@example.com\r\nSubject: unsubscribe\r\n\r\n');
    expect(
      (await server.call('GET', `/api/people/summary?of=campaign.${campaign}.left`)).body.total,
    ).toBe(1);
  });
});

describe('a stream of events', () => {
  const open = async (
    cookie: string,
    path = `/api/campaigns/${campaign}/live`,
  ): Promise<{ status: number; type: string; close: () => void; ended: Promise<void> }> => {
    const controller = new AbortController();
    const reply = await fetch(server.url + path, {
      headers: { cookie, accept: 'text/event-stream' },
      signal: controller.signal,
    });
    const ended = (async () => {
      try {
        for await (const _ of reply.body ?? []);
      } catch {
        // closed by the test
      }
    })();
    return {
      status: reply.status,
      type: reply.headers.get('content-type') ?? '',
      close: () => controller.abort(),
      ended,
    };
  };
  let waiting: number;
  beforeAll(async () => {
    // A campaign that waits for its time is watched as long as it waits.
    waiting = (await makeCampaign(server, 'Waits')).campaign;
    const { body } = await server.call('GET', `/api/campaigns/${waiting}`);
    const { version, name, who, letterId, senderName, senderAddress, replyTo, topicId } = body;
    await server.call('PUT', `/api/campaigns/${waiting}`, {
      version,
      name,
      who,
      letterId,
      senderName,
      senderAddress,
      replyTo,
      topicId,
      sendAt: new Date(Date.now() + 86_400_000).toISOString(),
    });
    expect((await send(server, waiting)).status).toBe(204);
  });

  it('is had six times per session, and given back when it ends', async () => {
    const cookie = await server.signIn('ines@example.com');
    const path = `/api/campaigns/${waiting}/live`;
    const all = await underWatch(server.url, 'many streams', () =>
      Promise.all(Array.from({ length: 60 }, () => open(cookie, path))),
    );
    expect(all.filter(({ status }) => status === 200)).toHaveLength(6);
    for (const { status, type } of all)
      expect(type).toContain(status === 200 ? 'text/event-stream' : 'application/problem+json');
    expect(new Set(all.map(({ status }) => status))).toEqual(new Set([200, 429]));
    // Another session has its own.
    const other = await open(await server.signIn('ines@example.com'), path);
    expect(other.status).toBe(200);
    for (const { close } of [...all, other]) close();
    await until('a stream to be free', async () => {
      const again = await open(cookie, path);
      again.close();
      return again.status === 200;
    });
  });

  it('is refused in the problem format before it begins', async () => {
    for (const path of ['/api/campaigns/9999/live', '/api/imports/9999/live']) {
      const reply = await open(server.coordinator, path);
      expect([reply.status, reply.type]).toEqual([
        404,
        expect.stringContaining('application/problem+json'),
      ]);
    }
    const reply = await open('palabra_session=none');
    expect([reply.status, reply.type]).toEqual([
      401,
      expect.stringContaining('application/problem+json'),
    ]);
  });

  it('ends with its session', async () => {
    const cookie = await server.signIn('ines@example.com');
    const stream = await open(cookie, `/api/campaigns/${waiting}/live`);
    expect(stream.status).toBe(200);
    await server.call('DELETE', '/api/session', undefined, { cookie });
    await stream.ended;
  }, 20_000);
});

it('survives what is no HTTP at all', async () => {
  const say = (text: string): Promise<void> =>
    new Promise((resolve) => {
      const socket = connect(Number(new URL(server.url).port), '127.0.0.1', () =>
        socket.write(text),
      );
      socket.on('error', () => resolve());
      socket.on('close', () => resolve());
      socket.resume();
      setTimeout(() => socket.destroy(), 300);
    });
  await underWatch(server.url, 'noise', async () => {
    for (const text of [
      '\0'.repeat(100_000),
      'GET / HTTP/1.1\r\n\r\n',
      `GET / HTTP/1.1\r\nHost: localhost\r\n${'X: y\r\n'.repeat(50_000)}\r\n`,
      'GET /o/ HTTP/9\r\n\r\n',
      'POST /api/session HTTP/1.1\r\nHost: localhost\r\nContent-Length: -1\r\n\r\n',
    ])
      await say(text);
  });
  expect(
    (
      await server.call(
        'POST',
        '/api/session',
        { address: 'ines@example.com', password: PASSWORD },
        { cookie: '' },
      )
    ).status,
  ).toBe(204);
});

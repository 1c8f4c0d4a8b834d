// The outside as a sender meets it: takes letters for made-up people only, keeps each, and its readers do what their names say.
import { createServer, type Server } from 'node:http';
import { mkdtempSync, rmSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import { SMTPServer } from 'smtp-server';
import { habitsOf, linksIn, startOutside, type Outside } from './index.js';

interface Visit {
  readonly method: string;
  readonly path: string;
  readonly agent: string;
  readonly purpose: string;
  readonly body: string;
}

let directory: string;
let sender: Server;
let returns: SMTPServer;
let outside: Outside;
let origin: string;
const visits: Visit[] = [];
const answers: { to: string; raw: string }[] = [];

beforeAll(async () => {
  directory = mkdtempSync(join(tmpdir(), 'outside-'));
  sender = createServer((request, response) => {
    let body = '';
    request.on('data', (chunk) => (body += String(chunk)));
    request.on('end', () => {
      visits.push({
        method: request.method ?? '',
        path: request.url ?? '',
        agent: request.headers['user-agent'] ?? '',
        purpose: String(request.headers['sec-purpose'] ?? ''),
        body,
      });
      response.end('ok');
    });
  });
  await new Promise<void>((resolve) => sender.listen(0, '127.0.0.1', () => resolve()));
  origin = `http://127.0.0.1:${(sender.address() as AddressInfo).port}`;
  returns = new SMTPServer({
    disabledCommands: ['AUTH', 'STARTTLS'],
    logger: false,
    onData: (stream, session, done) => {
      let raw = '';
      stream.on('data', (chunk: Buffer) => (raw += chunk.toString()));
      stream.on('end', () => {
        answers.push({ to: session.envelope.rcptTo[0]?.address ?? '', raw });
        done();
      });
    },
  });
  await new Promise<void>((resolve) => returns.listen(0, '127.0.0.1', () => resolve()));
  outside = await startOutside({
    directory,
    smtpPort: 0,
    webPort: 0,
    seed: 7,
    meanDelay: 20,
    origin,
    returnsPort: (returns.server.address() as AddressInfo).port,
  });
});
afterAll(async () => {
  await outside.stop();
  await new Promise<void>((resolve) => returns.close(() => resolve()));
  sender.closeAllConnections();
  await new Promise<void>((resolve) => sender.close(() => resolve()));
  rmSync(directory, { recursive: true, force: true });
});

const html = (who: string): string =>
  `<p><a href="${origin}/c/${who}-1">one</a> <a href="${origin}/c/${who}-2">two</a> <a href="https://example.com/elsewhere">else</a></p><img src="${origin}/o/${who}" width="1">`;
async function deliver(who: string, domain = 'example.com'): Promise<void> {
  const mail = createTransport({ host: '127.0.0.1', port: outside.smtpPort, ignoreTLS: true });
  await mail.sendMail({
    envelope: { from: `bounce+${who}@bounces.example.net`, to: [`${who}.x@${domain}`] },
    from: 'letters@example.net',
    to: `${who}.x@${domain}`,
    subject: 'News',
    messageId: `<${who}@example.net>`,
    headers: { 'List-Unsubscribe': { prepared: true, value: `<${origin}/leave/${who}>` } },
    html: html(who),
  });
}

async function seen(what: string, done: () => boolean): Promise<void> {
  for (let left = 300; !done(); left--) {
    if (left === 0) throw new Error(`not seen: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
const of = (who: string): Visit[] => visits.filter(({ path }) => path.includes(`/${who}`));

it.each([
  ['keen', (visit: Visit) => visit.path === '/c/keen-1' || visit.path === '/c/keen-2'],
  ['forwards', (visit: Visit) => visit.agent.includes('Windowsill')],
  [
    'leaver',
    (visit: Visit) =>
      visit.method === 'POST' &&
      visit.path === '/leave/leaver' &&
      visit.body === 'List-Unsubscribe=One-Click',
  ],
  ['scanned', (visit: Visit) => visit.method === 'HEAD' && visit.path.startsWith('/c/')],
  ['proxied', (visit: Visit) => visit.path === '/o/proxied' && visit.agent.includes('proxy')],
  ['prefetches', (visit: Visit) => visit.path.startsWith('/c/') && visit.purpose === 'prefetch'],
])('%s does what the name says', async (who, deed) => {
  await deliver(who);
  await seen(who, () => of(who).some(deed));
});

it.each([
  ['replies', /^In-Reply-To: <replies@example\.net>/m],
  ['away', /^Auto-Submitted: auto-replied/m],
  ['angry', /^Feedback-Type: abuse/m],
  ['late', /^Status: 5\.1\.1/m],
  ['latefull', /^Status: 5\.2\.2/m],
  ['oddnotice', /^550 5\.1\.1 no mailbox here/m],
])('%s answers to the letter’s own address', async (who, words) => {
  await deliver(who);
  await seen(who, () =>
    answers.some(({ to, raw }) => to === `bounce+${who}@bounces.example.net` && words.test(raw)),
  );
});

it('takes nothing for real people, knows dead mailboxes, and puts a full one off once', async () => {
  await expect(deliver('keen', 'post.real-people.com')).rejects.toMatchObject({
    responseCode: 550,
  });
  await expect(deliver('dead')).rejects.toMatchObject({
    responseCode: 550,
    response: expect.stringContaining('5.1.1'),
  });
  await expect(deliver('full')).rejects.toMatchObject({ responseCode: 452 });
  await expect(deliver('full')).resolves.toBeUndefined();
});

it('keeps every letter for reading, and reaches only the sender', async () => {
  await deliver('quiet');
  const { letters } = (await (
    await fetch(`http://127.0.0.1:${outside.webPort}/api/letters?to=quiet`)
  ).json()) as { letters: { to: string; subject: string; html: string }[] };
  expect(letters).toMatchObject([{ to: 'quiet.x@example.com', subject: 'News' }]);
  expect(linksIn(letters[0]?.html ?? '').links).toContain('https://example.com/elsewhere');
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(of('quiet')).toEqual([]);
  expect(visits.every(({ path }) => /^\/(o|c|leave)\//.test(path))).toBe(true);
});

it('gives the same readers for the same seed, and shares of each that are believable', () => {
  const readers = Array.from({ length: 5000 }, (_, at) => habitsOf(`someone${at}@example.org`, 7));
  expect(Array.from({ length: 5 }, (_, at) => habitsOf(`someone${at}@example.org`, 7))).toEqual(
    readers.slice(0, 5),
  );
  const share = (which: (habits: (typeof readers)[number]) => boolean): number =>
    readers.filter(which).length / readers.length;
  expect(share(({ opens }) => opens)).toBeCloseTo(0.42, 1);
  expect(share(({ dead }) => dead)).toBeLessThan(0.02);
  expect(share(({ answers: what }) => what !== 'nothing')).toBeLessThan(0.03);
});

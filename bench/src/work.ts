// Long work beside its bare counterpart: import and COPY, sending and a bare loop, letters, open and click addresses.
import { idOf } from '@palabra/core/kernel';
import { fork, type ChildProcess } from 'node:child_process';
import { createServer, request as httpRequest, Agent } from 'node:http';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import type { CompiledLetter, LetterContent } from '@palabra/core/letters';
import type { ContactRow } from '@palabra/server/contacts/people/values';
import { newsletter } from '@palabra/server/demo/letters';
import { compileLetter } from '@palabra/server/letters/compile';
import { messagesOf, type Mail } from '@palabra/server/delivery/message';
import { openDatabase } from '@palabra/server/platform/database';
import { Keys } from '@palabra/server/platform/keys';
import { createTransport } from 'nodemailer';
import { at, median, ms, perSecond, timed, type Row } from './measure.js';
import type { Postgres } from './postgres.js';
import { bringIn, freshOffice, mb, rest, startImport } from './intake.js';
import { memory, type RunningServer } from './world.js';

async function startSink(): Promise<{ url: string; port: number; child: ChildProcess }> {
  const child = fork(join(import.meta.dirname, 'sink.js'), [], {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    execArgv: [],
  });
  const port = await new Promise<number>((resolve) =>
    child.once('message', (message) => resolve(message as number)),
  );
  return { url: `smtp://127.0.0.1:${port}`, port, child };
}

interface Sheet {
  readonly version: number;
  readonly status: string;
}

async function sendTo(
  server: RunningServer,
  letters: number,
  name = 'Bench',
): Promise<{ took: number; peak: number }> {
  const json = async <T>(method: string, path: string, data?: unknown): Promise<T> =>
    (await server.call(method, path, data)).body as T;
  const { id: segment } = await json<{ id: number }>('POST', '/api/segments', {
    name,
    pools: [1],
    rule: { v: 1, root: { of: 'all', items: [{ kind: 'everybody' }] } },
  });
  const { id: letter } = await json<{ id: number }>('POST', '/api/letters', {
    name,
    template: 'news',
  });
  const { version, content } = await json<{ version: number; content: object }>(
    'GET',
    `/api/letters/${letter}`,
  );
  await json('PUT', `/api/letters/${letter}`, {
    version,
    name,
    content: {
      ...content,
      ...newsletter(
        'The garden in bloom',
        'Frost on the seed heads.',
        'What is in flower, and the dates of the next weeks.',
      ),
    },
  });
  const { id } = await json<{ id: number }>('POST', '/api/campaigns', { name, segment, letter });
  const { tally } = await json<{ tally: unknown }>('GET', `/api/campaigns/${id}/tally`);
  const sheet = await json<Sheet>('GET', `/api/campaigns/${id}`);
  await json('POST', `/api/campaigns/${id}/send`, { version: sheet.version, seen: tally });
  let start = 0;
  let peak = 0;
  for (;;) {
    const { status } = await json<Sheet>('GET', `/api/campaigns/${id}`);
    if (status === 'sending' && start === 0) start = performance.now();
    if (status === 'sent') return { took: performance.now() - start, peak };
    peak = Math.max(peak, await memory(server.pid));
    await rest(100);
  }
}

const SENDING_ROUNDS = 3;
const middle = (times: readonly number[]): number =>
  median({ sorted: times.toSorted((one, other) => one - other) });

/** Sends beside the loop, in turn, once both have done it once: an office's server runs for weeks. */
export async function sending(letters: number, postgres: Postgres | undefined): Promise<Row[]> {
  const sink = await startSink();
  const rows: Row[] = [];
  const office = (connections: number): ReturnType<typeof freshOffice> =>
    freshOffice({ SMTP_URL: sink.url, SMTP_CONNECTIONS: String(connections) });
  try {
    const { raw: ready } = (await composer()).compose(1, 'x@example.com');
    const bare = async (connections: number): Promise<number> => {
      const transport = createTransport({
        pool: true,
        host: '127.0.0.1',
        port: sink.port,
        ignoreTLS: true,
        maxConnections: connections,
        maxMessages: Infinity,
      });
      const start = performance.now();
      await Promise.all(
        Array.from({ length: letters }, (_, one) =>
          transport.sendMail({
            envelope: { from: 'bench@example.com', to: [`person${one}@example.com`] },
            raw: ready,
          }),
        ),
      );
      transport.close();
      return performance.now() - start;
    };
    /** Once warm, on a PostgreSQL server. */
    const sentOn = async (connections: number): Promise<number> => {
      const { server, directory } = await freshOffice({
        SMTP_URL: sink.url,
        SMTP_CONNECTIONS: String(connections),
        DATABASE_URL: (await postgres?.database(`sending_${connections}`)) ?? '',
      });
      try {
        await bringIn(server, letters);
        await sendTo(server, letters, 'First');
        return (await sendTo(server, letters, 'Second')).took;
      } finally {
        await server.stop();
        rmSync(directory, { recursive: true, force: true });
      }
    };
    for (const connections of [5, 10]) {
      const { server, directory } = await office(connections);
      try {
        await bringIn(server, letters);
        await bare(connections);
        const first = await sendTo(server, letters, 'First');
        const took: number[] = [];
        const loops: number[] = [];
        for (let round = 0; round < SENDING_ROUNDS; round++) {
          loops.push(await bare(connections));
          took.push((await sendTo(server, letters, `Round ${round}`)).took);
        }
        const [loop, own] = [middle(loops), middle(took)];
        const onServer = postgres && (await sentOn(connections));
        rows.push({
          work: `sending ${letters.toLocaleString('en')} letters on ${connections} connections`,
          ours: `${perSecond(letters, own)} (the first after a start ${perSecond(letters, first.took)})`,
          against: `bare pooled loop, ${perSecond(letters, loop)}`,
          ratio: (loop / own).toFixed(2),
          aim: '≥ 0.7 of its rate',
          ...(onServer === undefined ? {} : { onServer: perSecond(letters, onServer) }),
        });
      } finally {
        await server.stop();
        rmSync(directory, { recursive: true, force: true });
      }
    }
    const peaks: string[] = [];
    for (const size of [1000, letters, letters * 4]) {
      const { server, directory } = await office(5);
      try {
        await bringIn(server, size);
        peaks.push(`${size.toLocaleString('en')}: ${mb((await sendTo(server, size)).peak)}`);
      } finally {
        await server.stop();
        rmSync(directory, { recursive: true, force: true });
      }
    }
    rows.push({
      work: 'memory of the server while sending',
      ours: peaks.join('; '),
      against: '–',
      ratio: '–',
      aim: 'flat',
    });
    return rows;
  } finally {
    sink.child.kill();
  }
}

const look = {
  officeName: 'Bench',
  postalAddress: '3 Walk',
  language: 'en',
  baseUrl: 'http://letters.example.com',
};

/** The letter that is sent here, and what makes one reader's message of it. */
async function composer(): Promise<{
  content: LetterContent;
  compiled: CompiledLetter;
  compose: (id: number, address: string) => Mail;
}> {
  const content = newsletter(
    'The garden in bloom',
    'Frost on the seed heads.',
    'What is in flower, and the dates of the next weeks.',
  );
  const compiled = await compileLetter(content, look);
  const directory = mkdtempSync(join(tmpdir(), 'palabra-bench-'));
  const database = await openDatabase({ dataDir: directory, databaseUrl: undefined, fsync: false });
  const keys = await Keys.load(database.db, new Date());
  await database.close();
  rmSync(directory, { recursive: true, force: true });
  const sender = {
    campaign: idOf<CampaignId>(1),
    compiled,
    senderName: 'Bench',
    senderAddress: 'bench@example.com',
    replyTo: '',
    officeName: 'Bench',
    language: 'en',
    publicUrl: look.baseUrl,
    bounceDomain: 'bounces.example.com',
  };
  const messages = messagesOf(sender, new Map(), keys);
  const contact = {
    givenName: 'Ada',
    familyName: 'Wren',
    fields: {},
    keys: {},
  } as unknown as ContactRow;
  return {
    content,
    compiled,
    compose: (id, address) => messages({ ...contact, id: idOf(id) }, address),
  };
}

export async function letters(): Promise<Row[]> {
  const { content, compiled, compose } = await composer();
  const compiling = await timed(20, () => compileLetter(content, look));
  const COUNT = 2000;
  const composing = await timed(5, async () => {
    for (let one = 0; one < COUNT; one++) compose(one + 1, `person${one}@example.com`);
  });
  return [
    {
      work: `compile a letter of ${content.blocks.length} blocks and ${compiled.links.length} links`,
      ours: ms(median(compiling)),
      against: '–',
      ratio: '–',
      aim: 'stated',
    },
    {
      work: 'personalise, sign its links and write the message',
      ours: perSecond(COUNT, median(composing)),
      against: '–',
      ratio: '–',
      aim: 'stated',
    },
  ];
}

/** Asks for addresses on 20 connections for a while; returns how many a second and every latency. */
async function load(
  urls: readonly string[],
  seconds: number,
): Promise<{ rate: number; sorted: number[] }> {
  const agent = new Agent({ keepAlive: true, maxSockets: 20 });
  const times: number[] = [];
  const end = performance.now() + seconds * 1000;
  let next = 0;
  const ask = (url: string): Promise<void> =>
    new Promise((resolve, reject) => {
      const start = performance.now();
      httpRequest(
        url,
        { agent, headers: { 'user-agent': 'Mozilla/5.0 (X11) Lantern/4.2' } },
        (response) => {
          response.resume();
          response.on('end', () => {
            times.push(performance.now() - start);
            resolve();
          });
        },
      )
        .on('error', reject)
        .end();
    });
  const start = performance.now();
  await Promise.all(
    Array.from({ length: 20 }, async () => {
      while (performance.now() < end) await ask(urls[next++ % urls.length] ?? '');
    }),
  );
  agent.destroy();
  return {
    rate: (1000 * times.length) / (performance.now() - start),
    sorted: times.sort((a, b) => a - b),
  };
}

export async function addresses(): Promise<Row[]> {
  const sink = await startSink();
  const { server: first, directory, again } = await freshOffice({ SMTP_URL: sink.url });
  await bringIn(first, 2000);
  await sendTo(first, 2000);
  await first.stop();
  sink.child.kill();
  const database = await openDatabase({ dataDir: directory, databaseUrl: undefined, fsync: true });
  const keys = await Keys.load(database.db, new Date());
  await database.close();
  const server = await again();
  const bare = createServer((_, response) => {
    response.writeHead(200, { 'content-type': 'image/gif' });
    response.end(Buffer.alloc(42));
  });
  await new Promise<void>((resolve) => bare.listen(0, '127.0.0.1', () => resolve()));
  const bareUrl = `http://127.0.0.1:${(bare.address() as { port: number }).port}/`;
  try {
    const body = (contact: number) => ({
      campaign: 1 as CampaignId,
      contact: contact as ContactId,
      link: 0,
    });
    const opens = Array.from(
      { length: 2000 },
      (_, one) => `${server.url}/o/${keys.sign('open', body(one + 1))}`,
    );
    const clicks = Array.from(
      { length: 2000 },
      (_, one) => `${server.url}/c/${keys.sign('click', body(one + 1))}`,
    );
    await load([bareUrl], 1);
    await load(opens, 1);
    const rows: Row[] = [];
    for (const [work, urls] of [
      ['open addresses', opens],
      ['click addresses', clicks],
    ] as const) {
      const theirs = await load([bareUrl], 3);
      const ours = await load(urls, 5);
      const more = await load([bareUrl], 3);
      rows.push({
        work,
        ours: `${Math.round(ours.rate).toLocaleString('en')}/s, p99 ${ms(at(ours, 0.99))}`,
        against: `bare HTTP server, ${Math.round((theirs.rate + more.rate) / 2).toLocaleString('en')}/s`,
        ratio: ((2 * ours.rate) / (theirs.rate + more.rate)).toFixed(2),
        aim: '≥ 0.5; p99 ≤ 100 ms',
      });
    }
    await startImport(server, 20_000);
    const busy = await load([...opens, ...clicks], 5);
    rows.push({
      work: 'open and click addresses during an import',
      ours: `${Math.round(busy.rate).toLocaleString('en')}/s, p99 ${ms(at(busy, 0.99))}`,
      against: '–',
      ratio: '–',
      aim: 'p99 ≤ 100 ms',
    });
    return rows;
  } finally {
    bare.close();
    await server.stop();
    rmSync(directory, { recursive: true, force: true });
  }
}

/** What somebody at the screen waits for while the office's long work goes on. */
export async function meanwhile(): Promise<Row[]> {
  const sink = await startSink();
  const { server, directory } = await freshOffice({ SMTP_URL: sink.url });
  try {
    const clicks = async (work: string, goesOn: () => Promise<boolean>): Promise<Row> => {
      const times: number[] = [];
      while (await goesOn()) {
        for (const path of ['/api/people', '/api/people?q=given', '/api/people/1']) {
          const start = performance.now();
          await server.call('GET', path).catch(() => undefined);
          times.push(performance.now() - start);
        }
        await rest(50);
      }
      const sorted = times.sort((a, b) => a - b);
      return {
        work,
        ours: `${ms(median({ sorted }))}, p95 ${ms(at({ sorted }, 0.95))}`,
        against: '–',
        ratio: '–',
        aim: 'p95 ≤ 300 ms',
      };
    };
    const looking = await startImport(server, 20_000);
    const rows = [
      await clicks('a click during an import', async () => (await looking()).state !== 'done'),
    ];
    let over = false;
    const send = sendTo(server, 20_000).finally(() => (over = true));
    rows.push(await clicks('a click during a send', async () => !over));
    await send;
    return rows;
  } finally {
    await server.stop();
    sink.child.kill();
    rmSync(directory, { recursive: true, force: true });
  }
}

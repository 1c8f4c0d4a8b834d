// Killed at random moments of a send and of an import: after a restart nobody has two letters, everybody is
// accounted for, and every row is in once. `npm run test:long` kills more often.
import { startMailServer, type TestMailServer } from '../testing/mail-server.js';
import { ServerProcess } from '../testing/processes.js';
import { beginImport, importPeople, makeCampaign, send } from '../testing/round.js';
import { until } from '../testing/server.js';

const LONG = process.env['ROUND'] === 'long';
const KILLS = LONG ? 20 : process.env['ROUND'] === 'short' ? 1 : 2;
const LETTERS = LONG ? 2000 : 400;
const ROWS = LONG ? 20_000 : 3000;
const CONNECTIONS = 5;
const MINUTES = (LONG ? 30 : 5) * 60_000;

const rest = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
const addresses = (count: number): string =>
  `email\n${Array.from({ length: count }, (_, at) => `person${at}@example.com`).join('\n')}\n`;

describe.each(['the server', 'the database'] as const)(
  'when %s is killed during a send',
  (victim) => {
    let mail: TestMailServer;
    let server: ServerProcess;
    beforeAll(async () => {
      mail = await startMailServer();
      mail.delay = 6;
      server = await ServerProcess.start({
        SMTP_URL: mail.url,
        SMTP_CONNECTIONS: String(CONNECTIONS),
      });
    }, 60_000);
    afterAll(async () => {
      await server.drop();
      await mail.stop();
    });

    it(
      'leaves nobody out and nobody twice',
      async () => {
        await importPeople(server, addresses(LETTERS));
        const { campaign } = await makeCampaign(server);
        await send(server, campaign);
        for (let kill = 1; kill <= KILLS; kill++) {
          const goal = Math.floor((LETTERS * (kill - 0.5 + Math.random() * 0.5)) / (KILLS + 1));
          await until(`${goal} letters`, async () => mail.taken.length >= goal, 60_000);
          if (victim === 'the server') await server.kill();
          else server.killDatabase();
        }
        await until(
          'the campaign to be sent',
          async () =>
            (await server.call('GET', `/api/campaigns/${campaign}`)).body.status === 'sent',
          120_000,
        );

        const { body: progress } = await server.call('GET', `/api/campaigns/${campaign}/progress`);
        const got = mail.taken.map(({ to }) => to);
        expect(new Set(got).size).toBe(got.length);
        expect(progress).toMatchObject({ waiting: 0, deferred: 0, total: LETTERS });
        expect((progress.accepted as number) + (progress.uncertain as number)).toBe(LETTERS);
        // Only a process that dies leaves anything in doubt: what it hears after the database died, it writes later.
        expect(progress.uncertain).toBeLessThanOrEqual(
          victim === 'the server' ? KILLS * CONNECTIONS : 0,
        );
        // Every accepted one has exactly one; an uncertain one has none or one.
        expect(got.length).toBeGreaterThanOrEqual(progress.accepted as number);
        expect(got.length).toBeLessThanOrEqual(LETTERS);
        expect(await server.stopAndCompare()).toEqual([]);
      },
      MINUTES,
    );
  },
);

it(
  'brings every row of an import in once, and takes all of it back, however often it is killed',
  async () => {
    const server = await ServerProcess.start({ SMTP_URL: 'smtp://127.0.0.1:9' });
    const count = async (query: string): Promise<number> =>
      (await server.call('GET', `/api/people/summary?${query}`)).body.total as number;
    try {
      await importPeople(
        server,
        'email,first name\nperson7@example.com,Before\nother@example.com,Other\n',
      );
      const { body: uploaded } = await server.call(
        'POST',
        '/api/imports?name=many.csv',
        `email,first name\n${Array.from({ length: ROWS }, (_, at) => (at % 100 === 99 ? `broken ${at}` : `person${at}@example.com`) + `,Name ${at}`).join('\n')}\n`,
        { headers: { 'content-type': 'text/csv' } },
      );
      const path = `/api/imports/${uploaded.id as number}`;
      await beginImport(server, path);
      const look = async () =>
        (await server.call('GET', path)).body as {
          state: string;
          cursor: number;
          takenBack: { isDone: boolean; count: number; leftAlone: number } | null;
        };
      for (let kill = 1; kill <= KILLS; kill++) {
        const goal = (ROWS * (kill - 0.5)) / KILLS;
        await until(`${goal} rows`, async () => (await look()).cursor >= goal, 60_000);
        await rest(Math.random() * 40);
        if (kill % 2 === 1) await server.kill();
        else server.killDatabase();
      }
      await until('the import', async () => (await look()).state === 'done', 60_000);
      const refused = ROWS / 100;
      expect(await look()).toMatchObject({
        cursor: ROWS,
        newCount: ROWS - refused - 1,
        changedCount: 1,
        unchangedCount: 0,
        refusedCount: refused,
      });
      expect(await count('')).toBe(ROWS - refused + 1);
      expect(await count(`of=import.${uploaded.id as number}.new`)).toBe(ROWS - refused - 1);

      const back = server.call('POST', `${path}/take-back`).catch(() => undefined);
      await rest(150);
      await server.kill();
      await back;
      if ((await look()).takenBack === null) await server.call('POST', `${path}/take-back`);
      server.killDatabase();
      await until(
        'the import to be taken back',
        async () => (await look()).takenBack?.isDone === true,
        60_000,
      );
      expect((await look()).takenBack).toMatchObject({ count: ROWS - refused, leftAlone: 0 });
      expect(await count('')).toBe(2);
      const { body: people } = await server.call('GET', '/api/people?q=person7');
      expect(people.rows[0]).toMatchObject({ givenName: 'Before' });
    } finally {
      await server.drop();
    }
  },
  MINUTES,
);

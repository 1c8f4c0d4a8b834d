// Erasing somebody: from everywhere, at once, for good; what only counts stays, and nobody but they themselves comes back.
import { paragraph } from '@palabra/core/letters';
import { sql } from 'drizzle-orm';
import excel from 'exceljs';
import { createTransport } from 'nodemailer';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { execute } from '../../platform/database.js';
import { Keys } from '../../platform/keys.js';
import { dumped } from '../../testing/dump.js';
import { startMailServer, type TestMailServer } from '../../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../../testing/round.js';
import { startTestServer, until, type TestServer } from '../../testing/server.js';

let mail: TestMailServer;
let server: TestServer;
let campaign = 0;
let sign: (contact: number) => string;
const people = ['Anna', 'Ben', 'Cora', 'Dora', 'Edda', 'Finn'];
const ids = new Map<string, number>();
const id = (name: string): number => ids.get(name) ?? 0;

beforeAll(async () => {
  mail = await startMailServer();
  server = await startTestServer({
    SMTP_URL: mail.url,
    BOUNCE_DOMAIN: 'bounces.example.com',
    RETURNS_PORT: '0',
  });
  await importPeople(
    server,
    `email,first name,surname,street,phone\n${people.map((name, at) => `${name}.Teasel${at}@example.com,${name},Teasel${at},${at} Quince Row,+44 1632 96011${at}`).join('\n')}\nAnna.Teasel0@example.com@,Anna,Teasel0,refused row,\n`,
  );
  const { body } = await server.call('GET', '/api/people');
  for (const row of body.rows as { id: number; givenName: string }[])
    ids.set(row.givenName, row.id);
  ({ campaign } = await makeCampaign(server));
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  const keys = await Keys.load(server.database.db, new Date());
  sign = (contact) => keys.sign('leave', { campaign, contact, link: 0 } as never);
}, 60_000);
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const call = (method: string, path: string, data?: unknown) => server.call(method, path, data);
const version = async (name: string): Promise<number> =>
  (await call('GET', `/api/people/${id(name)}`)).body.version as number;
const change = async (name: string, values: object) =>
  call('PATCH', `/api/people/${id(name)}`, { version: await version(name), values });
const erased = (name: string) =>
  until('the files to be gone through', async () =>
    Boolean((await call('GET', `/api/people/${id(name)}/erasure`)).body.isDone),
  );
const give = (to: string, raw: string): Promise<unknown> =>
  createTransport({ host: '127.0.0.1', port: server.returnsPort, ignoreTLS: true }).sendMail({
    envelope: { from: '', to: [to] },
    raw,
  });
const read = async (path: string, form?: Record<string, string>) =>
  server.call(form ? 'POST' : 'GET', path, form && new URLSearchParams(form).toString(), {
    cookie: '',
    ...(form ? { headers: { 'content-type': 'application/x-www-form-urlencoded' } } : {}),
  });
const tagged = async (name: string): Promise<number> =>
  (await call('POST', '/api/tags', { name, colour: 'lagoon' })).body.id as number;

/** Leaves a trace of Anna wherever one can be left. */
async function leaveTraces(): Promise<void> {
  const tag = await tagged('glasshouse');
  await call('POST', '/api/tagging', { people: { ids: [id('Anna')] }, tag, put: true });
  await change('Anna', { more_addresses: 'anna.second@example.org', town: 'Ashby' });
  // She had another address before, which a reply came from.
  await change('Anna', { address: 'anna.now@example.org', position: 'Head of Ferns' });
  await call('PATCH', `/api/people/${id('Anna')}/permission`, {
    version: await version('Anna'),
    permission: 'asked',
    source: 'by telephone to Anna.Teasel0@example.com',
    wording: 'I, Anna Teasel0, want the letter.',
  });
  const text = (words: string) => ({ type: 'doc', content: [paragraph(words)] });
  const note = { kind: 'call', pinned: true, tell: [] };
  await call('POST', `/api/people/${id('Anna')}/notes`, {
    ...note,
    text: text('Anna prefers mornings'),
  });
  await call('POST', `/api/people/${id('Ben')}/notes`, {
    ...note,
    text: text('Sister of anna.now@example.org, and of joanna.now@example.org'),
  });
  await call('POST', `/api/people/${id('Anna')}/tasks`, {
    kind: 'call',
    text: 'ring Anna about the ferns',
    due: null,
    assignee: 1,
    remind: false,
  });
  const rule = {
    v: 1,
    root: {
      of: 'any',
      items: [
        {
          kind: 'field',
          field: 'address',
          op: 'is one of',
          value: ['anna.now@example.org', 'joanna.now@example.org'],
        },
      ],
    },
  };
  const made = await call('POST', '/api/segments', { name: 'Sisters', pools: [1], rule });
  expect(made.status).toBe(201);
  expect((await call('POST', '/api/filters', { rule })).status).toBeLessThan(300);
  await call('POST', `/api/people/${id('Anna')}/do-not-mail`, { put: true, note: 'Anna said so' });
  await call('POST', `/api/people/${id('Anna')}/do-not-mail`, { put: false, note: '' });
  const letter = mail.taken.find(({ to }) => to.startsWith('Anna'));
  await give(
    letter?.from ?? '',
    `From: Anna <Anna.Teasel0@example.com>\r\nTo: x@example.com\r\nSubject: Ferns for Anna\r\nMessage-ID: <1@example.com>\r\n\r\nAnna here, Anna.Teasel0@example.com\r\n`,
  );
  await until('her reply', async () =>
    (await call('GET', '/api/returned?open=yes')).body.mails.some(
      ({ subject }: { subject: string }) => subject === 'Ferns for Anna',
    ),
  );
  const toBen = mail.taken.find(({ to }) => to.startsWith('Ben'));
  await give(
    toBen?.from ?? '',
    `From: Ben <Ben.Teasel1@example.com>\r\nTo: x@example.com\r\nSubject: For anna.now@example.org\r\nMessage-ID: <2@example.com>\r\n\r\nPass it on to <anna.second@example.org>, please.\r\n`,
  );
  await until(
    'his reply',
    async () => (await call('GET', '/api/returned?open=yes')).body.open === 2,
  );
  // The same person in another pool.
  await execute(
    server.database.db,
    sql`insert into pools (name, kind) values ('partners', 'partner')`,
  );
  await execute(
    server.database.db,
    sql`insert into contacts (pool_id, owner_id, given_name, family_name, search_key, address, address_key, address_hash, created_at, updated_at)
      select (select max(id) from pools), owner_id, 'Anna', 'Elsewhere', 'elsewhere anna', address, address_key, address_hash, now(), now() from contacts where id = ${id('Anna')}`,
  );
}

it('tells all that is held about somebody in one file', async () => {
  await leaveTraces();
  const file = await call('GET', `/api/people/${id('Anna')}/held`);
  expect(file.status).toBe(200);
  expect(file.headers.get('content-disposition')).toMatch(
    /attachment; filename="held-\d+-.*\.html"/,
  );
  for (const held of [
    'Teasel0',
    '0 Quince Row',
    'glasshouse',
    'want the letter.”',
    'Anna prefers mornings',
    'ring Anna about the ferns',
    'letter “News”',
    'Ferns for Anna',
    'list.csv',
    'Anna.Teasel0@example.com → anna.now@example.org',
    'asks for an address of theirs',
  ])
    expect(file.text).toContain(held);
  expect(file.text).not.toContain('Ben');
  expect(file.text).not.toContain('joanna');
});

it('shows before what would go, and from which backups it will not', async () => {
  mkdirSync(server.dataDir, { recursive: true });
  writeFileSync(
    join(server.dataDir, 'backups.jsonl'),
    ['2019-01-01T00:00:00.000Z', new Date().toISOString()]
      .map((at, place) => JSON.stringify({ at, file: `/copies/office-${place}.tgz` }))
      .join('\n'),
  );
  const { body } = await call('GET', `/api/people/${id('Anna')}/erasing`);
  expect(body.people.map(({ name }: { name: string }) => name)).toEqual([
    'Anna Teasel0',
    'Anna Elsewhere',
  ]);
  expect(body.addresses).toEqual(
    expect.arrayContaining([
      'anna.now@example.org',
      'anna.second@example.org',
      'Anna.Teasel0@example.com',
    ]),
  );
  expect(body.backups).toEqual(['/copies/office-1.tgz']);
  const counts = Object.fromEntries(
    body.places.map(({ place, count }: { place: string; count: number }) => [place, count]),
  );
  expect(counts).toMatchObject({ notes: 1, tasks: 1, 'returned mail': 1, imports: 1 });
});

it('is for a coordinator alone, and of nobody who is not there', async () => {
  await server.account({ name: 'Mo', address: 'mo@example.com', role: 'member' });
  const cookie = await server.signIn('mo@example.com');
  for (const [method, path] of [
    ['GET', 'held'],
    ['GET', 'erasing'],
    ['POST', 'erase'],
  ] as const) {
    const reply = await server.call(method, `/api/people/${id('Anna')}/${path}`, undefined, {
      cookie,
    });
    expect([path, reply.status]).toEqual([path, 403]);
    expect((await call(method, `/api/people/999999/${path}`)).status).toBe(404);
  }
  expect((await call('GET', `/api/people/${id('Anna')}/erasure`)).status).toBe(404);
});

const TRACES = /anna|teasel0|0 quince|960110|ferns/i;

it('takes somebody out of the whole database, and keeps what only counts', async () => {
  const figures = async () =>
    (await call('GET', `/api/campaigns/${campaign}`)).body.counts as object;
  const before = await figures();
  expect(await dumped(server.database.db)).toContain('anna.now@example.org');
  expect((await call('POST', `/api/people/${id('Anna')}/erase`)).status).toBe(204);
  await erased('Anna');
  const dump = await dumped(server.database.db);
  // Of others nothing went: Joanna is not Anna.
  expect(dump).toContain('joanna.now@example.org');
  expect(dump).toContain('Sister of erased');
  const left = dump
    .split('\n')
    .map((line) => line.replaceAll('joanna.now@example.org', ''))
    .filter((line) => TRACES.test(line));
  expect(left).toEqual([]);
  expect(dump).toContain('Teasel3@example.com');
  expect(await figures()).toEqual(before);
  expect((await call('GET', `/api/people/${id('Anna')}`)).status).toBe(404);
  expect((await call('POST', `/api/people/${id('Anna')}/erase`)).status).toBe(404);
  expect((await call('GET', `/api/people/${id('Anna')}/erasure`)).body).toMatchObject({
    isAsked: true,
    by: 'Ines',
    backups: ['/copies/office-1.tgz'],
  });
  expect((await call('GET', '/api/bin')).body.total).toBe(0);
});

describe('whoever was erased', () => {
  it('is not brought back by hand, by another’s address, or by a list', async () => {
    for (const address of [
      'anna.now@example.org',
      'ANNA.Teasel0@example.com',
      'anna.second@example.org',
    ]) {
      const added = await call('POST', '/api/people', {
        values: { address, given_name: 'Anna' },
        permission: 'asked',
        source: 'by hand',
      });
      expect([added.status, added.body.type]).toEqual([422, '/problems/contacts/address-erased']);
      expect((await change('Ben', { more_addresses: address })).status).toBe(422);
    }
    const list = await importPeople(
      server,
      'email,first name\nanna.now@example.org,Anna\nnew.one@example.com,New\nAnna.Teasel0@example.com,Anna\n',
    );
    const { body } = await call('GET', `/api/imports/${list}`);
    expect(body).toMatchObject({ newCount: 1, refusedCount: 2 });
    expect((await call('GET', `/api/imports/${list}/refused`)).text).toContain(
      'asked to be erased',
    );
    expect((await server.call('GET', `/api/imports/${list}/refused.csv`)).text).not.toMatch(
      /anna/i,
    );
    expect(
      (await dumped(server.database.db))
        .split('\n')
        .filter((line) => /anna\.(now|teasel0)/i.test(line.replaceAll('joanna.now', ''))),
    ).toEqual([]);
  });

  it('is not written down again by mail that a machine sends back', async () => {
    const letter = mail.taken.find(({ to }) => to.startsWith('Anna'));
    await give(
      letter?.from ?? '',
      `From: MAILER-DAEMON@mx.example.net\r\nTo: nobody\r\nSubject: Failure for anna.now@example.org\r\nMIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nSorry, Anna.\r\n--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; mx.example.net\r\n\r\nFinal-Recipient: rfc822; Anna.Teasel0@example.com\r\nAction: failed\r\nStatus: 5.1.1\r\nDiagnostic-Code: smtp; 550 5.1.1 Anna.Teasel0@example.com is gone\r\n\r\n--b--\r\n`,
    );
    await until('the notice', async () =>
      (await call('GET', '/api/returned?open=no')).body.mails.some(
        ({ kind }: { kind: string }) => kind === 'bounce',
      ),
    );
    expect(
      (await dumped(server.database.db)).split('\n').filter((line) => /teasel0/i.test(line)),
    ).toEqual([]);
  });

  it('comes back by themselves, as somebody new', async () => {
    const page = `/leave/${sign(id('Anna'))}`;
    expect((await read(page)).text).toContain('We know nothing of you any more');
    // Leaving once more, or choosing, writes nothing down.
    expect((await read(page, { x: '' })).status).toBe(200);
    mail.reset();
    const other = await read(`${page}/again`, { address: 'someone.else@example.com' });
    const hers = await read(`${page}/again`, { address: ' anna.TEASEL0@example.com' });
    expect(other.text).toBe(hers.text);
    const plain = (raw: string) => raw.replace(/=\r\n/g, '').replaceAll('=3D', '=');
    await until('the link', async () => mail.taken.length > 0);
    expect(mail.taken.map(({ to }) => to.toLowerCase())).toEqual(['anna.teasel0@example.com']);
    const [link = ''] = /\/again\/[\w-]+/.exec(plain(mail.taken[0]?.raw ?? '')) ?? [];
    expect((await read(link)).text).toContain('Letters again?');
    expect((await read(link, {})).text).toContain('Good to have you back');
    expect((await read(link, {})).status).toBe(404);
    const { body } = await call('GET', '/api/people?q=anna.teasel0');
    expect(body.rows).toHaveLength(1);
    const back = body.rows[0] as { id: number };
    expect(back.id).not.toBe(id('Anna'));
    const { body: agreed } = await call('GET', `/api/people/${back.id}/permissions`);
    expect(agreed).toMatchObject([
      {
        kind: 'asked',
        source: 'their own page',
        wording: expect.stringContaining('Send me letters from'),
      },
    ]);
    expect((await call('GET', `/api/people/${id('Anna')}`)).status).toBe(404);
  });
});

it('holds letters back that still wait, and waits for one that is in hand', async () => {
  const { campaign: next } = await makeCampaign(server, 'Second');
  mail.reset();
  // Others are put off before anything is handed over.
  mail.answer = (to) => (to.startsWith('Cora') ? undefined : { code: 451, text: '4.2.1 later' });
  mail.delay = 4000;
  await send(server, next);
  const state = async (name: string): Promise<string | undefined> =>
    (
      await execute<{ state: string }>(
        server.database.db,
        sql`select state from deliveries where campaign_id = ${next} and contact_id = ${id(name)}`,
      )
    ).rows[0]?.state;
  await until('one in hand', async () => (await state('Cora')) === 'handing over');
  await until('one put off', async () => (await state('Edda')) === 'deferred');
  const refused = await call('POST', `/api/people/${id('Cora')}/erase`);
  expect([refused.status, refused.body.type]).toEqual([409, '/problems/delivery/letter-in-hand']);
  expect((await call('GET', `/api/people/${id('Cora')}`)).status).toBe(200);
  expect((await call('POST', `/api/people/${id('Edda')}/erase`)).status).toBe(204);
  expect(await state('Edda')).toBe('held back');
  await erased('Edda');
  expect(
    (await dumped(server.database.db)).split('\n').filter((line) => /edda/i.test(line)),
  ).toEqual([]);
});

it('empties the bin the same way, but lets a list bring them back', async () => {
  await call('POST', '/api/deeds', {
    people: { ids: [id('Finn')] },
    deed: { kind: 'delete' },
  });
  await until(
    'Finn to be in the bin',
    async () => (await call('GET', '/api/bin')).body.total === 1,
  );
  await execute(
    server.database.db,
    sql`update contacts set deleted_at = now() - interval '31 days' where id = ${id('Finn')}`,
  );
  await execute(
    server.database.db,
    sql`insert into pgboss.job (name, data) values ('upkeep', '{"id":0}')`,
  );
  await erased('Finn');
  expect(
    (await dumped(server.database.db)).split('\n').filter((line) => /finn/i.test(line)),
  ).toEqual([]);
  await importPeople(server, 'email,first name\nFinn.Teasel5@example.com,Finn\n');
  expect((await call('GET', '/api/people?q=finn')).body.rows).toHaveLength(1);
});

it('takes somebody out of files that are not brought in yet, of their workbooks, and of what was mended in them', async () => {
  await importPeople(
    server,
    'email,first name,external number\nGina.Yarrow@example.com,Gina,Y-7\n',
  );
  const { body: found } = await call('GET', '/api/people?q=gina');
  ids.set('Gina', (found.rows as { id: number }[])[0]?.id ?? 0);
  const book = new excel.Workbook();
  const sheet = book.addWorksheet('A');
  for (const row of [
    ['email', 'first name', 'number', 'note'],
    ['other@example.com', 'Other', '', 'stays'],
    ['gina.yarrow@example.com', 'Gina Yarrow', '', 'goes'],
    ['typed@@example.com', 'Typed', '', 'mended'],
    ['', 'Yarrow', 'Y-7', 'known by number'],
  ])
    sheet.addRow(row);
  const bytes = Buffer.from(await book.xlsx.writeBuffer());
  const { body } = await server.call('POST', '/api/imports?name=later.xlsx', bytes, {
    headers: { 'content-type': 'application/octet-stream' },
  });
  const path = `/api/imports/${body.id as number}`;
  const seen = (): Promise<void> =>
    until('the look', async () =>
      Boolean(((await call('GET', path)).body.look as { isCurrent: boolean }).isCurrent),
    );
  const { body: before } = await call('GET', path);
  await call('PUT', `${path}/plan`, {
    ...(before.plan as object),
    version: before.planVersion,
    matching: 'external number',
  });
  await call('POST', `${path}/rows/3`, { cells: { 0: 'Gina.Yarrow@example.com' } });
  await seen();
  expect((await dumped(server.database.db)).toLowerCase()).toContain('yarrow');

  await call('POST', `/api/people/${id('Gina')}/erase`);
  await erased('Gina');
  await seen();
  expect(
    (await dumped(server.database.db)).split('\n').filter((line) => /yarrow/i.test(line)),
  ).toEqual([]);
  const { body: after } = await call('GET', path);
  expect(after).toMatchObject({ rows: 4, sheets: [] });
  expect((after.look as { counts: unknown }).counts).toMatchObject({
    outcomes: { new: 1, refused: 3 },
  });
  expect(
    (await call('POST', `${path}/reading`, { encoding: 'utf-8', separator: ',', sheetAt: 1 })).body
      .detail,
  ).toMatch(/not kept any more/);
  expect((await call('GET', `${path}/file`)).text).toContain('stays');
});

it('leaves nobody named in what a file would do, who is only like somebody in it', async () => {
  await importPeople(
    server,
    'email,first name,last name,postcode\nHanna.Sedge@example.com,Hanna,Sedge,QW1\n',
  );
  const { body: found } = await call('GET', '/api/people?q=hanna');
  ids.set('Hanna', (found.rows as { id: number }[])[0]?.id ?? 0);
  const { body } = await server.call(
    'POST',
    '/api/imports?name=like.csv',
    'email,first name,last name,postcode\nother@sedge.example,Hanna,Sedge,QW1\n',
    { headers: { 'content-type': 'text/csv' } },
  );
  const path = `/api/imports/${body.id as number}`;
  const seen = (): Promise<void> =>
    until('the look', async () =>
      Boolean(((await call('GET', path)).body.look as { isCurrent: boolean }).isCurrent),
    );
  await seen();
  expect((await call('GET', `${path}/rows?part=look`)).text).toContain('Hanna.Sedge@example.com');
  await call('POST', `/api/people/${id('Hanna')}/erase`);
  await erased('Hanna');
  await seen();
  expect((await dumped(server.database.db)).toLowerCase()).not.toContain('hanna.sedge@');
});

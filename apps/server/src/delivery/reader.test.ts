// The reader's own page, asked as a browser without scripts asks, by those whom the letter reached and by others.
import { Keys } from '../platform/keys.js';
import { startMailServer, type TestMailServer } from '../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startTestServer, type Reply, type TestServer } from '../testing/server.js';

let mail: TestMailServer;
let server: TestServer;
let campaign: number;
/** Contacts by the first part of their address. */
const ids = new Map<string, number>();
let sign: (purpose: 'leave' | 'click' | 'open', contact: number) => string;

beforeAll(async () => {
  mail = await startMailServer();
  server = await startTestServer({ SMTP_URL: mail.url });
  await importPeople(server, `email,first name,surname,town\n${['ada', 'bela', 'cora', 'dag', 'edda', 'finn', 'gul'].map((name) => `${name}@example.com,${name},Wren,Millrace`).join('\n')}\n`);
  ({ campaign } = await makeCampaign(server));
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  const { body } = await server.call('GET', '/api/people');
  for (const { id, address } of body.rows as { id: number; address: string }[]) ids.set(address.split('@')[0] ?? '', id);
  const keys = await Keys.load(server.database.db, new Date());
  sign = (purpose, contact) => keys.sign(purpose, { campaign, contact, link: 0 } as never);
}, 60_000);
afterAll(async () => {
  await server.stop();
  await mail.stop();
});
beforeEach(() => mail.reset());

const idOf = (name: string): number => ids.get(name) ?? 0;
const pageOf = (name: string): string => `/leave/${sign('leave', idOf(name))}`;
const get = (path: string): Promise<Reply> => server.call('GET', path, undefined, { cookie: '' });
const post = (path: string, form: Record<string, string | readonly string[]> = {}): Promise<Reply> => {
  const body = new URLSearchParams(Object.entries(form).flatMap(([name, value]) => (typeof value === 'string' ? [[name, value]] : value.map((one) => [name, one]))));
  return server.call('POST', path, body.toString(), { cookie: '', headers: { 'content-type': 'application/x-www-form-urlencoded' } });
};
const person = async (name: string) => (await server.call('GET', `/api/people/${idOf(name)}`)).body as { version: number; address: string; givenName: string; doNotMail: { reason: string } | null; droppedTopics: number[]; fields: { field: { key: string }; value: unknown }[] };
const field = async (name: string, key: string): Promise<unknown> => (await person(name)).fields.find((one) => one.field.key === key)?.value;

describe('leaving', () => {
  it('shows the page to a look and leaves only on a post', async () => {
    const page = await get(pageOf('ada'));
    expect([page.status, page.headers.get('cache-control'), page.headers.get('referrer-policy')]).toEqual([200, 'no-store', 'no-referrer']);
    expect(page.text).toContain('Leave these letters?');
    expect((await person('ada')).doNotMail).toBeNull();
    expect((await post(pageOf('ada'), { 'List-Unsubscribe': 'One-Click' })).text).toContain('You have left');
    expect((await person('ada')).doNotMail?.reason).toBe('left');
  });

  it('says the same the second time, counts once, and takes back by the reader’s own click', async () => {
    expect((await post(pageOf('ada'))).text).toContain('You have left');
    expect((await server.call('GET', `/api/people/summary?of=campaign.${campaign}.left`)).body.total).toBe(1);
    expect((await post(`${pageOf('ada')}/back`)).text).toContain('Good to have you back');
    expect((await person('ada')).doNotMail).toBeNull();
    expect((await post(`${pageOf('ada')}/back`)).text).toContain('You get letters from us.');
  });

  it('does not take somebody back whom the office put on do not mail', async () => {
    await server.call('POST', `/api/people/${idOf('bela')}/do-not-mail`, { put: true, note: 'asked by telephone' });
    const reply = await post(`${pageOf('bela')}/back`);
    expect([reply.status, reply.text.includes('That can’t be done here')]).toEqual([422, true]);
    expect((await person('bela')).doNotMail?.reason).toBe('by hand');
  });

  it.each([
    ['another purpose', () => `/leave/${sign('click', idOf('ada'))}`],
    ['somebody who got no letter', () => `/leave/${sign('leave', 99_999)}`],
    ['a broken link', () => pageOf('ada').slice(0, -4)],
    ['a longer one', () => `${pageOf('ada')}AAAA`],
  ])('knows nobody by %s', async (_, path) => {
    for (const reply of [await get(path()), await post(path()), await post(`${path()}/back`), await post(`${path()}/topics`, { shown: '1' }), await post(`${path()}/data`, { town: 'x' })]) {
      expect(reply.status).toBe(404);
      expect(reply.text).toContain('This link does not work');
      expect(reply.text).not.toContain('ada@example.com');
    }
  });

  it.each(['back', 'topics', 'data'])('leads from %s, opened again by its address, to the page', async (part) => {
    const reply = await get(`${pageOf('ada')}/${part}`);
    expect([reply.status, reply.headers.get('location')]).toEqual([303, pageOf('ada')]);
  });

  it('has a page for proofs that changes nothing', async () => {
    for (const reply of [await get('/leave/proof'), await post('/leave/proof'), await post('/leave/proof/data', { town: 'x' })]) expect([reply.status, reply.text.includes('This was a proof')]).toEqual([200, true]);
  });
});

describe('topics', () => {
  const topic = async (name: string): Promise<number> => ((await server.call('POST', '/api/topics', { name, description: '' })).body as { id: number }).id;
  it('drops what is not ticked, and takes back what is', async () => {
    const [news, sale] = [await topic('News'), await topic('Plant sale')];
    const shown = [`${news}`, `${sale}`];
    expect((await get(pageOf('cora'))).text).toContain('Plant sale');
    expect((await post(`${pageOf('cora')}/topics`, { shown, topic: `${news}` })).text).toContain('Your choice is kept.');
    expect((await person('cora')).droppedTopics).toEqual([sale]);
    await post(`${pageOf('cora')}/topics`, { shown, topic: shown });
    expect((await person('cora')).droppedTopics).toEqual([]);
    await post(`${pageOf('cora')}/topics`, { shown });
    expect((await person('cora')).droppedTopics.sort()).toEqual([news, sale].sort());
  });

  it('leaves alone a topic that came up while the page was open, and numbers that are none', async () => {
    const before = (await person('cora')).droppedTopics;
    const later = await topic('Talks');
    await post(`${pageOf('cora')}/topics`, { shown: before.map(String), topic: ['x', '-1', '999999', '1e9'] });
    expect((await person('cora')).droppedTopics.sort()).toEqual([...before].sort());
    await post(`${pageOf('cora')}/topics`, { shown: `${later}` });
    expect((await person('cora')).droppedTopics.sort()).toEqual([...before, later].sort());
  });
});

describe('one’s own data', () => {
  it('is kept as a change of the reader, cut to one line, with what was not on the form left alone', async () => {
    const reply = await post(`${pageOf('dag')}/data`, { given_name: 'Dag\r\nBcc: x', family_name: '<b>Wren</b>', town: 'Saltcote', hidden: 'x', permission: 'unknown', owner: '99' });
    expect([reply.status, reply.text.includes('Kept. Thank you.')]).toEqual([200, true]);
    expect(reply.text).not.toContain('<b>Wren</b>');
    expect((await person('dag')).givenName).toBe('Dag Bcc: x');
    expect(await field('dag', 'town')).toBe('Saltcote');
    const { body } = await server.call('GET', '/api/changes');
    expect((body.changes ?? body)[0]).toMatchObject({ kind: 'reader', what: 'corrected own data', by: null, count: 1 });
  });

  it('says what is wrong with an address and keeps nothing', async () => {
    const reply = await post(`${pageOf('dag')}/data`, { address: 'dag at example', town: 'Elsewhere' });
    expect([reply.status, reply.text.includes('can’t be right')]).toEqual([422, true]);
    expect(await field('dag', 'town')).toBe('Saltcote');
  });

  it('takes a new address only once the letter sent there is answered, and only once', async () => {
    const reply = await post(`${pageOf('edda')}/data`, { address: 'Edda.New@example.com' });
    expect(reply.text).toContain('We have sent a letter to Edda.New@example.com');
    expect((await person('edda')).address).toBe('edda@example.com');
    const [letter] = mail.taken;
    expect(letter?.to).toBe('Edda.New@example.com');
    const link = /http:\/\/letters\.example\.com(\/confirm\/[\w-]+)/.exec((letter?.raw ?? '').replace(/=\r\n/g, ''))?.[1] ?? '';
    expect((await get(link)).text).toContain('Your new address');
    expect((await person('edda')).address).toBe('edda@example.com');
    expect((await post(link)).text).toContain('Our letters now go to Edda.New@example.com');
    expect((await person('edda')).address).toBe('Edda.New@example.com');
    expect([(await post(link)).status, (await get(link)).status]).toEqual([404, 404]);
    // The old letter's link shows nothing of a person it no longer reaches.
    expect((await get(pageOf('edda'))).text).not.toContain('About you');
  });

  it('does not tell whether an address is known, and writes to nobody who did not ask', async () => {
    const known = await post(`${pageOf('finn')}/data`, { address: 'gul@example.com' });
    expect(known.text).toContain('We have sent a letter to gul@example.com');
    expect(mail.taken).toEqual([]);
    expect((await person('finn')).address).toBe('finn@example.com');
  });

  it('says when the letter could not be sent', async () => {
    mail.answer = () => ({ code: 550, text: '5.1.1 no' });
    const reply = await post(`${pageOf('finn')}/data`, { address: 'nowhere@example.com' });
    expect([reply.status, reply.text.includes('could not be sent just now')]).toEqual([422, true]);
  });

  it('has an end to asking', async () => {
    const said: number[] = [];
    for (let one = 0; one < 6; one++) said.push((await post(`${pageOf('gul')}/data`, { address: `gul${one}@example.com` })).status);
    expect(said).toEqual([200, 200, 200, 200, 200, 422]);
    expect(mail.taken).toHaveLength(5);
  });

  it('is gone when the person is', async () => {
    await server.database.db.execute(`update contacts set deleted_at = now() where id = ${idOf('finn')}`);
    const page = await get(pageOf('finn'));
    expect([page.status, page.text.includes('About you')]).toEqual([200, false]);
    expect((await post(`${pageOf('finn')}/data`, { town: 'x' })).status).toBe(422);
    expect((await post(pageOf('finn'))).text).toContain('You have left');
  });
});

// Letters over HTTP: what is kept, what is shown of them, and to whom.
import { startTestServer, type TestServer } from '../testing/server.js';

let server: TestServer;
let member: string;
let ada: number;
beforeAll(async () => {
  server = await startTestServer();
  await server.account({ name: 'Kasimir', address: 'kasimir@example.com', role: 'member' });
  member = await server.signIn('kasimir@example.com');
  ada = (
    (
      await server.call('POST', '/api/people', {
        values: { given_name: '<Ada & co>', family_name: 'Wren', address: 'ada@example.com' },
        permission: 'asked',
        source: 'x',
      })
    ).body as { id: number }
  ).id;
}, 60_000);
afterAll(() => server.stop());

const field = (key: string, fallback: string) => ({ field: key, fallback });
const text = (...content: unknown[]) => ({
  id: 't',
  kind: 'text',
  text: { type: 'doc', content: [{ type: 'paragraph', content }] },
});
const made = async (given: object = { template: 'note' }): Promise<number> =>
  (
    (await server.call('POST', '/api/letters', { name: 'A letter', ...given })).body as {
      id: number;
    }
  ).id;
interface Letter {
  readonly version: number;
  readonly name: string;
  readonly content: {
    readonly v: 1;
    readonly subject: unknown[];
    readonly preview: unknown[];
    readonly blocks: readonly { readonly kind: string }[];
  };
}
const letter = async (id: number): Promise<Letter> =>
  (await server.call('GET', `/api/letters/${id}`)).body as Letter;
const keep = async (id: number, change: Partial<Letter['content']>) => {
  const { version, name, content } = await letter(id);
  return server.call('PUT', `/api/letters/${id}`, {
    version,
    name,
    content: { ...content, ...change },
  });
};
const preview = (id: number, as = '', cookie?: string) =>
  server.call('GET', `/api/letters/${id}/preview${as}`, undefined, cookie ? { cookie } : {});

it('starts from a template, from nothing, or as a copy', async () => {
  expect((await letter(await made())).content.blocks.length).toBeGreaterThan(1);
  const empty = await made({});
  expect((await letter(empty)).content).toMatchObject({
    subject: [],
    blocks: [{ kind: 'footer' }],
  });
  const original = await made();
  await keep(original, { subject: ['Mine'] });
  expect((await letter(await made({ copyOf: original }))).content).toEqual(
    (await letter(original)).content,
  );
  expect((await server.call('POST', '/api/letters', { name: 'x', copyOf: 99_999 })).status).toBe(
    404,
  );
});

it('fills in one reader, escaped where they stand, with fallbacks for nobody', async () => {
  const id = await made({});
  const { content } = await letter(id);
  const reply = await keep(id, {
    subject: ['For ', field('given_name', 'you')],
    blocks: [
      text(
        { type: 'text', text: 'Dear ' },
        { type: 'personalField', attrs: field('given_name', 'friend') },
        { type: 'text', text: ' <b>{{ x }}</b>' },
      ),
      ...content.blocks,
    ] as never,
  });
  expect({ status: reply.status, detail: reply.body?.detail }).toMatchObject({ status: 200 });
  const { body: shown } = await preview(id, `?as=${ada}`);
  expect(shown.subject).toBe('For <Ada & co>');
  expect(shown.text).toContain('Dear <Ada & co> <b>{{ x }}</b>');
  const page = await server.call('GET', `/api/letters/${id}/preview.html?as=${ada}`);
  expect(page.text).toContain('&lt;Ada &amp; co&gt;');
  expect(page.text).toContain('&lt;b&gt;{{ x }}&lt;/b&gt;');
  expect(page.headers.get('content-security-policy')).not.toMatch(/script-src (?!'none')/);
  expect((await preview(id)).body).toMatchObject({
    subject: 'For you',
    text: expect.stringContaining('Dear friend'),
  });
});

it('shows a member a letter as the own people only', async () => {
  const id = await made();
  expect((await preview(id, `?as=${ada}`, member)).status).toBe(404);
  expect((await preview(id, '', member)).status).toBe(200);
});

it.each(['0', '-1', 'x', '1.5', '99999999999'])('can’t be shown as %s', async (as) => {
  expect((await preview(await made(), `?as=${as}`)).status).toBe(400);
});

it.each<[string, unknown]>([
  ['a script as a target', { id: 'b', kind: 'button', label: ['x'], href: 'javascript:alert(1)' }],
  [
    'a target on this machine',
    { id: 'b', kind: 'button', label: ['x'], href: 'file:///etc/passwd' },
  ],
  ['a block of no kind', { id: 'b', kind: 'form' }],
  ['a mark of no kind', text({ type: 'text', text: 'x', marks: [{ type: 'script' }] })],
  [
    'a picture from elsewhere',
    { id: 'b', kind: 'picture', file: 'https://example.com/x.png', alt: '' },
  ],
])('refuses %s and keeps what was there', async (_, block) => {
  const id = await made();
  const before = await letter(id);
  expect((await keep(id, { blocks: [block] as never })).status).toBe(400);
  expect(await letter(id)).toEqual(before);
});

it('is deleted and brought back as it was', async () => {
  const id = await made();
  const before = await letter(id);
  expect((await server.call('DELETE', `/api/letters/${id}`)).status).toBe(204);
  expect((await server.call('GET', `/api/letters/${id}`)).status).toBe(404);
  expect(
    ((await server.call('GET', '/api/letters')).body as { id: number }[]).map((one) => one.id),
  ).not.toContain(id);
  expect((await server.call('POST', `/api/letters/${id}/restore`)).status).toBe(204);
  expect(await letter(id)).toEqual(before);
  for (const method of ['DELETE', 'POST'] as const)
    expect(
      (await server.call(method, `/api/letters/99999${method === 'POST' ? '/restore' : ''}`))
        .status,
    ).toBe(404);
});

it('needs a name', async () => {
  const id = await made();
  const { version, content } = await letter(id);
  expect(
    (await server.call('PUT', `/api/letters/${id}`, { version, name: ' \t ', content })).body
      .errors,
  ).toEqual([{ path: 'name', message: 'A letter needs a name.' }]);
});

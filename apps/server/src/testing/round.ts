// The steps that many tests begin with: people, a letter, a campaign.
import { until, type Reply, type TestServer } from './server.js';

type Caller = Pick<TestServer, 'call'>;

/** Says of an uploaded file what is given, and begins it; the answer is the first that is no success, or the last. */
export async function beginImport(
  { call }: Caller,
  path: string,
  said: Readonly<Record<string, unknown>> = {},
): Promise<Reply> {
  const { plan, planVersion: version } = (await call('GET', path)).body as {
    plan: object;
    planVersion: number;
  };
  const planned = await call('PUT', `${path}/plan`, {
    ...plan,
    version,
    permission: 'asked',
    source: 'a list',
    ...said,
  });
  return planned.status === 200
    ? call('POST', `${path}/start`, { version: planned.body['planVersion'] as number })
    : planned;
}

export async function importPeople(
  server: Caller,
  csv: string,
  permission = 'asked',
  tagIds: readonly number[] = [],
): Promise<number> {
  const { call } = server;
  const { body } = await call('POST', '/api/imports?name=list.csv', csv, {
    headers: { 'content-type': 'text/csv' },
  });
  const id = (body as { id: number }).id;
  const source = permission === 'unknown' ? '' : 'a list';
  const started = await beginImport(server, `/api/imports/${id}`, { permission, source, tagIds });
  if (started.status !== 204) throw new Error(started.text);
  await until(
    'the import',
    async () => (await call('GET', `/api/imports/${id}`)).body.state === 'done',
  );
  return id;
}

/** A campaign to everybody in the house pool, ready to go. */
export async function makeCampaign(
  { call }: Caller,
  name = 'News',
): Promise<{ campaign: number; letter: number; segment: number }> {
  const vocabulary = (await call('GET', '/api/vocabulary')).body as { pools: { id: number }[] };
  const pool = vocabulary.pools[0]?.id ?? 1;
  const segment = (
    (
      await call('POST', '/api/segments', {
        name: 'Everybody',
        pools: [pool],
        rule: { v: 1, root: { of: 'all', items: [{ kind: 'everybody' }] } },
      })
    ).body as { id: number }
  ).id;
  const letter = (
    (await call('POST', '/api/letters', { name, template: 'note' })).body as { id: number }
  ).id;
  const { content, version } = (await call('GET', `/api/letters/${letter}`)).body as {
    content: { blocks: unknown[] };
    version: number;
  };
  const button = {
    id: 'go',
    kind: 'button',
    label: ['Go there'],
    href: 'https://example.com/there',
  };
  await call('PUT', `/api/letters/${letter}`, {
    version,
    name,
    content: { ...content, blocks: [button, ...content.blocks] },
  });
  const campaign = (
    (await call('POST', '/api/campaigns', { name, segment, letter })).body as { id: number }
  ).id;
  return { campaign, letter, segment };
}

export async function send({ call }: Caller, campaign: number): Promise<{ status: number }> {
  const { body: tally } = await call('GET', `/api/campaigns/${campaign}/tally`);
  const { body: sheet } = await call('GET', `/api/campaigns/${campaign}`);
  return call('POST', `/api/campaigns/${campaign}/send`, {
    version: (sheet as { version: number }).version,
    seen: (tally as { tally: unknown }).tally,
  });
}

export const untilStatus = (
  { call }: Caller,
  campaign: number,
  ...status: string[]
): Promise<void> =>
  until(`campaign to be ${status.join(' or ')}`, async () =>
    status.includes((await call('GET', `/api/campaigns/${campaign}`)).body.status as string),
  );

// A rule as SQL and as a predicate find the same people, whatever the rule and whoever they are.
import {
  automaticTags,
  bands,
  doNotMailReasons,
  extremes,
  standings,
  type ContactId,
  type Field,
  type FieldType,
} from '@palabra/core/contacts';
import {
  changedAt,
  compile,
  compileRule,
  finds,
  found,
  holds,
  isGroup,
  KeySet,
  leavesOf,
  leftAfter,
  letterDeeds,
  lettersWhose,
  operandOf,
  operatorsFor,
  nodeAt,
  parsePath,
  parseRule,
  queryOf,
  placeOperators,
  putNode,
  ratingMoves,
  reader,
  segmentOperators,
  sift,
  sinceDeeds,
  spanUnits,
  tagOperators,
  topicOperators,
  type Condition,
  type ConditionName,
  type ConditionOf,
  type Group,
  type LettersOf,
  type OperandName,
  type Operands,
  type Person,
  type RuleContext,
  type RuleNode,
  type Span,
} from '@palabra/core/segments';
import { deliveryStates, tried } from '@palabra/core/delivery';
import { reckonRule, type OfficeRows, type PersonRow } from '@palabra/core/reckoning';
import fc from 'fast-check';
import { sql } from 'drizzle-orm';
import { openChangeSet } from '../contacts/changes/changes.store.js';
import { putOnDoNotMail } from '../contacts/standing/do-not-mail.store.js';
import { dropTopics } from '../contacts/standing/dropped-topics.store.js';
import { anyContacts } from '../contacts/people/person.store.js';
import { allOf, living, page, weighedPage } from '../contacts/people/people.store.js';
import { addTopic, allTopics } from '../contacts/vocabulary/topics.store.js';
import { addOwnField, allFields } from '../contacts/fields/fields.store.js';
import { allTags } from '../contacts/vocabulary/vocabulary.store.js';
import { ratingCourses } from '../contacts/ratings/ratings.table.js';
import { deliveries } from '../delivery/delivery.table.js';
import { countResponses, writeRecentLetters } from '../contacts/index.js';
import { addEvents, addToDeliveries, sumUp, type ReaderEvent } from '../delivery/events.store.js';
import { officeRows, personRows } from '../testing/reckoning.js';
import { recentLetters, recountContacts } from '../delivery/person-facts.store.js';
import { execute, type Db } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { aPerson, aWorld, NOW, type TestWorld } from '../testing/people.js';
import { factNames, loadPerson } from './facts.store.js';
import { askingOf, fillHeld, inSet, wordsFor } from './held.store.js';
import { bindQuery, bindRule, type Stretch } from './rule.store.js';

let test: TestDatabase;
let world: TestWorld;
let context: RuleContext;
let people: { id: number; person: Person }[];
let written: ReadonlyMap<number, PersonRow>;
let office: OfficeRows;
type OtherRule = OfficeRows['segments'] extends ReadonlyMap<number, infer R> ? R : never;

const texts = [
  'Millrace',
  'MILLRACE',
  'Łódź',
  'lodz',
  'a%b_c',
  'back\\slash',
  "o'dwyer",
  '  x ',
  '👍🏽',
  'Ünal',
  'mill',
  'ace',
  '',
  '\u0301',
  'אבג',
];
const choices = ['c1', 'c2', 'c10'].map((key) => ({ key, label: `size ${key}` }));
const days = ['2026-03-01', '2026-03-10', '2026-03-11', '2026-02-28', '2025-12-31', '2027-01-01'];

/** Near to one another, so that orders by time meet. The last two were never sent to anybody. */
const CAMPAIGNS: RuleContext['campaigns'] = [6, 5, 4, 3, 2, 1].map((id) => ({
  id,
  name: `Letter ${id}`,
  at: Date.parse('2026-03-10T00:00:00Z') - (7 - id) * 9 * 86_400_000,
  links:
    id % 2
      ? ['https://example.org/Plants', 'https://example.org/tours']
      : ['https://example.com/plants'],
}));
/** One asks for another, one for itself by a way around, one is not finished. */
const OTHERS: Group[] = [
  { of: 'all', items: [{ kind: 'tag', op: 'has', tags: [1] }] },
  {
    of: 'none',
    items: [
      { kind: 'segment', op: 'is in', segment: 1 },
      { kind: 'letter', did: 'opened', letters: { in: 'ever' }, many: 'any' },
    ],
  },
  {
    of: 'any',
    items: [
      { kind: 'segment', op: 'is in', segment: 2 },
      { kind: 'tag', op: 'has', tags: [2] },
    ],
  },
];

beforeAll(async () => {
  test = await openTestDatabase();
  const { db } = test.database;
  world = await aWorld(db);
  for (const [label, type, more = {}] of [
    ['likes', 'text'],
    ['visits', 'number'],
    ['member until', 'date'],
    ['has a dog', 'yes or no'],
    ['notes', 'long text'],
    ['given', 'money', { currency: 'EUR' }],
    ['size', 'choice', { choices }],
    ['wants', 'choices', { choices }],
    ['page', 'link'],
    ['years', 'computed', { since: { day: 'own_5', unit: 'years' } }],
    ['days', 'computed', { since: { day: 'own_5', unit: 'days' } }],
    ['days here', 'computed', { since: { day: 'came_in', unit: 'days' } }],
    ['days since nothing', 'computed', { since: { day: 'own_99', unit: 'days' } }],
  ] as [string, FieldType, Partial<Field>?][])
    await addOwnField(db, { label, type, ...more }, NOW);
  await execute(
    db,
    sql`update own_fields set choices = ${JSON.stringify(choices)}::jsonb where built_in = 'stage'`,
  );
  const fields = await allFields(db);
  world = { ...world, fields: new Map(fields.map((field) => [field.key, field])) };
  await addTopic(db, 'Newsletter', '', NOW);
  await addTopic(db, 'Offers', '', NOW);
  context = {
    fields,
    tags: await allTags(db),
    topics: await allTopics(db),
    campaigns: CAMPAIGNS,
    segments: [],
    today: '2026-03-10',
    timeZone: 'Europe/Lisbon',
  };
  context = {
    ...context,
    segments: [
      ...OTHERS.map((root, at) => ({
        id: at + 1,
        name: `Other ${at}`,
        kind: 'live' as const,
        pools: at === 1 ? [world.house, 2] : [world.house],
        read: reader({ v: 1, root }),
        ...(at === 2 ? { seenBy: 1 } : {}),
      })),
      { id: 4, name: 'Listed', kind: 'fixed', pools: [world.house] },
    ],
  };
  const keys = await Keys.load(db, NOW);
  const ids: ContactId[] = [];
  for (let at = 0; at < 90; at++) {
    const pick = <T>(list: readonly T[], step: number): T | null =>
      at % step === 0 ? null : (list[(at * step) % list.length] ?? null);
    const text = (step: number) => pick(texts, step) || null;
    ids.push(
      await aPerson(db, world, keys, {
        values: {
          given_name: text(3),
          family_name: text(4),
          town: text(5),
          region: text(7),
          stage: pick(['c1', 'c2', 'c10'], 4),
          phone: pick(['01632 960123', '+44 1632 960124', '+49 351 123456'], 4),
          more_phones: pick(['07700 900123\n01632 960125'], 3),
          more_addresses: at % 5 === 0 ? `more${at}@example.org\nother${at}@Example.net` : null,
          external_number: at % 4 === 0 ? `M-${at}` : null,
          address: at % 6 === 0 ? null : `p${at}.x@${at % 2 ? 'Example.com' : 'example.org'}`,
          closeness: pick(['close', 'known'], 4),
          shared_with: pick(['1', '1,2', '2'], 5),
          permission: pick(['asked', 'customer', 'unknown'], 100) ?? 'unknown',
          own_3: text(6),
          own_4: pick([0, 1, 2.5, -3, 1e9], 5),
          // While a field’s type is changed, something else may be kept.
          own_5: at === 7 ? 'soon' : at === 8 ? 12 : at === 11 ? '2024-02-29' : pick(days, 4),
          own_6: pick([true, false], 3),
          own_7: pick(['Two\nlines', 'o_%'], 3),
          own_8: at === 7 ? 'many' : pick([12.5, 0, 7], 4),
          own_9: pick(['c1', 'c2', 'c99'], 3),
          own_10: pick(['c1', 'c1,c2', 'c10,c2'], 4),
          own_11: pick(['https://example.org/a', 'http://example.com'], 4),
        },
        tags: world.tags.filter((_, index) => (at >> index) % 2 === 1),
        owner: world.owners[at % 2],
        createdAt: new Date(Date.parse('2026-03-10T23:30:00Z') - at * 11 * 3600_000),
      }),
    );
  }
  await whatHappened(ids);
  // Of every third it is not counted yet what became of their last letters.
  await writeRecentLetters(db, recentLetters, 0, Math.max(...ids));
  await execute(db, sql`update contacts set rating_due = id % 3 = 0`);
  const rows = await anyContacts(db, ids);
  people = await Promise.all(
    rows.map(async (row) => ({
      id: row.id,
      person: await loadPerson(db, row, factNames, context),
    })),
  );
  written = await personRows(db);
  office = officeRows(
    context,
    new Map<number, OtherRule>([
      ...OTHERS.map((root, at): [number, OtherRule] => [
        at + 1,
        {
          root,
          pools: at === 1 ? [world.house, 2] : [world.house],
          ...(at === 2 ? { seenBy: 1 } : {}),
        },
      ]),
      [4, { root: null, pools: [] }],
    ]),
  );
}, 120_000);
afterAll(() => test.drop());

/** Some are on do not mail, have dropped topics, got letters, answered, and were tagged at different times. */
async function whatHappened(ids: readonly ContactId[]): Promise<void> {
  const { db } = test.database;
  const before = (days: number): Date => new Date(NOW.getTime() - days * 86_400_000);
  for (const [at, row] of (await anyContacts(db, ids)).entries()) {
    if (row.addressHash && row.address && at % 7 === 1)
      await putOnDoNotMail(db, {
        addressHash: row.addressHash,
        address: row.address,
        reason: doNotMailReasons[at % 4] ?? 'left',
        at: before(at),
      });
    if (row.addressHash && at % 5 === 2)
      await dropTopics(db, row.addressHash, at % 2 ? [1] : [1, 2], NOW);
    await db.execute(sql`update contacts set updated_at = ${before(at / 3)},
      last_contact_at = ${at % 3 ? before(at) : null} where id = ${row.id}`);
    const rating = at % 6 === 0 ? null : (at * 7) % 101;
    await db.execute(
      sql`update contacts set rating = ${rating}, band = ${at % 9 === 0 ? null : (bands[at % 5] ?? null)} where id = ${row.id}`,
    );
    const points = Array.from({ length: 90 }, (_, ago) =>
      ago > 60 + (at % 40) ? null : (at * 7 + ago * (at % 3)) % 101,
    );
    if (at % 4 !== 0) await writeCourse(db, row.id, points, before(at % 3));
    await lettersTo(db, row.id, at);
    if (at % 3)
      await db.execute(
        sql`update contacts set lat = ${38 + (at % 17) / 7}, lon = ${-9 + (at % 13) / 5} where id = ${row.id}`,
      );
    if (at % 4 === 1)
      await db.execute(
        sql`insert into segment_members (segment_id, contact_id, added_at) values (4, ${row.id}, ${NOW})`,
      );
    const set = await openChangeSet(db, {
      kind: 'tagging',
      userId: null,
      at: before(at % 40),
      what: 'tagged',
    });
    await db.execute(
      sql`insert into happenings (set_id, contact_id, kind, which) select ${set}, ${row.id}, 'tag put on', unnest(array['1', '2'])`,
    );
    await db.execute(
      sql`update contact_tags set at = ${at % 3 ? before(at % 40) : null} where contact_id = ${row.id} and tag_id in (1, 2)`,
    );
  }
  // Everybody answers at the same moment, as after a send.
  await db.transaction(async (tx) => {
    await addEvents(tx, answers);
    await countResponses(tx, await addToDeliveries(tx, sumUp(answers)));
    await execute(
      tx,
      sql`update deliveries d set replied_at = (select min(at) from events e where e.kind = 'replied' and e.campaign_id = d.campaign_id and e.contact_id = d.contact_id),
        left_at = (select min(at) from events e where e.kind = 'left' and e.campaign_id = d.campaign_id and e.contact_id = d.contact_id)`,
    );
  });
}

const answers: ReaderEvent[] = [];

/** Letters of four of the campaigns, in every state, and what readers are going to do with them. */
async function lettersTo(db: Db, contact: number, at: number): Promise<void> {
  for (const { id: campaign, at: started } of CAMPAIGNS.filter(({ id }) => id <= 4)) {
    const n = at * 5 + campaign * 3;
    if (n % 4 === 0) continue;
    const state =
      n % 5 < 3 ? 'accepted' : (deliveryStates[n % deliveryStates.length] ?? 'accepted');
    // Some were put off, and arrived after those of the next campaign.
    const sent = new Date(started + (n % 11) * 86_400_000);
    const later = (days: number): Date => new Date(sent.getTime() + days * 86_400_000);
    await db.insert(deliveries).values({
      campaignId: campaign as never,
      contactId: contact as never,
      state,
      address: 'x@example.org',
      addressHash: Buffer.from([n]),
      firstTriedAt: tried.includes(state) ? sent : null,
      // What came back may have been taken first.
      acceptedAt: state === 'accepted' || (state === 'bounced' && n % 2 === 0) ? sent : null,
      bouncedAt: state === 'bounced' ? later(1) : null,
    });
    const did = (
      kind: ReaderEvent['kind'],
      days: number,
      link: number | null = null,
      machine = false,
    ): void => {
      answers.push({
        kind,
        at: later(days),
        campaignId: campaign as never,
        contactId: contact as never,
        link,
        machine,
        why: machine ? 'a machine' : null,
      });
    };
    if (n % 3 === 0) did('opened', 1);
    if (n % 9 === 0) did('opened', 4);
    if (n % 5 === 1) did('clicked', 2, n % 2);
    if (n % 7 === 0) did('opened', 0, null, true);
    if (n % 13 === 0) for (const link of [0, 1]) did('clicked', 0, link, true);
    if (n % 17 === 0) did('replied', 3);
    if (n % 19 === 0) did('left', 3);
  }
  await recountContacts(db, [contact as ContactId]);
}

const writeCourse = async (
  db: Db,
  id: ContactId,
  points: (number | null)[],
  countedAt: Date,
): Promise<void> => {
  await db.insert(ratingCourses).values({ contactId: id, points, countedAt });
  const { high, low } = extremes([null, ...points]);
  await execute(
    db,
    sql`update contacts set rating_high = ${high}, rating_low = ${low} where id = ${id}`,
  );
};

const anyField = fc.constantFrom(
  'given_name',
  'family_name',
  'town',
  'region',
  'stage',
  'address',
  'permission',
  'owner',
  'shared_with',
  'rating',
  'band',
  'came_in',
  ...Array.from({ length: 13 }, (_, at) => `own_${at + 3}`),
  'phone',
  'more_phones',
  'more_addresses',
  'external_number',
  'source',
  'last_contact',
  'country',
  'closeness',
  'changed',
  'last_letter',
  'last_response',
);
const someText = fc.oneof(
  fc.constantFrom(...texts),
  fc.constantFrom(
    'mil',
    'o',
    '%',
    '_',
    '\\',
    'p1',
    'example',
    'Example.org',
    '01632',
    '+44',
    'M-1',
  ),
  fc.string({ maxLength: 4 }),
);

const someSpan: fc.Arbitrary<Span> = fc.record({
  count: fc.nat(50),
  unit: fc.constantFrom(...spanUnits),
});

const field: fc.Arbitrary<ConditionOf<'field'>> = fc
  .record({
    field: anyField,
    op: fc.nat(20),
    text: someText,
    texts: fc.array(someText, { maxLength: 4 }),
    number: fc.constantFrom(0, 1, 2.5, -3, 7, 12.5),
    day: fc.constantFrom(...days),
    count: fc.nat(40),
    choices: fc.subarray([
      'keen',
      'asked',
      'customer',
      'unknown',
      'close',
      '1',
      '2',
      'c1',
      'c2',
      'c10',
    ]),
    finished: fc.boolean(),
  })
  .map((raw) => {
    const field = context.fields.find(({ key }) => key === raw.field);
    const operators = operatorsFor(field?.type ?? 'text');
    const op = operators[raw.op % operators.length] ?? 'is empty';
    const unit = spanUnits[raw.count % 3] ?? 'days';
    const value: { readonly [O in OperandName]: Operands[O] } = {
      none: undefined,
      text: raw.text,
      number: raw.number,
      texts: raw.texts,
      bounds: [raw.text, raw.finished ? (raw.texts[0] ?? 'o') : null],
      numbers: [raw.number, raw.finished ? 5 : null],
      day: raw.day,
      days: [raw.day, raw.finished ? '2026-03-11' : null],
      span: { count: raw.count, unit },
      'day of the year': raw.day.slice(5),
      month: (raw.count % 12) + 1,
      // Now and then one that is none of the field's: then the rule finds nobody.
      choices: raw.choices.filter(
        (one) => raw.count === 7 || (field?.choices ?? []).some(({ key }) => key === one),
      ),
    };
    const own = value[operandOf(field?.type ?? 'text', op)];
    return {
      kind: 'field',
      field: raw.field,
      op,
      ...(own === undefined || (!raw.finished && raw.count % 5 === 0) ? {} : { value: own }),
    };
  });
const tag: fc.Arbitrary<ConditionOf<'tag'>> = fc
  .record({
    op: fc.constantFrom(...tagOperators),
    tags: fc.subarray([1, 2, 3, ...automaticTags.map(({ id }) => Number(id))], { maxLength: 4 }),
    within: fc.option(someSpan, { nil: undefined }),
  })
  .map(({ op, tags, within }) => ({ kind: 'tag', op, tags, ...(within ? { within } : {}) }));
const generators: { readonly [K in ConditionName]: fc.Arbitrary<ConditionOf<K>> } = {
  field,
  tag,
  standing: fc
    .subarray([...standings])
    .map((any): ConditionOf<'standing'> => ({ kind: 'standing', any })),
  'do not mail': fc
    .record({
      reasons: fc.subarray([...doNotMailReasons]),
      within: fc.option(someSpan, { nil: undefined }),
    })
    .map(({ reasons, within }): ConditionOf<'do not mail'> => ({
      kind: 'do not mail',
      reasons,
      ...(within ? { within } : {}),
    })),
  topic: fc
    .record({ op: fc.constantFrom(...topicOperators), topics: fc.subarray([1, 2]) })
    .map((raw): ConditionOf<'topic'> => ({ kind: 'topic', ...raw })),
  rating: fc
    .record({
      op: fc.constantFrom(...ratingMoves),
      by: fc.option(fc.integer({ min: 1, max: 60 }), { nil: undefined, freq: 9 }),
      within: fc.integer({ min: 1, max: 90 }),
    })
    .map(({ op, by, within }): ConditionOf<'rating'> => ({
      kind: 'rating',
      op,
      within,
      ...(by === undefined ? {} : { by }),
    })),
  letter: fc
    .record({
      did: fc.constantFrom(...letterDeeds),
      letters: fc.oneof<fc.Arbitrary<LettersOf>[]>(
        fc.record({
          in: fc.constant('these'),
          campaigns: fc.subarray([1, 2, 3, 4, 5], { maxLength: 3 }),
        }),
        fc.record({
          in: fc.constant('last'),
          count: fc.integer({ min: 1, max: 5 }),
          whose: fc.constantFrom(...lettersWhose),
        }),
        fc.record({ in: fc.constant('lately'), within: someSpan }),
        fc.record({ in: fc.constant('since'), campaign: fc.integer({ min: 1, max: 6 }) }),
        fc.constant({ in: 'ever' }),
      ),
      many: fc.oneof(
        fc.constantFrom('any', 'all', 'none'),
        fc.record({ atLeast: fc.integer({ min: 1, max: 4 }) }),
        fc.record({ atMost: fc.nat(3) }),
      ),
      machines: fc.boolean(),
      link: fc.option(
        fc.oneof(
          fc.record({ number: fc.nat(1) }),
          fc.constantFrom({ contains: 'plants' }, { contains: 'TOURS' }, { contains: 'fern' }),
        ),
        { nil: undefined },
      ),
    })
    .map(({ did, letters, many, machines, link }): ConditionOf<'letter'> => ({
      kind: 'letter',
      did,
      letters,
      many: many,
      ...(machines ? { machines } : {}),
      ...(link === undefined ||
      ('number' in link && !(letters.in === 'these' && letters.campaigns.length === 1))
        ? {}
        : { link }),
    })),
  since: fc
    .record({
      did: fc.constantFrom(...sinceDeeds),
      campaign: fc.constantFrom('latest', 1, 2, 3, 4, 5, 6),
      tags: fc.option(fc.subarray([1, 2, 3]), { nil: undefined }),
    })
    .map(({ did, campaign, tags }): ConditionOf<'since'> => ({
      kind: 'since',
      did,
      campaign: campaign as ConditionOf<'since'>['campaign'],
      ...(did === 'tagged' && tags ? { tags } : {}),
    })),
  place: fc
    .record({
      op: fc.constantFrom(...placeOperators),
      km: fc.double({ min: 0.5, max: 400, noNaN: true }),
      lat: fc.double({ min: 37, max: 41, noNaN: true }),
      lon: fc.double({ min: -10, max: -5, noNaN: true }),
    })
    .map(({ op, km, lat, lon }): ConditionOf<'place'> => ({
      kind: 'place',
      op,
      km,
      place: { name: 'There', lat, lon },
    })),
  segment: fc
    .record({ op: fc.constantFrom(...segmentOperators), segment: fc.integer({ min: 1, max: 4 }) })
    .map((raw): ConditionOf<'segment'> => ({ kind: 'segment', ...raw })),
  everybody: fc.constant<ConditionOf<'everybody'>>({ kind: 'everybody' }),
};
const isOff = fc
  .integer({ min: 0, max: 9 })
  .map((number) => (number === 0 ? { off: true as const } : {}));
const condition: fc.Arbitrary<Condition> = fc
  .tuple(fc.oneof(...Object.values(generators)), isOff)
  .map(([own, off]) => ({ ...own, ...off }));
const group: fc.Arbitrary<Group> = fc.letrec<{ node: RuleNode; group: Group }>((tie) => ({
  node: fc.oneof({ maxDepth: 3, withCrossShrink: true }, condition, tie('group')),
  group: fc
    .tuple(
      fc.record({
        of: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
        items: fc.array(tie('node'), { maxLength: 4 }),
      }),
      isOff,
    )
    .map(([own, off]) => ({ ...own, ...off })),
})).group;

it('finds the same people by SQL, by predicate, and as they are reckoned one by one from what is written', async () => {
  await fc.assert(
    fc.asyncProperty(group, async (root) => {
      const rule = parseRule({ v: 1, root }, context);
      if (!rule.ok) throw new Error(rule.error);
      const { rows } = await execute<{ id: number }>(
        test.database.db,
        sql`select c.id from contacts c where ${bindRule(compileRule(rule.value, context), context.timeZone)} order by c.id`,
      );
      const expected = people
        .filter(({ person }) => finds(rule.value, person, context))
        .map(({ id }) => id);
      expect(rows.map(({ id }) => id)).toEqual(expected.sort((a, b) => a - b));
      const reckoned = [...written].filter(([, one]) => reckonRule(rule.value.root, one, office));
      expect(rows.map(({ id }) => id)).toEqual(reckoned.map(([id]) => id).sort((a, b) => a - b));
    }),
    { numRuns: 1000 },
  );
}, 120_000);

it('finds a stretch at a time whom it finds at once: what holds, what is left after each part, and the first people by name', async () => {
  const { db } = test.database;
  const last = Math.max(...people.map(({ id }) => id));
  await fc.assert(
    fc.asyncProperty(group, fc.integer({ min: 7, max: 120 }), async (root, size) => {
      const rule = parseRule({ v: 1, root }, context);
      if (!rule.ok) throw new Error(rule.error);
      const fragments = leavesOf(rule.value.root, context).map(({ condition: one }) =>
        compile(one, context),
      );
      const words = [living, ...fragments].map(() => wordsFor(last));
      const look = (within: Stretch): Promise<void> =>
        fillHeld(
          db,
          [living, ...fragments.map((one) => bindRule(one, context.timeZone, within))].map(
            (one, at) => ({ condition: one, words: words[at] ?? wordsFor(last) }),
          ),
          within,
        );
      for (let after = 0; after < last; after += size) await look({ after, upTo: after + size });
      const [everybody = KeySet.empty, ...held] = words.map((each) => new KeySet(each));
      for (const [at, fragment] of fragments.entries()) {
        // By itself it may be found without a look at contacts.
        const alone = wordsFor(last);
        const asked = queryOf(fragment);
        const query = asked && {
          sql: bindQuery(asked.query, context.timeZone),
          isNot: asked.isNot,
        };
        const bound = bindRule(fragment, context.timeZone);
        await fillHeld(db, [{ condition: bound, query, words: alone }]);
        expect([...everybody.and(new KeySet(alone))]).toEqual([
          ...everybody.and(held[at] ?? KeySet.empty),
        ]);
      }
      const result = sift(rule.value.root, held, everybody, context);
      const these = found(rule.value.root, held, everybody, context);
      const among = (node: RuleNode): number =>
        people.filter(({ person }) => holds(node, person, context)).length;
      const expected = people.filter(({ person }) => finds(rule.value, person, context)).length;
      expect([result.everybody, result.count, these.size]).toEqual([
        people.length,
        expected,
        expected,
      ]);
      for (const [path, alone] of Object.entries(result.alone)) {
        const node = nodeAt(rule.value.root, parsePath(path));
        if (!node) throw new Error(path);
        expect(alone).toBe(among(node));
      }
      for (const { path, came, left } of result.steps) {
        const changed = changedAt(rule.value.root, path, context);
        const behind = leftAfter(rule.value.root, path, context);
        if (!changed || !behind) throw new Error(path);
        expect(left).toBe(among(behind));
        const parent = nodeAt(rule.value.root, parsePath(path).slice(0, -1));
        if (parent && isGroup(parent) && parent.of === 'all')
          expect(came - left).toBe(among(changed));
      }
      for (const { path, change, count: other } of result.whatIf) {
        const place = parsePath(path);
        const node = nodeAt(rule.value.root, place);
        if (!node) throw new Error(path);
        const next = putNode(
          rule.value.root,
          place,
          change === 'without' ? undefined : { ...(node as Group), of: change },
        );
        expect(other).toBe(
          people.filter(({ person }) => finds({ v: 1, root: next }, person, context)).length,
        );
      }
      const whole = bindRule(compileRule(rule.value, context), context.timeZone);
      const first = await page(db, allOf(living, whole), 3);
      for (const few of [0, undefined])
        expect(
          (await weighedPage(db, allOf(living, inSet(these, few)), 3)).map(({ id }) => id),
        ).toEqual(first.map(({ id }) => id));
    }),
    { numRuns: 80 },
  );
}, 120_000);

it('knows of every condition which tables it asks, so that no answer is kept when one of them changes', async () => {
  const relations = (plan: unknown): string[] =>
    Array.isArray(plan)
      ? plan.flatMap(relations)
      : typeof plan === 'object' && plan !== null
        ? Object.entries(plan).flatMap(([key, value]) =>
            key === 'Relation Name' ? [String(value)] : relations(value),
          )
        : [];
  const seen = new Set<string>();
  await fc.assert(
    fc.asyncProperty(condition, async (one) => {
      const parsed = parseRule({ v: 1, root: { of: 'all', items: [one] } }, context);
      if (!parsed.ok) throw new Error(parsed.error);
      const bound = bindRule(compile(parsed.value.root, context), context.timeZone);
      const { rows } = await execute(
        test.database.db,
        sql`explain (format json, verbose) select c.id, ${bound} from contacts c`,
      );
      const asked = new Set(relations(rows));
      for (const table of asked) seen.add(table);
      const { tables } = askingOf(bound);
      expect([...asked].filter((table) => !tables.some((other) => other === table))).toEqual([]);
    }),
    { numRuns: 300 },
  );
  expect(seen.size).toBeGreaterThan(6);
}, 60_000);

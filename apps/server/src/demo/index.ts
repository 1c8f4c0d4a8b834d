// Loads the demo world: a made-up garden with eighteen months of letters and what came back. The same
// seed gives the same world, placed relative to today.
import { idOf } from '@palabra/core/kernel';
import { happeningsOf, nameKey, parseAddress, searchKey, tagKey } from '@palabra/core/contacts';
import { nobodyYet, noneHeldBack, type HeldBackReason, type Tally } from '@palabra/core/campaigns';
import type { CompiledLetter, LetterContent } from '@palabra/core/letters';
import type { Rule } from '@palabra/core/segments';
import type pg from 'pg';
import { writeRecentLetters } from '../contacts/index.js';
import { recentLetters } from '../delivery/person-facts.store.js';
import { findOffice } from '../office/index.js';
import { compileLetter } from '../letters/compile.js';
import type { Config } from '../platform/config.js';
import type { Database } from '../platform/database.js';
import { countsOf } from '../results/results.store.js';
import { Keys } from '../platform/keys.js';
import { hashPassword } from '../platform/sign-in/sign-in.js';
import { Loader } from './copy.js';
import { newsletter, promotion } from './letters.js';
import { addFields, known, ownKeys, stageKey } from './fields.js';
import { addNotes } from './notes.js';
import { addGazetteer } from './gazetteer.js';
import { addTagHistory } from './tags.js';
import { Random } from './random.js';
import * as words from './words.js';

type Remembered = Readonly<Record<string, unknown>>;

const SEED = 20_240_611;
const DAY = 24 * 3600_000;
const HOUR = 3600_000;
const MINUTE = 60_000;
const MONTHS = 18;

/** What the generator remembers of a contact while it plays the past. */
interface Someone {
  readonly id: number;
  readonly address: string | null;
  readonly hash: Buffer | null;
  readonly given: string;
  readonly permission: 'asked' | 'customer' | 'unknown';
  readonly tags: ReadonlySet<number>;
  readonly created: number;
  /** How likely this person opens a letter, 0 to 1. */
  readonly keen: number;
  /** Some cool off, some warm up: how likely they are from a moment on. */
  readonly turn: { readonly at: number; readonly keen: number } | undefined;
  readonly proxy: boolean;
  readonly dead: boolean;
  gone: 'left' | 'hard bounce' | 'complained' | 'by hand' | undefined;
  goneAt: number;
  sent: number;
  opened: number;
  clicked: number;
  lastSent: number;
  lastOpened: number;
  lastClicked: number;
}

interface PastCampaign {
  readonly name: string;
  readonly at: number;
  readonly content: LetterContent;
  readonly tag: number | undefined;
}

export async function makeDemo(
  database: Database,
  config: Config,
  tell: (text: string) => void,
): Promise<void> {
  if (await findOffice(database.db)) return;
  const now = new Date();
  const keys = await Keys.load(database.db, now);
  const client = await database.pool.connect();
  try {
    const world = new World(database, client, keys, config, now, tell);
    await world.load(config.demo ?? 12_000);
  } finally {
    client.release();
  }
}

class World {
  private readonly random = new Random(SEED);
  /** Of what was added to the world later, so that the rest stays as it was. */
  private readonly further = new Random(SEED + 1);
  private readonly someones: Someone[] = [];
  private readonly userIds: number[] = [];
  private readonly tagIds: number[] = [];
  private readonly topicIds: number[] = [];
  private readonly pools: number[] = [];

  /** Past campaigns by their key. */
  private readonly sent: number[] = [];

  constructor(
    private readonly database: Database,
    private readonly client: pg.PoolClient,
    private readonly keys: Keys,
    private readonly config: Config,
    private readonly now: Date,
    private readonly tell: (text: string) => void,
  ) {}

  async load(contacts: number): Promise<void> {
    this.tell('accounts, tags and fields');
    await this.addOffice();
    await addGazetteer(this.client);
    this.tell(`${contacts.toLocaleString('en')} contacts`);
    await this.addContacts(contacts);
    await this.addPast();
    await this.addFacts();
    await this.addDoNotMail();
    await this.addDroppedTopics();
    await this.addPresent();
    this.tell('tidying up');
    // All people were written several times: what they left behind is gone through at every look.
    await this.client.query('vacuum full contacts');
    for (const table of [
      'contacts',
      'contact_tags',
      'happenings',
      'deliveries',
      'held_back',
      'events',
      'do_not_mail',
      'campaigns',
      'letters',
    ])
      await this.client.query(`vacuum (analyze) ${table}`);
    for (const id of this.sent)
      await countsOf(this.database.db, { id: idOf(id), status: 'sent', factsVersion: 0 });
    // The office's row comes last: a world that was cut off in the middle is not taken for whole.
    await this.client.query(
      `insert into offices (id, name, postal_address, time_zone, country, sender_name, sender_address, created_at) values (1, $1, $2, $3, $4, $5, $6, $7)`,
      [
        words.office.name,
        words.office.postalAddress,
        words.office.timeZone,
        words.office.country,
        words.office.senderName,
        words.office.senderAddress,
        this.now,
      ],
    );
  }

  private async id(text: string, values: unknown[]): Promise<number> {
    const { rows } = await this.client.query<{ id: number }>(`${text} returning id`, values);
    return rows[0]?.id ?? 0;
  }

  private async addOffice(): Promise<void> {
    const started = new Date(this.now.getTime() - (MONTHS + 6) * 30 * DAY);
    const hash = await hashPassword(words.password);
    for (const { name, address, role } of words.people)
      this.userIds.push(
        await this.id(
          'insert into users (name, address, address_key, role, password_hash, created_at, welcomed_at) values ($1, $2, $2, $3, $4, $5, $5)',
          [name, address, role, hash, started],
        ),
      );
    for (const [name, kind] of [
      ['house', 'house'],
      ['Fernhill Nursery', 'partner'],
      ['The Seed Library', 'partner'],
      ['garden fair', 'prospects'],
    ])
      this.pools.push(
        await this.id('insert into pools (name, kind) values ($1, $2)', [name, kind]),
      );
    for (const { name, colour, purpose } of [...words.tags, { ...words.strayTag, purpose: '' }])
      this.tagIds.push(
        await this.id(
          'insert into tags (name, name_key, colour, purpose, created_at) values ($1, $2, $3, $4, $5)',
          [name, tagKey(name), colour, purpose, started],
        ),
      );
    for (const { name, description } of words.topics)
      this.topicIds.push(
        await this.id(
          'insert into topics (name, name_key, description, created_at) values ($1, $2, $3, $4)',
          [name, searchKey(name), description, started],
        ),
      );
    await addFields(this.client, started);
  }

  private town(): (typeof words.towns)[number] {
    let at = this.random.int(words.towns.reduce((sum, { weight }) => sum + weight, 0));
    for (const town of words.towns) if ((at -= town.weight) < 0) return town;
    return words.towns[0];
  }

  private async addContacts(count: number): Promise<void> {
    const { random } = this;
    const contacts = new Loader(
      this.client,
      'contacts (id, pool_id, owner_id, given_name, family_name, search_key, address, address_key, address_hash, town, region, street, postcode, country, stage, source, phone, closeness, external_number, lat, lon, fields, keys, permission, permission_at, permission_source, permission_wording, created_at, updated_at) ',
    );
    const tags = new Loader(this.client, 'contact_tags (contact_id, tag_id)');
    const taken = new Set<string>();
    for (let id = 1; id <= count; id++) {
      const given = random.chance(0.03) ? '' : random.pick(words.given);
      const family = random.chance(0.02)
        ? random.pick(words.surnamesFromElsewhere)
        : random.pick(words.family);
      const poolAt = random.chance(0.93) ? 0 : 1 + random.int(3);
      const pool = this.pools[poolAt] ?? 1;
      const address = random.chance(0.012) ? null : this.address(given, family, taken, random);
      const key = address === null ? null : parseAddress(address);
      const hash = key?.ok ? this.keys.addressHash(key.value.key) : null;
      const town = this.town();
      const stage =
        poolAt === 3
          ? 'visitor'
          : random.pick([
              'visitor',
              'visitor',
              'visitor',
              'member',
              'member',
              'lapsed member',
              'donor',
              'school booker',
            ]);
      const created =
        this.now.getTime() -
        Math.floor(
          random.chance(0.4)
            ? MONTHS * 30.4 * DAY + random.next() * 180 * DAY
            : random.next() ** 1.2 * MONTHS * 30.4 * DAY,
        );
      const permission =
        poolAt === 3 || random.chance(0.05) ? 'unknown' : random.chance(0.6) ? 'asked' : 'customer';
      const isMember = stage === 'member' || stage === 'lapsed member';
      const membership = isMember ? random.pick(words.memberships) : undefined;
      const until = isMember
        ? new Date(this.now.getTime() + (stage === 'member' ? 1 : -1) * random.next() * 500 * DAY)
            .toISOString()
            .slice(0, 10)
        : undefined;
      const likes = random.chance(0.4) ? [random.pick(words.likes), random.pick(words.likes)] : [];
      const visits = random.chance(0.5) ? random.int(12) : undefined;
      const postcode = `${town.postcode} ${1 + random.int(9)}${String.fromCharCode(65 + random.int(26))}${String.fromCharCode(65 + random.int(26))}`;
      const keyed: Record<string, string> = {
        town: searchKey(town.name),
        region: searchKey(town.region),
        postcode: searchKey(postcode),
        family_name: searchKey(family),
      };
      if (given) keyed['given_name'] = searchKey(given);
      const owner = this.userIds[[0, 0, 2, 2, 3, 4, 5][random.int(7)] ?? 0] ?? 1;
      const createdAt = new Date(created);
      const more = known(
        id,
        { stage, membership, until, likes, visits, createdAt, isFromFair: poolAt === 3 },
        this.further,
      );
      await contacts.add(
        id,
        pool,
        owner,
        given,
        family,
        nameKey({ given, family }),
        address,
        key?.ok ? key.value.key : null,
        hash,
        town.name,
        town.region,
        more.street,
        postcode,
        null,
        more.stage,
        more.source,
        more.phone,
        more.closeness,
        more.externalNumber,
        town.lat + (random.next() - 0.5) / 20,
        town.lon + (random.next() - 0.5) / 20,
        JSON.stringify(more.fields),
        JSON.stringify({ ...keyed, ...more.keys }),
        permission,
        permission === 'unknown' ? null : createdAt,
        poolAt === 3
          ? 'garden fair, cards from the bowl'
          : permission === 'unknown'
            ? null
            : random.pick(words.sources),
        permission === 'asked' && poolAt !== 3
          ? (words.wordings[id % words.wordings.length] ?? null)
          : null,
        createdAt,
        createdAt,
      );
      const own = new Set<number>();
      words.tags.forEach(({ share }, at) => {
        if (poolAt === 0 && random.chance(share)) own.add(this.tagIds[at] ?? 0);
      });
      if (poolAt === 0 && id % words.strayTag.every === 0) own.add(this.tagIds.at(-1) ?? 0);
      for (const tag of own) await tags.add(id, tag);
      const keen = random.chance(0.18) ? 0.02 : Math.min(0.95, random.next() ** 1.3);
      this.someones.push({
        id,
        address,
        hash,
        given,
        permission,
        tags: own,
        created,
        keen,
        turn: this.turnOf(id),
        proxy: random.chance(0.16),
        dead: random.chance(0.009),
        gone: undefined,
        goneAt: 0,
        sent: 0,
        opened: 0,
        clicked: 0,
        lastSent: 0,
        lastOpened: 0,
        lastClicked: 0,
      });
      if (poolAt !== 0) this.outOfHouse.add(id);
      if (id % 20_000 === 0) this.tell(`${id.toLocaleString('en')} contacts`);
    }
    await contacts.flush();
    await this.client.query(
      `insert into permissions (contact_id, set_id, at, kind, agreed_at, source, wording) select id, 0, created_at, permission, permission_at, permission_source, permission_wording from contacts where permission <> 'unknown' or permission_source is not null`,
    );
    await tags.flush();
    await this.client.query(`select setval(pg_get_serial_sequence('contacts', 'id'), $1)`, [count]);
  }

  /** Whose interest changed within the last months, by their number. */
  private turnOf(id: number): Someone['turn'] {
    const at = this.now.getTime() - (45 + (id % 70)) * DAY;
    if (id % 13 === 4) return { at, keen: 0.01 };
    if (id % 31 === 7) return { at, keen: 0.97 };
    return undefined;
  }

  private readonly outOfHouse = new Set<number>();

  private address(given: string, family: string, taken: Set<string>, random: Random): string {
    const plain = (text: string): string => searchKey(text).replace(/[^a-z]/g, '');
    const base = given
      ? random.pick([
          `${plain(given)}.${plain(family)}`,
          `${plain(given)[0]}.${plain(family)}`,
          `${plain(given)}${plain(family).slice(0, 1)}`,
        ])
      : plain(family);
    const domain = random.pick(words.domains);
    for (let tail = ''; ; tail = String(1 + random.int(9999))) {
      const address = `${base}${tail}@${domain}`;
      if (!taken.has(address)) {
        taken.add(address);
        return address;
      }
    }
  }

  private past(): PastCampaign[] {
    const list: PastCampaign[] = [];
    for (let back = MONTHS; back >= 1; back--) {
      const month = new Date(
        Date.UTC(this.now.getUTCFullYear(), this.now.getUTCMonth() - back + 1, 1),
      );
      const news = words.monthNews[month.getUTCMonth()];
      const at = month.getTime() + 9 * DAY + 9 * HOUR - this.weekdayShift(month);
      if (news && at < this.now.getTime() - DAY)
        list.push({
          name: `${month.toLocaleString('en', { month: 'long', timeZone: 'UTC' })} newsletter`,
          at,
          content: newsletter(
            news.title,
            news.lead,
            `${news.lead} And the dates of the next weeks.`.slice(0, 130),
          ),
          tag: undefined,
        });
      const promo =
        back % 2 === 0 ? words.promotions[(back / 2) % words.promotions.length] : undefined;
      const promoAt = month.getTime() + 20 * DAY + 10 * HOUR;
      if (promo && promoAt < this.now.getTime() - DAY)
        list.push({
          name: promo.title,
          at: promoAt,
          content: promotion(promo.title, promo.lead, promo.button),
          tag: this.tagIds[words.tags.findIndex(({ name }) => name === promo.tag)],
        });
    }
    return list.sort((a, b) => a.at - b.at);
  }

  /** Newsletters go out on a Thursday. */
  private weekdayShift(month: Date): number {
    const tenth = new Date(month.getTime() + 9 * DAY).getUTCDay();
    return ((tenth + 3) % 7) * DAY;
  }

  private async addPast(): Promise<void> {
    const list = this.past();
    for (const [at, campaign] of list.entries()) {
      this.tell(`letters sent so far, ${at + 1} of ${list.length}`);
      await this.playCampaign(campaign);
    }
  }

  private async addLetter(name: string, content: LetterContent, at: Date): Promise<number> {
    return this.id(
      'insert into letters (name, content, created_at, updated_at) values ($1, $2, $3, $3)',
      [name, JSON.stringify(content), at],
    );
  }

  private async compile(content: LetterContent): Promise<CompiledLetter> {
    return compileLetter(content, {
      officeName: words.office.name,
      postalAddress: words.office.postalAddress,
      language: 'en',
      baseUrl: this.config.publicUrl,
    });
  }

  private async playCampaign({ name, at, content, tag }: PastCampaign): Promise<void> {
    const started = new Date(at);
    const letter = await this.addLetter(name, content, started);
    const compiled = await this.compile(content);
    const who =
      tag === undefined ? { to: [], notTo: [] } : { to: [{ kind: 'tag', id: tag }], notTo: [] };
    const campaign = await this.id(
      `insert into campaigns (name, status, who, letter_id, sender_name, sender_address, compiled, subject, fixed_at, started_at, finished_at, created_at, updated_at, topic_id) values ($1, 'sent', $2, $3, $4, $5, $6, $7, $8, $8, $9, $8, $8, $10)`,
      [
        name,
        JSON.stringify(who),
        letter,
        words.office.senderName,
        words.office.senderAddress,
        JSON.stringify(compiled),
        compiled.subject
          .map((part) =>
            typeof part === 'string' ? part : part.slot === 'field' ? part.fallback : '',
          )
          .join(''),
        started,
        new Date(at + 40 * MINUTE),
        this.topicIds[tag === undefined ? 0 : 1],
      ],
    );
    this.sent.push(campaign);
    const deliveries = new Loader(
      this.client,
      'deliveries (campaign_id, contact_id, state, address, address_hash, attempts, first_tried_at, answer, bounce, accepted_at, bounced_at, left_at, complained_at, first_opened_at, last_opened_at, opens, machine_opens, first_clicked_at, last_clicked_at, clicks, machine_clicks, links)',
    );
    const held = new Loader(
      this.client,
      'held_back (campaign_id, contact_id, reason, address_hash)',
    );
    const events = new Loader(
      this.client,
      'events (kind, at, contact_id, campaign_id, link, machine, why)',
    );
    const heldBack: Record<HeldBackReason, number> = { ...noneHeldBack };
    let receives = 0;
    const summerDip = [6, 7].includes(started.getUTCMonth()) ? 0.8 : 1;
    for (const one of this.someones) {
      if (
        this.outOfHouse.has(one.id) ||
        one.created > at ||
        (tag !== undefined && !one.tags.has(tag))
      )
        continue;
      const reason: HeldBackReason | undefined =
        one.address === null || one.hash === null
          ? 'no address'
          : one.gone
            ? 'do not mail'
            : one.permission === 'unknown'
              ? 'no permission'
              : undefined;
      if (reason || !one.hash) {
        heldBack[reason ?? 'no address']++;
        await held.add(campaign, one.id, reason ?? 'no address', one.hash);
        continue;
      }
      receives++;
      await this.playDelivery(
        one,
        one.hash,
        campaign,
        at,
        compiled.links.length,
        (tag === undefined ? 1 : 1.25) * summerDip,
        deliveries,
        events,
      );
    }
    await deliveries.flush();
    await held.flush();
    await events.flush();
    const matched = receives + Object.values(heldBack).reduce((sum, n) => sum + n, 0);
    const tally: Tally = { matched, heldBack, receives };
    await this.client.query('update campaigns set tally = $2, seen = $2 where id = $1', [
      campaign,
      JSON.stringify(tally),
    ]);
  }

  /** One letter to one person: taken or not, opened or not, and when. */
  private async playDelivery(
    one: Someone,
    hash: Buffer,
    campaign: number,
    at: number,
    links: number,
    lift: number,
    deliveries: Loader,
    events: Loader,
  ): Promise<void> {
    const { random } = this;
    const accepted = at + random.next() * 35 * MINUTE;
    if (one.dead) {
      one.gone = 'hard bounce';
      one.goneAt = accepted;
      await deliveries.add(
        campaign,
        one.id,
        'bounced',
        one.address,
        hash,
        1,
        new Date(accepted),
        '550 5.1.1 There is no mailbox of that name here',
        'hard',
        null,
        new Date(accepted),
        null,
        null,
        null,
        null,
        0,
        0,
        null,
        null,
        0,
        0,
        '{}',
      );
      await events.add('bounced', new Date(accepted), one.id, campaign, null, false, 'hard');
      return;
    }
    one.sent++;
    one.lastSent = accepted;
    let [opens, machineOpens, clicks] = [0, 0, 0];
    let clickedLink: number | undefined;
    let [firstOpened, lastOpened, firstClicked, lastClicked, leftAt, complainedAt] = [
      0, 0, 0, 0, 0, 0,
    ];
    if (one.proxy) {
      machineOpens = 1;
      await events.add(
        'opened',
        new Date(accepted + random.wait(20) * 1000),
        one.id,
        campaign,
        null,
        true,
        'a mail scanner or proxy',
      );
    }
    const keen = one.turn && accepted > one.turn.at ? one.turn.keen : one.keen;
    if (random.chance(keen * lift)) {
      firstOpened = this.wakingHour(accepted + random.wait(9) * HOUR);
      lastOpened = firstOpened;
      opens = 1;
      await events.add('opened', new Date(firstOpened), one.id, campaign, null, false, null);
      if (random.chance(0.25)) {
        opens++;
        lastOpened = this.wakingHour(firstOpened + random.wait(18) * HOUR);
        await events.add('opened', new Date(lastOpened), one.id, campaign, null, false, null);
      }
      if (links > 0 && random.chance(0.1 + keen * 0.22)) {
        clicks = 1;
        firstClicked = firstOpened + 8000 + random.wait(90) * 1000;
        lastClicked = firstClicked;
        lastOpened = Math.max(lastOpened, lastClicked);
        clickedLink = Math.min(links - 1, Math.floor(random.next() ** 2 * links));
        await events.add(
          'clicked',
          new Date(firstClicked),
          one.id,
          campaign,
          clickedLink,
          false,
          null,
        );
      }
    }
    const annoyed = one.keen < 0.1 ? 0.0035 : 0.0012;
    if (random.chance(annoyed)) {
      leftAt = (lastOpened || accepted + random.wait(12) * HOUR) + 30_000;
      if (leftAt < this.now.getTime()) {
        one.gone = random.chance(0.06) ? 'complained' : 'left';
        one.goneAt = leftAt;
        await events.add(one.gone, new Date(leftAt), one.id, campaign, null, false, null);
        if (one.gone === 'complained') [complainedAt, leftAt] = [leftAt, 0];
      } else leftAt = 0;
    }
    const when = (moment: number): Date | null =>
      moment > 0 ? new Date(Math.min(moment, this.now.getTime())) : null;
    if (opens > 0) {
      one.opened++;
      one.lastOpened = Math.min(lastOpened, this.now.getTime());
    }
    if (clicks > 0) {
      one.clicked++;
      one.lastClicked = Math.min(lastClicked, this.now.getTime());
    }
    await deliveries.add(
      campaign,
      one.id,
      'accepted',
      one.address,
      hash,
      1,
      new Date(accepted),
      '250 2.0.0 OK: taken',
      null,
      new Date(accepted),
      null,
      when(leftAt),
      when(complainedAt),
      when(firstOpened),
      when(lastOpened),
      opens,
      machineOpens,
      when(firstClicked),
      when(lastClicked),
      clicks,
      0,
      clickedLink === undefined ? '{}' : `{${clickedLink}}`,
    );
  }

  /** People sleep: what would fall into the night happens in the morning or the evening. */
  private wakingHour(moment: number): number {
    const hour = new Date(moment).getUTCHours();
    const woken = hour >= 23 || hour < 6 ? moment + (7 + this.random.next() * 4) * HOUR : moment;
    return Math.min(woken, this.now.getTime() - 1000);
  }

  private async addFacts(): Promise<void> {
    this.tell('what each person did');
    await this.client.query(
      'create temporary table demo_facts (id int primary key, sent int, opened int, clicked int, last_sent timestamptz, last_opened timestamptz, last_clicked timestamptz)',
    );
    const facts = new Loader(
      this.client,
      'demo_facts (id, sent, opened, clicked, last_sent, last_opened, last_clicked)',
    );
    const when = (moment: number): Date | null => (moment > 0 ? new Date(moment) : null);
    for (const one of this.someones)
      if (one.sent > 0)
        await facts.add(
          one.id,
          one.sent,
          one.opened,
          one.clicked,
          when(one.lastSent),
          when(one.lastOpened),
          when(one.lastClicked),
        );
    await facts.flush();
    const step = 10_000;
    for (let from = 0; from <= this.someones.length; from += step) {
      await this.client.query(
        `update contacts c set delivered_count = f.sent, opened_count = f.opened, clicked_count = f.clicked, last_sent_at = f.last_sent, last_opened_at = f.last_opened, last_clicked_at = f.last_clicked from demo_facts f where f.id = c.id and c.id > $1 and c.id <= $2`,
        [from, from + step],
      );
      await writeRecentLetters(this.database.db, recentLetters, from, from + step);
    }
    await this.client.query('drop table demo_facts');
  }

  private async addDoNotMail(): Promise<void> {
    const list = new Loader(this.client, 'do_not_mail (address_hash, address, reason, at)');
    const seen = new Set<string>();
    for (const one of this.someones) {
      if (!one.gone && one.hash && !this.outOfHouse.has(one.id) && this.random.chance(0.001)) {
        one.gone = 'by hand';
        one.goneAt = one.created + this.random.next() * (this.now.getTime() - one.created);
      }
      if (!one.gone || !one.hash || seen.has(one.hash.toString('hex'))) continue;
      seen.add(one.hash.toString('hex'));
      await list.add(one.hash, one.address, one.gone, new Date(one.goneAt));
    }
    await list.flush();
  }

  private async addDroppedTopics(): Promise<void> {
    const list = new Loader(this.client, 'dropped_topics (address_hash, topic_id, at)');
    const seen = new Set<string>();
    for (const one of this.someones) {
      if (
        !one.hash ||
        one.gone ||
        one.sent < 3 ||
        !this.random.chance(0.012) ||
        seen.has(one.hash.toString('hex'))
      )
        continue;
      seen.add(one.hash.toString('hex'));
      await list.add(
        one.hash,
        this.topicIds[1 + this.random.int(2)] ?? 1,
        new Date(one.lastSent + 2 * HOUR),
      );
    }
    await list.flush();
  }

  /** Three messages that wait to be seen to. */
  private async addReturned(): Promise<void> {
    const campaign = this.sent.at(-1) ?? 1;
    const readers = this.someones
      .filter((one) => one.address && !one.gone && one.opened > 2 && !this.outOfHouse.has(one.id))
      .slice(40, 43);
    for (const [at, mail] of [...words.returned.entries()].reverse()) {
      const reader = readers[at];
      const fill = (text: string): string => text.replace('{address}', reader?.address ?? '');
      await this.client.query(
        `insert into returned_mail (at, digest, kind, bounce, evidence, campaign_id, contact_id, sender, subject, excerpt, diagnosis, source) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, 'mailbox')`,
        [
          new Date(this.now.getTime() - (at + 2) * 5 * HOUR),
          Buffer.alloc(32, at + 1),
          mail.kind,
          mail.bounce,
          mail.evidence,
          mail.evidence ? campaign : null,
          mail.evidence ? (reader?.id ?? null) : null,
          fill(mail.sender),
          mail.subject,
          fill(mail.excerpt),
          mail.diagnosis,
        ],
      );
    }
  }

  /** What is on the desk today: segments, a finished import with refused rows, drafts and a letter that goes out soon. */
  private async addPresent(): Promise<void> {
    const at = new Date(this.now.getTime() - 3 * DAY);
    const house = this.pools[0] ?? 1;
    const tag = (name: string): number =>
      this.tagIds[words.tags.findIndex((one) => one.name === name)] ?? 0;
    const rules: [string, string, Rule['root']][] = [
      [
        'Everybody who may hear from us',
        'The house pool, as it is',
        { of: 'all', items: [{ kind: 'everybody' }] },
      ],
      [
        'Members near Quillwater',
        'For things that happen in the evening',
        {
          of: 'all',
          items: [
            { kind: 'field', field: 'stage', op: 'is one of', value: [stageKey('member')] },
            {
              of: 'any',
              items: ['Quillwater', 'Millrace', 'Lower Ashby', 'Ashwick'].map((value) => ({
                kind: 'field' as const,
                field: 'town',
                op: 'is' as const,
                value,
              })),
            },
          ],
        },
      ],
      [
        'Plant sale guests, no schools',
        'First call and last call',
        {
          of: 'all',
          items: [
            { kind: 'tag', op: 'has', tags: [tag('plant sale guest')] },
            {
              of: 'none',
              items: [
                { kind: 'tag', op: 'has', tags: [tag('school')] },
                {
                  kind: 'field',
                  field: 'stage',
                  op: 'is one of',
                  value: [stageKey('school booker')],
                },
              ],
            },
          ],
        },
      ],
      [
        'Memberships that end within 90 days',
        'For the renewal letter',
        {
          of: 'all',
          items: [
            {
              kind: 'field',
              field: ownKeys.until,
              op: 'in the next',
              value: { count: 90, unit: 'days' },
            },
          ],
        },
      ],
      [
        'Came in this month',
        'For the welcome letter',
        {
          of: 'all',
          items: [
            {
              kind: 'field',
              field: 'came_in',
              op: 'in the last',
              value: { count: 30, unit: 'days' },
            },
          ],
        },
      ],
    ];
    rules.push([
      'Near, fond of plants, gone quiet',
      'Guests who used to come and have opened nothing for a while',
      {
        of: 'all',
        items: [
          { kind: 'tag', op: 'has', tags: [tag('plant sale guest')] },
          {
            kind: 'place',
            op: 'within',
            km: 25,
            place: { name: 'Quillwater', lat: 38.72, lon: -9.14 },
          },
          {
            of: 'any',
            items: [
              { kind: 'field', field: 'closeness', op: 'is one of', value: ['close', 'known'] },
              { kind: 'field', field: 'band', op: 'is one of', value: ['keen', 'steady'] },
            ],
          },
          {
            of: 'none',
            items: [
              {
                kind: 'letter',
                did: 'opened',
                letters: { in: 'since', campaign: this.sent.at(-4) ?? 1 },
                many: 'any',
              },
              { kind: 'field', field: 'owner', op: 'is one of', value: [String(this.userIds[2])] },
            ],
          },
        ],
      },
    ]);
    const segments: number[] = [];
    for (const [name, description, root] of rules)
      segments.push(
        await this.id(
          'insert into segments (name, description, pool_ids, rule, in_force_since, in_force_by, owner_id, created_at, updated_at) values ($1, $2, $3, $4, $5, $6, $6, $5, $5)',
          [name, description, [house], JSON.stringify({ v: 1, root }), at, this.userIds[0]],
        ),
      );
    const sale = words.promotions[0];
    // What went to everybody went to the segment of that name.
    await this.client.query(
      `update campaigns set who = $1 where status = 'sent' and jsonb_array_length(who -> 'to') = 0`,
      [JSON.stringify({ to: [{ kind: 'segment', id: segments[0] }], notTo: [] })],
    );
    const firstCall = await this.addLetter(
      'Plant sale, first call',
      promotion(sale?.title ?? '', sale?.lead ?? '', sale?.button ?? ''),
      at,
    );
    const news = words.monthNews[(this.now.getUTCMonth() + 1) % 12];
    const nextNews = await this.addLetter(
      'Next newsletter',
      newsletter(
        news?.title ?? '',
        news?.lead ?? '',
        `${news?.lead ?? ''} And the dates of the next weeks.`,
      ),
      at,
    );
    const add = (
      name: string,
      who: unknown,
      letter: number | null,
      topic?: number,
    ): Promise<number> =>
      this.id(
        'insert into campaigns (name, who, letter_id, sender_name, sender_address, created_at, updated_at, topic_id) values ($1, $2, $3, $4, $5, $6, $6, $7)',
        [
          name,
          JSON.stringify(who),
          letter,
          words.office.senderName,
          words.office.senderAddress,
          at,
          topic,
        ],
      );
    await add(
      'Plant sale, first call',
      {
        to: [{ kind: 'segment', id: segments[2] }],
        notTo: [{ kind: 'tag', id: tag('volunteer') }],
      },
      firstCall,
      this.topicIds[1],
    );
    await add(
      'Next newsletter',
      { to: [{ kind: 'segment', id: segments[0] }], notTo: [] },
      nextNews,
      this.topicIds[0],
    );
    await add('Renewal letter', nobodyYet, null);
    const workshop = tag('workshop list');
    const tagged = this.someones
      .filter((one) => one.tags.has(workshop) && !this.outOfHouse.has(one.id))
      .slice(0, 64);
    const told = new Set(tagged.map(({ id }) => id));
    await addTagHistory(
      this.client,
      this.someones,
      [...words.tags, words.strayTag].map(({ name }, at) => ({ id: this.tagIds[at] ?? 0, name })),
      this.userIds.slice(0, 3),
      this.now,
      (person, tag_) => tag_ === workshop && told.has(person),
    );
    await this.addChangeSet(
      'tagging',
      'tagged “workshop list”',
      new Date(this.now.getTime() - 4 * DAY),
      tagged.map(
        (one) => [one.id, { [`tag_${workshop}`]: false }, { [`tag_${workshop}`]: true }] as const,
      ),
    );
    await this.addImport(house);
    await this.addReturned();
    await addNotes(
      this.client,
      this.someones.filter(({ id, gone }) => gone === undefined && !this.outOfHouse.has(id)),
      this.userIds,
      this.now,
    );
  }

  private async addChangeSet(
    kind: string,
    what: string,
    at: Date,
    items: readonly (readonly [contact: number, before: Remembered | null, after: Remembered])[],
  ): Promise<number> {
    const id = await this.id(
      'insert into change_sets (kind, user_id, at, what, count, finished_at) values ($1, $2, $3, $4, $5, $3)',
      [kind, this.userIds[0], at, what, items.length],
    );
    const list = new Loader(this.client, 'change_items (set_id, contact_id, before, after)');
    for (const [contact, before, after] of items)
      await list.add(
        id,
        contact,
        before === null ? null : JSON.stringify(before),
        JSON.stringify(after),
      );
    await list.flush();
    const happened = new Loader(this.client, 'happenings (set_id, contact_id, kind, which)');
    for (const [contact, before, after] of items)
      for (const { kind, which } of happeningsOf(before, after))
        await happened.add(id, contact, kind, which);
    await happened.flush();
    return id;
  }

  private async addImport(house: number): Promise<void> {
    const done = new Date(this.now.getTime() - 20 * HOUR);
    const owner = this.userIds[0] ?? 1;
    const fresh = this.someones
      .filter((one) => !this.outOfHouse.has(one.id) && one.created > this.now.getTime() - DAY)
      .slice(0, 80);
    const changed = this.someones.filter((one) => !this.outOfHouse.has(one.id)).slice(100, 112);
    const refused = [
      [
        'Olave',
        'Weir',
        'olave.weir(at)example.com',
        'Millrace',
        'an address needs one @, as in name@example.com',
      ],
      ['', 'Heron', '', 'Ashwick', 'there is no address'],
      [
        'Juno',
        'Tarn',
        'juno@tarn',
        'East Tarn',
        'the part after the @ is not a domain, as in example.com',
      ],
    ];
    const set = await this.addChangeSet('import', 'imported “ticket desk, last week.csv”', done, [
      ...fresh.map((one) => [one.id, null, {}] as const),
      ...changed.map((one) => [one.id, { town: 'Millrace' }, { town: 'somewhere else' }] as const),
    ]);
    const id = await this.id(
      `insert into imports (change_set_id, state, file_id, file_name, encoding, separator, headers, sample, rows, mapping, pool_id, owner_id, permission, permission_at, permission_source, cursor, new_count, changed_count, unchanged_count, refused_count, user_id, created_at, started_at, finished_at)
       values ($11, 'done', '', 'ticket desk, last week.csv', 'utf-8', ',', $1, $2, $3, $4, $5, $6, 'asked', $7, 'ticket desk', $3, $8, $9, 0, $10, $6, $7, $7, $7)`,
      [
        JSON.stringify(['First name', 'Last name', 'E-mail', 'Town']),
        JSON.stringify([refused[0]?.slice(0, 4)]),
        fresh.length + changed.length + refused.length,
        JSON.stringify(
          ['given_name', 'family_name', 'address', 'town'].map((field) => ({ to: 'field', field })),
        ),
        house,
        owner,
        done,
        fresh.length,
        changed.length,
        refused.length,
        set,
      ],
    );
    const rows = new Loader(
      this.client,
      'import_rows (import_id, row, outcome, contact_id, reason, cells)',
    );
    let row = 0;
    for (const one of fresh) await rows.add(id, ++row, 'new', one.id, null, null);
    for (const one of changed) await rows.add(id, ++row, 'changed', one.id, null, null);
    for (const cells of refused)
      await rows.add(id, ++row, 'refused', null, cells[4] ?? '', JSON.stringify(cells.slice(0, 4)));
    await rows.flush();
  }
}

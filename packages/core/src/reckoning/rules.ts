// Whether a rule finds somebody, reckoned slowly from what is written of them and from the log of events. It goes through
// everything anew for each question, and shares neither statements nor kept figures with what the program finds people by.
import { automaticTag, parseAddress, searchKey, type Field } from '../contacts/index.js';
import { normalized, unreachable } from '../kernel/index.js';
import { dayIn } from '../office/index.js';
import {
  findsAnybody,
  isActive,
  isGroup,
  type Condition,
  type ConditionOf,
  type Group,
  type RuleContext,
  type RuleNode,
  type Span,
} from '../segments/index.js';
import { latestFirst, reckonPerson, type EventRow, type LetterRow } from './letters.js';

/** All that is written of one person. Moments in milliseconds since 1970. */
export interface PersonRow {
  /** As they were typed, by field; of several choices the keys with commas between. */
  readonly values: Readonly<Record<string, unknown>>;
  /** When each was put on, as far as that is known. */
  readonly tags: ReadonlyMap<number, number | null>;
  readonly pool: number;
  readonly cameIn: number;
  readonly changed: number;
  readonly lastContact: number | null;
  readonly letters: readonly LetterRow[];
  readonly events: readonly EventRow[];
  readonly doNotMail: { readonly reason: string; readonly at: number } | null;
  readonly droppedTopics: readonly number[];
  readonly position: { readonly lat: number; readonly lon: number } | null;
  readonly rating: number | null;
  /** The ratings a day before they were counted, two days and so on. */
  readonly course: {
    readonly countedAt: number;
    readonly points: readonly (number | null)[];
  } | null;
  readonly listedIn: readonly number[];
}

/** What else a rule may ask for. */
export interface OfficeRows {
  readonly context: RuleContext;
  readonly now: number;
  /** The rules in force of other segments. */
  readonly segments: ReadonlyMap<
    number,
    { readonly root: Group | null; readonly pools: readonly number[]; readonly seenBy?: number }
  >;
}

const DAY = 86_400_000;
const asText = (value: unknown): string =>
  typeof value === 'string' ? value : JSON.stringify(value ?? null);
const dayAt = (at: number, { context }: OfficeRows): string =>
  dayIn(context.timeZone, new Date(at));

/** A day so far from another, counted on a calendar. */
function calendar(day: string, { count, unit }: Span, by: 1 | -1): string {
  if (unit !== 'months')
    return new Date(Date.parse(day) + by * count * (unit === 'weeks' ? 7 : 1) * DAY)
      .toISOString()
      .slice(0, 10);
  const month = Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7)) - 1 + by * count;
  const first = `${String(Math.floor(month / 12)).padStart(4, '0')}-${String((month % 12) + 1).padStart(2, '0')}`;
  for (let date = Number(day.slice(8)); ; date--) {
    const found = `${first}-${String(date).padStart(2, '0')}`;
    if (new Date(`${found}T00:00:00Z`).toISOString().slice(0, 10) === found) return found;
  }
}

export const reckonRule = (root: Group, person: PersonRow, office: OfficeRows): boolean =>
  findsAnybody(root, office.context) && node(root, person, office);

function node(part: RuleNode, person: PersonRow, office: OfficeRows): boolean {
  if (!isGroup(part)) return asked(part, person, office);
  let some = 0;
  let all = true;
  for (const item of part.items) {
    if (!isActive(item, office.context)) continue;
    if (node(item, person, office)) some++;
    else all = false;
  }
  return part.of === 'all' ? all : part.of === 'any' ? some > 0 : some === 0;
}

function asked(condition: Condition, person: PersonRow, office: OfficeRows): boolean {
  switch (condition.kind) {
    case 'everybody':
      return true;
    case 'field':
      return ofField(condition, person, office);
    case 'tag':
      return ofTags(condition, person, office);
    case 'letter':
      return ofLetters(condition, person, office);
    case 'standing': {
      const stands = !hasAddress(person)
        ? 'no address'
        : person.doNotMail
          ? 'do not mail'
          : person.values['permission'] === 'unknown'
            ? 'no permission'
            : 'may be mailed';
      return condition.any.some((one) => one === stands);
    }
    case 'do not mail': {
      const { reasons, within } = condition;
      const own = hasAddress(person) ? person.doNotMail : null;
      if (!own || (reasons.length > 0 && !reasons.some((one) => one === own.reason))) return false;
      return !within || dayAt(own.at, office) >= calendar(office.context.today, within, -1);
    }
    case 'topic':
      for (const topic of condition.topics) {
        const isDropped = hasAddress(person) && person.droppedTopics.includes(topic);
        if (isDropped === (condition.op === 'has dropped')) return true;
      }
      return false;
    case 'rating':
      return ofRating(condition, person, office);
    case 'since': {
      const campaign = office.context.campaigns.find(
        ({ id }, at) => id === condition.campaign || (condition.campaign === 'latest' && at === 0),
      );
      if (!campaign) return false;
      if (condition.did === 'came in') return person.cameIn >= campaign.at;
      if (condition.did === 'changed') return person.changed >= campaign.at;
      for (const [tag, at] of person.tags)
        if (at !== null && at >= campaign.at && (condition.tags?.includes(tag) ?? true))
          return true;
      return false;
    }
    case 'place': {
      const { place, km = 0, op } = condition;
      if (!place || !person.position) return false;
      // By the spherical law of cosines, another formula than the program's.
      const rad = (degrees: number): number => (degrees * Math.PI) / 180;
      const [a, b] = [rad(place.lat), rad(person.position.lat)];
      const cos =
        Math.sin(a) * Math.sin(b) +
        Math.cos(a) * Math.cos(b) * Math.cos(rad(person.position.lon - place.lon));
      return 6371.0088 * Math.acos(Math.max(-1, Math.min(1, cos))) <= km === (op === 'within');
    }
    case 'segment': {
      const other = office.segments.get(condition.segment ?? -1);
      if (!other) return false;
      const { owner, shared_with: shared } = person.values;
      const isSeen =
        other.seenBy === undefined ||
        Number(owner) === other.seenBy ||
        (typeof shared === 'string' && shared.split(',').includes(String(other.seenBy)));
      const isIn =
        other.root === null
          ? person.listedIn.includes(condition.segment ?? -1)
          : other.pools.includes(person.pool) && reckonRule(other.root, person, office);
      return (isIn && isSeen) === (condition.op === 'is in');
    }
    default:
      return unreachable(condition);
  }
}

const hasAddress = ({ values }: PersonRow): boolean => typeof values['address'] === 'string';

function ofTags(
  { op, tags, within }: ConditionOf<'tag'>,
  person: PersonRow,
  office: OfficeRows,
): boolean {
  let found = 0;
  for (const tag of tags) {
    const automatic = automaticTag(tag);
    const has = automatic ? hasAutomatic(automatic, person, office) : person.tags.has(tag);
    const at = person.tags.get(tag) ?? null;
    const isLate =
      !within || (at !== null && dayAt(at, office) >= calendar(office.context.today, within, -1));
    if (has && isLate) found++;
  }
  if (op === 'has' || op === 'has any of') return found > 0;
  return op === 'has all of' ? found === tags.length : found === 0;
}

function hasAutomatic(
  tag: NonNullable<ReturnType<typeof automaticTag>>,
  person: PersonRow,
  { now }: OfficeRows,
): boolean {
  const did = reckonPerson(person.letters, person.events);
  const last = Math.max(did.lastOpened ?? -Infinity, did.lastClicked ?? -Infinity);
  switch (tag) {
    case 'left':
      return hasAddress(person) && person.doNotMail?.reason === 'left';
    case 'bounced':
      return hasAddress(person) && person.doNotMail?.reason === 'hard bounce';
    case 'answered lately':
      return last > now - 90 * DAY;
    case 'never answered':
      return did.delivered >= 3 && did.opened === 0 && did.clicked === 0;
    case 'new':
      return person.cameIn > now - 30 * DAY;
    default:
      return unreachable(tag);
  }
}

const UNTRIED = ['waiting', 'held back', 'stopped'];

function ofLetters(
  { did, letters: of, many, machines, link }: ConditionOf<'letter'>,
  person: PersonRow,
  office: OfficeRows,
): boolean {
  const { campaigns, today } = office.context;
  const since = campaigns.find(({ id }) => of.in === 'since' && id === of.campaign);
  const isMeant = (id: number, place: number, at: number): boolean =>
    of.in === 'these'
      ? of.campaigns.includes(id)
      : of.in === 'last'
        ? place < of.count
        : of.in === 'lately'
          ? dayAt(at, office) >= calendar(today, of.within, -1)
          : of.in === 'since'
            ? since !== undefined && at >= since.at
            : true;
  const meant = campaigns.filter(({ id, at }, place) => isMeant(id, place, at)).map(({ id }) => id);
  const isTheirs = of.in === 'last' && of.whose === 'that they were sent';
  const looked = isTheirs
    ? latestFirst(person.letters.filter(({ state }) => !UNTRIED.includes(state))).slice(0, of.count)
    : person.letters.filter(({ campaign }) => meant.includes(campaign));
  let so = 0;
  for (const { campaign, state } of looked) {
    const urls = campaigns.find(({ id }) => id === campaign)?.links ?? [];
    const did_ = (kind: string, isOne: (event: EventRow) => boolean = () => true): boolean =>
      person.events.some(
        (event) => event.campaign === campaign && event.kind === kind && isOne(event),
      );
    const byPerson = ({ machine }: EventRow): boolean => !machine || machines === true;
    const isLink = (event: EventRow): boolean =>
      link === undefined ||
      (event.link !== null &&
        ('number' in link
          ? event.link === link.number
          : (urls[event.link] ?? '').toLowerCase().includes(link.contains.trim().toLowerCase())));
    const isOpened = did_('opened', byPerson) || did_('clicked', ({ machine }) => !machine);
    const is = {
      sent: !UNTRIED.includes(state),
      delivered: state === 'accepted',
      opened: isOpened,
      'not opened': state === 'accepted' && !isOpened,
      clicked: did_('clicked', (event) => byPerson(event) && isLink(event)),
      bounced: state === 'bounced',
      replied: did_('replied'),
      left: did_('left'),
    }[did];
    if (is) so++;
  }
  if (many === 'any') return so > 0;
  if (many === 'none') return so === 0;
  if (many === 'all') return so > 0 && so === (isTheirs ? looked.length : meant.length);
  return 'atLeast' in many ? so >= many.atLeast : so <= many.atMost;
}

function ofRating(
  { op, by = 0, within = 0 }: ConditionOf<'rating'>,
  person: PersonRow,
  office: OfficeRows,
): boolean {
  if (person.rating === null || !person.course) return false;
  const since =
    (Date.parse(office.context.today) - Date.parse(dayAt(person.course.countedAt, office))) / DAY;
  for (let ago = 1; ago <= within; ago++) {
    const then = ago <= since ? person.rating : person.course.points[ago - since - 1];
    if (then === null || then === undefined) continue;
    if ((op === 'rose' ? person.rating - then : then - person.rating) >= by) return true;
  }
  return false;
}

/** Digits of a number as it is dialled from abroad. */
function dialled(text: string, { dialling }: Field): string {
  const begin = text.trimStart();
  const digits = (/^[^xX]*?(?=x|ext|$)/i.exec(begin)?.[0] ?? '').replace(/[^0-9]/g, '');
  if (begin.startsWith('+')) return digits;
  if (digits.startsWith('00')) return digits.slice(2);
  return dialling && dialling.trunk !== '' && digits.startsWith(dialling.trunk)
    ? dialling.code + digits.slice(dialling.trunk.length)
    : digits;
}

/** An address as it is compared, the domain in letters of its own as A-labels. */
const addressed = (text: string): string => {
  const read = parseAddress(text);
  return read.ok ? read.value.key : normalized(text.trim()).toLowerCase();
};
const shown = (text: string): string => normalized(text.trim()).toLowerCase().replaceAll('ς', 'σ');

function ofField(
  { field: key, op, value }: ConditionOf<'field'>,
  person: PersonRow,
  office: OfficeRows,
): boolean {
  const field = office.context.fields.find((one) => one.key === key);
  if (!field) return false;
  const own = valueOf(field, person, office);
  const isPhone = field.type === 'phone' || field.type === 'phones';
  const isAddress = key === 'address' || field.type === 'addresses';
  const keyed = (text: string): string =>
    isPhone
      ? text
          .split('\n')
          .map((line) => dialled(line, field))
          .join(' ')
          .trim()
      : isAddress
        ? addressed(text)
        : field.type === 'link'
          ? searchKey(text).replace(/^https?:\/\//, '')
          : searchKey(text);
  const isText = ['text', 'long text', 'link', 'phone', 'phones', 'addresses'].includes(field.type);
  const isEmpty =
    own === null || (isText && (isAddress ? asText(own).trim() === '' : keyed(asText(own)) === ''));
  if (op === 'is empty') return isEmpty;
  if (op === 'is filled') return !isEmpty;
  const isNegative = ['is not', 'is none of', 'does not contain', 'has none of'].includes(op);
  if (isEmpty) return isNegative;
  const texts = Array.isArray(value) ? value.map(asText) : [asText(value)];

  if (isText) {
    const text = asText(own);
    /** The ways in which what is there can be read, and what is looked for in each. */
    const readings: (readonly [there: string, sought: string])[] = isPhone
      ? text.split('\n').flatMap((line) => {
          const digits = (of: string): string => of.replace(/[^0-9]/g, '');
          const abroad = dialled(line, field);
          const { dialling } = field;
          const home =
            dialling && abroad.startsWith(dialling.code)
              ? dialling.trunk + abroad.slice(dialling.code.length)
              : abroad;
          return [digits(line), abroad, home].map(
            (there) => [there, digits(texts[0] ?? '')] as const,
          );
        })
      : isAddress
        ? text
            .split('\n')
            .flatMap((line) => [
              [
                addressed(line),
                field.type === 'addresses'
                  ? shown(texts[0] ?? '')
                  : normalized((texts[0] ?? '').trim()).toLowerCase(),
              ] as const,
              [shown(line), shown(texts[0] ?? '')] as const,
            ])
        : [[keyed(text), keyed(texts[0] ?? '')]];
    const some = (is: (there: string, sought: string) => boolean): boolean =>
      readings.some(([there, sought]) => is(there, sought));
    switch (op) {
      case 'is':
        return keyed(text) === keyed(texts[0] ?? '');
      case 'is not':
        return keyed(text) !== keyed(texts[0] ?? '');
      case 'is one of':
      case 'is none of':
        return texts.some((one) => keyed(one) !== '' && keyed(one) === keyed(text)) !== isNegative;
      case 'contains':
        return some((there, sought) => there.includes(sought));
      case 'does not contain':
        return !some((there, sought) => there.includes(sought));
      case 'starts with':
        return some((there, sought) => there.startsWith(sought));
      case 'ends with':
        return some((there, sought) => there.endsWith(sought));
      default: {
        const [from, to] = texts.map(keyed);
        return isBetween(keyed(text), from ?? '', to ?? '');
      }
    }
  }
  const keys = asText(own).split(',');
  switch (op) {
    case 'is yes':
      return own === true;
    case 'is no':
      return own === false;
    case 'is one of':
    case 'has any of':
      return keys.some((one) => texts.includes(one));
    case 'is none of':
    case 'has none of':
      return !keys.some((one) => texts.includes(one));
    case 'has all of':
      return texts.every((one) => keys.includes(one));
    default:
      return field.type === 'date'
        ? ofDay(asText(own), op, value, office.context.today)
        : ofNumber(Number(own), op, value);
  }
}

function isBetween(text: string, from: string, to: string): boolean {
  const numbered = (one: string): RegExpMatchArray | null => one.match(/^([a-z]{1,8})(\d{1,8})$/);
  const [least, most] = [numbered(from), numbered(to)];
  if (least?.[1] !== undefined && least[1] === most?.[1]) {
    const own = text.startsWith(least[1]) ? text.slice(least[1].length).match(/^\d{1,18}/) : null;
    return own !== null && Number(own[0]) >= Number(least[2]) && Number(own[0]) <= Number(most[2]);
  }
  const bytes = (one: string): Buffer => Buffer.from(one, 'utf8');
  const beginning = [...text].slice(0, [...to].length).join('');
  return (
    Buffer.compare(bytes(text), bytes(from)) >= 0 &&
    Buffer.compare(bytes(beginning), bytes(to)) <= 0
  );
}

function ofNumber(own: number, op: string, value: unknown): boolean {
  const [one, other] = Array.isArray(value) ? value.map(Number) : [Number(value), NaN];
  const [a = NaN, b = NaN] = [one, other];
  switch (op) {
    case 'is':
      return own === a;
    case 'is not':
      return own !== a;
    case 'more than':
      return own > a;
    case 'at least':
      return own >= a;
    case 'less than':
      return own < a;
    case 'at most':
      return own <= a;
    default:
      return own >= a && own <= b;
  }
}

function ofDay(own: string, op: string, value: unknown, today: string): boolean {
  const day = asText(value);
  const span = value as Span;
  switch (op) {
    case 'is':
      return own === day;
    case 'before':
      return own < day;
    case 'after':
      return own > day;
    case 'between': {
      const [from, to] = value as readonly string[];
      return own >= (from ?? '') && own <= (to ?? '');
    }
    case 'in the last':
      return own <= today && own >= calendar(today, span, -1);
    case 'in the next':
      return own >= today && own <= calendar(today, span, 1);
    case 'longer ago than':
      return own < calendar(today, span, -1);
    case 'is in the month':
      return Number(own.slice(5, 7)) === Number(value);
    case 'is on the day':
      return own.slice(5) === day;
    default: {
      // Day after day: 29 February comes round between the 28th and 1 March where there is none.
      const last = calendar(today, span, 1);
      for (let at = Date.parse(today); at <= Date.parse(last); at += DAY) {
        const next = new Date(at).toISOString().slice(0, 10);
        if (next.slice(5) === own.slice(5)) return true;
        if (own.slice(5) === '02-29' && next.slice(5) === '03-01' && next !== today) return true;
      }
      return false;
    }
  }
}

/** What somebody has in a field; null where that is none of its kind. */
function valueOf(field: Field, person: PersonRow, office: OfficeRows): unknown {
  const did = reckonPerson(person.letters, person.events);
  const moment = (at: number | null): string | null => (at === null ? null : dayAt(at, office));
  const answers = [did.lastOpened, did.lastClicked].flatMap((at) => at ?? []);
  const facts: Readonly<Record<string, () => unknown>> = {
    came_in: () => moment(person.cameIn),
    changed: () => moment(person.changed),
    last_contact: () => moment(person.lastContact),
    last_letter: () => moment(did.lastSent),
    last_response: () => moment(answers.length === 0 ? null : Math.max(...answers)),
    rating: () => person.rating,
  };
  const known = facts[field.key];
  if (known) return known();
  if (field.type === 'computed') {
    const day = office.context.fields.find(({ key }) => key === field.since?.day);
    const from = day ? valueOf(day, person, office) : null;
    if (typeof from !== 'string') return null;
    const { today } = office.context;
    if (field.since?.unit === 'days') return (Date.parse(today) - Date.parse(from)) / DAY;
    const years = Number(today.slice(0, 4)) - Number(from.slice(0, 4));
    return today.slice(5) >= from.slice(5) ? years : years - 1;
  }
  const value = person.values[field.key] ?? null;
  if (value === null || value === '') return null;
  switch (field.type) {
    case 'number':
    case 'money':
      return typeof value === 'number' ? value : null;
    case 'yes or no':
      return typeof value === 'boolean' ? value : null;
    case 'date': {
      const isOne = typeof value === 'string' && /^\d{4}-\d\d-\d\d$/.test(value);
      const at = isOne ? new Date(`${value}T00:00:00Z`) : undefined;
      return at && !Number.isNaN(at.getTime()) && at.toISOString().slice(0, 10) === value
        ? value
        : null;
    }
    default:
      return typeof value === 'string' ? value : null;
  }
}

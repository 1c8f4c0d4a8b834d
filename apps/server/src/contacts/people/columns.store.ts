// What of `contacts c` stands in a column of a table, and how a list is sorted by it. Fields that are gone sort nothing.
import {
  isBelonging,
  isBuiltIn,
  isText,
  offered,
  searchKey,
  type BuiltInKey,
  type Field,
  type SinceUnit,
  type SortTerm,
} from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';

type Fields = ReadonlyMap<string, Field>;

/** The day it is, `YYYY-MM-DD`, where the office is. */
export interface Today {
  readonly today: string;
  readonly timeZone: string;
}

const ownedBy = sql`c.owner_id::text`;

/** Where a built-in value is; choices by their key, days as moments. */
const places: { readonly [K in BuiltInKey]: SQL } = {
  given_name: sql`c.given_name`,
  family_name: sql`c.family_name`,
  address: sql`c.address`,
  position: sql`c.position`,
  street: sql`c.street`,
  postcode: sql`c.postcode`,
  town: sql`c.town`,
  region: sql`c.region`,
  country: sql`c.country`,
  phone: sql`c.phone`,
  more_phones: sql`c.more_phones`,
  more_addresses: sql`c.more_addresses`,
  external_number: sql`c.external_number`,
  stage: sql`c.stage`,
  source: sql`c.source`,
  closeness: sql`c.closeness`,
  owner: ownedBy,
  shared_with: sql`c.shared_with`,
  permission: sql`c.permission`,
  rating: sql`c.rating`,
  band: sql`c.band`,
  came_in: sql`c.created_at`,
  changed: sql`c.updated_at`,
  last_letter: sql`c.last_sent_at`,
  last_response: sql`greatest(c.last_opened_at, c.last_clicked_at)`,
  last_contact: sql`c.last_contact_at`,
};

/** The value of an own field; null where something of another type is kept, as there may be while its type changes. */
export function ownValue(key: string, as: 'number' | 'day' | 'word'): SQL {
  const text = sql`(c.fields ->> ${key})`;
  switch (as) {
    case 'number':
      return sql`(case when jsonb_typeof(c.fields -> ${key}) = 'number' then ${text}::numeric end)`;
    case 'day':
      return sql`(case when ${text} like '____-__-__' then ${text} end)`;
    case 'word':
      return text;
  }
}

/** A day that a date can be made of. */
const DAY_OF_ANY_MONTH =
  '^(?!0000)\\d{4}-((0[13578]|1[02])-(0[1-9]|[12]\\d|3[01])|(0[469]|11)-(0[1-9]|[12]\\d|30)|02-(0[1-9]|1\\d|2[0-9]))$';

/** Full years or days from a day, as text, until today, as core's `since` counts them. */
export function sinceDay(day: SQL, unit: SinceUnit, today: string): SQL {
  const year = sql`substr(${day}, 1, 4)::int`;
  if (unit === 'years')
    return sql`(case when ${day} ~ ${DAY_OF_ANY_MONTH} then ${Number(today.slice(0, 4))}::int - ${year} - (case when ${today.slice(5)} < substr(${day}, 6, 5) then 1 else 0 end) end)`;
  return sql`(case when ${day} ~ ${DAY_OF_ANY_MONTH} and (${day} not like '%-02-29' or (${year} % 4 = 0 and (${year} % 100 <> 0 or ${year} % 400 = 0))) then ${today}::date - ${day}::date end)`;
}

function computed({ since }: Field, { today, timeZone }: Today): SQL {
  if (!since) return sql`null::int`;
  const day = isBuiltIn(since.day)
    ? sql`to_char(${places[since.day]} at time zone ${timeZone}, 'YYYY-MM-DD')`
    : ownValue(since.day, 'day');
  return sinceDay(day, since.unit, today);
}

const valueIn = (field: Field, today: Today): SQL =>
  isBuiltIn(field.key)
    ? places[field.key]
    : field.type === 'computed'
      ? computed(field, today)
      : sql`c.fields -> ${field.key}`;

/** The values of some fields as one JSON object, by their keys. */
export function valuesOf(keys: readonly string[], fields: Fields, today: Today): SQL {
  const known = keys.flatMap((key) => fields.get(key) ?? []);
  if (known.length === 0) return sql`'{}'::jsonb`;
  return sql`jsonb_build_object(${sql.join(
    known.map((field) => sql`${field.key}::text, ${valueIn(field, today)}`),
    sql`, `,
  )})`;
}

/** By what a list is sorted, for one field: text by its key, choices by their order. */
function sortedBy(field: Field, today: Today): SQL {
  const { key, type } = field;
  if (key === 'address') return sql`c.address_key`;
  if (isText(field)) return sql`(c.keys ->> ${key})`;
  if (type === 'choice' || type === 'choices') {
    const choices = isBelonging(key)
      ? [...(field.choices ?? [])].sort((a, b) =>
          searchKey(a.label) < searchKey(b.label) ? -1 : 1,
        )
      : [...offered(field), ...(field.choices ?? []).filter(({ isGone }) => isGone)];
    const value = isBuiltIn(key) ? places[key] : ownValue(key, 'word');
    const first = type === 'choices' ? sql`split_part(${value}, ',', 1)` : value;
    return sql`array_position(${sql.param(choices.map((one) => one.key))}::text[], ${first})`;
  }
  if (isBuiltIn(key)) return places[key];
  if (type === 'computed') return computed(field, today);
  return ownValue(key, type === 'number' || type === 'money' ? 'number' : 'word');
}

const NAME = 'name';
const apart: ReadonlySet<string> = new Set(['address', 'came_in', 'changed']);
/** Everybody has these: there is nobody to come last. */
const everywhere: ReadonlySet<string> = new Set([NAME, 'came_in', 'changed']);

/** The order of a list, or undefined where it is the usual one, by name. Who has no value comes last either way. */
export function orderOf(terms: readonly SortTerm[], fields: Fields, today: Today): SQL | undefined {
  const known = terms.filter(({ key }) => key === NAME || fields.has(key));
  const [first] = known;
  if (!first || (first.key === NAME && !first.desc)) return undefined;
  const isDown = known.at(-1)?.desc === true;
  const parts = known.map(({ key, desc }) => {
    const field = fields.get(key);
    const by = field ? sortedBy(field, today) : sql`c.search_key`;
    if (everywhere.has(key)) return desc ? sql`${by} desc` : by;
    return desc ? sql`${by} desc nulls last` : sql`${by} asc nulls last`;
  });
  // Where hardly two have the same, the name need not be asked, and an index has the whole order.
  const ties = apart.has(known.at(-1)?.key ?? '')
    ? [isDown ? sql`c.id desc` : sql`c.id`]
    : [sql`c.search_key`, sql`c.id`];
  return sql`order by ${sql.join([...parts, ...ties], sql`, `)}`;
}

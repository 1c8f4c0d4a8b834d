// What of `contacts c` stands in a column of a table, and how a list is sorted by it. Fields that are gone sort nothing.
import {
  isBuiltIn,
  searchKey,
  type BuiltInKey,
  type Field,
  type SortTerm,
} from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';

type Fields = ReadonlyMap<string, Field>;

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
  stage: sql`c.stage`,
  source: sql`c.source`,
  closeness: sql`c.closeness`,
  owner: ownedBy,
  permission: sql`c.permission`,
  came_in: sql`c.created_at`,
  changed: sql`c.updated_at`,
  last_letter: sql`c.last_sent_at`,
  last_response: sql`greatest(c.last_opened_at, c.last_clicked_at)`,
};

const valueIn = (key: string): SQL => (isBuiltIn(key) ? places[key] : sql`c.fields -> ${key}`);

/** The values of some fields as one JSON object, by their keys. */
export function valuesOf(keys: readonly string[], fields: Fields): SQL {
  const known = keys.filter((key) => fields.has(key));
  if (known.length === 0) return sql`'{}'::jsonb`;
  return sql`jsonb_build_object(${sql.join(
    known.map((key) => sql`${key}::text, ${valueIn(key)}`),
    sql`, `,
  )})`;
}

/** By what a list is sorted, for one field: text by its key, choices by their order. */
function sortedBy(field: Field): SQL {
  if (field.key === 'address') return sql`c.address_key`;
  if (field.type === 'text') return sql`(c.keys ->> ${field.key})`;
  if (field.type === 'choice') {
    const choices =
      field.key === 'owner'
        ? [...(field.choices ?? [])].sort((a, b) =>
            searchKey(a.label) < searchKey(b.label) ? -1 : 1,
          )
        : (field.choices ?? []);
    const value = isBuiltIn(field.key) ? places[field.key] : sql`(c.fields ->> ${field.key})`;
    return sql`array_position(${sql.param(choices.map(({ key }) => key))}::text[], ${value})`;
  }
  if (isBuiltIn(field.key)) return places[field.key];
  const text = sql`(c.fields ->> ${field.key})`;
  return field.type === 'number' ? sql`${text}::numeric` : text;
}

const NAME = 'name';
const apart: ReadonlySet<string> = new Set(['address', 'came_in', 'changed']);
/** Everybody has these: there is nobody to come last. */
const everywhere: ReadonlySet<string> = new Set([NAME, 'came_in', 'changed']);

/** The order of a list, or undefined where it is the usual one, by name. Who has no value comes last either way. */
export function orderOf(terms: readonly SortTerm[], fields: Fields): SQL | undefined {
  const known = terms.filter(({ key }) => key === NAME || fields.has(key));
  const [first] = known;
  if (!first || (first.key === NAME && !first.desc)) return undefined;
  const isDown = known.at(-1)?.desc === true;
  const parts = known.map(({ key, desc }) => {
    const field = fields.get(key);
    const by = field ? sortedBy(field) : sql`c.search_key`;
    if (everywhere.has(key)) return desc ? sql`${by} desc` : by;
    return desc ? sql`${by} desc nulls last` : sql`${by} asc nulls last`;
  });
  // Where hardly two have the same, the name need not be asked, and an index has the whole order.
  const ties = apart.has(known.at(-1)?.key ?? '')
    ? [isDown ? sql`c.id desc` : sql`c.id`]
    : [sql`c.search_key`, sql`c.id`];
  return sql`order by ${sql.join([...parts, ...ties], sql`, `)}`;
}

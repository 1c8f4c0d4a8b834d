// What is known of one person, as rules see them: one loader for each fact, asked only for those that a rule needs.
import type { FieldValue } from '@palabra/core/contacts';
import { dayIn } from '@palabra/core/office';
import type { FactName, Facts, Person, RuleContext } from '@palabra/core/segments';
import { type ContactRow, contactTagIds, valueOf } from '../contacts/index.js';
import type { Db } from '../platform/database.js';

const loaders: {
  readonly [F in FactName]: (db: Db, row: ContactRow, context: RuleContext) => Promise<Facts[F]>;
} = {
  values: (_, row, context) => {
    const values: Record<string, FieldValue> = {};
    for (const { key } of context.fields)
      values[key] =
        key === 'came_in'
          ? dayIn(context.timeZone, row.createdAt)
          : key === 'address'
            ? row.addressKey
            : valueOf(row, key);
    return Promise.resolve(values);
  },
  tags: async (db, row) => new Set(await contactTagIds(db, row.id)),
};

export const factNames = Object.keys(loaders) as readonly FactName[];

export async function loadPerson(
  db: Db,
  row: ContactRow,
  facts: Iterable<FactName>,
  context: RuleContext,
): Promise<Person> {
  const loaded: [FactName, unknown][] = [];
  for (const fact of facts) loaded.push([fact, await loaders[fact](db, row, context)]);
  return Object.fromEntries(loaded);
}

// What can be done to many people at once.
import { builtInFields, deedWords, fieldsForMany, parseDeed, type Field } from './index.js';

const owners = [{ key: '1', label: 'Ines' }];
const list: Field[] = [...builtInFields(owners), { key: 'own_1', label: 'visits', type: 'number' }];
const fields = new Map(list.map((field) => [field.key, field]));

it.each<[object, string]>([
  [{ kind: 'field', field: 'stage', text: ' member ' }, 'set stage to “member”'],
  [{ kind: 'field', field: 'stage', text: '' }, 'cleared stage'],
  [{ kind: 'field', field: 'closeness', text: 'Close' }, 'set closeness to “close”'],
  [{ kind: 'field', field: 'owner', text: 'ines' }, 'set owner to “Ines”'],
  [{ kind: 'field', field: 'own_1', text: '1 200' }, 'set visits to “1200”'],
  [{ kind: 'permission', permission: 'asked', source: 'form' }, 'set permission to “asked for it”'],
  [{ kind: 'delete' }, 'deleted'],
])('%j is told as: %s', (raw, words) => {
  const deed = parseDeed(raw, fields);
  expect(deed).toMatchObject({ ok: true });
  if (deed.ok) expect(deedWords(deed.value, fields)).toBe(words);
});

it.each<[unknown, RegExp]>([
  [{ kind: 'field', field: 'address', text: 'a@example.com' }, /can’t be set for many/],
  [{ kind: 'field', field: 'given_name', text: 'x' }, /can’t be set for many/],
  [{ kind: 'field', field: 'came_in', text: '2026-01-01' }, /can’t be set for many/],
  [{ kind: 'field', field: 'permission', text: 'asked' }, /can’t be set for many/],
  [{ kind: 'field', field: 'own_9', text: 'x' }, /can’t be set for many/],
  [{ kind: 'field', field: 'own_1', text: 'many' }, /needs a number/],
  [{ kind: 'field', field: 'own_1', text: 12 }, /needs a text/],
  [{ kind: 'field', field: 'owner', text: '' }, /has an owner/],
  [{ kind: 'permission', permission: 'perhaps', source: '' }, /not known/],
  [{ kind: 'permission', permission: 'asked' }, /where they agreed/],
  [{ kind: 'constructor' }, /can’t be done/],
  [null, /can’t be done/],
  ['delete', /can’t be done/],
])('refuses %j', (raw, message) =>
  expect(parseDeed(raw, fields)).toMatchObject({
    ok: false,
    error: expect.stringMatching(message),
  }),
);

it('offers for many only what can be set for many', () => {
  expect(fieldsForMany(list).map(({ key }) => key)).toEqual([
    'position',
    'street',
    'postcode',
    'town',
    'region',
    'country',
    'stage',
    'source',
    'closeness',
    'owner',
    'own_1',
  ]);
});

// What can be done to many people at once.
import { idOf } from '../kernel/index.js';
import {
  builtInFields,
  deedWords,
  fieldsForMany,
  parseDeed,
  type Field,
  type PoolId,
} from './index.js';

const owners = [{ key: '1', label: 'Ines' }];
const list: Field[] = [
  ...builtInFields({ owners }).map((field) =>
    field.key === 'stage' ? { ...field, choices: [{ key: 'c1', label: 'member' }] } : field,
  ),
  { key: 'own_1', label: 'visits', type: 'number' },
  { key: 'own_2', label: 'size', type: 'text', isRequired: true },
];
const context = {
  fields: new Map(list.map((field) => [field.key, field])),
  pools: [{ id: idOf<PoolId>(2), name: 'house' }],
};

it.each<[object, string]>([
  [{ kind: 'field', field: 'stage', text: ' Member ' }, 'set stage to “member”'],
  [{ kind: 'pool', pool: 2 }, 'moved to the pool “house”'],
  [{ kind: 'field', field: 'stage', text: '' }, 'cleared stage'],
  [{ kind: 'field', field: 'closeness', text: 'Close' }, 'set closeness to “close”'],
  [{ kind: 'field', field: 'owner', text: 'ines' }, 'set owner to “Ines”'],
  [{ kind: 'field', field: 'own_1', text: '1 200' }, 'set visits to “1200”'],
  [{ kind: 'permission', permission: 'asked', source: 'form' }, 'set permission to “asked for it”'],
  [{ kind: 'share', colleague: '1', put: true }, 'shared with Ines'],
  [{ kind: 'share', colleague: '1', put: false }, 'no longer shared with Ines'],
  [{ kind: 'delete' }, 'deleted'],
])('%j is told as: %s', (raw, words) => {
  const deed = parseDeed(raw, context);
  expect(deed).toMatchObject({ ok: true });
  if (deed.ok) expect(deedWords(deed.value, context)).toBe(words);
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
  [{ kind: 'field', field: 'own_2', text: ' ' }, /is required/],
  [{ kind: 'pool', pool: 3 }, /not there any more/],
  [{ kind: 'field', field: 'external_number', text: '7' }, /can’t be set for many/],
  [{ kind: 'permission', permission: 'perhaps', source: '' }, /not known/],
  [{ kind: 'permission', permission: 'asked' }, /where they agreed/],
  [{ kind: 'share', colleague: '9', put: true }, /not there any more/],
  [{ kind: 'share', colleague: '1' }, /whether to share/],
  [{ kind: 'field', field: 'shared_with', text: '1' }, /can’t be set for many/],
  [{ kind: 'constructor' }, /can’t be done/],
  [null, /can’t be done/],
  ['delete', /can’t be done/],
])('refuses %j', (raw, message) =>
  expect(parseDeed(raw, context)).toMatchObject({
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
    'own_2',
  ]);
});

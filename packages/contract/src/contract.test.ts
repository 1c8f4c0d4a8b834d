// What the requests accept and refuse, with the sentence that names the field.
import { plainToInstance } from 'class-transformer';
import { getMetadataStorage, validateSync } from 'class-validator';
import { AccountRequest, OfficeRequest, PasswordRequest, SetUpRequest } from './office/index.js';
import { CampaignRequest, NewCampaignRequest, SendRequest } from './campaigns/index.js';
import { ReturnedQuery, SettleRequest, SortReturnedRequest } from './delivery/index.js';
import {
  ContactRequest,
  OwnFieldRequest,
  PeopleFilter,
  PeopleQuery,
  PermissionRequest,
  TaggingRequest,
  TagRequest,
  TopicRequest,
} from './contacts/index.js';
import { MendRequest, PlanRequest } from './intake/index.js';
import { LetterRequest, NewLetterRequest } from './letters/index.js';
import { NewSegmentRequest, SiftRequest } from './segments/index.js';
import * as campaigns from './campaigns/index.js';
import * as contacts from './contacts/index.js';
import * as delivery from './delivery/index.js';
import * as intake from './intake/index.js';
import * as letters from './letters/index.js';
import * as notes from './notes/index.js';
import * as officeRequests from './office/index.js';
import * as results from './results/index.js';
import * as segments from './segments/index.js';

const plan = {
  version: 1,
  mapping: [{ to: 'nothing' }],
  matching: 'address',
  poolId: 1,
  ownerId: 1,
  permission: 'asked',
  source: 'x',
  wording: '',
  tagIds: [],
  fixed: {},
  tagsMeant: [],
  owners: [],
  fieldsMade: [],
};

type Class = new () => object;

/** Paths of the fields that are refused. */
function refused(type: Class, value: unknown): string[] {
  const errors = validateSync(plainToInstance(type, value), {
    whitelist: true,
    forbidNonWhitelisted: true,
    forbidUnknownValues: true,
    stopAtFirstError: true,
  });
  return errors.flatMap(function paths(error): string[] {
    return error.children?.length ? error.children.flatMap(paths) : [error.property];
  });
}

const emptyContent = {
  v: 1,
  subject: [],
  preview: [],
  blocks: [{ id: 'f', kind: 'footer', reason: '' }],
};
const tally = { matched: 3, heldBack: {}, receives: 3 };
const office = {
  version: 1,
  name: 'Garden',
  postalAddress: '3 Walk',
  timeZone: 'Europe/Lisbon',
  country: 'PT',
  senderName: 'Garden',
  senderAddress: 'a@example.com',
  mailUnknown: false,
  softBounceLimit: 3,
  unreadBounceLimit: 3,
  language: 'pt-BR',
  hiddenLink: false,
  colour: '#8a2b5b',
  holdSeconds: 10,
};
const sheet = {
  version: 1,
  name: 'News',
  who: { to: [], notTo: [] },
  letterId: null,
  topicId: null,
  senderName: '',
  senderAddress: '',
  replyTo: '',
  sendAt: null,
};

const good: [string, Class, unknown][] = [
  ['the office’s settings', OfficeRequest, office],
  ['a setting without a colour', OfficeRequest, { ...office, colour: '' }],
  [
    'an account',
    AccountRequest,
    {
      name: 'Milo',
      address: 'milo@example.com',
      role: 'member',
    },
  ],
  ['a colleague who never signs in', AccountRequest, { name: 'Milo', address: '', role: 'member' }],
  ['a new campaign', NewCampaignRequest, { name: 'x', segment: 4, letter: 2 }],
  ['a sheet', CampaignRequest, sheet],
  [
    'a sheet with a time',
    CampaignRequest,
    { ...sheet, sendAt: '2026-03-02T09:00:00Z', topicId: 2 },
  ],
  ['an order to send', SendRequest, { version: 1, seen: tally }],
  ['a word on what is uncertain', SettleRequest, { how: 'send again' }],
  ['returned mail, sorted', SortReturnedRequest, { kind: 'bounce', bounce: 'hard', contact: 3 }],
  ['returned mail, nothing', SortReturnedRequest, { kind: 'nothing' }],
  [
    'a list of people',
    PeopleQuery,
    { of: 'campaign.3.link-2', q: 'ash', tag: '4', limit: '50', standing: 'no address' },
  ],
  ['tagging by a filter', TaggingRequest, { people: { q: 'ash' }, tag: 1, put: true }],
  ['tagging of some', TaggingRequest, { people: { ids: [1, 2] }, tag: 1, put: false }],
  ['a tag', TagRequest, { name: 'guest', colour: 'moss' }],
  ['a topic', TopicRequest, { name: 'Newsletter', description: '' }],
  ['a field', OwnFieldRequest, { label: 'dog’s name', type: 'text' }],
  [
    'what is said of a file',
    PlanRequest,
    {
      ...plan,
      mapping: [
        { to: 'field', field: 'address', way: 'replace' },
        { to: 'field', field: 'own_1', days: 'day first' },
        { to: 'name' },
        { to: 'tags' },
        { to: 'owner' },
        { to: 'nothing' },
      ],
      fixed: { closeness: 'known' },
      tagsMeant: [
        { name: 'VIPs', tag: 1 },
        { name: 'left', tag: null },
      ],
      owners: [{ name: 'Jonah', userId: 2 }],
    },
  ],
  ['a mended row', MendRequest, { cells: { 0: 'a@example.com', 12: '' }, isOut: false }],
  ['a row that is somebody', MendRequest, { person: 4 }],
  ['a letter', LetterRequest, { version: 1, name: 'x', content: emptyContent }],
  [
    'a segment',
    NewSegmentRequest,
    { name: 'x', pools: [1], rule: { v: 1, root: { of: 'all', items: [] } } },
  ],
];
it.each(good)('takes %s', (_, type, value) => expect(refused(type, value)).toEqual([]));

const bad: [string, Class, unknown, string[]][] = [
  [
    'a set-up without an address to write under letters',
    SetUpRequest,
    {
      code: 'X',
      officeName: 'x',
      postalAddress: '',
      timeZone: 'UTC',
      name: 'x',
      address: 'a@example.com',
      password: 'the fern by the bench',
    },
    ['postalAddress'],
  ],
  [
    'a time zone nobody lives in',
    SetUpRequest,
    {
      code: 'X',
      officeName: 'x',
      postalAddress: 'x',
      timeZone: 'Mars/Olympus',
      name: 'x',
      address: 'a@example.com',
      password: 'the fern by the bench',
    },
    ['timeZone'],
  ],
  [
    'a password that is tried first',
    PasswordRequest,
    { current: 'x', next: 'password123' },
    ['next'],
  ],
  [
    'a role that is none',
    AccountRequest,
    { name: 'x', address: 'a@example.com', role: 'owner' },
    ['role'],
  ],
  [
    'an address with a line break',
    AccountRequest,
    {
      name: 'x',
      address: 'a@example.com\nBcc: b@example.com',
      role: 'member',
    },
    ['address'],
  ],
  ['a colour that is a style', OfficeRequest, { ...office, colour: '#fff;}' }, ['colour']],
  ['too many soft bounces', OfficeRequest, { ...office, softBounceLimit: 99 }, ['softBounceLimit']],
  ['a pause of an hour', OfficeRequest, { ...office, holdSeconds: 3600 }, ['holdSeconds']],
  ['too many refusals', OfficeRequest, { ...office, unreadBounceLimit: -1 }, ['unreadBounceLimit']],
  ['a language that is markup', OfficeRequest, { ...office, language: 'en"><b>' }, ['language']],
  [
    'a sender whom not every server takes',
    OfficeRequest,
    { ...office, senderAddress: 'jörg@example.com' },
    ['senderAddress'],
  ],
  ['a setting that is none', OfficeRequest, { ...office, admin: true }, ['admin']],
  ['a name of nothing', NewCampaignRequest, { name: '' }, ['name']],
  ['a segment that is text', NewCampaignRequest, { name: 'x', segment: '4' }, ['segment']],
  ['a number beyond keys', NewCampaignRequest, { name: 'x', segment: 2 ** 31 }, ['segment']],
  [
    'who that is nobody’s shape',
    CampaignRequest,
    { ...sheet, who: { to: [{ kind: 'pool', id: 1 }], notTo: [] } },
    ['who'],
  ],
  [
    'a time that is none',
    CampaignRequest,
    { ...sheet, sendAt: '2026-02-30T09:00:00Z' },
    ['sendAt'],
  ],
  ['a tally that is none', SendRequest, { version: 1, seen: { matched: -1 } }, ['seen']],
  ['a word that is none', SettleRequest, { how: 'forget' }, ['how']],
  ['mail sorted as nothing known', SortReturnedRequest, { kind: 'spam' }, ['kind']],
  ['a list that is not open or closed', ReturnedQuery, { open: 'maybe' }, ['open']],
  ['a set of people that is code', PeopleFilter, { of: 'campaign.3.opened; drop' }, ['of']],
  ['a repeated tag', PeopleFilter, { tag: ['1', '2'] }, ['tag']],
  ['a page of thousands', PeopleQuery, { limit: 5000 }, ['limit']],
  ['tagging without people', TaggingRequest, { tag: 1, put: true }, ['people']],
  [
    'tagging of a list that would mean everybody',
    TaggingRequest,
    { people: [{ ids: [1] }], tag: 1, put: true },
    ['people'],
  ],
  [
    'tagging of people with more than asked',
    TaggingRequest,
    { people: { ids: [1], everybody: true }, tag: 1, put: true },
    ['everybody'],
  ],
  [
    'tagging of what is no number',
    TaggingRequest,
    { people: { ids: ['x'] }, tag: 1, put: true },
    ['ids'],
  ],
  ['a tag of spaces', TagRequest, { name: '   ', colour: 'moss' }, ['name']],
  ['a colour nobody knows', TagRequest, { name: 'x', colour: 'red' }, ['colour']],
  ['a topic without a name', TopicRequest, { name: '', description: '' }, ['name']],
  [
    'a field of a type that is made elsewhere',
    OwnFieldRequest,
    { label: 'x', type: 'phones' },
    ['type'],
  ],
  ['values that are a list', ContactRequest, { version: 1, values: ['x'] }, ['values']],
  [
    'a permission nobody gives',
    PermissionRequest,
    { version: 1, permission: 'bought', source: '' },
    ['permission'],
  ],
  [
    'a mapping to nowhere',
    PlanRequest,
    { ...plan, mapping: [{ to: 'field', field: '__proto__' }] },
    ['mapping'],
  ],
  [
    'a way that nobody goes',
    PlanRequest,
    { ...plan, mapping: [{ to: 'field', field: 'town', way: 'sideways' }] },
    ['mapping'],
  ],
  [
    'texts for all that are none, and names that stand for nothing',
    PlanRequest,
    {
      ...plan,
      fixed: { town: 5 },
      tagsMeant: [{ name: 'x', tag: 'y' }],
      owners: [{ name: 'x', userId: null }],
    },
    ['fixed', 'tagsMeant', 'owners'],
  ],
  ['cells that are no columns', MendRequest, { cells: { x: 'y' } }, ['cells']],
  ['cells that are no texts', MendRequest, { cells: { 0: ['y'] } }, ['cells']],
  [
    'a letter without its footer',
    LetterRequest,
    { version: 1, name: 'x', content: { ...emptyContent, blocks: [] } },
    ['content'],
  ],
  [
    'a letter with a script for a link',
    LetterRequest,
    {
      version: 1,
      name: 'x',
      content: {
        ...emptyContent,
        blocks: [
          { id: 'b', kind: 'button', label: ['x'], href: 'javascript:alert(1)' },
          ...emptyContent.blocks,
        ],
      },
    },
    ['content'],
  ],
  ['a copy of nothing', NewLetterRequest, { name: 'x', copyOf: 0 }, ['copyOf']],
  ['a rule that is text', SiftRequest, { pools: [1], rule: 'everybody' }, ['rule']],
];
it.each(bad)('refuses %s', (_, type, value, paths) => expect(refused(type, value)).toEqual(paths));

// A list in the place of one thing would be taken for one that says nothing, which of people means everybody.
const nested = [
  campaigns,
  contacts,
  delivery,
  intake,
  letters,
  notes,
  officeRequests,
  results,
  segments,
]
  .flatMap((part) => Object.values<unknown>(part))
  .filter((one): one is Class => typeof one === 'function')
  .flatMap((type) => {
    const rules = getMetadataStorage().getTargetValidationMetadatas(type, '', false, false);
    const named = (rule: string, property: string): boolean =>
      rules.some((one) => one.propertyName === property && [one.name, one.type].includes(rule));
    return rules
      .filter((one) => one.type === 'nestedValidation')
      .map(({ propertyName }) => ({
        of: `${propertyName} of ${type.name}`,
        type,
        propertyName,
        odd: [
          'text',
          7,
          ...(named('isArray', propertyName) ? [{}] : [[]]),
          ...(named('conditionalValidation', propertyName) ? [] : [undefined, null]),
        ],
      }));
  });

it('finds what is made of parts', () => expect(nested.length).toBeGreaterThan(8));
it.each(nested)('refuses for $of whatever is none', ({ type, propertyName, odd }) => {
  for (const value of odd)
    expect({ value, refused: refused(type, { [propertyName]: value }) }).toEqual({
      value,
      refused: expect.arrayContaining([propertyName]),
    });
});

// Every list that grows is closed: a kind that is added is missed by the compiler at each place that has to know it,
// and at no other. The fixtures below add one to each list, in memory, and the compiler is asked what it misses.
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const root = join(dirname(fileURLToPath(import.meta.url)), '../../..');

interface Closed {
  readonly list: string;
  readonly file: string;
  /** Where the list ends or begins, and what stands there with one more; the fixture's name is in it. */
  readonly add: readonly [at: string, put: string];
  readonly fixture: string;
  /** The places that the compiler names. */
  readonly missedAt: readonly string[];
}

const lists: readonly Closed[] = [
  {
    list: 'conditions',
    file: 'packages/core/src/segments/conditions/index.ts',
    add: [
      '    | FieldCondition\n',
      "    | { readonly kind: 'fixtureCondition' }\n    | FieldCondition\n",
    ],
    fixture: 'fixtureCondition',
    missedAt: [
      'apps/web/src/segments/conditions/index.ts',
      'packages/core/src/reckoning/rules.ts',
      'packages/core/src/segments/conditions/index.ts',
      'packages/core/src/segments/file.ts',
    ],
  },
  {
    list: 'what becomes of a letter',
    file: 'packages/core/src/segments/conditions/letter-deeds.ts',
    add: ["  'left',\n] as const", "  'left',\n  'fixtureDid',\n] as const"],
    fixture: 'fixtureDid',
    missedAt: [
      'apps/server/src/segments/letters.store.ts',
      'packages/core/src/reckoning/rules.ts',
      'packages/core/src/segments/conditions/letter.ts',
      'packages/core/src/segments/conditions/letter-words.ts',
    ],
  },
  {
    list: 'what a way of asking wants',
    file: 'packages/core/src/segments/conditions/field/operand.ts',
    add: ['  month: number;', '  month: number;\n  fixtureOperand: number;'],
    fixture: 'fixtureOperand',
    missedAt: [
      'apps/web/src/segments/conditions/answers.tsx',
      'packages/core/src/segments/conditions/field/operand.ts',
    ],
  },
  {
    list: 'what is done to many people',
    file: 'packages/core/src/contacts/deeds.ts',
    add: ['  delete: object;', '  delete: object;\n  fixtureDeed: object;'],
    fixture: 'fixtureDeed',
    missedAt: ['apps/server/src/contacts/changes/deeds.ts', 'packages/core/src/contacts/deeds.ts'],
  },
  {
    list: 'files that people are taken out as',
    file: 'packages/core/src/contacts/vcard.ts',
    add: ["['csv', 'xlsx', 'vcf']", "['csv', 'xlsx', 'vcf', 'fixtureFormat']"],
    fixture: 'fixtureFormat',
    missedAt: ['apps/server/src/contacts/export/formats.ts', 'packages/core/src/contacts/vcard.ts'],
  },
  {
    list: 'parts of a timeline',
    file: 'packages/contract/src/contacts/index.ts',
    add: ["timelineParts = ['letters',", "timelineParts = ['fixturePart', 'letters',"],
    fixture: 'fixturePart',
    missedAt: ['apps/web/src/contacts/Timeline.tsx'],
  },
  {
    list: 'kinds of notes',
    file: 'packages/core/src/notes/index.ts',
    add: ["noteKinds = ['note',", "noteKinds = ['fixtureNote', 'note',"],
    fixture: 'fixtureNote',
    missedAt: ['apps/web/src/notes/NoteEntry.tsx'],
  },
  {
    list: 'kinds of tasks',
    file: 'packages/core/src/notes/index.ts',
    add: ["taskKinds = ['call',", "taskKinds = ['fixtureTask', 'call',"],
    fixture: 'fixtureTask',
    missedAt: ['packages/core/src/notes/index.ts'],
  },
  {
    list: 'automatic tags',
    file: 'packages/core/src/contacts/automatic.ts',
    add: [
      '  left: { id: 900_000_001',
      "  fixtureTag: { id: 900_000_099, purpose: '' },\n  left: { id: 900_000_001",
    ],
    fixture: 'fixtureTag',
    missedAt: [
      'apps/server/src/contacts/people/automatic.store.ts',
      'packages/core/src/reckoning/rules.ts',
    ],
  },
  {
    list: 'what names a tag',
    file: 'packages/contract/src/contacts/index.ts',
    add: ["tagUseKinds = ['segment',", "tagUseKinds = ['fixtureUse', 'segment',"],
    fixture: 'fixtureUse',
    missedAt: ['apps/web/src/contacts/tags/words.ts'],
  },
  {
    list: 'facts about a person',
    file: 'packages/core/src/segments/conditions/kind.ts',
    add: [
      '  readonly tags: ReadonlySet<number>;',
      '  readonly tags: ReadonlySet<number>;\n  readonly fixtureFact: number;',
    ],
    fixture: 'fixtureFact',
    missedAt: ['apps/server/src/segments/facts.store.ts'],
  },
  {
    list: 'sets of people',
    file: 'packages/core/src/contacts/people.ts',
    add: ["  change: '' | 'left-alone';", "  change: '' | 'left-alone';\n  fixtureSet: '';"],
    fixture: 'fixtureSet',
    missedAt: ['packages/core/src/contacts/people.ts'],
  },
  {
    list: 'blocks',
    file: 'packages/core/src/letters/blocks/index.ts',
    add: [
      'export type Block =\n',
      "export type Block = { readonly id: string; readonly kind: 'fixtureBlock' } |\n",
    ],
    fixture: 'fixtureBlock',
    missedAt: ['apps/web/src/letters/blocks/index.ts', 'packages/core/src/letters/blocks/index.ts'],
  },
  {
    list: 'reasons for holding back',
    file: 'packages/core/src/campaigns/tally.ts',
    add: [
      "  'same address': {\n    short",
      "  'fixture reason': { short: '', long: '', isRare: false },\n  'same address': {\n    short",
    ],
    fixture: 'fixture reason',
    missedAt: ['apps/server/src/campaigns/who.store.ts'],
  },
  {
    list: 'numbers of a campaign',
    file: 'packages/core/src/results/index.ts',
    add: ['  sent: { part:', "  fixtureNumber: { part: 'fixture', heads: '' },\n  sent: { part:"],
    fixture: 'fixtureNumber',
    missedAt: ['apps/server/src/delivery/numbers.store.ts'],
  },
  {
    list: 'states of a delivery',
    file: 'packages/core/src/delivery/delivery.ts',
    add: ['deliveryStates = [', "deliveryStates = ['fixture delivery',"],
    fixture: 'fixture delivery',
    missedAt: [
      'apps/server/src/delivery/numbers.store.ts',
      'apps/web/src/contacts/LetterEntry.tsx',
    ],
  },
  {
    list: 'states of a campaign',
    file: 'packages/core/src/campaigns/campaign.ts',
    add: ['campaignStatuses = [', "campaignStatuses = ['fixture status',"],
    fixture: 'fixture status',
    missedAt: [
      'apps/server/src/campaigns/campaigns.service.ts',
      'apps/server/src/campaigns/campaigns.store.ts',
      'apps/web/src/campaigns/words.ts',
      'packages/core/src/campaigns/campaign.ts',
    ],
  },
  {
    list: 'why a step of a campaign can’t be taken',
    file: 'packages/core/src/campaigns/campaign.ts',
    add: ['campaignRefusals = [', "campaignRefusals = ['fixture refused step',"],
    fixture: 'fixture refused step',
    missedAt: [
      'apps/server/src/campaigns/campaigns.refusals.ts',
      'apps/server/src/campaigns/campaigns.service.ts',
    ],
  },
  {
    list: 'what can happen to a contact',
    file: 'packages/core/src/contacts/happenings.ts',
    add: ['happeningKinds = [', "happeningKinds = ['fixture happening',"],
    fixture: 'fixture happening',
    missedAt: ['apps/server/src/contacts/people/people.view.ts'],
  },
  {
    list: 'mails of the office',
    file: 'packages/core/src/delivery/mails.ts',
    add: [
      "  readonly 'own page': { readonly url: string };",
      "  readonly fixtureMail: object;\n  readonly 'own page': { readonly url: string };",
    ],
    fixture: 'fixtureMail',
    missedAt: ['packages/core/src/delivery/mails.ts'],
  },
  {
    list: 'kinds of returned mail',
    file: 'packages/core/src/delivery/returned.ts',
    add: ['returnedKinds = [', "returnedKinds = ['fixture mail',"],
    fixture: 'fixture mail',
    missedAt: [
      'apps/server/src/delivery/returned.service.ts',
      'apps/web/src/delivery/ReturnedMail.tsx',
    ],
  },
  {
    list: 'kinds of bounce',
    file: 'packages/core/src/delivery/answer.ts',
    add: ['BounceKind = ', "BounceKind = 'fixture bounce' | "],
    fixture: 'fixture bounce',
    missedAt: [
      'apps/server/src/delivery/numbers.store.ts',
      'apps/web/src/delivery/ReturnedMail.tsx',
    ],
  },
  {
    list: 'what an imported row did',
    file: 'packages/core/src/intake/outcomes.ts',
    add: ['rowOutcomes = [', "rowOutcomes = ['fixture outcome',"],
    fixture: 'fixture outcome',
    missedAt: ['packages/core/src/intake/decide.ts'],
  },
  {
    list: 'what a list comes as',
    file: 'packages/core/src/intake/kinds.ts',
    add: ["importKinds = ['text', ", "importKinds = ['fixtureKind', 'text', "],
    fixture: 'fixtureKind',
    missedAt: ['apps/server/src/intake/tables.ts'],
  },
  {
    list: 'reasons for do not mail',
    file: 'packages/core/src/contacts/mail.ts',
    add: ['doNotMailReasons = [', "doNotMailReasons = ['fixture refusal', "],
    fixture: 'fixture refusal',
    missedAt: [
      'apps/server/src/contacts/standing/do-not-mail.store.ts',
      'packages/core/src/contacts/mail.ts',
    ],
  },
  {
    list: 'what a reader did',
    file: 'packages/core/src/delivery/events.ts',
    add: ['eventKinds = [', "eventKinds = ['fixture event',"],
    fixture: 'fixture event',
    missedAt: ['apps/web/src/contacts/LetterEntry.tsx'],
  },
];

/** The part of a message that says what is missing, without the types that it is missing from. */
function missing(text: string): string {
  const [first = ''] = text.split('\n');
  if (first.startsWith('Property ')) return first.slice(0, first.indexOf(' is missing'));
  const properties = first.indexOf('missing the following properties');
  return properties < 0 ? text : first.slice(first.lastIndexOf("': ") + 3);
}

/** What the compiler says of a project with all fixtures added: files by fixture. */
function missed(config: string): Map<string, Set<string>> {
  const parsed = ts.getParsedCommandLineOfConfigFile(
    join(root, config),
    {},
    {
      ...ts.sys,
      onUnRecoverableConfigFileDiagnostic: ({ messageText }) => {
        throw new Error(ts.flattenDiagnosticMessageText(messageText, '\n'));
      },
    },
  );
  if (!parsed) throw new Error(`${config} can’t be read`);
  const { options, fileNames } = parsed;
  const host = ts.createCompilerHost({ ...options, incremental: false });
  const plain = host.getSourceFile.bind(host);
  host.getSourceFile = (name, version, onError, isNew) => {
    const own = lists.filter(({ file }) => join(root, file) === name);
    if (own.length === 0) return plain(name, version, onError, isNew);
    let text = ts.sys.readFile(name) ?? '';
    for (const {
      add: [at, put],
    } of own) {
      if (text.split(at).length !== 2) throw new Error(`${name} has not once: ${at}`);
      text = text.replace(at, put);
    }
    return ts.createSourceFile(name, text, version);
  };
  const program = ts.createProgram(
    fileNames,
    { ...options, incremental: false, noEmit: true },
    host,
  );
  const found = new Map<string, Set<string>>();
  // What tests lack they say themselves.
  const looked = program
    .getSourceFiles()
    .filter(({ fileName }) => !/node_modules|\.test\.tsx?$/.test(fileName));
  for (const { file, messageText } of looked.flatMap((one) => [
    ...program.getSemanticDiagnostics(one),
  ])) {
    const named = missing(ts.flattenDiagnosticMessageText(messageText, '\n'));
    const place = relative(root, file?.fileName ?? '');
    const fixtures = lists.flatMap(({ fixture }) => (named.includes(fixture) ? [fixture] : []));
    for (const fixture of fixtures.length > 0 ? fixtures : [`none: ${named.slice(0, 200)}`])
      found.set(fixture, (found.get(fixture) ?? new Set()).add(place));
  }
  return found;
}

it('names every place that lacks a kind, and no other', () => {
  const found = ['tsconfig.json', 'apps/web/tsconfig.json'].map(missed);
  const places = Object.fromEntries(
    lists.map(({ list, fixture }) => [
      list,
      [...new Set(found.flatMap((one) => [...(one.get(fixture) ?? [])]))].sort(),
    ]),
  );
  expect(places).toEqual(
    Object.fromEntries(lists.map(({ list, missedAt }) => [list, [...missedAt].sort()])),
  );
  expect(found.flatMap((one) => [...one.keys()].filter((name) => name.startsWith('none')))).toEqual(
    [],
  );
}, 180_000);

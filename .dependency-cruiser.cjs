// Who may import whom; the picture is in docs/architecture.md.
const capability = (name) => `^apps/server/src/${name}/`;
const not = (from, to, why) => ({ name: why, severity: 'error', from, to });
const server = [
  'office',
  'contacts',
  'segments',
  'letters',
  'campaigns',
  'delivery',
  'notes',
  'results',
  'intake',
];
/** What each capability may meet, through its index; its stores may read the tables of the same ones. */
const mayMeet = {
  office: [],
  contacts: ['office'],
  segments: ['contacts', 'office'],
  letters: ['contacts', 'office'],
  campaigns: ['letters', 'segments', 'contacts', 'office'],
  delivery: ['campaigns', 'letters', 'contacts', 'office'],
  notes: ['delivery', 'contacts', 'office'],
  results: ['delivery', 'campaigns', 'contacts', 'office'],
  intake: ['contacts', 'segments', 'office'],
};
const TEST = '\\.test\\.tsx?$';
/** The same on the screen: what each part may show of others. Pages that are loaded only when they are opened are shell's. */
const below = ['office', 'contacts', 'segments', 'letters', 'campaigns', 'delivery', 'results'];
const webMayMeet = {
  office: [],
  contacts: ['office'],
  segments: ['contacts', 'office'],
  letters: ['contacts', 'office'],
  campaigns: ['letters', 'segments', 'contacts', 'office'],
  delivery: ['campaigns', 'letters', 'contacts', 'office'],
  notes: ['contacts', 'office'],
  results: ['delivery', 'campaigns', 'segments', 'contacts', 'office'],
  intake: ['contacts', 'segments', 'office'],
  desk: [...below, 'intake', 'notes'],
};

/** Whose tables are read, and nothing else met: rules ask what became of letters, and sending asks rules. */
const mayRead = { segments: ['delivery'] };

module.exports = {
  forbidden: [
    {
      name: 'no cycles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    not(
      { path: '^packages/core/' },
      { pathNot: '^packages/core/|^node_modules/(libphonenumber-js|fast-check|@jest)/' },
      'core imports only core, and what reads telephone numbers',
    ),
    not(
      { path: '^packages/contract/' },
      {
        pathNot:
          '^packages/(contract|core)/|^node_modules/(class-(validator|transformer)|reflect-metadata)/',
      },
      'contract imports only core and validation',
    ),
    not({ path: '^apps/server/' }, { path: '^apps/web/' }, 'server never imports web'),
    not(
      { path: '^apps/web/' },
      { path: '^(apps/server|packages/(embedded-postgres|outside))/' },
      'web imports contract and core only',
    ),
    not(
      { path: '^packages/(embedded-postgres|outside)/' },
      { path: '^(apps|packages/(core|contract))/' },
      'the database and the outside stand alone',
    ),
    not(
      { path: '^apps/server/src/platform/' },
      { path: `^apps/server/src/(${server.join('|')}|demo)/` },
      'platform knows no capability',
    ),
    not(
      { path: '^apps/web/src/api/' },
      { path: '^apps/web/src/(?!api/)' },
      'api knows no other part of the interface',
    ),
    not(
      { path: '^apps/web/src/ui/', pathNot: TEST },
      { path: '^apps/web/src/(?!ui/|api/)' },
      'ui knows no capability',
    ),
    not(
      { path: '^apps/web/src/', pathNot: `${TEST}|^apps/web/src/testing/` },
      { path: '^apps/web/src/testing/' },
      'what tests need stays with the tests',
    ),
    ...Object.keys(webMayMeet).map((name) =>
      not(
        { path: `^apps/web/src/${name}/`, pathNot: TEST },
        {
          path: '^apps/web/src/',
          pathNot: [
            `^apps/web/src/(${name}|api|ui)/`,
            ...webMayMeet[name].map((other) => `^apps/web/src/${other}/index\\.ts$`),
          ],
        },
        `the interface of ${name} meets others through their index, one way`,
      ),
    ),
    ...server.map((name) =>
      not(
        { path: capability(name), pathNot: '\\.test\\.ts$' },
        {
          path: '^apps/server/src/',
          pathNot: [
            capability(name),
            '^apps/server/src/platform/',
            ...mayMeet[name].flatMap((other) => [
              `^apps/server/src/${other}/index\\.ts$`,
              `^apps/server/src/${other}/.*\\.table\\.ts$`,
            ]),
            ...(mayRead[name] ?? []).map((other) => `^apps/server/src/${other}/.*\\.table\\.ts$`),
          ],
        },
        `${name} meets others through their index, one way`,
      ),
    ),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      conditionNames: ['@palabra/source', 'import', 'node', 'default'],
      exportsFields: ['exports'],
    },
  },
};

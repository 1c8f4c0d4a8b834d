import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import globals from 'globals';
import ts from 'typescript-eslint';

const server = join(import.meta.dirname, 'apps/server/src');
/** Names of all tables, from where they are declared. */
const tables = readdirSync(server, { recursive: true })
  .filter((file) => file.endsWith('.table.ts'))
  .flatMap((file) =>
    [...readFileSync(join(server, file), 'utf8').matchAll(/pgTable\(\s*'(\w+)'/g)].map(
      ([, name]) => name,
    ),
  );
const tableByName = {
  selector: `TemplateElement[value.raw=/\\b(from|join|into|update|using|analyze)\\s+(${tables.join('|')})\\b(?!\\.)/]`,
  message: 'Name tables through their Drizzle objects, so that the imports show who reads whom.',
};

const insideTransaction = [
  {
    selector:
      "CallExpression[callee.property.name='transaction'] > ArrowFunctionExpression MemberExpression[property.name='db'][object.property.name='database']",
    message:
      'Inside a transaction use its own handle: the database has one session, and the root handle waits for the transaction to end.',
  },
  {
    selector:
      "CallExpression[callee.property.name='transaction'] > ArrowFunctionExpression MemberExpression[property.name='db'][object.type='ThisExpression']",
    message: 'Inside a transaction use its own handle.',
  },
];

/** Steps that take time by the shape of a text, see packages/core/src/kernel/text.ts; and keys from outside. */
const fromOutside = [
  {
    selector:
      "BinaryExpression[operator='in']:not([left.type='Literal'], [left.type='PrivateIdentifier'])",
    message: 'Use Object.hasOwn: a key from outside may be `constructor`.',
  },
  {
    selector: "CallExpression[callee.property.name='normalize']",
    message: 'Use `normalized` of core/kernel: a normal form takes the square of a run of marks.',
  },
  {
    selector: "NewExpression[callee.name='URL']:not(:has(MetaProperty))",
    message: 'Use `urlOf` of core/kernel: a domain takes the square of its length.',
  },
  {
    selector: "CallExpression[callee.object.name='URL'][callee.property.name=/^(canParse|parse)$/]",
    message: 'Use `urlOf` of core/kernel.',
  },
  {
    selector: 'CallExpression[callee.name=/^domainTo(ASCII|Unicode)$/]',
    message: 'Use `urlOf` of core/kernel.',
  },
];

const sqlElsewhere = {
  paths: [{ name: 'drizzle-orm', importNames: ['sql'], message: 'SQL stands only in *.store.ts.' }],
};

export default ts.config(
  {
    ignores: [
      '**/dist/**',
      '**/drizzle/**',
      '**/node_modules/**',
      '.palabra/**',
      '.cache/**',
      'test-results/**',
    ],
  },
  js.configs.recommended,
  {
    // One thread answers everybody: an expression that backtracks stops the office. Anything that meets text from outside is linear.
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential' }],
    },
  },
  {
    files: ['**/*.{ts,tsx}'],
    extends: [ts.configs.strictTypeChecked],
    languageOptions: {
      parserOptions: {
        project: ['./tsconfig.json', './apps/web/tsconfig.json'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/no-empty-object-type': 'off',
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { fixStyle: 'inline-type-imports', disallowTypeAnnotations: false },
      ],
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
      '@typescript-eslint/no-unnecessary-condition': [
        'error',
        { allowConstantLoopConditions: true },
      ],
      '@typescript-eslint/no-misused-promises': [
        'error',
        { checksVoidReturn: { attributes: false } },
      ],
      // Classes of the contract are plain shapes on the client; nothing is lost when they are spread or built as literals.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      '@typescript-eslint/no-misused-spread': 'off',
      // What comes in by a query may be a list, whatever its declared type says.
      '@typescript-eslint/no-unnecessary-type-conversion': 'off',
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      '@typescript-eslint/require-await': 'off',
      'no-console': 'error',
    },
  },
  {
    // Nest takes the types of constructor parameters at run time.
    files: ['apps/server/src/**/*.ts'],
    rules: { '@typescript-eslint/consistent-type-imports': 'off' },
  },
  {
    files: ['apps/server/src/**/*.ts'],
    ignores: [
      '**/*.store.ts',
      '**/*.table.ts',
      '**/*.test.ts',
      'apps/server/src/platform/database.ts',
      'apps/server/src/platform/jobs.ts',
    ],
    rules: { 'no-restricted-imports': ['error', sqlElsewhere] },
  },
  {
    // Inside a transaction only its own handle may be used: the root handle would wait for itself.
    files: ['apps/server/src/**/*.ts'],
    rules: {
      'no-restricted-syntax': ['error', ...insideTransaction],
    },
  },
  {
    files: ['packages/{core,contract}/src/**/*.ts', 'apps/web/src/**/*.{ts,tsx}'],
    ignores: ['packages/core/src/kernel/text.ts', '**/*.test.{ts,tsx}', '**/testing/*.{ts,tsx}'],
    rules: { 'no-restricted-syntax': ['error', ...fromOutside] },
  },
  {
    files: ['apps/server/src/**/*.ts'],
    ignores: ['**/*.test.ts', '**/testing/*.ts', '**/demo/*.ts'],
    rules: { 'no-restricted-syntax': ['error', tableByName, ...insideTransaction, ...fromOutside] },
  },
  {
    files: ['apps/web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    languageOptions: { globals: globals.browser },
    rules: { ...hooks.configs.recommended.rules, 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['**/*.test.{ts,tsx}', '**/testing/*.{ts,tsx}', 'e2e/**/*.ts'],
    // Tests look into replies of many shapes.
    rules: {
      // What is awaited changes it; the compiler can't see that in loops that wait.
      '@typescript-eslint/no-unnecessary-condition': 'off',
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
      '@typescript-eslint/no-unsafe-argument': 'off',
      'no-restricted-imports': 'off',
    },
  },
  {
    files: ['apps/web/src/**/*.test.tsx'],
    rules: {
      // A part made for a test tells it what it holds; a refused request is a plain object.
      'react-hooks/globals': 'off',
      '@typescript-eslint/prefer-promise-reject-errors': 'off',
    },
  },
  { files: ['**/*.mjs'], languageOptions: { globals: globals.node } },
);

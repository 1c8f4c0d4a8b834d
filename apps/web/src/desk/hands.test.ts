// What needs a hand, and what doesn't any more.
import { office } from '../testing/office.js';
import { handsOf, type Known } from './hands.js';

const none: Known = { office, campaigns: [], imports: [], returned: 0, refused: 0 };
const file = (id: number, fileName: string, more: object = {}) =>
  ({ id, fileName, state: 'done', refusedCount: 3, takenBack: null, ...more }) as never;
const campaign = (status: string) => ({ id: 1, name: 'Spring', status }) as never;
const keys = (known: Partial<Known>): string[] =>
  handsOf({ ...none, ...known }).map(({ key }) => key);

it.each<[string, Partial<Known>, string[]]>([
  ['nothing', {}, []],
  ['a missing postal address', { office: { ...office, postalAddress: ' ' } }, ['address']],
  ['a tally that changed', { campaigns: [campaign('differs')] }, ['campaign 1']],
  ['a paused campaign', { campaigns: [campaign('paused')] }, ['campaign 1']],
  ['no draft', { campaigns: [campaign('draft'), campaign('sent')] }, []],
  ['mail that came back', { returned: 2 }, ['returned']],
  ['people refused too often', { refused: 1 }, ['refused']],
  ['refused rows', { imports: [file(4, 'fair.csv')] }, ['rows 4']],
  ['no rows of an import taken back', { imports: [file(4, 'fair.csv', { takenBack: {} })] }, []],
  [
    'no rows that were mended and brought again',
    { imports: [file(4, 'fair.csv'), file(5, 'refused-rows-4.csv', { refusedCount: 0 })] },
    [],
  ],
  [
    'rows of another file of that beginning',
    { imports: [file(4, 'fair.csv'), file(5, 'refused-rows-41.csv', { refusedCount: 0 })] },
    ['rows 4'],
  ],
  [
    'a file that was not brought in',
    { imports: [file(6, 'x.csv', { state: 'uploaded' })] },
    ['import 6'],
  ],
])('%s', (_, known, expected) => expect(keys(known)).toEqual(expected));

// People taken out as a file: safe to open, whole, in order, and only those whom the asker sees.
import { parse } from 'csv-parse/sync';
import { PassThrough, Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import excel from 'exceljs';
import { writeWorkbook, type Cell } from './workbook.js';
import { importPeople } from '../../testing/round.js';
import { startTestServer, type TestServer } from '../../testing/server.js';

let server: TestServer;
let member: string;
const nasty = ['=1+1', '+1', '-1', '@SUM(A1)', '\tx', 'a"b', 'a,b', 'line\nbreak'];

beforeAll(async () => {
  server = await startTestServer();
  await server.account({ name: 'Kasimir', address: 'kasimir@example.com', role: 'member' });
  member = await server.signIn('kasimir@example.com');
  await importPeople(
    server,
    `email,first name,last name,town\n${Array.from({ length: 1203 }, (_, at) => `p${at}@example.com,N${at},F${String(at).padStart(4, '0')},${at % 2 ? 'Mere' : ''}`).join('\n')}\n`,
  );
  for (const [at, given_name] of nasty.entries())
    await server.call('POST', '/api/people', {
      values: { address: `odd${at}@example.com`, given_name, family_name: 'ZZ' },
      permission: 'asked',
      source: '',
    });
}, 60_000);
afterAll(() => server.stop());

const take = async (request: object, cookie?: string): Promise<Buffer> => {
  const response = await fetch(`${server.url}/api/people/export`, {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      'x-requested-by': 'palabra',
      cookie: cookie ?? server.coordinator,
    },
    body: JSON.stringify(request),
  });
  expect(response.status).toBe(200);
  return Buffer.from(await response.arrayBuffer());
};
const columns = [
  'given_name',
  'family_name',
  'address',
  'town',
  'own_99',
  'came_in',
  'rating',
  'band',
];

it('is a table with every person once, in the order asked for', async () => {
  const file = await take({ people: {}, format: 'csv', columns, sort: '-address' });
  const table: string[][] = parse(file, { bom: true });
  expect(table[0]).toEqual([
    'given name',
    'family name',
    'email address',
    'town',
    'came in',
    'rating',
    'rating band',
  ]);
  expect(table[1]?.slice(5)).toEqual(['', 'new']);
  expect(table).toHaveLength(1 + 1203 + nasty.length);
  const addresses = table.slice(1).map((row) => row[2] ?? '');
  expect(addresses).toEqual(addresses.toSorted().toReversed());
  expect(table[1]?.[4]).toMatch(/^\d{4}-\d\d-\d\d$/);
});

it('holds no formula, whatever somebody is called', async () => {
  const table: string[][] = parse(await take({ people: { q: 'odd' }, format: 'csv', columns }), {
    bom: true,
  });
  for (const [name = ''] of table.slice(1)) expect(name).not.toMatch(/^[=+\-@\t\r]/);
  const book = new excel.Workbook();
  await book.xlsx.load(
    (await take({ people: { q: 'odd' }, format: 'xlsx', columns })) as unknown as ArrayBuffer,
  );
  const sheet = book.getWorksheet('Contacts');
  expect(sheet?.rowCount).toBe(1 + nasty.length);
  sheet?.eachRow((row) => row.eachCell((cell) => expect(cell.formula).toBeFalsy()));
});

it('holds no formula for a program that takes another sign for the end of a cell', async () => {
  const { body } = await server.call('POST', '/api/people', {
    values: {
      given_name: 'Semi; =1+1',
      family_name: 'a\t-2|@x',
      town: 'x;y',
      address: 's@example.com',
    },
    permission: 'asked',
    source: '',
    wording: '',
  });
  const file = (
    await take({ people: { ids: [body.id] }, format: 'csv', columns: columns.slice(0, 4) })
  ).toString();
  for (const part of file.split(/[;|\t\r\n,]/)) expect(part.trim()).not.toMatch(/^"? *[=+@-]/);
  expect(file).toContain('"x;y"');
});

it('has each column once, and none that is no field', async () => {
  const request = {
    people: { q: 'p12@' },
    format: 'csv',
    columns: ['town', 'town', 'constructor', '__proto__', 'tags', 'tags', 'toString'],
  };
  expect(parse(await take(request), { bom: true })).toEqual([
    ['town', 'tags'],
    ['', ''],
  ]);
});

it('is a workbook of whatever can be typed', async () => {
  const rows: Cell[][] = [
    ['a<b>&"c"\u0001', ' _x0041_ ', '\ud800', 'two\r\nlines', -1.5],
    [null, '', 'é'.repeat(40_000), 0, Infinity],
  ];
  const out = new PassThrough();
  const [, bytes] = await Promise.all([
    writeWorkbook(['One', 'Two'], Readable.from(rows), out),
    buffer(out),
  ]);
  const book = new excel.Workbook();
  await book.xlsx.load(bytes as unknown as ArrayBuffer);
  const sheet = book.getWorksheet('Contacts');
  expect(sheet?.getRow(1).getCell(1)).toMatchObject({ value: 'One', font: { bold: true } });
  expect([1, 2, 3, 4, 5].map((at) => sheet?.getRow(2).getCell(at).value)).toEqual([
    'a<b>&"c"',
    // The reader here leaves escapes as they are.
    ' _x005F_x0041_ ',
    '\ufffd',
    'two\r\nlines',
    -1.5,
  ]);
  expect([1, 2, 4, 5].map((at) => sheet?.getRow(3).getCell(at).value)).toEqual([
    null,
    null,
    0,
    null,
  ]);
  expect(sheet?.getRow(3).getCell(3).text).toHaveLength(32_767);
});

it('is visiting cards, one for each', async () => {
  const cards = (await take({ people: { q: 'p12@' }, format: 'vcf', columns: [] })).toString();
  expect(cards).toBe(
    'BEGIN:VCARD\r\nVERSION:4.0\r\nFN:N12 F0012\r\nN:F0012;N12;;;\r\nEMAIL:p12@example.com\r\nEND:VCARD\r\n',
  );
});

it('holds nobody of colleagues, and stands in the activity log', async () => {
  const people = (await server.call('GET', '/api/people?limit=3')).body.rows as { id: number }[];
  const ids = people.map(({ id }) => id);
  expect(
    parse(await take({ people: { ids }, format: 'csv', columns }), { bom: true }),
  ).toHaveLength(4);
  expect(
    parse(await take({ people: { ids }, format: 'csv', columns }, member), { bom: true }),
  ).toHaveLength(1);
  expect(
    parse(await take({ people: {}, format: 'csv', columns }, member), { bom: true }),
  ).toHaveLength(1);
  const { changes } = (await server.call('GET', '/api/changes')).body as {
    changes: { kind: string; what: string; canUndo: boolean }[];
  };
  expect(changes.find(({ kind }) => kind === 'export')).toMatchObject({ canUndo: false });
  expect(changes.map(({ what }) => what)).toContain('took out 3 people as CSV');
});

it.each([
  { people: {}, format: 'pdf', columns: [] },
  { people: {}, format: 'csv', columns: 'all' },
  { people: {}, format: 'csv', columns: [], sort: '; drop' },
  { format: 'csv', columns: [] },
  { people: { of: 'segment.999' }, format: 'csv', columns: [] },
])('refuses %j', async (request) => {
  const { status } = await server.call('POST', '/api/people/export', request);
  expect([400, 404, 422]).toContain(status);
});

// Files as people bring them: every encoding, separator and quoting, and what is no table at all.
import { stringify } from 'csv-stringify/sync';
import { builtInFields } from '@palabra/core/contacts';
import type { Encoding } from '@palabra/core/intake';
import fc from 'fast-check';
import { inTurn } from '../platform/upload.js';
import { guessEncodings, refuseBinary, rowsOf, separatorOf, shapeOf } from './reading.js';

const fields = builtInFields({ owners: [] });
const cut = (contents: Buffer, size: number): Buffer[] =>
  Array.from({ length: Math.ceil(contents.length / size) }, (_, at) =>
    contents.subarray(at * size, (at + 1) * size),
  );

const findEncoding = async (pieces: readonly Buffer[]): Promise<Encoding> =>
  (await guessEncodings(pieces))[0]?.encoding ?? 'utf-8';

async function read(contents: Buffer, size = 7): Promise<string[][]> {
  const encoding = await findEncoding(cut(contents, size));
  const rows: string[][] = [];
  for await (const { cells } of rowsOf(
    inTurn(cut(contents, size)),
    encoding,
    separatorOf([contents], encoding),
  ))
    rows.push(cells);
  return rows;
}

/** A text in an encoding of one byte a sign. */
function inBytes(text: string, encoding: Encoding): Buffer {
  const signs = new Map(
    Array.from({ length: 256 }, (_, byte) => [
      new TextDecoder(encoding).decode(Buffer.from([byte])),
      byte,
    ]),
  );
  return Buffer.from([...text].map((sign) => signs.get(sign) ?? 63));
}

it.each<[Encoding, string]>([
  ['windows-1252', 'name,town\nZoë Müller,Malmö\nSeán O’Brien,Cork\nNúñez,Coruña\n'],
  ['windows-1250', 'name,town\nŁukasik,Łódź\nDvořák,Plzeň\nKovács,Győr\n'],
  ['windows-1251', 'имя,город\nАнна Орлова,Тверь\nИван,Псков\n'],
  ['koi8-r', 'имя,город\nАнна Орлова,Тверь\nИван,Псков\n'],
  ['ibm866', 'имя,город\nАнна Орлова,Тверь\nИван,Псков\n'],
  ['windows-1253', 'όνομα,πόλη\nΜαρία Παπαδοπούλου,Αθήνα\nΓιώργος,Πάτρα\n'],
  ['macintosh', 'name,town\nZoë Müller,Malmö\nBjörn Åström,Växjö\nRenée Châtelain,Nîmes\n'],
])('guesses %s by the words in it', async (encoding, text) => {
  const guesses = await guessEncodings(cut(inBytes(text, encoding), 7));
  expect(guesses[0]).toEqual({ encoding, words: expect.arrayContaining([]) });
  expect(text).toContain(guesses[0]?.words[0]);
});

it.each<[string, Buffer, Encoding]>([
  [
    'Shift JIS',
    Buffer.from(
      'name,town\n\x93\x63\x92\x86,\x93\x8c\x8b\x9e\n\x8e\x52\x93\x63,\x91\xe5\x8d\xe3\n',
      'latin1',
    ),
    'shift_jis',
  ],
  ['UTF-16 without a mark', Buffer.from('name,town\nAnna,Tarn\n', 'utf16le'), 'utf-16le'],
  [
    'UTF-16 without a mark, the other way round',
    Buffer.from('name,town\nAnna,Tarn\n', 'utf16le').swap16(),
    'utf-16be',
  ],
  [
    'UTF-8 with a stray byte',
    Buffer.concat([
      Buffer.from('name\nZoë\nMüller\nÄnne\nNúñez\nBj'),
      Buffer.from([0xf6]),
      Buffer.from('rn\n'),
    ]),
    'utf-8',
  ],
])('takes %s for what it is', async (_, contents, encoding) =>
  expect(await findEncoding(cut(contents, 7))).toBe(encoding),
);

const utf16 = (text: string, bigEndian = false): Buffer => {
  const bytes = Buffer.from(`\ufeff${text}`, 'utf16le');
  return bigEndian ? bytes.swap16() : bytes;
};

it.each<[string, Buffer, string[][]]>([
  [
    'UTF-8',
    Buffer.from('name,town\nZoë,Malmö\n'),
    [
      ['name', 'town'],
      ['Zoë', 'Malmö'],
    ],
  ],
  [
    'UTF-8 with a mark',
    Buffer.from('\ufeffname,town\nZoë,Malmö'),
    [
      ['name', 'town'],
      ['Zoë', 'Malmö'],
    ],
  ],
  [
    'Windows-1252',
    Buffer.from('name;town\r\nZo\xeb;Malm\xf6\r\n', 'latin1'),
    [
      ['name', 'town'],
      ['Zoë', 'Malmö'],
    ],
  ],
  [
    'Windows-1252 with its own signs',
    Buffer.from('name;price\nO\x92Brien;5 \x80\n', 'latin1'),
    [
      ['name', 'price'],
      ['O’Brien', '5 €'],
    ],
  ],
  [
    'UTF-16',
    utf16('name\ttown\r\nZoë\tMalmö\r\n'),
    [
      ['name', 'town'],
      ['Zoë', 'Malmö'],
    ],
  ],
  [
    'UTF-16 the other way round',
    utf16('name\ttown\nZoë\tMalmö\n', true),
    [
      ['name', 'town'],
      ['Zoë', 'Malmö'],
    ],
  ],
  [
    'tabs',
    Buffer.from('a\tb\n1\t2\n'),
    [
      ['a', 'b'],
      ['1', '2'],
    ],
  ],
  [
    'bars',
    Buffer.from('a|b|c\n1|2|3\n'),
    [
      ['a', 'b', 'c'],
      ['1', '2', '3'],
    ],
  ],
  [
    'commas inside quotes',
    Buffer.from('name;note\n"a;b";"says ""hi"""\n'),
    [
      ['name', 'note'],
      ['a;b', 'says "hi"'],
    ],
  ],
  [
    'line breaks inside quotes',
    Buffer.from('name,note\n"a","two\nlines"\nb,c\n'),
    [
      ['name', 'note'],
      ['a', 'two\nlines'],
      ['b', 'c'],
    ],
  ],
  [
    'old line ends',
    Buffer.from('a,b\r1,2\r3,4'),
    [
      ['a', 'b'],
      ['1', '2'],
      ['3', '4'],
    ],
  ],
  [
    'empty lines',
    Buffer.from('a,b\n\n,\n1,2\n   ,  \n'),
    [
      ['a', 'b'],
      ['1', '2'],
    ],
  ],
  ['one column', Buffer.from('email\na@example.com\n'), [['email'], ['a@example.com']]],
  [
    'NUL signs',
    Buffer.from('a,b\n1\0,2\n'),
    [
      ['a', 'b'],
      ['1', '2'],
    ],
  ],
  [
    'a quote in the middle of a cell',
    Buffer.from('a,b\n5" pot,2\n'),
    [
      ['a', 'b'],
      ['5" pot', '2'],
    ],
  ],
])('reads %s', async (_, contents, rows) => {
  expect(await read(contents)).toEqual(rows);
  expect(await read(contents, 1)).toEqual(rows);
});

it('reads back what was written, with any separator, cut anywhere', async () => {
  const cell = fc
    .string({ unit: 'grapheme', maxLength: 12 })
    // An apostrophe before a sign with which a formula begins is taken for the mark of whoever wrote the file.
    .map((text) =>
      text
        .replace(/[\0\r\ufeff]/g, '')
        .replace(/^'(?=[=+\-@\t])/, '')
        .trim(),
    );
  const table = fc.tuple(
    fc.constantFrom(',', ';', '\t', '|'),
    fc.array(fc.tuple(cell, cell, cell), { minLength: 3, maxLength: 12 }),
    fc.integer({ min: 1, max: 50 }),
  );
  await fc.assert(
    fc.asyncProperty(table, async ([delimiter, body, size]) => {
      const rows = [
        ['first', 'second', 'third'],
        ...body.map((row) => [...row].map((text) => text || 'x')),
      ];
      const contents = Buffer.from(stringify(rows, { delimiter, quoted: true }));
      const found: string[][] = [];
      for await (const { cells } of rowsOf(
        inTurn(cut(contents, size)),
        await findEncoding([contents]),
        delimiter,
      ))
        found.push(cells);
      expect(found).toEqual(rows);
    }),
    { numRuns: 60 },
  );
});

it.each<[string, Buffer, RegExp]>([
  ['nothing', Buffer.from('\n\n'), /empty/],
  ['a header only', Buffer.from('email,town\n'), /no rows/],
  ['a quotation mark that never closes', Buffer.from('a,b\n"1,2\n3,4\n'), /quotation mark/],
  [
    'too many columns',
    Buffer.from(`${Array.from({ length: 300 }, (_, at) => `c${at}`).join(',')}\n1\n`),
    /200 are the most/,
  ],
  [
    'a cell that holds the rest of the file',
    Buffer.from(`a,b\n"${'x'.repeat(210_000)}",2\n`),
    /more than 200000 signs/,
  ],
])('says what is wrong with %s', async (_, contents, words) => {
  const encoding = await findEncoding([contents]);
  await expect(
    shapeOf(inTurn([contents]), encoding, separatorOf([contents], encoding), fields),
  ).rejects.toThrow(words);
});

it.each<[string, Buffer]>([
  ['a PDF', Buffer.from('%PDF-1.7')],
  ['JSON', Buffer.from('[{"email": "ada@example.com"}]')],
  ['a web page', Buffer.from('\n<!DOCTYPE html><table><tr><td>ada@example.com</td></tr></table>')],
  ['LDIF', Buffer.from('version: 1\ndn: cn=Ada\nmail: ada@example.com\n')],
  ['XML', Buffer.from('\ufeff<?xml version="1.0"?><people/>')],
  ['a picture', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 0x0d, 0, 0, 0, 0])],
])('refuses %s', async (_, contents) => {
  const encoding = await findEncoding([contents]);
  expect(() => refuseBinary([contents], encoding)).toThrow(/CSV/);
});

it('leaves out a line that only says the separator, and the apostrophe before a sign that a formula begins with', async () => {
  expect(
    await read(
      Buffer.from("\ufeffsep=;\r\nemail;phone;note\r\na@example.com;'+351 21 000;'twas; 'x\r\n"),
    ),
  ).toEqual([
    ['email', 'phone', 'note'],
    ['a@example.com', '+351 21 000', "'twas", " 'x"],
  ]);
});

it('goes out and comes back as it was, whatever a cell begins with', async () => {
  const cell = fc
    .tuple(
      fc.constantFrom('', '=', '+', '-', '@'),
      fc.string({ unit: 'grapheme-ascii', maxLength: 8 }),
    )
    .map(([sign, text]) => `${sign}${text}x`.replace(/^['\s]+/, 'x').replace(/[\r\n]/g, ' '));
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(cell, cell), { minLength: 2, maxLength: 6 }),
      async (rows) => {
        const contents = Buffer.from(stringify(rows, { escape_formulas: true, quoted: true }));
        const found: string[][] = [];
        for await (const { cells } of rowsOf(inTurn([contents]), 'utf-8', ',')) found.push(cells);
        expect(found).toEqual(rows.map((row) => [...row]));
      },
    ),
    { numRuns: 60 },
  );
});

it.each(['\n', '\r\n', '\r'])(
  'says on which line of the file each row begins, with line breaks as %j',
  async (nl) => {
    const contents = Buffer.from(
      ['a,b', '1,2', '', '"x', 'y",3', '5,6', '"q', '', '', 'r",1', '7,8'].join(nl),
    );
    const lines: [string, number][] = [];
    for await (const { cells, line } of rowsOf(inTurn(cut(contents, 3)), 'utf-8', ','))
      lines.push([cells[0]?.slice(0, 1) ?? '', line]);
    expect(lines).toEqual([
      ['a', 1],
      ['1', 2],
      ['x', 4],
      ['5', 6],
      ['q', 7],
      ['7', 11],
    ]);
  },
);

it('is refused by its first row where nobody would have so many columns, and lets others in meanwhile', async () => {
  let turns = 0;
  const ticking = setInterval(() => turns++, 1);
  const wide = Buffer.from(`a,b\n${','.repeat(900_000)}\n`);
  const rows = read(wide, 65_536);
  await expect(rows).rejects.toThrow(/columns/);
  const short = await read(Buffer.from('a\n'.repeat(300_000)), 65_536);
  clearInterval(ticking);
  expect(short).toHaveLength(300_000);
  // Whoever waits for a turn gets one every few milliseconds.
  expect(turns).toBeGreaterThan(50);
});

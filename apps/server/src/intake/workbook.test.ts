// Workbooks and visiting cards become a table: as spreadsheets show them, whatever program wrote them, and nothing that is
// packed into one takes more time or memory than there is for it.
import { deflateRawSync } from 'node:zlib';
import excel from 'exceljs';
import fc from 'fast-check';
import { Tables } from './tables.js';
import { rowsOf } from './reading.js';
import { Workbooks } from './workbooks.js';
import { inTurn } from '../platform/upload.js';

const workbooks = new Workbooks();
const tables = new Tables(workbooks);
afterAll(() => workbooks.onApplicationShutdown());

const read = async (bytes: Buffer) => {
  const table = await tables.read([bytes]);
  const rows: { line: number; cells: string[] }[] = [];
  for await (const row of rowsOf(inTurn(table.pieces), table.encoding, table.separator, table.kind))
    rows.push({ line: row.line, cells: row.cells });
  return { ...table, rows };
};
const written = async (fill: (book: excel.Workbook) => void): Promise<Buffer> => {
  const book = new excel.Workbook();
  fill(book);
  return Buffer.from(await book.xlsx.writeBuffer());
};

interface Entry {
  readonly name: string;
  readonly bytes: Buffer;
  /** What the archive says of its size, where it lies. */
  readonly said?: number;
}

const crcTable = Array.from({ length: 256 }, (_, at) => {
  let value = at;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ 0xedb88320 : value >>> 1;
  return value >>> 0;
});
const crcOf = (bytes: Buffer): number => {
  let crc = 0xffffffff;
  for (const byte of bytes) crc = (crc >>> 8) ^ (crcTable[(crc ^ byte) & 255] ?? 0);
  return (crc ^ 0xffffffff) >>> 0;
};

/** An archive by hand (APPNOTE 6.3.3), so that it can lie. */
function zipped(entries: readonly Entry[]): Buffer {
  const parts: Buffer[] = [];
  const central: Buffer[] = [];
  let offset = 0;
  for (const { name, bytes, said = bytes.length } of entries) {
    const packed = deflateRawSync(bytes);
    const label = Buffer.from(name);
    const head = Buffer.alloc(26);
    head.writeUInt16LE(20, 0);
    head.writeUInt16LE(8, 4);
    head.writeUInt32LE(crcOf(bytes), 10);
    head.writeUInt32LE(packed.length, 14);
    head.writeUInt32LE(said, 18);
    head.writeUInt16LE(label.length, 22);
    const local = Buffer.concat([Buffer.from('PK\u0003\u0004', 'latin1'), head, label, packed]);
    const tail = Buffer.alloc(14);
    tail.writeUInt32LE(offset, 10);
    central.push(
      Buffer.concat([
        Buffer.from('PK\u0001\u0002\u0014\u0000', 'latin1'),
        head.subarray(0, 24),
        Buffer.from([head[24] ?? 0, head[25] ?? 0]),
        tail,
        label,
      ]),
    );
    parts.push(local);
    offset += local.length;
  }
  const list = Buffer.concat(central);
  const end = Buffer.alloc(18);
  end.writeUInt16LE(entries.length, 4);
  end.writeUInt16LE(entries.length, 6);
  end.writeUInt32LE(list.length, 8);
  end.writeUInt32LE(offset, 12);
  return Buffer.concat([...parts, list, Buffer.from('PK\u0005\u0006', 'latin1'), end]);
}

const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const rels = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const entry = (name: string, text: string): Entry => ({ name, bytes: Buffer.from(text) });
/** A workbook of one sheet, as other programs write it: with a prefix before each name and texts in the cells. */
const bare = (sheet: string, more: readonly Entry[] = []): Entry[] => [
  entry(
    'xl/workbook.xml',
    `<?xml version="1.0"?><x:workbook xmlns:x="${main}" xmlns:r="${rels}"><x:sheets><x:sheet name="One" sheetId="1" r:id="rId1"/></x:sheets></x:workbook>`,
  ),
  entry(
    'xl/_rels/workbook.xml.rels',
    `<Relationships><Relationship Id="rId1" Type="${rels}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
  ),
  entry('xl/worksheets/sheet1.xml', sheet),
  ...more,
];
const rowsXml = (rows: string): string =>
  `<x:worksheet xmlns:x="${main}"><x:sheetData>${rows}</x:sheetData></x:worksheet>`;

it('shows cells as the sheet does, each row by its number', async () => {
  const { rows, kind, sheets, sheetAt } = await read(
    await written((book) => {
      book.addWorksheet('Hidden', { state: 'hidden' }).addRow(['not this']);
      book.addWorksheet('Empty');
      const sheet = book.addWorksheet('Saturday');
      sheet.addRow(['Spring fair']);
      sheet.mergeCells('A1:D1');
      sheet.addRow([]);
      sheet.addRow(['name', 'mail', 'born', 'visits', 'zip', 'share', 'ok', 'sum']);
      const row = sheet.addRow([
        { richText: [{ text: 'Ä' }, { text: 'nne', font: { bold: true } }] },
        { text: 'aenne@example.org', hyperlink: 'mailto:aenne@example.org' },
        new Date(Date.UTC(1971, 3, 3)),
        0.1 + 0.2,
        7,
        { error: '#N/A' },
        true,
        { formula: '1+1', result: 2 },
      ]);
      row.getCell(3).numFmt = 'dd.mm.yyyy';
      row.getCell(5).numFmt = '00000';
      sheet.getCell('B9').value = 'line one\nline "two"';
      sheet.getCell('C9').value = new Date(Date.UTC(2026, 1, 3, 9, 30));
      sheet.getCell('C9').numFmt = 'd/m/yyyy hh:mm';
    }),
  );
  expect([kind, sheets, sheetAt]).toEqual(['workbook', ['Hidden', 'Empty', 'Saturday'], 2]);
  expect(rows).toEqual([
    { line: 1, cells: expect.arrayContaining(['Spring fair']) },
    { line: 3, cells: ['name', 'mail', 'born', 'visits', 'zip', 'share', 'ok', 'sum'] },
    {
      line: 4,
      cells: ['Änne', 'aenne@example.org', '1971-04-03', '0.3', '00007', '#N/A', 'true', '2'],
    },
    { line: 9, cells: ['', 'line one\nline "two"', '2026-02-03 09:30'] },
  ]);
});

it('reads another sheet when it is asked to, and refuses one that is not there', async () => {
  const bytes = await written((book) => {
    book.addWorksheet('A').addRow(['first']);
    book.addWorksheet('B').addRow(['second']);
  });
  const text = async (at: number): Promise<string> =>
    Buffer.concat((await tables.sheet([bytes], at)).pieces).toString();
  expect(await text(1)).toBe('second\n');
  await expect(text(2)).rejects.toThrow(/no such sheet/);
});

it('reads what other programs write: prefixes, texts in cells, no references, no rows’ numbers', async () => {
  const { rows } = await read(
    zipped(
      bare(
        rowsXml(
          `<x:row><x:c t="inlineStr"><x:is><x:t>mail</x:t></x:is></x:c><x:c t="str"><x:v>na_x006d_e</x:v></x:c></x:row>
           <x:row r="5"><x:c r="C5" t="d"><x:v>2026-03-02T00:00:00</x:v></x:c><x:c><x:v>5</x:v></x:c></x:row>`,
        ),
      ),
    ),
  );
  expect(rows).toEqual([
    { line: 1, cells: ['mail', 'name'] },
    { line: 5, cells: ['', '', '2026-03-02', '5'] },
  ]);
});

const long = Buffer.alloc(40 * 1024 * 1024, 'a');
it.each<[string, () => Buffer | Promise<Buffer>, RegExp]>([
  ['an archive of something else', () => zipped([entry('readme.txt', 'x')]), /another kind/],
  [
    'an OpenDocument sheet',
    () => zipped([entry('mimetype', 'application/vnd.oasis.opendocument.spreadsheet')]),
    /another kind/,
  ],
  [
    'half an archive',
    async () => (await written((b) => b.addWorksheet('A').addRow(['x']))).subarray(0, 900),
    /damaged/,
  ],
  [
    'a workbook with a password',
    () => Buffer.concat([Buffer.from([0xd0, 0xcf, 0x11, 0xe0]), Buffer.alloc(600)]),
    /password/,
  ],
  ['torn XML', () => zipped(bare('<x:worksheet><x:sheetData><x:row>')), /damaged/],
  [
    'XML with entities',
    () =>
      zipped(
        bare(
          `<!DOCTYPE x [<!ENTITY a "aaaa">]>${rowsXml('<x:row><x:c t="str"><x:v>&a;</x:v></x:c></x:row>')}`,
        ),
      ),
    /damaged/,
  ],
  [
    'a small part that is large when unpacked',
    () =>
      zipped(
        bare(rowsXml('<x:row><x:c><x:v>1</x:v></x:c></x:row>'), [
          { name: 'xl/styles.xml', bytes: long },
        ]),
      ),
    /more than can be unpacked/,
  ],
  [
    'a part that is larger than it says',
    () =>
      zipped(
        bare(rowsXml('<x:row><x:c><x:v>1</x:v></x:c></x:row>'), [
          { name: 'xl/styles.xml', bytes: long, said: 100 },
        ]),
      ),
    /damaged/,
  ],
  [
    'no sheet',
    () => zipped([entry('xl/workbook.xml', `<workbook xmlns="${main}"/>`)]),
    /no such sheet/,
  ],
])('refuses %s with words', async (_, bytes, words) => {
  await expect(read(await bytes())).rejects.toThrow(words);
});

it('unpacks no more than there is room for', async () => {
  // A text that all cells share makes a table of 750 MB of an archive of a few kilobytes.
  const shared = `<x:sst xmlns:x="${main}"><x:si><x:t>${'long '.repeat(50_000)}</x:t></x:si></x:sst>`;
  const row = '<x:row><x:c t="s"><x:v>0</x:v></x:c></x:row>';
  const bomb = zipped(bare(rowsXml(row.repeat(3000)), [entry('xl/sharedStrings.xml', shared)]));
  expect(bomb.length).toBeLessThan(1_000_000);
  await expect(read(bomb)).rejects.toThrow(/more than can be unpacked/);
}, 60_000);

it('takes whatever cells hold, and damaged bytes never end it', async () => {
  const cell = fc.oneof(
    fc.string({ unit: 'grapheme', maxLength: 20 }).map((text) => text.replace(/[\p{C}\s]/gu, 'x')),
    fc.constantFrom('=cmd()', "'=x", '<b>', '&amp;', '"', ',', ''),
  );
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 5 }),
      fc.option(fc.tuple(fc.nat(), fc.nat(255))),
      async (file, damage) => {
        const bytes = await written((book) => {
          const sheet = book.addWorksheet('A');
          for (const row of file) sheet.addRow(row);
        });
        if (damage) {
          bytes[damage[0] % bytes.length] = damage[1];
          await read(bytes).catch((error: unknown) => expect(error).toHaveProperty('status'));
          return;
        }
        const { rows } = await read(bytes);
        // Empty cells behind the last are not kept.
        const plain = (cells: readonly string[]): string[] => {
          const texts = cells.map((one) => one.replace(/^'(?=[=+\-@\t\r])/, ''));
          return texts.slice(0, texts.findLastIndex((one) => one !== '') + 1);
        };
        expect(rows.map(({ cells }) => plain(cells))).toEqual(
          file.map(plain).filter((cells) => cells.length > 0),
        );
      },
    ),
    { numRuns: 12 },
  );
}, 120_000);

it('makes a row of each card, in any encoding, with the fields’ own names over the columns', async () => {
  const card = 'BEGIN:VCARD\r\nVERSION:3.0\r\nN:Heron;Änne\r\nEMAIL:a@example.org\r\nEND:VCARD\r\n';
  for (const bytes of [
    Buffer.from(card),
    Buffer.from(`\ufeff${card}`, 'utf16le'),
    Buffer.from(card.replaceAll('\r\n', '\r')),
    Buffer.from(card, 'latin1'),
  ]) {
    const { rows, kind } = await read(bytes);
    expect(kind).toBe('cards');
    expect(rows).toMatchObject([
      { cells: expect.arrayContaining(['given name', 'email address']) },
      { line: 1, cells: expect.arrayContaining(['Änne', 'Heron', 'a@example.org']) },
    ]);
  }
  await expect(read(Buffer.from('BEGIN:VCALENDAR\nEND:VCALENDAR'))).resolves.toMatchObject({
    kind: 'text',
  });
});

it('is no workbook with a row so far below the others that a million empty ones would stand between them', async () => {
  const bytes = await written((book) => {
    const sheet = book.addWorksheet('A');
    sheet.getCell('A1').value = 'email';
    sheet.getCell('A1048576').value = 'a@example.com';
  });
  await expect(read(bytes)).rejects.toThrow();
  const some = await written((book) => {
    const sheet = book.addWorksheet('A');
    sheet.getCell('A1').value = 'email';
    sheet.getCell('A5000').value = 'a@example.com';
  });
  expect((await read(some)).rows.at(-1)).toMatchObject({ line: 5000 });
});

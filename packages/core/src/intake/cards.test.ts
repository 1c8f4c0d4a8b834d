// Visiting cards, as RFC 2426 and RFC 6350 have them and as address books write them.
import fc from 'fast-check';
import { vcard } from '../contacts/index.js';
import { cardColumns, CardReader, type CardRow } from './index.js';

const read = (text: string): CardRow[] => {
  const reader = new CardReader();
  for (const line of text.split(/\r\n|\n/)) reader.take(line);
  return reader.end();
};
const named = ({ cells }: CardRow): Record<string, string> =>
  Object.fromEntries(cardColumns.flatMap((column, at) => (cells[at] ? [[column, cells[at]]] : [])));

const card = (...lines: string[]): string =>
  ['BEGIN:VCARD', ...lines, 'END:VCARD', ''].join('\r\n');

it.each<[string, string, Record<string, string>]>([
  [
    'version 4',
    card(
      'VERSION:4.0',
      'FN:Ona Brightwell',
      'N:Brightwell;Ona;Maria;;',
      'EMAIL;PREF=2:ona@example.net',
      'EMAIL;PREF=1:ona@example.org',
      'TEL;VALUE=uri;TYPE="voice,cell":tel:+44-1632-960123',
      'ADR;TYPE=home:;;12 Mill Lane;Tarn;Tarnshire;QW1;Germany',
      'BDAY:19710403',
      'CATEGORIES:guest,choir\\, old',
      'NOTE:likes\\nferns',
    ),
    {
      'given name': 'Ona Maria',
      'family name': 'Brightwell',
      'email address': 'ona@example.org',
      'further addresses': 'ona@example.net',
      phone: '+44-1632-960123',
      street: '12 Mill Lane',
      town: 'Tarn',
      region: 'Tarnshire',
      postcode: 'QW1',
      country: 'Germany',
      birthday: '1971-04-03',
      note: 'likes\nferns',
      tags: 'guest, choir, old',
    },
  ],
  [
    'version 3 with groups, a folded line and a preferred type',
    card(
      'VERSION:3.0',
      'N:Heron;Juno',
      'item1.EMAIL;TYPE=INTERNET:second@example.org',
      'item2.EMAIL;TYPE=INTERNET,PREF:first@exam',
      ' ple.org',
      'ORG:Press;Desk',
      'TITLE:editor',
    ),
    {
      'given name': 'Juno',
      'family name': 'Heron',
      'email address': 'first@example.org',
      'further addresses': 'second@example.org',
      organisation: 'Press, Desk',
      position: 'editor',
    },
  ],
  [
    'version 2.1 in quoted-printable',
    card(
      'VERSION:2.1',
      'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:M=C3=B6ller;=',
      '=C3=84nne',
      'EMAIL;INTERNET;PREF:aenne@example.org',
    ),
    { 'given name': 'Änne', 'family name': 'Möller', 'email address': 'aenne@example.org' },
  ],
  [
    'a name in one piece only, and a line that is none',
    card('VERSION:4.0', 'FN:Ivo van Castellan', 'what is this', 'EMAIL:mailto:ivo@example.net'),
    { 'given name': 'Ivo van', 'family name': 'Castellan', 'email address': 'ivo@example.net' },
  ],
])('reads %s', (_, text, said) => expect(read(text).map(named)).toEqual([said]));

it('says on which line each begins, takes a card within a card for a part of it, and one without an end', () => {
  const text = `junk\n${card('FN:A', 'BEGIN:VCARD', 'FN:Inside', 'END:VCARD', 'EMAIL:a@example.org')}BEGIN:VCARD\nFN:B`;
  expect(read(text).map((row) => [row.line, named(row)['given name']])).toEqual([
    [2, 'A'],
    [9, 'B'],
  ]);
});

it('reads back what was written', () => {
  const text = fc
    .string({ unit: 'grapheme', maxLength: 30 })
    .map((one) => one.replace(/[\p{C}\p{Z}]/gu, 'x'));
  fc.assert(
    fc.property(text, text, text, text, (given, family, street, title) => {
      const written = vcard({
        name: `${given} ${family}`,
        given: `g${given}`,
        family,
        emails: ['a@example.org', 'b@example.org'],
        phones: [],
        title,
        street,
        town: '',
        region: '',
        postcode: '',
        country: 'x',
      });
      const [row] = read(written).map(named);
      expect(row).toEqual({
        'given name': `g${given}`,
        ...(family ? { 'family name': family } : {}),
        'email address': 'a@example.org',
        'further addresses': 'b@example.org',
        ...(title ? { position: title } : {}),
        ...(street ? { street } : {}),
        country: 'x',
      });
    }),
  );
});

it('takes whatever stands in a file, in time that grows with it', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ maxLength: 50 }), { maxLength: 50 }), (lines) => {
      read(['BEGIN:VCARD', ...lines].join('\n'));
    }),
  );
  const [huge] = read(
    card(
      `PHOTO:${'A'.repeat(5_000_000)}`,
      ...Array.from({ length: 100_000 }, () => ' QUJD'),
      'FN:A',
    ),
  );
  expect(huge && named(huge)['given name']).toBe('A');
});

describe('a card that is written to take long', () => {
  it('is read in the time of its length: a line that is folded sign by sign', () => {
    const note = Array.from({ length: 150_000 }, () => ' x').join('\r\n');
    const started = performance.now();
    const [row] = read(card('FN:Ona', `NOTE:x\r\n${note}`));
    // In the square of the length this takes minutes.
    expect(performance.now() - started).toBeLessThan(5000);
    expect(row && named(row)['note']).toMatch(/^x{90000,100000}$/);
  });

  it('is read in the time of its length: a line of coded signs that goes on and on', () => {
    const lines = Array.from({ length: 30_000 }, () => '=C3=A4=').join('\r\n');
    const started = performance.now();
    const [row] = read(card(`NOTE;ENCODING=QUOTED-PRINTABLE;CHARSET=UTF-8:${lines}\r\n`));
    expect(performance.now() - started).toBeLessThan(5000);
    expect(row && named(row)['note']).toMatch(/^ä{10000,}$/);
  });
});

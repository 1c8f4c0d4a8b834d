// Visiting cards.
import fc from 'fast-check';
import { vcard } from './index.js';

const nobody = {
  name: 'no name',
  given: '',
  family: '',
  emails: [],
  phones: [],
  title: '',
  street: '',
  town: '',
  region: '',
  postcode: '',
  country: '',
};
const octets = (text: string): number => new TextEncoder().encode(text).length;

it('says what there is, and nothing else', () => {
  expect(vcard(nobody)).toBe('BEGIN:VCARD\r\nVERSION:4.0\r\nFN:no name\r\nEND:VCARD\r\n');
  expect(
    vcard({
      ...nobody,
      name: 'Ada Núñez',
      given: 'Ada',
      family: 'Núñez',
      emails: ['ada@example.com', 'núñez@example.org'],
      phones: ['+44 20 7946 0000'],
      title: 'Head; gardener, retired',
      street: 'Walk 3\nBack door',
      town: 'Quillwater',
    }).split('\r\n'),
  ).toEqual([
    'BEGIN:VCARD',
    'VERSION:4.0',
    'FN:Ada Núñez',
    'N:Núñez;Ada;;;',
    'EMAIL;PREF=1:ada@example.com',
    'EMAIL:núñez@example.org',
    'TEL:+44 20 7946 0000',
    'TITLE:Head\\; gardener\\, retired',
    'ADR:;;Walk 3\\nBack door;Quillwater;;;',
    'END:VCARD',
    '',
  ]);
});

it('has no line over 75 octets, cuts no sign, and reads back whole', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 300 }), (name) => {
      const card = vcard({ ...nobody, name });
      for (const line of card.split('\r\n')) expect(octets(line)).toBeLessThanOrEqual(75);
      const [, , said = ''] = card.replaceAll('\r\n ', '').split('\r\n');
      const read = said
        .slice('FN:'.length)
        .replace(/\\(.)/g, (_, sign: string) => (sign === 'n' ? '\n' : sign));
      expect(read).toBe(name.replace(/\r\n|\r|\n/g, '\n'));
    }),
  );
});

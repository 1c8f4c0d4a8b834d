import fc from 'fast-check';
import {
  addDays,
  allowed,
  checkPassword,
  dayBegins,
  dayIn,
  isDay,
  isTimeZone,
  roles,
  seesEverybody,
  momentOf,
} from './index.js';

describe('who may do what', () => {
  it('lets only the coordinator send', () =>
    expect(roles.filter((role) => allowed(role, 'send'))).toEqual(['coordinator']));
  it('shows members only their own people', () =>
    expect(roles.filter(seesEverybody)).toEqual(['coordinator', 'manager']));
});

describe('passwords', () => {
  it.each([
    ['short', 'too-short'],
    ['x'.repeat(201), 'too-long'],
    ['aaaaaaaaaaaa', 'common'],
    ['abcabcabcabc', 'common'],
    ['password123', 'common'],
    ['P@ssw0rd2026', 'common'],
    ['Passwort!!!!!', 'common'],
    ['welcome-2026', 'common'],
    ['qwertyuiop', 'common'],
    ['asdfghjkl1', 'common'],
    ['1234567890', 'common'],
    ['0987654321', 'common'],
    ['abcdefghij', 'common'],
    ['1q2w3e4r5t', 'common'],
    ['sunshine99', 'common'],
    ['Quillwater1', 'common'],
    ['111111222222', 'common'],
    ['dragondragon', 'common'],
  ])('refuses %j', (password, error) =>
    expect(checkPassword(password)).toEqual({ ok: false, error }),
  );
  it.each([
    'correct horse battery staple',
    'the fern by the third bench',
    'tr0ub4dor&3x',
    'Wiesenschaumkraut',
    'garden gate 1931',
    'jgnvbq94bn4',
  ])('takes %j', (password) => expect(checkPassword(password).ok).toBe(true));
  it('counts signs, not bytes', () => expect(checkPassword('🌱🌿🍃🌳🌲🌴🌵🌾🌷🌹').ok).toBe(true));
});

describe('days', () => {
  it.each([
    ['2026-02-28', 1, '2026-03-01'],
    ['2028-02-28', 1, '2028-02-29'],
    ['2026-01-01', -1, '2025-12-31'],
  ])('%s and %i days is %s', (day, days, expected) => expect(addDays(day, days)).toBe(expected));

  it('go forth and back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 30_000 }),
        (days) => addDays(addDays('2000-01-01', days), -days) === '2000-01-01',
      ),
    );
  });

  it('begin at midnight where the office is', () => {
    const moment = new Date('2026-03-01T23:30:00Z');
    expect(dayIn('UTC', moment)).toBe('2026-03-01');
    expect(dayIn('Pacific/Auckland', moment)).toBe('2026-03-02');
    expect(dayIn('America/Lima', moment)).toBe('2026-03-01');
  });

  it.each(['2026-02-30', '2026-13-01', '26-01-01', 'today', ''])('%j is none', (text) =>
    expect(isDay(text)).toBe(false),
  );
  it('know time zones', () => {
    expect(isTimeZone('Europe/Lisbon')).toBe(true);
    expect(isTimeZone('Middle/Earth')).toBe(false);
    expect(isTimeZone('')).toBe(false);
  });
});

describe('what the clocks show, as a moment', () => {
  it.each<[string, string, string, string, string]>([
    ['an ordinary hour', 'Europe/Lisbon', '2026-07-01T09:05', '2026-07-01T08:05:00.000Z', 'once'],
    [
      'an hour that is skipped: the next that is',
      'Europe/Lisbon',
      '2026-03-29T01:30',
      '2026-03-29T01:00:00.000Z',
      'skipped',
    ],
    [
      'the first minute skipped',
      'Europe/Berlin',
      '2026-03-29T02:00',
      '2026-03-29T01:00:00.000Z',
      'skipped',
    ],
    [
      'the last minute before',
      'Europe/Berlin',
      '2026-03-29T01:59',
      '2026-03-29T00:59:00.000Z',
      'once',
    ],
    [
      'the first minute after',
      'Europe/Berlin',
      '2026-03-29T03:00',
      '2026-03-29T01:00:00.000Z',
      'once',
    ],
    [
      'an hour that comes twice: the first',
      'Europe/Berlin',
      '2026-10-25T02:30',
      '2026-10-25T00:30:00.000Z',
      'twice',
    ],
    ['the hour after it', 'Europe/Berlin', '2026-10-25T03:00', '2026-10-25T02:00:00.000Z', 'once'],
    [
      'a skip at midnight stays on its day',
      'America/Santiago',
      '2026-09-06T00:30',
      '2026-09-06T04:00:00.000Z',
      'skipped',
    ],
    [
      'half an hour skipped',
      'Australia/Lord_Howe',
      '2026-10-04T02:15',
      '2026-10-03T15:30:00.000Z',
      'skipped',
    ],
    [
      'half an hour twice',
      'Australia/Lord_Howe',
      '2026-04-05T01:45',
      '2026-04-04T14:45:00.000Z',
      'twice',
    ],
    [
      'no change of clocks at all',
      'Asia/Kolkata',
      '2026-03-29T02:30',
      '2026-03-28T21:00:00.000Z',
      'once',
    ],
  ])('%s', (_, zone, text, at, clocks) =>
    expect(momentOf(zone, text)).toEqual({ at: new Date(at), clocks }),
  );

  it.each([
    '',
    'next Tuesday',
    '2026-13-01T00:00',
    '2026-03-02',
    '2026-03-02T9:00',
    '+12026-03-02T09:00',
  ])('knows no moment in “%s”', (text) => expect(momentOf('UTC', text)).toBeUndefined());
});

describe('the beginning of a day', () => {
  // Clocks are set at midnight in some of these, or by half an hour, and one island left out a day.
  const zones = [
    'Atlantic/Azores',
    'America/Havana',
    'Asia/Beirut',
    'Australia/Lord_Howe',
    'Africa/Cairo',
    'America/Asuncion',
    'Pacific/Apia',
    'Pacific/Kiritimati',
    'Europe/Lisbon',
    'America/St_Johns',
    'UTC',
  ];
  it.each(zones)('is the first moment of it in %s, all years round', (zone) => {
    for (let at = Date.UTC(2010, 0, 1); at < Date.UTC(2031, 0, 1); at += 86_400_000) {
      const day = new Date(at).toISOString().slice(0, 10);
      const begins = dayBegins(zone, day);
      // A day that is left out begins with the next one.
      expect(dayIn(zone, begins) >= day).toBe(true);
      expect(dayIn(zone, new Date(begins.getTime() - 1)) < day).toBe(true);
    }
  });
});

import fc from 'fast-check';
import { addDays, allowed, checkPassword, dayIn, isDay, isTimeZone, roles, seesEverybody } from './index.js';

describe('who may do what', () => {
  it('lets only the coordinator send', () => expect(roles.filter((role) => allowed(role, 'send'))).toEqual(['coordinator']));
  it('shows members only their own people', () => expect(roles.filter(seesEverybody)).toEqual(['coordinator', 'manager']));
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
  ])('refuses %j', (password, error) => expect(checkPassword(password)).toEqual({ ok: false, error }));
  it.each(['correct horse battery staple', 'the fern by the third bench', 'tr0ub4dor&3x', 'Wiesenschaumkraut', 'garden gate 1931', 'jgnvbq94bn4'])('takes %j', (password) => expect(checkPassword(password).ok).toBe(true));
  it('counts signs, not bytes', () => expect(checkPassword('🌱🌿🍃🌳🌲🌴🌵🌾🌷🌹').ok).toBe(true));
});

describe('days', () => {
  it.each([
    ['2026-02-28', 1, '2026-03-01'],
    ['2028-02-28', 1, '2028-02-29'],
    ['2026-01-01', -1, '2025-12-31'],
  ])('%s and %i days is %s', (day, days, expected) => expect(addDays(day, days)).toBe(expected));

  it('go forth and back', () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 30_000 }), (days) => addDays(addDays('2000-01-01', days), -days) === '2000-01-01'));
  });

  it('begin at midnight where the office is', () => {
    const moment = new Date('2026-03-01T23:30:00Z');
    expect(dayIn('UTC', moment)).toBe('2026-03-01');
    expect(dayIn('Pacific/Auckland', moment)).toBe('2026-03-02');
    expect(dayIn('America/Lima', moment)).toBe('2026-03-01');
  });

  it.each(['2026-02-30', '2026-13-01', '26-01-01', 'today', ''])('%j is none', (text) => expect(isDay(text)).toBe(false));
  it('know time zones', () => {
    expect(isTimeZone('Europe/Lisbon')).toBe(true);
    expect(isTimeZone('Middle/Earth')).toBe(false);
    expect(isTimeZone('')).toBe(false);
  });
});

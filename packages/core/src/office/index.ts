// The office itself: who may do what, and what a valid setting is.
import { fail, ok, type Id, type Result } from '../kernel/index.js';
import { isCommonPassword } from './common-passwords.js';
import { formatByZone } from './local-time.js';

export { pauseAfterFailures, workKinds, WORTH_SAYING, type WorkKind } from './work.js';
export { months } from './months.js';
export { dayBegins, momentOf, type LocalMoment } from './local-time.js';

export type UserId = Id<'User'>;
export type SessionId = Id<'Session'>;

export const roles = ['coordinator', 'manager', 'member'] as const;
export type Role = (typeof roles)[number];

/** Who is asking. Members see their own people; coordinator and manager see everybody. */
export interface Viewer {
  readonly userId: UserId;
  readonly role: Role;
}

const browsers = [
  [/\bEdg(e|A|iOS)?\//, 'Edge'],
  [/\b(Firefox|FxiOS)\//, 'Firefox'],
  [/(Chrome|Chromium|CriOS)\//, 'Chrome'],
  [/\bSafari\//, 'Safari'],
] as const;
const systems = [
  [/\b(iPhone|iPad)\b/, 'iOS'],
  [/\bAndroid\b/, 'Android'],
  [/\bWindows\b/, 'Windows'],
  [/\bMac OS X\b/, 'macOS'],
  [/\bLinux\b/, 'Linux'],
] as const;
const first = (list: readonly (readonly [RegExp, string])[], text: string): string | undefined =>
  list.find(([pattern]) => pattern.test(text))?.[1];

/** What a browser's `User-Agent` (RFC 9110, 10.1.5) says, in few words; a guess, for people only. */
export function deviceOf(agent: string): string {
  const text = agent.slice(0, 400);
  const parts = [first(browsers, text), first(systems, text)].filter(Boolean);
  return parts.join(' on ') || 'a browser';
}

/**
 * Whether somebody comes in: `invited` has not chosen a password yet; `no sign-in` only looks after people;
 * `closed` has left and can be let in again.
 */
export type AccountState = 'active' | 'invited' | 'no sign-in' | 'closed';

export const accountState = (account: {
  readonly address: string | null;
  readonly hasPassword: boolean;
  readonly isClosed: boolean;
}): AccountState =>
  account.isClosed
    ? 'closed'
    : account.address === null
      ? 'no sign-in'
      : account.hasPassword
        ? 'active'
        : 'invited';

export type Deed =
  'change people' | 'erase people' | 'make segments' | 'write letters' | 'send' | 'settings';

const may: Record<Role, readonly Deed[]> = {
  coordinator: [
    'change people',
    'erase people',
    'make segments',
    'write letters',
    'send',
    'settings',
  ],
  manager: [],
  member: ['change people', 'make segments'],
};

/** A role that is none, whatever it came from, may nothing. */
export const allowed = (role: Role, deed: Deed): boolean =>
  Object.hasOwn(may, role) && may[role].includes(deed);

const whoSeesEverybody: ReadonlySet<Role> = new Set(['coordinator', 'manager']);
export const seesEverybody = (role: Role): boolean => whoSeesEverybody.has(role);

const DAY_MS = 24 * 3600_000;
/** A session ends after so long without use, and after so long in all. */
export const SESSION = { idleMs: 14 * DAY_MS, wholeMs: 90 * DAY_MS } as const;

/** When a session ends that began at `began` and was used at `used`. */
export const sessionEnd = (began: Date, used: Date): Date =>
  new Date(Math.min(used.getTime() + SESSION.idleMs, began.getTime() + SESSION.wholeMs));

export function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return name.length > 0;
  } catch {
    return false;
  }
}

/** A language tag (BCP 47), such as `en` or `pt-BR`. */
export function isLanguage(tag: string): boolean {
  try {
    return tag.length <= 35 && Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
}

export const PASSWORD_LENGTH = { min: 10, max: 200 } as const;

/** Passwords are judged by their length and a list of common ones, not by which signs they mix (NIST SP 800-63B). */
export function checkPassword(
  password: string,
): Result<string, 'too-short' | 'too-long' | 'common'> {
  const length = [...password].length;
  if (length < PASSWORD_LENGTH.min) return fail('too-short');
  if (length > PASSWORD_LENGTH.max) return fail('too-long');
  return isCommonPassword(password) ? fail('common') : ok(password);
}

/** The calendar day at `at` in the office's time zone, `YYYY-MM-DD`. */
export const dayIn = (timeZone: string, at: Date): string => dayFormat(timeZone).format(at);

const dayFormat = formatByZone({ year: 'numeric', month: '2-digit', day: '2-digit' });

/** `day` moved by `days`, both `YYYY-MM-DD` (proleptic Gregorian, no time zone involved). */
export function addDays(day: string, days: number): string {
  const at = new Date(`${day}T00:00:00Z`);
  at.setUTCDate(at.getUTCDate() + days);
  return at.toISOString().slice(0, 10);
}

/** The same day of another month, or the last one of it where there is none: 31 March less a month is 28 February. */
export function addMonths(day: string, months: number): string {
  const at = new Date(`${day}T00:00:00Z`);
  const wanted = at.getUTCDate();
  at.setUTCDate(1);
  at.setUTCMonth(at.getUTCMonth() + months);
  const last = new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth() + 1, 0)).getUTCDate();
  at.setUTCDate(Math.min(wanted, last));
  return at.toISOString().slice(0, 10);
}

export const isDay = (text: string): boolean =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) &&
  !Number.isNaN(Date.parse(`${text}T00:00:00Z`)) &&
  addDays(text, 0) === text;

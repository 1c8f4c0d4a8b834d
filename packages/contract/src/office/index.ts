import {
  isLanguage,
  isTimeZone,
  checkPassword,
  PASSWORD_LENGTH,
  roles,
  type AccountState,
  type Role,
  type WorkKind,
} from '@palabra/core/office';
import { parsePlainAddress, addressProblems } from '@palabra/core/contacts';
import {
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MAX_ID, Parsed, type Moment } from '../wire/index.js';

const address = (value: unknown) => {
  const parsed = parsePlainAddress(typeof value === 'string' ? value : '');
  return parsed.ok
    ? parsed
    : {
        ok: false as const,
        error: `This is not an email address: ${addressProblems[parsed.error]}.`,
      };
};
const password = (value: unknown) => {
  const checked = checkPassword(typeof value === 'string' ? value : '');
  if (checked.ok) return checked;
  const why =
    checked.error === 'common'
      ? 'This password is one of the first that are tried. Take a few words that don’t belong together.'
      : `A password has ${PASSWORD_LENGTH.min} to ${PASSWORD_LENGTH.max} signs.`;
  return { ok: false as const, error: why };
};
const zone = (value: unknown) =>
  typeof value === 'string' && isTimeZone(value)
    ? { ok: true as const }
    : { ok: false as const, error: 'This is not a time zone, such as Europe/Lisbon.' };

const language = (value: unknown) =>
  typeof value === 'string' && isLanguage(value)
    ? { ok: true as const }
    : { ok: false as const, error: 'This is not a language, such as en or pt-BR.' };

export class SignInRequest {
  @IsString() @MaxLength(254) address!: string;
  @IsString() @MaxLength(200) password!: string;
}

const COUNTRY = /^(?:[A-Z]{2})?$/;

export class SetUpRequest {
  /** Printed where the program was started. */
  @IsString()
  @Length(1, 40, { message: 'Enter the code that Palabra printed when it was started.' })
  code!: string;
  @IsString()
  @Length(1, 120, { message: 'The office needs a name of 1 to 120 signs.' })
  officeName!: string;
  @IsString()
  @Length(1, 500, { message: 'Every letter has to carry a postal address: fill it in.' })
  postalAddress!: string;
  @Parsed(zone) timeZone!: string;
  /** Where the office dials from (ISO 3166), where it can be told. */
  @IsOptional()
  @Matches(COUNTRY, { message: 'A country is two letters, such as PT.' })
  country?: string;
  @IsString() @Length(1, 120, { message: 'Say who you are: 1 to 120 signs.' }) name!: string;
  @Parsed(address) address!: string;
  @Parsed(password) password!: string;
}

export class OfficeRequest {
  @IsInt() version!: number;
  @IsString()
  @Length(1, 120, { message: 'The office needs a name of 1 to 120 signs.' })
  name!: string;
  @IsString() @MaxLength(500) postalAddress!: string;
  @Parsed(zone) timeZone!: string;
  /** Where the office dials from (ISO 3166); empty is not said. */
  @Matches(COUNTRY, { message: 'A country is two letters, such as PT.' }) country!: string;
  @IsString() @MaxLength(120) senderName!: string;
  @Parsed(address) senderAddress!: string;
  @IsBoolean() mailUnknown!: boolean;
  /** After so many soft bounces in a row a person is held back; 0 never does. */
  @IsInt()
  @Min(0, { message: 'Soft bounces are counted from 0 to 20.' })
  @Max(20, { message: 'Soft bounces are counted from 0 to 20.' })
  softBounceLimit!: number;
  /** The same for refusals for good that nobody could read. */
  @IsInt()
  @Min(0, { message: 'Refusals are counted from 0 to 20.' })
  @Max(20, { message: 'Refusals are counted from 0 to 20.' })
  unreadBounceLimit!: number;
  /** Of the letters, as a language tag (BCP 47). */
  @Parsed(language) language!: string;
  @IsBoolean() hiddenLink!: boolean;
  /** Seconds between the word to send and the first letter; 0 is none. */
  @IsInt()
  @Min(0, { message: 'The pause is 0 to 60 seconds.' })
  @Max(60, { message: 'The pause is 0 to 60 seconds.' })
  holdSeconds!: number;
  @IsString()
  @Matches(/^(#[0-9a-fA-F]{6})?$/, { message: 'A colour is written as #8a2b5b.' })
  colour!: string;
}

export class PasswordRequest {
  @IsString() @MaxLength(200) current!: string;
  @Parsed(password) next!: string;
}

const addressOrNone = (value: unknown) => (value === '' ? { ok: true as const } : address(value));

export class AccountRequest {
  @IsString()
  @Length(1, 120, { message: 'An account needs a name of 1 to 120 signs.' })
  name!: string;
  /** Empty for a colleague who never signs in. */
  @Parsed(addressOrNone) address!: string;
  @IsIn(roles, { message: 'The role is coordinator, manager or member.' }) role!: Role;
}

/** Of one's own: a new address needs the password. */
export class OwnAccountRequest {
  @IsString()
  @Length(1, 120, { message: 'An account needs a name of 1 to 120 signs.' })
  name!: string;
  @Parsed(address) address!: string;
  @IsString() @MaxLength(200) password!: string;
}

export class HandOverRequest {
  /** Who looks after them from now on. */
  @IsInt() @Min(1) @Max(MAX_ID) to!: number;
}

export class LinkRequest {
  /** Whether the link is mailed; it is always told to who asks. */
  @IsBoolean() mail!: boolean;
}

export class ForgottenRequest {
  @IsString() @MaxLength(254) address!: string;
}

export class EntryRequest {
  @IsString() @MaxLength(200) token!: string;
  @Parsed(password) password!: string;
}

/** What a link for setting a password is for. */
export interface EntryReply {
  readonly office: string;
  readonly name: string;
  readonly address: string;
  readonly isFirst: boolean;
}

export interface LinkReply {
  readonly link: string;
  readonly until: Moment;
}

export interface Account {
  readonly id: number;
  readonly name: string;
  /** Null for who does not see to the accounts, and of who never signs in. */
  readonly address: string | null;
  readonly role: Role;
}

export interface AccountLine extends Account {
  readonly state: AccountState;
  /** When this account was last used; null for who does not see to the accounts. */
  readonly seenAt: Moment | null;
}

export interface SessionLine {
  readonly id: number;
  readonly since: Moment;
  readonly seenAt: Moment;
  /** What the browser says it is, in few words. */
  readonly device: string;
  readonly isThis: boolean;
}

export interface OfficeReply {
  readonly version: number;
  readonly name: string;
  readonly postalAddress: string;
  readonly timeZone: string;
  readonly country: string;
  readonly senderName: string;
  readonly senderAddress: string;
  readonly mailUnknown: boolean;
  readonly softBounceLimit: number;
  readonly unreadBounceLimit: number;
  readonly language: string;
  readonly hiddenLink: boolean;
  readonly colour: string;
  /** Seconds between the word to send and the first letter. */
  readonly holdSeconds: number;
}

/** Work that failed several times in a row: it is tried again at `nextAt`, or was given up. */
export interface StandstillReply {
  readonly work: WorkKind;
  readonly thing: number;
  readonly what: string;
  readonly reason: string;
  readonly failures: number;
  readonly nextAt: Moment | null;
}

export interface MeReply {
  readonly needsSetUp: boolean;
  readonly user?: Account & { readonly address: string; readonly isNew: boolean };
  readonly office?: OfficeReply;
  /** The demo world's own mailboxes, when it runs. */
  readonly demo?: { readonly outside: string };
}

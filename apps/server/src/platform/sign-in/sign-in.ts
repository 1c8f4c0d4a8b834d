// Sign-in: passwords by argon2, a session cookie, and limits that all processes share.
import { createHash, randomBytes } from 'node:crypto';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { hash, verify } from '@node-rs/argon2';
import { parseAddress } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import type { SessionLine } from '@palabra/contract/office';
import { deviceOf, sessionEnd, SESSION, type UserId } from '@palabra/core/office';
import { serialize } from 'cookie';
import type { Config } from '../config.js';
import { Database, type Db } from '../database.js';
import { Keys } from '../keys.js';
import { refuse } from '../refusals.js';
import {
  DAY,
  dropOldTries,
  forgetTries,
  forgiveTry,
  mayTry,
  MINUTE,
  type Limit,
} from '../throttle.store.js';
import { CLOCK, CONFIG } from '../time.js';
import { Upkeep } from '../upkeep.js';
import * as store from './sign-in.store.js';
import { Turns } from './turns.js';

export const COOKIE = 'palabra_session';
/** Says that somebody signed in with this browser before; lets nobody in by itself. */
export const BROWSER_COOKIE = 'palabra_browser';
const BROWSER_DAYS = 365;

/** From one client to one account, from a browser that is known, with a session at hand, and at the first visit. */
const FEW: Limit = { most: 10, windowMs: 15 * MINUTE };
/** To one account from everywhere. Only browsers that never signed in to it are held up by that. */
const FROM_EVERYWHERE: Limit = { most: 100, windowMs: 15 * MINUTE };

/** Verified when there is no such account, so that both cases take as long. */
const NOBODY = hash('no such account');
/** A password takes tens of milliseconds and megabytes to check. */
const turns = new Turns(2, 60, 12);
const check = (who: string, passwordHash: string, password: string): Promise<boolean> =>
  turns.take(who, () => verify(passwordHash, password));

export const hashPassword = (password: string): Promise<string> => hash(password);
const newToken = (): string => randomBytes(32).toString('base64url');
const sha = (text: string): Buffer => createHash('sha256').update(text).digest();
/** A key of the throttle for what should not stand in it. */
export const shortName = (text: string): string => sha(text).toString('hex').slice(0, 32);
const tooMany = () => refuse('too-many-tries');

/** What a browser shows of itself. */
export interface Visitor {
  /** The client's address, as far as a proxy we trust says so. */
  readonly client: string;
  readonly browserToken: string | undefined;
  /** Its `User-Agent`. */
  readonly agent: string | undefined;
}

@Injectable()
export class SignIn implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly keys: Keys,
    private readonly upkeep: Upkeep,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.upkeep.register(async () => {
      const now = this.clock.now();
      await dropOldTries(this.database.db, now);
      await store.dropOldSessions(this.database.db, now);
      await store.dropOldEntryLinks(this.database.db, now);
      await store.forgetOldBrowsers(this.database.db, new Date(now.getTime() - BROWSER_DAYS * DAY));
      return false;
    });
  }

  /** Checks address and password; returns the Set-Cookie headers of a new session. A try counts before it is checked. */
  async signIn(
    address: string,
    password: string,
    { client, browserToken, agent }: Visitor,
  ): Promise<string[]> {
    const { db } = this.database;
    const parsed = parseAddress(address);
    const key = parsed.ok ? parsed.value.key : '';
    const user = key === '' ? undefined : await store.userByAddress(db, key);
    const isKnown =
      browserToken !== undefined &&
      user !== undefined &&
      (await store.isKnownBrowser(db, sha(browserToken), user.id));
    const near = isKnown
      ? `browser ${shortName(browserToken)}`
      : `sign-in ${shortName(key)} ${client}`;
    const everywhere = `account ${shortName(key)}`;
    const now = this.clock.now();
    if (
      !(await mayTry(db, near, FEW, now)) ||
      !(isKnown || (await mayTry(db, everywhere, FROM_EVERYWHERE, now)))
    )
      throw tooMany();
    // Who has chosen no password yet can't come in by one.
    const isRight = await check(client, user?.passwordHash ?? (await NOBODY), password);
    if (!user?.passwordHash || !isRight) throw refuse('wrong-password');
    await forgetTries(db, near);
    if (!isKnown) await forgiveTry(db, everywhere);
    return this.open(user.id, { agent, browserToken: isKnown ? browserToken : undefined });
  }

  /** A new session, and the mark of a browser that is known from now on. */
  async open(
    userId: UserId,
    { agent, browserToken = newToken() }: Pick<Visitor, 'agent'> & Partial<Visitor>,
    db: Db = this.database.db,
  ): Promise<string[]> {
    const token = newToken();
    const now = this.clock.now();
    await store.addSession(db, {
      tokenHash: sha(token),
      userId,
      device: deviceOf(agent ?? ''),
      createdAt: now,
      seenAt: now,
      expiresAt: sessionEnd(now, now),
    });
    await store.rememberBrowser(db, sha(browserToken), userId, now);
    // The cookie outlives a session that nobody uses; when one ends is decided here.
    return [
      this.cookie(COOKIE, token, SESSION.wholeMs / 1000),
      this.cookie(BROWSER_COOKIE, browserToken, (BROWSER_DAYS * DAY) / 1000),
    ];
  }

  async user(token: string | undefined): Promise<store.User | undefined> {
    if (!token) return undefined;
    const { db } = this.database;
    const now = this.clock.now();
    const found = await store.sessionUser(db, sha(token), now);
    if (found && now.getTime() - found.seenAt.getTime() > 60 * MINUTE)
      await store.extendSession(db, sha(token), now, sessionEnd(found.createdAt, now));
    return found?.user;
  }

  async signOut(token: string | undefined): Promise<string> {
    if (token) await store.endSession(this.database.db, sha(token));
    return this.cookie(COOKIE, '', 0);
  }

  async changePassword(
    user: store.User,
    token: string,
    browserToken: string | undefined,
    current: string,
    next: string,
  ): Promise<void> {
    await this.needPassword(user, current);
    const passwordHash = await hashPassword(next);
    await this.database.transaction(async (tx) => {
      await store.setPassword(tx, user.id, passwordHash);
      await store.dropEntryLinks(tx, user.id);
      await store.endOtherSessions(tx, user.id, sha(token));
      await store.forgetOtherBrowsers(tx, user.id, sha(browserToken ?? ''));
    });
  }

  /** That it is still whose session it is; refused when the password is another one. */
  async needPassword(user: store.User, typed: string, at = 'current'): Promise<void> {
    const { db } = this.database;
    const subject = `password ${user.id}`;
    if (!(await mayTry(db, subject, FEW, this.clock.now()))) throw tooMany();
    if (!user.passwordHash || !(await check(subject, user.passwordHash, typed)))
      throw refuse('present-password').about(at);
    await forgetTries(db, subject);
  }

  /** The secret part of a link with which `userId` chooses a password, in the caller's transaction; earlier ones are void. */
  async makeLink(db: Db, userId: UserId, forMs: number): Promise<{ token: string; until: Date }> {
    const token = newToken();
    const until = new Date(this.clock.now().getTime() + forMs);
    // One lives: two that are made at the same moment come one after the other.
    await store.lockUser(db, userId);
    await store.dropEntryLinks(db, userId);
    await store.addEntryLink(db, { userId, tokenHash: sha(token), expiresAt: until });
    return { token, until };
  }

  async userOfLink(token: string): Promise<store.User | undefined> {
    return store.userByEntryLink(this.database.db, sha(token), this.clock.now());
  }

  /** Sets the password of whose link this is, once; everything that was open of theirs ends, and a session begins. */
  async enter(token: string, password: string, agent: string | undefined): Promise<string[]> {
    const user = await this.userOfLink(token);
    if (!user) throw refuse('link-used');
    const passwordHash = await hashPassword(password);
    return this.database.transaction(async (tx) => {
      // Whoever was faster has used it, or it was made void meanwhile.
      await store.lockUser(tx, user.id);
      if (!(await store.userByEntryLink(tx, sha(token), this.clock.now())))
        throw refuse('link-used');
      await store.dropEntryLinks(tx, user.id);
      await store.setPassword(tx, user.id, passwordHash);
      await store.endAllSessions(tx, user.id);
      return this.open(user.id, { agent }, tx);
    });
  }

  async sessions(user: store.User, token: string): Promise<SessionLine[]> {
    const found = await store.sessionsOf(this.database.db, user.id, this.clock.now());
    return found.map(({ id, createdAt, seenAt, device, tokenHash }) => ({
      id,
      since: createdAt.toISOString(),
      seenAt: seenAt.toISOString(),
      device: device || 'a browser',
      isThis: tokenHash.equals(sha(token)),
    }));
  }

  /** The first visit is for whoever started the program, and read its code there. */
  async needSetUpCode(typed: string, client: string): Promise<void> {
    const subject = `set-up ${client}`;
    if (!(await mayTry(this.database.db, subject, FEW, this.clock.now()))) throw tooMany();
    if (!this.keys.isSetUpCode(typed)) throw refuse('wrong-code');
    await forgetTries(this.database.db, subject);
  }

  private cookie(which: string, value: string, maxAge: number): string {
    return serialize(which, value, {
      httpOnly: true,
      sameSite: 'lax',
      path: '/',
      maxAge,
      secure: this.config.publicUrl.startsWith('https:'),
    });
  }
}

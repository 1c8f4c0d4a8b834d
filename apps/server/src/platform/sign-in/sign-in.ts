// Sign-in: passwords by argon2, a session cookie, throttling that all processes share.
import { createHash, randomBytes } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import { hash, verify } from '@node-rs/argon2';
import { parseAddress } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { serialize } from 'cookie';
import type { Config } from '../config.js';
import { Database } from '../database.js';
import { Problem } from '../problem.js';
import { CLOCK, CONFIG } from '../time.js';
import * as store from './sign-in.store.js';

export const COOKIE = 'palabra_session';
const SESSION_MS = 14 * 24 * 3600_000;
const WINDOW_MS = 15 * 60_000;
const PER_ACCOUNT = 10;
const PER_CLIENT = 50;
/** Verified when there is no such account, so that both cases take as long. */
const NOBODY = hash('no such account');

export const hashPassword = (password: string): Promise<string> => hash(password);
const sha = (text: string): Buffer => createHash('sha256').update(text).digest();

@Injectable()
export class SignIn {
  constructor(
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** Checks address and password; returns the Set-Cookie header of a new session. */
  async signIn(address: string, password: string, client: string): Promise<string> {
    const { db } = this.database;
    const now = this.clock.now();
    const parsed = parseAddress(address);
    const key = parsed.ok ? parsed.value.key : '';
    const account = `account ${sha(key).toString('hex').slice(0, 32)}`;
    const origin = `client ${client}`;
    const since = new Date(now.getTime() - WINDOW_MS);
    if ((await store.failuresSince(db, account, since)) >= PER_ACCOUNT || (await store.failuresSince(db, origin, since)) >= PER_CLIENT) {
      throw new Problem(429, 'Too many tries. Wait a quarter of an hour, then try again.');
    }
    const user = key === '' ? undefined : await store.userByAddress(db, key);
    const right = await verify(user?.passwordHash ?? (await NOBODY), password);
    if (!user || !right) {
      await store.addFailure(db, account, now);
      await store.addFailure(db, origin, now);
      throw new Problem(401, 'Address and password don’t belong together. Check both.');
    }
    await store.dropFailures(db, account);
    await store.dropOldSessions(db, now);
    return this.open(user.id);
  }

  async open(userId: number): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    const now = this.clock.now();
    await store.addSession(this.database.db, { tokenHash: sha(token), userId, createdAt: now, seenAt: now, expiresAt: new Date(now.getTime() + SESSION_MS) });
    return this.cookie(token, SESSION_MS / 1000);
  }

  async user(token: string | undefined): Promise<store.User | undefined> {
    if (!token) return undefined;
    const { db } = this.database;
    const now = this.clock.now();
    const found = await store.sessionUser(db, sha(token), now);
    if (found && now.getTime() - found.seenAt.getTime() > 3600_000) await store.extendSession(db, sha(token), now, new Date(now.getTime() + SESSION_MS));
    return found?.user;
  }

  async signOut(token: string | undefined): Promise<string> {
    if (token) await store.endSession(this.database.db, sha(token));
    return this.cookie('', 0);
  }

  async changePassword(user: store.User, token: string, current: string, next: string): Promise<void> {
    if (!(await verify(user.passwordHash, current))) throw new Problem(422, 'The present password is not right.', { errors: [{ path: 'current', message: 'The present password is not right.' }] });
    await store.setPassword(this.database.db, user.id, await hashPassword(next));
    await store.endOtherSessions(this.database.db, user.id, sha(token));
  }

  private cookie(value: string, maxAge: number): string {
    return serialize(COOKIE, value, { httpOnly: true, sameSite: 'lax', path: '/', maxAge, secure: this.config.publicUrl.startsWith('https:') });
  }
}

import { and, count, eq, gt, lt, ne } from 'drizzle-orm';
import type { Db } from '../database.js';
import { sessions, signInFailures, users } from './sign-in.table.js';

export type User = typeof users.$inferSelect;

export async function userByAddress(db: Db, addressKey: string): Promise<User | undefined> {
  const [user] = await db.select().from(users).where(eq(users.addressKey, addressKey));
  return user;
}

export async function userById(db: Db, id: number): Promise<User | undefined> {
  const [user] = await db.select().from(users).where(eq(users.id, id));
  return user;
}

export const allUsers = (db: Db): Promise<User[]> => db.select().from(users).orderBy(users.id);

export async function addUser(db: Db, user: Omit<User, 'id'>): Promise<User> {
  const [added] = await db.insert(users).values(user).returning();
  if (!added) throw new Error('the account was not written');
  return added;
}

export const setPassword = async (db: Db, id: number, passwordHash: string): Promise<void> => {
  await db.update(users).set({ passwordHash }).where(eq(users.id, id));
};

export const addSession = async (db: Db, session: typeof sessions.$inferInsert): Promise<void> => {
  await db.insert(sessions).values(session);
};

export async function sessionUser(db: Db, tokenHash: Buffer, now: Date): Promise<{ user: User; seenAt: Date } | undefined> {
  const [row] = await db
    .select({ user: users, seenAt: sessions.seenAt })
    .from(sessions)
    .innerJoin(users, eq(users.id, sessions.userId))
    .where(and(eq(sessions.tokenHash, tokenHash), gt(sessions.expiresAt, now)));
  return row;
}

export const extendSession = async (db: Db, tokenHash: Buffer, seenAt: Date, expiresAt: Date): Promise<void> => {
  await db.update(sessions).set({ seenAt, expiresAt }).where(eq(sessions.tokenHash, tokenHash));
};

export const endSession = async (db: Db, tokenHash: Buffer): Promise<void> => {
  await db.delete(sessions).where(eq(sessions.tokenHash, tokenHash));
};

export const endOtherSessions = async (db: Db, userId: number, keep: Buffer): Promise<void> => {
  await db.delete(sessions).where(and(eq(sessions.userId, userId), ne(sessions.tokenHash, keep)));
};

export const dropOldSessions = async (db: Db, now: Date): Promise<void> => {
  await db.delete(sessions).where(lt(sessions.expiresAt, now));
};

export async function failuresSince(db: Db, subject: string, since: Date): Promise<number> {
  const [row] = await db
    .select({ failures: count() })
    .from(signInFailures)
    .where(and(eq(signInFailures.subject, subject), gt(signInFailures.at, since)));
  return row?.failures ?? 0;
}

export const addFailure = async (db: Db, subject: string, at: Date): Promise<void> => {
  await db.insert(signInFailures).values({ subject, at });
};

export const dropFailures = async (db: Db, subject: string): Promise<void> => {
  await db.delete(signInFailures).where(eq(signInFailures.subject, subject));
};

import type { UserId } from '@palabra/core/office';
import { and, eq, gt, lt, ne } from 'drizzle-orm';
import type { Db } from '../database.js';
import { knownBrowsers, sessions, users } from './sign-in.table.js';

export type User = typeof users.$inferSelect;

export async function userByAddress(db: Db, addressKey: string): Promise<User | undefined> {
  const [user] = await db.select().from(users).where(eq(users.addressKey, addressKey));
  return user;
}

export async function userById(db: Db, id: UserId): Promise<User | undefined> {
  const [user] = await db.select().from(users).where(eq(users.id, id));
  return user;
}

export const allUsers = (db: Db): Promise<User[]> => db.select().from(users).orderBy(users.id);

export async function addUser(db: Db, user: Omit<User, 'id'>): Promise<User> {
  const [added] = await db.insert(users).values(user).returning();
  if (!added) throw new Error('the account was not written');
  return added;
}

export const setPassword = async (db: Db, id: UserId, passwordHash: string): Promise<void> => {
  await db.update(users).set({ passwordHash }).where(eq(users.id, id));
};

export const addSession = async (db: Db, session: typeof sessions.$inferInsert): Promise<void> => {
  await db.insert(sessions).values(session);
};

export async function sessionUser(
  db: Db,
  tokenHash: Buffer,
  now: Date,
): Promise<{ user: User; createdAt: Date; seenAt: Date } | undefined> {
  const [row] = await db
    .select({ user: users, createdAt: sessions.createdAt, seenAt: sessions.seenAt })
    .from(sessions)
    .innerJoin(users, eq(users.id, sessions.userId))
    .where(and(eq(sessions.tokenHash, tokenHash), gt(sessions.expiresAt, now)));
  return row;
}

export const extendSession = async (
  db: Db,
  tokenHash: Buffer,
  seenAt: Date,
  expiresAt: Date,
): Promise<void> => {
  await db.update(sessions).set({ seenAt, expiresAt }).where(eq(sessions.tokenHash, tokenHash));
};

export const endSession = async (db: Db, tokenHash: Buffer): Promise<void> => {
  await db.delete(sessions).where(eq(sessions.tokenHash, tokenHash));
};

export const endOtherSessions = async (db: Db, userId: UserId, keep: Buffer): Promise<void> => {
  await db.delete(sessions).where(and(eq(sessions.userId, userId), ne(sessions.tokenHash, keep)));
};

export const dropOldSessions = async (db: Db, now: Date): Promise<void> => {
  await db.delete(sessions).where(lt(sessions.expiresAt, now));
};

export async function isKnownBrowser(db: Db, tokenHash: Buffer, userId: UserId): Promise<boolean> {
  const [row] = await db
    .select({ userId: knownBrowsers.userId })
    .from(knownBrowsers)
    .where(and(eq(knownBrowsers.tokenHash, tokenHash), eq(knownBrowsers.userId, userId)));
  return row !== undefined;
}

export const rememberBrowser = async (
  db: Db,
  tokenHash: Buffer,
  userId: UserId,
  seenAt: Date,
): Promise<void> => {
  await db
    .insert(knownBrowsers)
    .values({ tokenHash, userId, seenAt })
    .onConflictDoUpdate({ target: knownBrowsers.tokenHash, set: { userId, seenAt } });
};

export const forgetOtherBrowsers = async (db: Db, userId: UserId, keep: Buffer): Promise<void> => {
  await db
    .delete(knownBrowsers)
    .where(and(eq(knownBrowsers.userId, userId), ne(knownBrowsers.tokenHash, keep)));
};

export const forgetOldBrowsers = async (db: Db, before: Date): Promise<void> => {
  await db.delete(knownBrowsers).where(lt(knownBrowsers.seenAt, before));
};

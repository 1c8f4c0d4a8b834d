import type { SessionId, UserId } from '@palabra/core/office';
import { and, desc, eq, gt, lt, max, ne } from 'drizzle-orm';
import type { Db } from '../database.js';
import { entryLinks, knownBrowsers, sessions, users } from './sign-in.table.js';

/** Everybody of the office, whether they sign in or not. */
export type Colleague = typeof users.$inferSelect;
/** Who signs in. */
export type User = Colleague & { readonly address: string };

const signsIn = (colleague: Colleague | undefined): User | undefined =>
  colleague?.address != null && colleague.closedAt === null
    ? { ...colleague, address: colleague.address }
    : undefined;

export async function userByAddress(db: Db, addressKey: string): Promise<User | undefined> {
  const [user] = await db.select().from(users).where(eq(users.addressKey, addressKey));
  return signsIn(user);
}

/** Whether somebody else has this address, signing in or not any more. */
export async function isTaken(db: Db, addressKey: string, self?: UserId): Promise<boolean> {
  const [user] = await db
    .select({ id: users.id })
    .from(users)
    .where(eq(users.addressKey, addressKey));
  return user !== undefined && user.id !== self;
}

export async function userById(db: Db, id: UserId): Promise<Colleague | undefined> {
  const [user] = await db.select().from(users).where(eq(users.id, id));
  return user;
}

/** Holds the accounts, so that two can't each leave the office to the other. */
export const lockUsers = (db: Db): Promise<Colleague[]> =>
  db.select().from(users).orderBy(users.id).for('update');

export const allUsers = (db: Db): Promise<Colleague[]> => db.select().from(users).orderBy(users.id);

export async function addUser(
  db: Db,
  user: Omit<typeof users.$inferInsert, 'id'>,
): Promise<Colleague> {
  const [added] = await db.insert(users).values(user).returning();
  if (!added) throw new Error('the account was not written');
  return added;
}

export async function changeUser(
  db: Db,
  id: UserId,
  values: Partial<Omit<Colleague, 'id'>>,
): Promise<Colleague | undefined> {
  const [changed] = await db.update(users).set(values).where(eq(users.id, id)).returning();
  return changed;
}

export const setPassword = async (db: Db, id: UserId, passwordHash: string): Promise<void> => {
  await db.update(users).set({ passwordHash }).where(eq(users.id, id));
};

export const addEntryLink = async (db: Db, link: typeof entryLinks.$inferInsert): Promise<void> => {
  await db.insert(entryLinks).values(link);
};

export const dropOldEntryLinks = async (db: Db, now: Date): Promise<void> => {
  await db.delete(entryLinks).where(lt(entryLinks.expiresAt, now));
};

/** Whose link this is, while it can be used. */
export async function userByEntryLink(
  db: Db,
  tokenHash: Buffer,
  now: Date,
): Promise<User | undefined> {
  const [row] = await db
    .select({ user: users })
    .from(entryLinks)
    .innerJoin(users, eq(users.id, entryLinks.userId))
    .where(and(eq(entryLinks.tokenHash, tokenHash), gt(entryLinks.expiresAt, now)));
  return signsIn(row?.user);
}

/** Whoever changes how somebody comes in waits for who does so just now. */
export const lockUser = async (db: Db, id: UserId): Promise<void> => {
  await db.select({ id: users.id }).from(users).where(eq(users.id, id)).for('update');
};

/** Voids all of somebody's links. */
export async function dropEntryLinks(db: Db, userId: UserId): Promise<void> {
  await db.delete(entryLinks).where(eq(entryLinks.userId, userId));
}

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
  const user = signsIn(row?.user);
  return row && user && { ...row, user };
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

export const sessionsOf = (
  db: Db,
  userId: UserId,
  now: Date,
): Promise<(typeof sessions.$inferSelect)[]> =>
  db
    .select()
    .from(sessions)
    .where(and(eq(sessions.userId, userId), gt(sessions.expiresAt, now)))
    .orderBy(desc(sessions.seenAt));

/** False when this person has no such session. */
export async function endSessionOf(db: Db, userId: UserId, id: SessionId): Promise<boolean> {
  const rows = await db
    .delete(sessions)
    .where(and(eq(sessions.id, id), eq(sessions.userId, userId)))
    .returning({ id: sessions.id });
  return rows.length > 0;
}

export const endAllSessions = async (db: Db, userId: UserId): Promise<void> => {
  await db.delete(sessions).where(eq(sessions.userId, userId));
  await db.delete(knownBrowsers).where(eq(knownBrowsers.userId, userId));
};

/** When each of them was last here, as far as a session or a browser tells. */
export async function lastSeen(db: Db): Promise<ReadonlyMap<UserId, Date>> {
  const rows = await db
    .select({ userId: sessions.userId, at: max(sessions.seenAt) })
    .from(sessions)
    .groupBy(sessions.userId);
  return new Map(rows.flatMap(({ userId, at }) => (at ? [[userId, at]] : [])));
}

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

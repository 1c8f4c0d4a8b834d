import { sql } from 'drizzle-orm';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { execute, isPassing } from './database.js';

let test: TestDatabase;
beforeAll(async () => {
  test = await openTestDatabase();
}, 60_000);
afterAll(() => test.drop());

const reason = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
    return 'none';
  } catch (error) {
    const { message, cause } = error as Error & { cause?: Error };
    return cause?.message ?? message;
  }
};

it('refuses the root handle inside a transaction, where it would wait for itself', async () => {
  const { database } = test;
  const one = sql`select 1 as one`;
  expect(await reason(database.transaction(() => execute(database.db, one)))).toContain(
    'root handle',
  );
  expect(
    await reason(database.transaction(() => database.transaction(() => Promise.resolve(1)))),
  ).toContain('root handle');
  expect(await reason(database.transaction((tx) => execute(tx, one)))).toBe('none');
  // Begun inside, it may go on behind it.
  let later: Promise<unknown> | undefined;
  await database.transaction(() => {
    later = new Promise((resolve) => setTimeout(resolve, 50)).then(() => execute(database.db, one));
    return Promise.resolve();
  });
  await expect(later).resolves.toMatchObject({ rows: [{ one: 1 }] });
});

it('does again what a server ended to break a deadlock, and nothing else', async () => {
  const { database } = test;
  const failing = (code: string) => {
    let tries = 0;
    return async (): Promise<number> => {
      tries++;
      if (tries < 3) throw Object.assign(new Error('ended'), { code });
      return Promise.resolve(tries);
    };
  };
  await expect(database.transaction(failing('40P01'))).resolves.toBe(3);
  await expect(database.transaction(failing('40001'))).resolves.toBe(3);
  await expect(database.transaction(failing('23505'))).rejects.toMatchObject({ code: '23505' });
  expect(isPassing({ code: '23505' })).toBe(false);
});

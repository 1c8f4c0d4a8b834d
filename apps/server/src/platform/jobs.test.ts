// Work that fails: tried again after growing pauses while that may help, then it stands still and says why.
import { pauseAfterFailures, workKinds } from '@palabra/core/office';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { until } from '../testing/server.js';
import { readConfig } from './config.js';
import { GiveUp, Jobs } from './jobs.js';
import { Problem } from './problem.js';
import { stoppedWork } from './standstill.store.js';
import { systemIds } from './time.js';

let test: TestDatabase;
let jobs: Jobs;
const runs: number[] = [];
const left: number[] = [];
/** What the next runs end with. */
let fate: () => Promise<void> = () => Promise.resolve();
let now = new Date('2026-03-02T09:00:00Z');
beforeAll(async () => {
  test = await openTestDatabase();
  jobs = new Jobs(test.database, readConfig({}), { now: () => now }, systemIds);
  jobs.register('change', {
    run: (id) => {
      runs.push(id);
      return fate();
    },
    unfinished: () => Promise.resolve([]),
    what: (id: number) => Promise.resolve(`baking bread ${id}`),
    leave: (id) => {
      left.push(id);
      return Promise.resolve();
    },
  });
}, 60_000);
afterAll(async () => {
  await jobs.onApplicationShutdown();
  await test.drop();
});
beforeEach(() => {
  runs.length = 0;
  left.length = 0;
});

const fails = (error: Error) => () => Promise.reject(error);
const pass = (ms: number): void => {
  now = new Date(now.getTime() + ms);
};
/** Asks for it so often, each time when the pause is over. */
const times = async (count: number, id: number): Promise<void> => {
  for (let one = 1; one <= count; one++) {
    await jobs.runNow('change', id);
    pass(pauseAfterFailures(one) ?? 0);
  }
};
const stopped = async () =>
  (await stoppedWork(test.database.db)).map(({ thing, what, reason, failures, stoppedAt }) => ({
    thing,
    what,
    reason,
    failures,
    isOver: stoppedAt !== null,
  }));

it('is tried again after growing pauses, not before, then given up; its reason names nobody', async () => {
  fate = fails(new Error('no flour for ada@example.com'));
  const pauses: number[] = [];
  for (let failures = 1; failures <= 5; failures++) {
    await jobs.runNow('change', 1);
    await jobs.runNow('change', 1);
    expect(runs).toHaveLength(failures);
    const pause = pauseAfterFailures(failures) ?? 0;
    pass(pause - 1);
    await jobs.runNow('change', 1);
    expect(runs).toHaveLength(failures);
    pass(1);
    pauses.push(pause);
  }
  expect(pauses).toEqual([...pauses].sort((a, b) => a - b));
  const failed = {
    thing: 1,
    what: 'baking bread 1',
    reason: 'an error of the program (Error); the log says where',
  };
  expect(await stopped()).toEqual([{ ...failed, failures: 5, isOver: false }]);
  await jobs.runNow('change', 1);
  pass(24 * 3_600_000);
  await jobs.runNow('change', 1);
  expect(runs).toHaveLength(6);
  expect(await stopped()).toEqual([{ ...failed, failures: 6, isOver: true }]);
});

it('goes on when somebody says so', async () => {
  expect(await jobs.decide('change', 1, 'again')).toBe(true);
  await until('it to be tried', () => Promise.resolve(runs.length === 1));
  pass(3_600_000);
  fate = () => Promise.resolve();
  await jobs.runNow('change', 1);
  expect(await stopped()).toEqual([]);
  expect(await jobs.decide('change', 1, 'again')).toBe(false);
});

it('is left as it is when somebody says that', async () => {
  fate = fails(new Problem(422, '/problems/kitchen/no-oven', 'There is no oven.'));
  await times(6, 2);
  expect(await stopped()).toMatchObject([{ thing: 2, reason: 'There is no oven.', isOver: true }]);
  expect(await jobs.decide('change', 2, 'leave')).toBe(true);
  expect(left).toEqual([2]);
  expect(await stopped()).toEqual([]);
  expect(await jobs.decide('unheard of', 2, 'leave')).toBe(false);
});

it('is given up at once when no further try would help', async () => {
  fate = fails(new GiveUp('the oven is sold'));
  await times(2, 3);
  expect(runs).toHaveLength(1);
  expect(await stopped()).toMatchObject([{ thing: 3, reason: 'the oven is sold', isOver: true }]);
  await jobs.decide('change', 3, 'leave');
});

it('begins to count anew after a success, and does not count what passes by itself', async () => {
  for (let one = 0; one < 12; one++) {
    fate = one % 4 === 3 ? () => Promise.resolve() : fails(new Error('x'));
    await jobs.runNow('change', 4);
    pass(3_600_000);
  }
  expect(runs).toHaveLength(12);
  fate = fails(Object.assign(new Error('gone'), { code: 'ECONNRESET' }));
  await times(12, 5);
  expect(await stopped()).toEqual([]);
});

it('does not start while nobody does a kind of work', async () => {
  const missing = workKinds.filter((kind) => kind !== 'change').join(', ');
  await expect(jobs.start()).rejects.toThrow(`nobody does this work: ${missing}`);
});

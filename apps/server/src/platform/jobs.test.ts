// Work that fails: tried again while that may help, then it stands still and says why.
import { until } from '../testing/server.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { readConfig } from './config.js';
import { Jobs, type Work } from './jobs.js';
import { Problem } from './problem.js';
import { stoppedWork } from './standstill.store.js';
import { systemClock, systemIds } from './time.js';

let test: TestDatabase;
let jobs: Jobs;
const runs: number[] = [];
const left: number[] = [];
/** What the next runs end with. */
let fate: () => Promise<void> = () => Promise.resolve();
beforeAll(async () => {
  test = await openTestDatabase();
  jobs = new Jobs(test.database, readConfig({}), systemClock, systemIds);
  const work: Work = {
    name: 'baking',
    run: (id) => {
      runs.push(id);
      return fate();
    },
    unfinished: () => Promise.resolve([]),
    what: (id) => Promise.resolve(`baking bread ${id}`),
    leave: (id) => {
      left.push(id);
      return Promise.resolve();
    },
  };
  jobs.register(work);
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
const times = async (count: number, id: number): Promise<void> => {
  for (let one = 0; one < count; one++) await jobs.runNow('baking', id);
};
const stopped = async () =>
  (await stoppedWork(test.database.db)).map(({ thing, what, reason }) => ({ thing, what, reason }));

it('stops after the same failure five times, is not tried any more, and names nobody in its reason', async () => {
  fate = fails(new Error('no flour for ada@example.com'));
  await times(8, 1);
  expect(runs).toHaveLength(5);
  expect(await stopped()).toEqual([
    {
      thing: 1,
      what: 'baking bread 1',
      reason: 'an error of the program (Error); the log says where',
    },
  ]);
});

it('goes on when somebody says so, and stands still again by itself', async () => {
  expect(await jobs.decide('baking', 1, 'again')).toBe(true);
  await until('it to stand still', async () => {
    await jobs.runNow('baking', 1);
    return (await stopped()).length === 1;
  });
  expect(runs.length).toBe(5);
  expect(await stopped()).toHaveLength(1);
  fate = () => Promise.resolve();
  expect(await jobs.decide('baking', 1, 'again')).toBe(true);
  await until('it to run', () => Promise.resolve(runs.length > 5));
  expect(await stopped()).toEqual([]);
  expect(await jobs.decide('baking', 1, 'again')).toBe(false);
});

it('is left as it is when somebody says that', async () => {
  fate = fails(new Problem(422, 'There is no oven.'));
  await times(5, 2);
  expect(await stopped()).toEqual([
    { thing: 2, what: 'baking bread 2', reason: 'There is no oven.' },
  ]);
  expect(await jobs.decide('baking', 2, 'leave')).toBe(true);
  expect(left).toEqual([2]);
  expect(await stopped()).toEqual([]);
  expect(await jobs.decide('unheard of', 2, 'leave')).toBe(false);
});

it('does not count failures that differ, that a success lies between, or that pass', async () => {
  for (let one = 0; one < 12; one++) {
    fate = fails(Object.assign(new Error('x'), { code: one % 2 === 0 ? '23505' : '22001' }));
    await times(1, 3);
  }
  for (let one = 0; one < 12; one++) {
    fate = one % 4 === 3 ? () => Promise.resolve() : fails(new Error('x'));
    await times(1, 4);
  }
  fate = fails(Object.assign(new Error('gone'), { code: 'ECONNRESET' }));
  await times(12, 5);
  expect(await stopped()).toEqual([]);
});

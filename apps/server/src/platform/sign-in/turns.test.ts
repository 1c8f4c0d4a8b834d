import { Turns } from './turns.js';

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

it('does so much at once and no more, in the order of asking', async () => {
  const turns = new Turns(2, 100, 100);
  let now = 0;
  let most = 0;
  const done: number[] = [];
  await Promise.all(
    Array.from({ length: 20 }, (_, at) =>
      turns.take(`client ${at}`, async () => {
        most = Math.max(most, ++now);
        await pause(2);
        now--;
        done.push(at);
      }),
    ),
  );
  expect(most).toBe(2);
  expect(done).toEqual([...done].sort((a, b) => a - b));
});

it('lets nobody fill the line alone, and gives turns back whatever the work ends with', async () => {
  const turns = new Turns(1, 6, 3);
  const slow = () => pause(5);
  const failing = async (): Promise<void> => {
    await pause(5);
    throw new Error('wrong');
  };
  const greedy = await Promise.allSettled(
    Array.from({ length: 10 }, () => turns.take('greedy', failing)),
  );
  expect(
    greedy.filter(
      ({ status, ...end }) =>
        status === 'rejected' && (end as PromiseRejectedResult).reason.status === 503,
    ),
  ).toHaveLength(7);
  const both = await Promise.allSettled([
    ...Array.from({ length: 10 }, () => turns.take('greedy', slow)),
    turns.take('modest', slow),
  ]);
  expect(both.map(({ status }) => status)).toEqual([
    ...Array.from({ length: 3 }, () => 'fulfilled'),
    ...Array.from({ length: 7 }, () => 'rejected'),
    'fulfilled',
  ]);
  const all = await Promise.allSettled(
    Array.from({ length: 12 }, (_, at) => turns.take(`client ${at}`, slow)),
  );
  expect(all.filter(({ status }) => status === 'fulfilled')).toHaveLength(7);
});

/** @jest-environment ./apps/web/src/testing/environment.mjs */
// People: what is asked anew after a change, and who is chosen.
import { afterEach, expect, it } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { clear, show, type Asked } from '../testing/render';
import { useChangeContactMutation, usePersonQuery } from './contacts.api';
import { countTags, useChoosing } from './selection';

const asks = (asked: readonly Asked[], path: string): number =>
  asked.filter((one) => one.method === 'GET' && one.path === path).length;
afterEach(clear);

function Two() {
  const three = usePersonQuery(3);
  const four = usePersonQuery(4);
  const [change] = useChangeContactMutation();
  return (
    <>
      <p>{three.data && four.data ? 'both are here' : 'waiting'}</p>
      <button onClick={() => void change({ id: 3, version: 1, values: { town: 'Ash' } })}>
        change the third
      </button>
    </>
  );
}

it('asks anew for the person who was changed, and for nobody else', async () => {
  const { user, asked } = show(<Two />, { answers: () => ({ changeSet: 1, version: 2 }) });
  await screen.findByText('both are here');
  await user.click(screen.getByRole('button'));
  await waitFor(() => expect(asks(asked, '/people/3')).toBe(2));
  expect(asks(asked, '/people/4')).toBe(1);
});

const row = (id: number, ...tags: number[]) => ({ id, tags }) as never;

function Choosing({ list }: { readonly list: string }) {
  const choosing = useChoosing(list, () => [row(1), row(2), row(3)]);
  const { chosen } = choosing;
  return (
    <>
      <output>{chosen.all ? 'all' : [...chosen.people.keys()].join(' ') || 'nobody'}</output>
      <button onClick={() => choosing.toggle([row(1), row(2)], true)}>one and two</button>
      <button onClick={() => choosing.toggle([row(2)], false)}>not two</button>
      <button onClick={() => choosing.all()}>all</button>
    </>
  );
}

it('chooses one by one, everybody, and everybody in sight but one', async () => {
  const { user } = show(<Choosing list="a" />);
  const press = (name: string) => user.click(screen.getByRole('button', { name }));
  const chosen = (): string => screen.getByRole('status').textContent;
  await press('one and two');
  expect(chosen()).toBe('1 2');
  await press('not two');
  expect(chosen()).toBe('1');
  await press('all');
  expect(chosen()).toBe('all');
  await press('not two');
  expect(chosen()).toBe('1 3');
  await user.keyboard('{Escape}');
  expect(chosen()).toBe('nobody');
});

it('counts tags, the most frequent first', () =>
  expect(countTags([[1, 2], [2], [3, 2], []])).toEqual([
    { id: 2, count: 3 },
    { id: 1, count: 1 },
    { id: 3, count: 1 },
  ]));

/** @jest-environment ./apps/web/src/testing/environment.mjs */
// People: what is asked anew after a change, and who is chosen.
import { afterEach, expect, it } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { clear, show, type Asked } from '../testing/render';
import { useChangeContactMutation, usePersonQuery } from './contacts.api';
import { useState } from 'react';
import { countTags, isWithin, meantBy, sizeOf, useChoosing } from './selection';

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

function Choosing() {
  const [q, setQ] = useState('a');
  const choosing = useChoosing({ q }, 3);
  const { chosen } = choosing;
  const seen = [row(1), row(2), row(3)].filter((one) => choosing.has(one, (id) => id !== 3)).length;
  return (
    <>
      <output>
        {sizeOf(chosen)}, {seen} seen: {JSON.stringify(meantBy(chosen))}
      </output>
      <button onClick={() => choosing.toggle([row(1), row(2)], true)}>one and two</button>
      <button onClick={() => choosing.toggle([row(2)], false)}>not two</button>
      <button onClick={() => choosing.all()}>all</button>
      <button onClick={() => setQ('b')}>another list</button>
    </>
  );
}

it('chooses one by one, and everybody but some, however the list is narrowed', async () => {
  const { user } = show(<Choosing />);
  const press = (name: string) => user.click(screen.getByRole('button', { name }));
  const chosen = (): string => screen.getByRole('status').textContent;
  await press('one and two');
  expect(chosen()).toBe('2, 2 seen: {"ids":[1,2]}');
  await press('not two');
  expect(chosen()).toBe('1, 1 seen: {"ids":[1]}');
  await press('all');
  expect(chosen()).toBe('3, 3 seen: {"q":"a"}');
  await press('not two');
  expect(chosen()).toBe('2, 2 seen: {"q":"a","except":[2]}');
  // Another list: who of it was in the first is asked for.
  await press('another list');
  expect(chosen()).toBe('2, 1 seen: {"q":"a","except":[2]}');
  await press('one and two');
  expect(chosen()).toBe('3, 2 seen: {"q":"a"}');
  await user.keyboard('{Escape}');
  expect(chosen()).toBe('0, 0 seen: {"ids":[]}');
});

it.each([
  [{ tag: 1, q: 'a' }, { tag: 1 }, true],
  [{ tag: 1 }, { tag: 1, q: undefined }, true],
  [{ q: 'ab' }, { q: 'a' }, false],
  [{}, { tag: 1 }, false],
])('%j asks for more than %j: %s', (inner, outer, is) => expect(isWithin(inner, outer)).toBe(is));

it('counts tags, the most frequent first', () =>
  expect(countTags([[1, 2], [2], [3, 2], []])).toEqual([
    { id: 2, count: 3 },
    { id: 1, count: 1 },
    { id: 3, count: 1 },
  ]));

/** @jest-environment ./apps/web/src/testing/environment.mjs */
// The one table: sorted, arranged, chosen from, walked by keys.
import { afterEach, expect, it } from '@jest/globals';
import { screen, within } from '@testing-library/react';
import { useState } from 'react';
import { clear, show } from '../../testing/render';
import { Table, type Column } from '.';

interface Plant {
  readonly id: number;
  readonly name: string;
  readonly height: number | null;
}
const plants: readonly Plant[] = [
  { id: 1, name: 'yarrow', height: 60 },
  { id: 2, name: 'ash', height: 3500 },
  { id: 3, name: 'moss', height: null },
  { id: 4, name: 'fern', height: 90 },
];
const columns: readonly Column<Plant>[] = [
  {
    id: 'name',
    name: 'name',
    fixed: true,
    sort: ({ name }) => name,
    view: ({ id, name }) => <a href={`/plants/${id}`}>{name}</a>,
  },
  { id: 'height', name: 'height', sort: ({ height }) => height, view: ({ height }) => height },
];

function Plants() {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  return (
    <Table
      name="plants"
      label="Plants"
      columns={columns}
      source={{ rows: plants }}
      keyOf={({ id }) => id}
      selection={{
        has: ({ id }) => chosen.has(id),
        toggle: (rows, on) =>
          setChosen((before) => {
            const next = new Set(before);
            for (const { id } of rows)
              if (on) next.add(id);
              else next.delete(id);
            return next;
          }),
        all: false,
        onAll: () => undefined,
        nameOf: ({ name }) => name,
        bar: undefined,
      }}
    />
  );
}

const names = (): string[] => screen.getAllByRole('link').map(({ textContent }) => textContent);
const isChosen = (name: string): boolean =>
  screen.getByRole<HTMLInputElement>('checkbox', { name: `Choose ${name}` }).checked;
afterEach(clear);

it('sorts by a column, back, and not at all; what has no value comes last', async () => {
  const { user } = show(<Plants />);
  expect(names()).toEqual(['yarrow', 'ash', 'moss', 'fern']);
  await user.click(screen.getByRole('button', { name: 'name' }));
  expect(names()).toEqual(['ash', 'fern', 'moss', 'yarrow']);
  const height = screen.getByRole('button', { name: 'height' });
  await user.click(height);
  await user.click(height);
  const once = names();
  expect(once.at(-1)).toBe('moss');
  expect(screen.getByRole('columnheader', { name: 'height' })).toHaveProperty(
    'ariaSort',
    expect.any(String),
  );
});

it('keeps its arrangement, and forgets columns that are gone', async () => {
  localStorage.setItem(
    'palabra.table.plants',
    JSON.stringify({
      order: ['colour', 'height', 'name'],
      shown: { colour: true, name: false },
      sorting: [{ id: 'colour', desc: true }],
      pinned: ['colour'],
    }),
  );
  const { user } = show(<Plants />);
  const heads = (): string[] =>
    screen
      .getAllByRole('columnheader')
      .filter((head) => head.querySelector('[role=dialog]') === null)
      .map(({ textContent }) => textContent)
      .filter((text) => text !== '');
  // What is always shown is shown, whatever was kept.
  expect(heads()).toEqual(['height', 'name']);
  await user.click(screen.getByRole('button', { name: 'Arrange the columns' }));
  await user.click(screen.getByRole('checkbox', { name: 'height' }));
  expect(heads()).toEqual(['name']);
  expect(screen.getByRole('checkbox', { name: 'name' })).toHaveProperty('disabled', true);
  expect(JSON.parse(localStorage.getItem('palabra.table.plants') ?? '{}').shown).toMatchObject({
    height: false,
  });
});

it('chooses a stretch with the shift key', async () => {
  const { user } = show(<Plants />);
  await user.click(screen.getByRole('checkbox', { name: 'Choose yarrow' }));
  await user.keyboard('{Shift>}');
  await user.click(screen.getByRole('checkbox', { name: 'Choose moss' }));
  await user.keyboard('{/Shift}');
  expect(['yarrow', 'ash', 'moss', 'fern'].map(isChosen)).toEqual([true, true, true, false]);
});

it('is walked by arrows, Home and End, and chosen from by Space', async () => {
  const { user } = show(<Plants />);
  const [first] = screen.getAllByRole('link');
  first?.focus();
  await user.keyboard('{ArrowDown}');
  expect(document.activeElement?.textContent).toBe('ash');
  await user.keyboard(' ');
  expect(isChosen('ash')).toBe(true);
  await user.keyboard('{End}');
  expect(document.activeElement?.textContent).toBe('fern');
  await user.keyboard('{ArrowDown}');
  expect(document.activeElement?.textContent).toBe('fern');
  await user.keyboard('{Home}{ArrowUp}');
  expect(document.activeElement?.textContent).toBe('yarrow');
});

it('says how many rows there are, and draws those that are on their way as such', () => {
  const asked: [number, number][] = [];
  show(
    <Table
      name="paged"
      label="Paged"
      columns={columns}
      source={{
        count: 3,
        at: (index) => (index === 1 ? undefined : plants[index]),
        onSight: (from, to) => void asked.push([from, to]),
        sorting: [],
        onSort: () => undefined,
        load: () => Promise.resolve([]),
      }}
      keyOf={({ id }) => id}
    />,
  );
  expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('4');
  expect(asked).toContainEqual([0, 2]);
  const rows = within(screen.getByRole('table')).getAllByRole('row').slice(1);
  expect(rows.map((row) => within(row).queryByRole('link')?.textContent)).toEqual([
    'yarrow',
    undefined,
    'moss',
  ]);
});

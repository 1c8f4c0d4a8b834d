/** @jest-environment ./apps/web/src/testing/environment.mjs */
// A page that is left no longer changes the address.
import { afterEach, expect, it } from '@jest/globals';
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createMemoryRouter, Link, RouterProvider } from 'react-router';
import { useSearch } from './search';

afterEach(cleanup);

function Narrowed() {
  const [search, setSearch] = useSearch();
  return (
    <>
      <Link to="/other">other</Link>
      <input
        aria-label="search"
        value={search.get('q') ?? ''}
        onChange={(event) => setSearch({ q: event.currentTarget.value })}
      />
    </>
  );
}

it('keeps the way to another page when somebody goes on typing in this one', async () => {
  let arrive = (): void => undefined;
  const loaded = new Promise<{ Component: () => string }>((resolve) => {
    arrive = () => resolve({ Component: () => 'the other page' });
  });
  const router = createMemoryRouter([
    { path: '/', Component: Narrowed },
    { path: '/other', lazy: () => loaded },
  ]);
  render(<RouterProvider router={router} />);
  const person = userEvent.setup();
  await person.type(screen.getByLabelText('search'), 'ab');
  expect(router.state.location.search).toBe('?q=ab');
  await person.click(screen.getByText('other'));
  await person.type(screen.getByLabelText('search'), 'c');
  arrive();
  expect(await screen.findByText('the other page')).toBeTruthy();
  expect(router.state.location.pathname).toBe('/other');
});

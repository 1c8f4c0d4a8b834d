/** @jest-environment ./apps/web/src/testing/environment.mjs */
// What Enter takes: the first of all that is found for what was typed, or what was chosen by arrows.
import { afterEach, expect, it } from '@jest/globals';
import { createSpotlightStore } from '@mantine/spotlight';
import { act, configure, screen, waitFor } from '@testing-library/react';
import { Answer, clear, show, type Shown } from '../testing/render';
import { Palette } from './Palette';

configure({ asyncUtilTimeout: 5000 });
afterEach(clear);

const person = {
  id: 7,
  givenName: 'Ada',
  familyName: 'Settle',
  address: 'ada@example.com',
  town: 'Ash',
};

/** `people` may come later. */
async function open(people: unknown): Promise<Shown> {
  const store = createSpotlightStore();
  const shown = show(<Palette store={store} />, {
    answers: ({ path }) => {
      if (path.startsWith('/people')) return people;
      return ['/segments', '/letters', '/campaigns'].some((one) => path.startsWith(one))
        ? []
        : undefined;
    },
  });
  act(() => store.setState({ ...store.getState(), opened: true }));
  await screen.findByRole('textbox', { name: /Find people/ });
  return shown;
}

it('waits for all that is found when Enter comes first', async () => {
  const { user, path } = await open({ rows: [person] });
  // “Settings” is there at once; who is called that comes before it.
  await user.type(screen.getByRole('textbox'), 'sett{Enter}');
  await waitFor(() => expect(path()).toBe('/contacts/7?q=sett'));
});

it('takes what was chosen by arrows', async () => {
  const { user, path } = await open({ rows: [person] });
  await user.type(screen.getByRole('textbox'), 'sett');
  await screen.findByText('Settle, Ada');
  await user.keyboard('{ArrowDown}{Enter}');
  await waitFor(() => expect(path()).toBe('/settings'));
});

it('goes where one wants although people can’t be asked for', async () => {
  const { user, path } = await open(new Answer(503, { detail: 'later' }));
  await user.type(screen.getByRole('textbox'), 'sett{Enter}');
  await waitFor(() => expect(path()).toBe('/settings'));
});

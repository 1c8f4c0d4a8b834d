/** @jest-environment ./apps/web/src/testing/environment.mjs */
// The sign-in, and with it every form checked by the contract: what is sent, and where the words about it stand.
import { afterEach, expect, it } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { Answer, clear, show } from '../testing/render';
import { SignInPage } from './SignInPage';

afterEach(clear);

it('sends what was typed', async () => {
  const { user, asked } = show(<SignInPage />, { answers: () => null });
  await user.type(screen.getByLabelText(/Email address/), 'bo@quillwater.test');
  await user.type(screen.getByLabelText(/Password/, { selector: 'input' }), 'quillwater{Enter}');
  await waitFor(() => expect(asked.some(({ method }) => method === 'POST')).toBe(true));
  expect(asked.find(({ method }) => method === 'POST')).toEqual({
    method: 'POST',
    path: '/session',
    body: { address: 'bo@quillwater.test', password: 'quillwater' },
  });
});

it('says what the server says beside the field it is about, or over the button', async () => {
  let answer = new Answer(401, { detail: 'Address and password don’t belong together.' });
  const { user } = show(<SignInPage />, { answers: () => answer });
  await user.click(screen.getByRole('button', { name: 'Sign in' }));
  expect(await screen.findByText('Address and password don’t belong together.')).toBeTruthy();
  answer = new Answer(400, {
    detail: 'One field is wrong.',
    errors: [{ path: 'address', message: 'This is no address.' }],
  });
  await user.click(screen.getByRole('button', { name: 'Sign in' }));
  expect(await screen.findByText('This is no address.')).toBeTruthy();
  expect(screen.queryByText('Address and password don’t belong together.')).toBeNull();
});

it('finds what the contract refuses before anything is sent', async () => {
  const { user, asked } = show(<SignInPage />, { answers: () => null });
  await user.click(screen.getByLabelText(/Password/, { selector: 'input' }));
  await user.paste('x'.repeat(201));
  await user.click(screen.getByRole('button', { name: 'Sign in' }));
  expect(await screen.findByText(/shorter than or equal to 200/)).toBeTruthy();
  expect(asked.filter(({ method }) => method === 'POST')).toEqual([]);
});

/** @jest-environment ./apps/web/src/testing/environment.mjs */
// The bodies of blocks: each shows what it holds and hands on what becomes of it, and a reader of it can change nothing.
import { afterEach, expect, it } from '@jest/globals';
import type { Block } from '@palabra/core/letters';
import { screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import { Answer, clear, show } from '../testing/render';
import { BlockView } from './BlockView';

const button: Block = { id: 'b', kind: 'button', label: ['Come along'], href: '' };
const picture: Block = {
  id: 'p',
  kind: 'picture',
  file: '',
  width: 0,
  height: 0,
  alt: '',
  href: '',
};
let now: Block;
const moved: number[] = [];

function Editing({
  block,
  disabled = false,
}: {
  readonly block: Block;
  readonly disabled?: boolean;
}) {
  const [state, setState] = useState(block);
  now = state;
  return (
    <BlockView
      block={state}
      chosen
      disabled={disabled}
      first={false}
      last
      onChoose={() => undefined}
      onChange={setState}
      onMove={(by) => void moved.push(by)}
      onRemove={() => void moved.push(0)}
    />
  );
}
afterEach(() => {
  clear();
  moved.length = 0;
});

it('keeps half an address out of the letter, and completes a bare one', async () => {
  const { user } = show(<Editing block={button} />);
  const leads = screen.getByRole('textbox', { name: /leads to/ });
  await user.type(leads, 'javascript:alert(1)');
  expect(now).toMatchObject({ href: '' });
  expect(screen.getByText('not a whole address yet')).toBeTruthy();
  await user.clear(leads);
  await user.type(leads, 'example.org/fair');
  await user.tab();
  expect(now).toMatchObject({ href: 'https://example.org/fair' });
  expect(screen.queryByText('not a whole address yet')).toBeNull();
});

it('takes a picture in, and says what the server has against one', async () => {
  let answer: unknown = new Answer(422, { detail: 'This file is no picture.' });
  const { user } = show(<Editing block={picture} />, { answers: () => answer });
  const file = (name: string): File => new File([name], name, { type: 'image/png' });
  const choose = (): HTMLElement =>
    document.querySelector<HTMLInputElement>('input[type=file]') as HTMLElement;
  await user.upload(choose(), file('one.png'));
  expect(await screen.findByText('This file is no picture.')).toBeTruthy();
  expect(now).toMatchObject({ file: '' });
  answer = { file: 'abc', width: 30, height: 20 };
  await user.upload(choose(), file('two.png'));
  await waitFor(() => expect(now).toMatchObject({ file: 'abc', width: 30, height: 20 }));
  expect(screen.queryByText('This file is no picture.')).toBeNull();
});

it('is moved by its buttons and keys, and taken out', async () => {
  const { user } = show(<Editing block={button} />);
  const group = screen.getByRole('group', { name: 'Button' });
  await user.click(within(group).getByRole('button', { name: 'Move up' }));
  expect(within(group).getByRole('button', { name: 'Move down' })).toHaveProperty('disabled', true);
  screen.getByRole('textbox', { name: /leads to/ }).focus();
  await user.keyboard('{Alt>}{ArrowDown}{/Alt}');
  await user.click(within(group).getByRole('button', { name: 'Take out' }));
  expect(moved).toEqual([-1, 1, 0]);
});

it('changes nothing for who only reads', async () => {
  const { user } = show(<Editing block={button} disabled />);
  const group = screen.getByRole('group', { name: 'Button' });
  expect(within(group).queryByRole('button', { name: 'Take out' })).toBeNull();
  expect(screen.getByRole('textbox', { name: /leads to/ })).toHaveProperty('disabled', true);
  group.focus();
  await user.keyboard('{Alt>}{ArrowDown}{/Alt}');
  expect(moved).toEqual([]);
});

/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Found by typing, taken by Enter: the one that is meant.
import { afterEach, expect, it } from '@jest/globals';
import { act, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { clear, show } from '../testing/render';
import { Finder, ranked, type Found } from './Finder';

const of = (...names: string[]): Found[] => names.map((text) => ({ key: text, text }));
const trees = of('press list', 'express', 'press', 'Espresso friends', 'éclair');
afterEach(clear);

it.each([
  ['press', ['press', 'press list', 'express', 'Espresso friends']],
  ['PRESS L', ['press list']],
  ['ecl', ['éclair']],
  ['', trees.map(({ text }) => text)],
  ['nothing', []],
])('puts first what is called just that: %s', (text, names) =>
  expect(ranked(trees, text).map((one) => one.text)).toEqual(names),
);

/** `late`: what is found is on its way when one already types. */
function Trees({ make, late }: { readonly make?: boolean; readonly late?: boolean }) {
  const [options, setOptions] = useState(late ? [] : trees);
  const [taken, setTaken] = useState('nothing');
  return (
    <>
      <Finder
        words="choose"
        label="Find a tree"
        placeholder="find"
        none="none of that name"
        options={options}
        make={
          make
            ? {
                label: (text) => `make ${text}`,
                can: (text) => !trees.some((tree) => tree.text === text),
                run: (text) => setTaken(`made ${text}`),
              }
            : undefined
        }
        onPick={({ text }) => setTaken(text)}
      />
      <output>{taken}</output>
      {late && <button onClick={() => setOptions(trees)}>it comes</button>}
    </>
  );
}
const taken = (): string => screen.getByRole('status').textContent;

it.each([
  ['the only one that fits', 'press l{Enter}', 'press list'],
  ['none of several', 'press{Enter}', 'nothing'],
  ['nothing any more once one types on', 'press l{Enter}i', 'nothing'],
])('takes, when Enter came before there was anything: %s', async (_, keys, text) => {
  const { user } = show(<Trees late />);
  await user.click(screen.getByRole('button', { name: 'choose' }));
  await user.type(screen.getByRole('textbox', { name: 'Find a tree' }), keys);
  // Not by the mouse, which would close it.
  act(() => screen.getByText('it comes').click());
  expect(taken()).toBe(text);
});

it('takes with Enter what is highlighted, and gives the focus back', async () => {
  const { user } = show(<Trees />);
  await user.click(screen.getByRole('button', { name: 'choose' }));
  await user.type(screen.getByRole('textbox', { name: 'Find a tree' }), 'press{Enter}');
  expect(taken()).toBe('press');
  await waitFor(() => expect(document.activeElement).toBe(screen.getByRole('button')));
  await user.click(screen.getByRole('button', { name: 'choose' }));
  await user.type(screen.getByRole('textbox'), 'press{ArrowDown}{Enter}');
  expect(taken()).toBe('press list');
});

it('takes nothing where nothing fits, and says so', async () => {
  const { user } = show(<Trees />);
  await user.click(screen.getByRole('button', { name: 'choose' }));
  await user.type(screen.getByRole('textbox'), 'oak{Enter}');
  expect(screen.getByText('none of that name')).toBeTruthy();
  expect(taken()).toBe('nothing');
});

it('offers to make what is not there, and only that', async () => {
  const { user } = show(<Trees make />);
  await user.click(screen.getByRole('button', { name: 'choose' }));
  await user.type(screen.getByRole('textbox'), 'press');
  expect(screen.queryByText('make press')).toBeNull();
  await user.type(screen.getByRole('textbox'), 'ed flowers{Enter}');
  expect(taken()).toBe('made pressed flowers');
});

it('waits with Enter for the answer to what was typed, and takes it when there is one', async () => {
  let answer: (found: Found[]) => void = () => undefined;
  function Asked() {
    const [text, setText] = useState('');
    const [state, setState] = useState<{ of: string; found: Found[] }>({
      of: '',
      found: of('old'),
    });
    const [got, setGot] = useState('nothing');
    answer = (found) => setState({ of: text, found });
    return (
      <>
        <Finder
          words="choose"
          label="Find"
          placeholder="find"
          none="none"
          options={state.found}
          asked={{ text, onText: setText, isCurrent: state.of === text }}
          onPick={(one) => setGot(one.text)}
        />
        <output>{got}</output>
      </>
    );
  }
  const { user } = show(<Asked />);
  await user.click(screen.getByRole('button', { name: 'choose' }));
  await user.type(screen.getByRole('textbox'), 'new{Enter}');
  expect(taken()).toBe('nothing');
  answer(of('the new one'));
  await waitFor(() => expect(taken()).toBe('the new one'));
});

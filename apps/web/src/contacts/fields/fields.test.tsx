/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Fields on the screen: choices written and moved by keys, values in place by their kind, what does not fit said first.
import { afterEach, describe, expect, it } from '@jest/globals';
import type { Field } from '@palabra/core/contacts';
import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { Answer, clear, show } from '../../testing/render';
import { ChoicesEditor, choiceLine, type ChoiceLine } from './ChoicesEditor';
import { FieldForm } from './FieldForm';
import { FieldInPlace } from './FieldInPlace';
import { FieldType } from './FieldType';
import { kindWords } from './words';

afterEach(clear);

const choices = [
  { key: 'c1', label: 'Small' },
  { key: 'c2', label: 'Large' },
  { key: 'c3', label: 'Gone', isGone: true as const },
];

function Editor() {
  const [value, setValue] = useState<readonly ChoiceLine[]>(() =>
    choices.slice(0, 2).map(choiceLine),
  );
  return (
    <>
      <output aria-label="written">
        {value.map(({ key, label }) => `${key ?? 'new'} ${label}`).join(' · ')}
      </output>
      <ChoicesEditor value={value} onChange={setValue} />
    </>
  );
}

describe('choices as they are written', () => {
  const written = (): string => screen.getByRole('status', { name: 'written' }).textContent;
  it('are renamed, moved, added and taken out by keys, and keep their keys', async () => {
    const { user } = show(<Editor />);
    const first = screen.getByRole('textbox', { name: 'Choice 1' });
    await user.type(first, 'er');
    await user.keyboard('{Alt>}{ArrowDown}{/Alt}');
    expect(written()).toBe('c2 Large · c1 Smaller');
    await waitFor(() =>
      expect(document.activeElement?.getAttribute('aria-label')).toBe('Choice 2'),
    );
    await user.keyboard('{Enter}');
    await waitFor(() =>
      expect(document.activeElement?.getAttribute('aria-label')).toBe('Choice 3'),
    );
    await user.keyboard('Tiny');
    expect(written()).toBe('c2 Large · c1 Smaller · new Tiny');
    await user.click(screen.getByRole('button', { name: 'Take out Large' }));
    expect(written()).toBe('c1 Smaller · new Tiny');
  });

  it('come in by several when several lines are pasted', async () => {
    const { user } = show(<Editor />);
    await user.click(screen.getByRole('textbox', { name: 'Choice 2' }));
    await user.paste('a\r\n\r\nb\n');
    expect(written()).toBe('c1 Small · c2 Large · new a · new b');
    await user.paste('x');
    expect(written()).toContain('x');
  });
});

function InPlace({ field, text }: { readonly field: Field; readonly text: string }) {
  const [now, setNow] = useState(text);
  return (
    <>
      <output>{now}</output>
      <FieldInPlace
        field={field}
        text={now}
        disabled={false}
        onSave={async (next) => {
          if (next === 'refused') throw new Error('size has no choice “refused”');
          setNow(next);
        }}
      />
    </>
  );
}

describe('a field in place', () => {
  const field = (type: Field['type'], more: Partial<Field> = {}): Field => ({
    key: 'own_1',
    label: 'size',
    type,
    ...more,
  });
  const kept = (): string => screen.getByRole('status').textContent;

  it('keeps several lines, which Enter begins and Ctrl with Enter ends', async () => {
    const { user } = show(<InPlace field={field('long text')} text="one" />);
    await user.click(screen.getByRole('button', { name: /^size: one/ }));
    await user.keyboard('{End}{Enter}two');
    expect(kept()).toBe('one');
    await user.keyboard('{Control>}{Enter}{/Control}');
    await waitFor(() => expect(kept()).toBe('one\ntwo'));
  });

  it('offers what can be chosen now, and says what it is for', async () => {
    const { user } = show(
      <InPlace field={field('choice', { choices, help: 'of the pot' })} text="Small" />,
    );
    await user.click(screen.getByRole('button', { name: /^size: Small/ }));
    expect(screen.getByText('of the pot')).toBeTruthy();
    await user.clear(screen.getByRole('combobox'));
    expect(screen.getAllByRole('option').map((one) => one.textContent)).toEqual(['Small', 'Large']);
    await user.keyboard('refused{Enter}');
    expect(await screen.findByText('size has no choice “refused”')).toBeTruthy();
    expect(kept()).toBe('Small');
  });

  it('keeps several choices when one leaves, and none of them after Escape', async () => {
    const { user } = show(<InPlace field={field('choices', { choices })} text="Small" />);
    await user.click(screen.getByRole('button', { name: /^size: Small/ }));
    await user.click(await screen.findByRole('option', { name: 'Large' }));
    expect(kept()).toBe('Small');
    await user.keyboard('{Escape}');
    expect(kept()).toBe('Small');
    await user.click(screen.getByRole('button', { name: /^size: Small/ }));
    await user.click(await screen.findByRole('option', { name: 'Large' }));
    await user.tab();
    await waitFor(() => expect(kept()).toBe('Small, Large'));
  });

  it('is not edited where it is computed, and leads on where it is a link', () => {
    show(
      <>
        <FieldInPlace
          field={field('computed', { isFact: true })}
          text="12"
          disabled={false}
          onSave={() => Promise.resolve()}
        />
        <FieldInPlace
          field={field('link')}
          text="https://example.org"
          disabled
          onSave={() => Promise.resolve()}
        />
      </>,
    );
    expect(screen.queryByRole('button')).toBeNull();
    expect(screen.getByRole('link', { name: 'Open' }).getAttribute('href')).toBe(
      'https://example.org',
    );
  });
});

describe('a field described and made another', () => {
  const own: Field = { key: 'own_1', label: 'dog', type: 'text' };
  const vocabulary = { tags: [], fields: [own], pools: [], owners: [], topics: [] };

  it('says the server’s objection beside what it is about', async () => {
    const { user, asked } = show(<FieldForm defined={{ field: own, version: 3 }} />, {
      answers: ({ path, method }) => {
        if (path === '/vocabulary') return vocabulary;
        if (method === 'PUT')
          return new Answer(422, {
            detail: 'no',
            errors: [{ path: 'standard', message: 'What somebody new has: no.' }],
          });
        return undefined;
      },
    });
    await user.type(screen.getByRole('textbox', { name: 'Somebody new has' }), 'x');
    await user.click(screen.getByRole('button', { name: 'Keep this' }));
    expect(await screen.findByText('What somebody new has: no.')).toBeTruthy();
    expect(asked.find(({ method }) => method === 'PUT')?.body).toEqual({
      version: 3,
      label: 'dog',
      help: '',
      group: '',
      isRequired: false,
      standard: 'x',
    });
  });

  it('shows what does not fit before anything is changed', async () => {
    const { user, asked } = show(<FieldType defined={{ field: own, version: 3 }} />, {
      answers: ({ path }) =>
        path === '/fields/own_1/fit'
          ? {
              fits: 2,
              doesNotFit: 1,
              examples: [{ value: 'a dozen', count: 1 }],
              choices: [],
            }
          : undefined,
    });
    await user.click(screen.getByRole('combobox', { name: 'Another kind' }));
    await user.click(await screen.findByRole('option', { name: 'number' }));
    expect(await screen.findByText('2 people keep what they have.')).toBeTruthy();
    expect(screen.getByText(/What 1 person has is no number/)).toBeTruthy();
    expect(screen.getByText('a dozen')).toBeTruthy();
    expect(asked.every(({ method }) => method !== 'PUT')).toBe(true);
  });

  it.each<[Field, string]>([
    [{ ...own, type: 'choices', choices }, 'several of 2'],
    [{ ...own, type: 'money', currency: 'EUR' }, 'amount in EUR'],
    [
      { ...own, type: 'computed', since: { day: 'own_2', unit: 'years' } },
      'years since a day that is gone',
    ],
    [own, 'text'],
  ])('is called %j', (field, words) => expect(kindWords(field, [own])).toBe(words));
});

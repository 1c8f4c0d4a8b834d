/** @jest-environment ./apps/web/src/testing/environment.mjs */
// A letter on a timeline is one line with all that was done with it; a rating says what it is made of.
import { afterEach, expect, it } from '@jest/globals';
import type { LetterHappening, PersonRatingReply, TimelineEntry } from '@palabra/contract/contacts';
import { screen, within } from '@testing-library/react';
import { clear, show } from '../testing/render';
import { LetterEntry } from './LetterEntry';
import { RatingPart } from './ratings/RatingPart';

afterEach(clear);

const done = (
  kind: LetterHappening['kind'],
  detail: string | null = null,
  machine: string | null = null,
): LetterHappening => ({ kind, at: '2026-03-02T10:00:00Z', detail, machine });
type Letter = Extract<TimelineEntry, { kind: 'letter' }>;
const letter = (more: Partial<Letter> = {}): Letter => ({
  key: 'd4',
  at: '2026-03-02T10:00:00Z',
  kind: 'letter',
  campaign: { id: 4, name: 'Spring' },
  state: 'sent',
  sentAt: '2026-03-01T09:00:00Z',
  detail: null,
  happened: [],
  further: 0,
  ...more,
});
const line = (more: Partial<Letter>): string => {
  show(<LetterEntry entry={letter(more)} />);
  return document.body.textContent ?? '';
};

it.each<[string, Partial<Letter>, string]>([
  ['nothing', {}, 'Got Spring'],
  [
    // Latest first.
    'an opening, two more, a click and a second link',
    {
      happened: [
        done('clicked', 'Shop'),
        done('opened'),
        done('clicked', 'Dates'),
        done('opened'),
        done('opened'),
      ],
    },
    'Got Spring: opened 3 times, clicked “Dates”, “Shop” when',
  ],
  [
    'a machine only',
    { happened: [done('opened', null, 'a scanner')] },
    'Got Spring, a machine looked, not counted when',
  ],
  [
    'a machine beside the person',
    { happened: [done('opened'), done('opened', null, 'x'), done('opened', null, 'x')] },
    'Got Spring: opened; machines, 2 times, looked, not counted when',
  ],
  ['that it was held back', { state: 'held back', detail: 'left' }, 'Held back from Spring: left'],
])('says of a letter: %s', (_, more, words) => {
  expect(line(more)).toContain(words);
});

it('shows how a reply begins, and opens into the single moments', async () => {
  const { user } = show(
    <LetterEntry
      entry={letter({
        happened: [done('replied', 'Is there room for two?'), done('opened', null, 'a proxy')],
        further: 12,
      })}
    />,
  );
  screen.getByText('Is there room for two?');
  await user.click(screen.getByRole('button', { name: 'When, Spring' }));
  const moments = screen.getAllByRole('listitem').map((one) => one.textContent);
  expect(moments).toHaveLength(4);
  expect(moments[1]).toContain('by a machine (a proxy); not counted');
  expect(moments[2]).toBe('and 12 before');
});

const told = (more: Partial<PersonRatingReply> = {}): PersonRatingReply => ({
  rating: 49,
  band: 'fading',
  ended: null,
  wasHighest: 71,
  course: [null, null, 60, 71, 49],
  parts: [
    { response: 'clicked', letters: 2, points: 20 },
    { response: 'opened', letters: 1, points: 9 },
    { response: null, letters: 5, points: 0 },
  ],
  middle: 20,
  next: { ignored: 44, opened: 52, clicked: 58, replied: 57 },
  ...more,
});
const rating = (reply: PersonRatingReply) => show(<RatingPart id={3} />, { answers: () => reply });

it('adds a rating up, and says what the next letter would do', async () => {
  const { user } = rating(told());
  await screen.findByText('fading');
  screen.getByText(
    'Of 8 letters that arrived: clicked in 2, opened 1. Later ones count more. It was 71 within the last three months.',
  );
  screen.getByRole('img', { name: /from 60 to 49/ });
  await user.click(screen.getByRole('button', { name: 'What it is made of' }));
  const sum = within(screen.getByRole('table', { name: 'What the rating is made of' }));
  expect(sum.getAllByRole('row').map((row) => row.textContent)).toEqual([
    'clicked in 2 letters20',
    'opened 1 letter9',
    'left 5 letters unanswered0',
    'the middle, while letters are few20',
    'rating49',
  ]);
  screen.getByText(/to 52, clicking or replying to 58; unanswered, it goes to 44\./);
});

it.each<[string, Partial<PersonRatingReply>, RegExp]>([
  ['nobody wrote to', { rating: null, band: 'new', parts: [] }, /New: no letter so far/],
  [
    'few letters reached',
    { rating: null, band: 'new', parts: [{ response: null, letters: 1, points: 0 }] },
    /New: 1 letter so far/,
  ],
  [
    'who left',
    { band: null, ended: { how: 'left', at: '2026-03-02T10:00:00Z' } },
    /Ended on 2 Mar.*when they left/,
  ],
])('says of somebody %s why there is no rating', async (_, more, words) => {
  rating(told(more));
  await screen.findByText(words);
  expect(screen.queryByRole('button', { name: 'What it is made of' })).toBeNull();
});

/** @jest-environment ./apps/web/src/testing/environment.mjs */
// A sheet: nothing nameless is left behind, what is written is kept, and nobody sends by accident.
import { afterEach, expect, it } from '@jest/globals';
import { tallyOf } from '@palabra/core/campaigns';
import { screen, waitFor } from '@testing-library/react';
import { Answer, clear, office, show, type Asked } from '../testing/render';
import { CampaignSheet } from './CampaignSheet';
import { newCampaign, type CampaignStart } from './useCampaign';

const tally = tallyOf([
  { reason: 'no permission', count: 1 },
  { reason: null, count: 7 },
]);
const passed = { check: 'sender', level: 'passed', text: 'sender' };
const letter = {
  id: 3,
  name: 'Spring',
  version: 1,
  content: { v: 1, subject: ['The garden in spring'], preview: [], blocks: [] },
  updatedAt: '2026-03-02T00:00:00Z',
  uses: [],
};

const answersWith =
  (checks: readonly object[]) =>
  ({ method, path }: Asked): unknown => {
    if (method === 'POST' && path === '/campaigns') return { id: 12, version: 1 };
    if (method === 'PUT' && path === '/campaigns/12') return { version: 2 };
    if (path === '/campaigns/12/tally') return { tally, checks };
    if (path === '/campaigns/12/who') return { counts: {}, inSeveral: 0 };
    if (path === '/campaigns/12/send') return new Answer(204, undefined);
    if (path === '/letters/3') return letter;
    if (path === '/vocabulary') return { tags: [], fields: [], pools: [], owners: [], topics: [] };
    return [];
  };
const sheet = (campaign: CampaignStart) => (
  <CampaignSheet campaign={campaign} notice={null} proof={() => null} />
);
const kept: CampaignStart = { ...newCampaign(office), id: 12, version: 1, letterId: 3 };
const writes = (asked: readonly Asked[]): string[] =>
  asked.filter(({ method }) => method !== 'GET').map(({ method, path }) => `${method} ${path}`);
afterEach(clear);

it('keeps a new sheet once it has a name, under an address of its own', async () => {
  const { user, asked, path } = show(sheet(newCampaign(office)), {
    path: '/campaigns/new',
    answers: answersWith([passed]),
  });
  expect(screen.getByText('kept as soon as it has a name or a content')).toBeTruthy();
  expect(writes(asked)).toEqual([]);
  await user.click(screen.getByRole('button', { name: /^Name of the campaign: / }));
  await user.keyboard('Spring fair{Enter}');
  await waitFor(() => expect(path()).toBe('/campaigns/12'));
  await screen.findByText('saved');
  expect(writes(asked)).toEqual(['POST /campaigns', 'PUT /campaigns/12']);
  expect(asked.find(({ method }) => method === 'PUT')?.body).toMatchObject({
    version: 1,
    name: 'Spring fair',
  });
});

it('asks before it sends, with what goes out and what is doubtful, and sends what was seen', async () => {
  const { user, asked } = show(sheet(kept), {
    answers: answersWith([
      passed,
      { check: 'month', level: 'caution', text: 'The heading says May.', place: { at: 'letter' } },
    ]),
  });
  await user.click(await screen.findByRole('button', { name: 'Send to 7 people' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('The garden in spring');
  expect(dialog.textContent).toContain('The heading says May.');
  expect(dialog.textContent).toContain('after 10 seconds');
  expect(writes(asked)).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Send to 7 people now' }));
  await waitFor(() => expect(writes(asked)).toEqual(['POST /campaigns/12/send']));
  expect(asked.find(({ path }) => path.endsWith('/send'))?.body).toEqual({
    version: 1,
    seen: tally,
  });
});

it('does not send what a check stops', async () => {
  show(sheet(kept), {
    answers: answersWith([
      { check: 'sender', level: 'stop', text: 'The sender has no name.', place: { at: 'from' } },
    ]),
  });
  expect(await screen.findByText(/1 check stops the send/)).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Send to 7 people' })).toHaveProperty('disabled', true);
});

it('is read by a member, who neither writes nor sends', async () => {
  show(sheet(kept), { role: 'member', answers: answersWith([passed]) });
  expect(await screen.findByText('A coordinator sends this campaign.')).toBeTruthy();
  expect(screen.queryByRole('button', { name: '+ segment or tag' })).toBeNull();
  expect(screen.getByRole('textbox', { name: 'Sender’s name' })).toHaveProperty('disabled', true);
});

/** @jest-environment ./apps/web/src/testing/environment.mjs */
// What is asked again when something was changed: that thing, not every other.
import { afterEach, expect, it } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { useMeQuery } from '../office';
import { Answer, clear, show, type Asked } from '../testing/render';
import {
  useCampaignQuery,
  useCampaignsQuery,
  useRemoveCampaignMutation,
  useSaveCampaignMutation,
} from './campaigns.api';

const sheet = {
  version: 1,
  name: 'Fair',
  who: { to: [], notTo: [] },
  letterId: null,
  topicId: null,
  senderName: '',
  senderAddress: '',
  replyTo: '',
  sendAt: null,
};

function Page() {
  const list = useCampaignsQuery();
  const one = useCampaignQuery(3);
  const other = useCampaignQuery(4);
  const [save] = useSaveCampaignMutation();
  const [remove] = useRemoveCampaignMutation();
  if (!list.data || !one.data || !other.data) return null;
  return (
    <>
      <button onClick={() => void save({ id: 3, ...sheet })}>save</button>
      <button onClick={() => void remove(4)}>delete</button>
    </>
  );
}

const reads = (asked: readonly Asked[]): string[] =>
  asked.filter(({ method }) => method === 'GET').map(({ path }) => path);
afterEach(clear);

it('asks again for what was saved, and for all of a kind when one has gone', async () => {
  const { user, asked } = show(<Page />, {
    answers: ({ path }) => (path === '/campaigns' ? [] : { id: Number(path.split('/').at(-1)) }),
  });
  await user.click(await screen.findByRole('button', { name: 'save' }));
  await waitFor(() => expect(reads(asked)).toHaveLength(4));
  expect(reads(asked).slice(3)).toEqual(['/campaigns/3']);
  await user.click(screen.getByRole('button', { name: 'delete' }));
  await waitFor(() => expect(reads(asked)).toHaveLength(7));
  expect(reads(asked).slice(4).sort()).toEqual(['/campaigns', '/campaigns/3', '/campaigns/4']);
});

it('asks who one is when the session has ended, and nothing else', async () => {
  function Signed() {
    useMeQuery();
    const [remove] = useRemoveCampaignMutation();
    return <button onClick={() => void remove(4)}>delete</button>;
  }
  const { user, asked } = show(<Signed />, {
    answers: ({ method }) => (method === 'GET' ? {} : new Answer(401, { detail: 'Sign in.' })),
  });
  await waitFor(() => expect(reads(asked)).toEqual(['/me']));
  await user.click(screen.getByRole('button', { name: 'delete' }));
  await waitFor(() => expect(reads(asked)).toEqual(['/me', '/me']));
});

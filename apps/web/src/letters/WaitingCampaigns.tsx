// A letter that a campaign will send by itself is edited with open eyes.
import type { LetterUse } from '@palabra/contract/letters';
import { Fragment } from 'react';
import { Link } from 'react-router';
import { Note } from '../ui/states';

export function WaitingCampaigns({ uses }: { readonly uses: readonly LetterUse[] }) {
  const waiting = uses.filter(({ waits }) => waits);
  if (waiting.length === 0) return null;
  return (
    <Note kind="caution">
      {waiting.map(({ id, name }, at) => (
        <Fragment key={id}>
          {at > 0 && ', '}
          <Link to={`/campaigns/${id}`}>{name}</Link>
        </Fragment>
      ))}{' '}
      {waiting.length === 1 ? 'waits for its time and sends' : 'wait for their time and send'} this
      letter as it is then: what is changed here goes out.
    </Note>
  );
}

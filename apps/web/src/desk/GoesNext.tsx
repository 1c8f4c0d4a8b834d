// What goes out next: planned, waiting for a word, and drafts.
import type { CampaignLine } from '@palabra/contract/campaigns';
import { wentOut } from '@palabra/core/campaigns';
import { Link } from 'react-router';
import { letterOf, statusWords, useCampaignsQuery } from '../campaigns';
import { LineText } from '../letters';
import { useOffice } from '../office';
import { Miniature } from '../ui/Miniature';
import { Num, peoplePath } from '../ui/numbers';
import { Part } from '../ui/Page';
import { Name, Row, Rows } from '../ui/Rows';
import { Ghost, Wrong } from '../ui/states';
import { Soft } from '../ui/text';
import { clock, weekday } from '../ui/time';
import { fresh } from './fresh';

const SHOWN = 5;

/** What has a time comes first, by time. */
const byTime = (a: CampaignLine, b: CampaignLine): number =>
  Number(a.status === 'draft') - Number(b.status === 'draft') ||
  (a.sendAt ?? '').localeCompare(b.sendAt ?? '');

export function GoesNext() {
  const campaigns = useCampaignsQuery(undefined, fresh);
  const next = (campaigns.data ?? [])
    .filter(({ status }) => !wentOut(status) || status === 'sending' || status === 'paused')
    .sort(byTime);
  return (
    <Part title="Goes out next">
      {campaigns.isError && (
        <Wrong error={campaigns.error} again={() => void campaigns.refetch()} />
      )}
      {campaigns.isLoading && <Ghost />}
      <Rows>
        {campaigns.data && next.length === 0 && (
          <Row>
            <Soft>Nothing is planned. A campaign brings a letter to a group of people.</Soft>
          </Row>
        )}
        {next.slice(0, SHOWN).map((one) => (
          <Next key={one.id} campaign={one} />
        ))}
        {next.length > SHOWN && (
          <Row>
            <Link to="/campaigns">and {next.length - SHOWN} more</Link>
          </Row>
        )}
      </Rows>
    </Part>
  );
}

function Next({ campaign }: { readonly campaign: CampaignLine }) {
  const { office } = useOffice();
  const { id, name, status, sendAt, receives, subject } = campaign;
  const when =
    sendAt && status === 'scheduled'
      ? `${weekday(office.timeZone, sendAt)}, ${clock(office.timeZone, sendAt)}`
      : status === 'draft'
        ? 'no date yet'
        : 'now';
  return (
    <Row
      picture={
        <Miniature src={letterOf(id)} title={`The letter of ${name}`} width={34} height={42} />
      }
      when={when}
      end={statusWords[status]}
    >
      <Name to={`/campaigns/${id}`}>{name}</Name>{' '}
      <Soft>
        {receives !== null && status !== 'draft' ? (
          <>
            to <Num value={receives} to={peoplePath(`campaign.${id}.receives`)} />
          </>
        ) : (
          <LineText line={subject} />
        )}
      </Soft>
    </Row>
  );
}

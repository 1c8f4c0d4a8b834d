// The first screen: what goes out next, what came back, what needs a hand.
import { Button } from '@mantine/core';
import { wentOut } from '@palabra/core/campaigns';
import type { PeopleParts } from '@palabra/core/contacts';
import { rateText } from '@palabra/core/results';
import { Link, useNavigate } from 'react-router';
import {
  useAddCampaignMutation,
  useCampaignsQuery,
  useReturnedQuery,
} from '../campaigns/campaigns.api';
import { StandbyPart } from '../campaigns/Standby';
import { statusWords } from '../campaigns/words';
import { useSummaryQuery } from '../contacts/contacts.api';
import { useImportsQuery } from '../intake/intake.api';
import { importWords } from '../intake/words';
import { useStandstillsQuery } from '../office/office.api';
import { useMay, useOffice, useSeesEverybody } from '../office/OfficeContext';
import { Standstill } from '../office/Standstill';
import { useResultsQuery, useSinceQuery } from '../results/results.api';
import { count, Num, peoplePath, Sum } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Ghost, Wrong } from '../ui/states';
import { clock, day, longDay, weekday } from '../ui/time';

const fresh = {
  refetchOnMountOrArgChange: true,
  pollingInterval: 15_000,
  skipPollingIfUnfocused: true,
} as const;

export function DeskPage() {
  const { office } = useOffice();
  const may = useMay('write letters');
  const navigate = useNavigate();
  const [add] = useAddCampaignMutation();
  const make = async (): Promise<void> => {
    const { id } = await add({ name: 'New campaign' }).unwrap();
    void navigate(`/campaigns/${id}`);
  };
  return (
    <Page
      title={longDay(office.timeZone, new Date())}
      actions={
        may && (
          <>
            <Button component={Link} to="/letters" variant="default">
              Write a letter
            </Button>
            <Button onClick={() => void make()}>New campaign</Button>
          </>
        )
      }
      margin={<DeskMargin />}
    >
      <StandbyPart />
      <GoesNext />
      <CameBack />
      <Since />
    </Page>
  );
}

const SHOWN = 5;

function GoesNext() {
  const campaigns = useCampaignsQuery(undefined, fresh);
  const { office } = useOffice();
  const next = (campaigns.data ?? []).filter(
    ({ status }) => !wentOut(status) || status === 'sending' || status === 'paused',
  );
  const moving = [...next].sort(
    (a, b) =>
      Number(a.status === 'draft') - Number(b.status === 'draft') ||
      (a.sendAt ?? '').localeCompare(b.sendAt ?? ''),
  );
  return (
    <section>
      <h2 className="ruled-head">Goes out next</h2>
      {campaigns.isError && (
        <Wrong error={campaigns.error} again={() => void campaigns.refetch()} />
      )}
      {campaigns.isLoading && <Ghost />}
      <ul className="rows">
        {campaigns.data && moving.length === 0 && (
          <li className="soft">
            Nothing is planned. A campaign brings a letter to a group of people.
          </li>
        )}
        {moving.slice(0, SHOWN).map((one) => (
          <li key={one.id}>
            <span className="when">
              {one.sendAt && one.status === 'scheduled'
                ? `${weekday(office.timeZone, one.sendAt)}, ${clock(office.timeZone, one.sendAt)}`
                : one.status === 'draft'
                  ? 'no date yet'
                  : 'now'}
            </span>
            <span className="what">
              <Link className="name" to={`/campaigns/${one.id}`}>
                {one.name}
              </Link>{' '}
              {one.receives !== null && one.status !== 'draft' ? (
                <span className="soft">
                  to <Num value={one.receives} to={peoplePath(`campaign.${one.id}.receives`)} />
                </span>
              ) : (
                <span className="soft">{one.subject}</span>
              )}
            </span>
            <span className="end">{statusWords[one.status]}</span>
          </li>
        ))}
        {moving.length > SHOWN && (
          <li>
            <Link to="/campaigns">and {moving.length - SHOWN} more</Link>
          </li>
        )}
      </ul>
    </section>
  );
}

function CameBack() {
  const results = useResultsQuery({ limit: 4 }, fresh);
  const { office } = useOffice();
  return (
    <section>
      <h2 className="ruled-head">Came back</h2>
      {results.isError && <Wrong error={results.error} again={() => void results.refetch()} />}
      {results.isLoading && <Ghost />}
      <ul className="rows">
        {results.data?.length === 0 && <li className="soft">Nothing has gone out yet.</li>}
        {results.data?.map((one) => {
          const of = (part: PeopleParts['campaign']): string =>
            peoplePath(`campaign.${one.id}.${part}`);
          return (
            <li key={one.id}>
              <span className="when">{day(office.timeZone, one.startedAt)}</span>
              <span className="what">
                <Link className="name" to={`/results/${one.id}`}>
                  {one.name}
                </Link>
              </span>
              <span
                className="end"
                style={{ display: 'flex', gap: 14, flexWrap: 'wrap', justifyContent: 'flex-end' }}
              >
                <span>
                  <Num value={one.opened} to={of('opened')} label="opened" /> opened,{' '}
                  {rateText({ count: one.opened, of: one.delivered }) || 'none delivered'}
                </span>
                <span>
                  <Num value={one.clicked} to={of('clicked')} label="clicked" /> clicked
                </span>
                <span>
                  <Num value={one.left} to={of('left')} label="left" /> left
                </span>
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function Since() {
  const seesAll = useSeesEverybody();
  const since = useSinceQuery(undefined, fresh);
  const imports = useImportsQuery(undefined, fresh);
  const from = since.data?.from;
  const recent =
    from === undefined
      ? []
      : (imports.data ?? []).filter((one) => one.state === 'running' || one.createdAt >= from);
  return (
    <section>
      <h2 className="ruled-head">Since yesterday</h2>
      {since.isError && <Wrong error={since.error} />}
      <ul className="rows">
        <li>
          <span className="when">{seesAll ? 'people' : 'your people'}</span>
          <span className="what">
            {since.data ? (
              <>
                <Num value={since.data.cameIn} to={peoplePath('since.1.came-in')} /> came in,{' '}
                <Num value={since.data.left} to={peoplePath('since.1.left')} /> left,{' '}
                <Num value={since.data.hardBounces} to={peoplePath('since.1.hard-bounce')} /> found
                to have a dead address
              </>
            ) : (
              '…'
            )}
          </span>
        </li>
        {recent.slice(0, 2).map((one) => (
          <li key={one.id}>
            <span className="when">import</span>
            <span className="what">
              <Link className="name" to={`/intake/${one.id}`}>
                {one.fileName}
              </Link>
              :{' '}
              {one.state === 'uploaded' ? (
                'not begun'
              ) : (
                <>
                  <Num value={one.newCount} to={peoplePath(`import.${one.id}.new`)} /> new,{' '}
                  <Num value={one.changedCount} to={peoplePath(`import.${one.id}.changed`)} />{' '}
                  changed, {count(one.refusedCount)} refused
                </>
              )}
            </span>
            <span className="end">
              {one.state === 'running'
                ? `${count(one.cursor)} of ${count(one.rows)} rows`
                : importWords(one)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function DeskMargin() {
  const campaigns = useCampaignsQuery();
  const imports = useImportsQuery();
  const { office } = useOffice();
  const seesAll = useSeesEverybody();
  const standstills = useStandstillsQuery(undefined, { skip: !seesAll, ...fresh });
  const returned = useReturnedQuery({ open: 'yes' }, { skip: !seesAll, ...fresh });
  const refused = useSummaryQuery(
    { of: `refused.${Math.max(1, office.unreadBounceLimit)}` },
    { skip: !seesAll || office.unreadBounceLimit === 0, refetchOnMountOrArgChange: 30 },
  );
  const house = useSummaryQuery({}, { refetchOnMountOrArgChange: 30 });
  const open = returned.data?.open ?? 0;
  const whose = seesAll ? 'House pool' : 'Your people';
  const hands = [
    ...(office.postalAddress.trim() === ''
      ? [
          {
            key: 'address',
            to: '/settings',
            strong: 'No postal address.',
            rest: 'Every letter has to carry one.',
          },
        ]
      : []),
    ...(campaigns.data ?? [])
      .filter(({ status }) => status === 'differs')
      .map(({ id, name }) => ({
        key: `c${id}`,
        to: `/campaigns/${id}`,
        strong: name,
        rest: 'waits for your word: its tally changed.',
      })),
    ...(campaigns.data ?? [])
      .filter(({ status }) => status === 'paused')
      .map(({ id, name }) => ({
        key: `p${id}`,
        to: `/campaigns/${id}`,
        strong: name,
        rest: 'is paused.',
      })),
    ...(open > 0
      ? [
          {
            key: 'returned',
            to: '/results/returned',
            strong: `${count(open)} ${open === 1 ? 'message' : 'messages'}`,
            rest: 'that came back to see to.',
          },
        ]
      : []),
    ...((refused.data?.total ?? 0) > 0
      ? [
          {
            key: 'refused',
            to: peoplePath(`refused.${office.unreadBounceLimit}`),
            strong: `${count(refused.data?.total ?? 0)} ${refused.data?.total === 1 ? 'person' : 'people'}`,
            rest: `refused ${count(office.unreadBounceLimit)} times in a row, for reasons nobody could read.`,
          },
        ]
      : []),
    ...(imports.data ?? [])
      .filter(({ state, refusedCount }) => state === 'done' && refusedCount > 0)
      .slice(0, 3)
      .map(({ id, fileName, refusedCount }) => ({
        key: `i${id}`,
        to: `/intake/${id}`,
        strong: `${count(refusedCount)} ${refusedCount === 1 ? 'row' : 'rows'}`,
        rest: `of “${fileName}” ${refusedCount === 1 ? 'was' : 'were'} refused.`,
      })),
    ...(imports.data ?? [])
      .filter(({ state }) => state === 'uploaded')
      .slice(0, 2)
      .map(({ id, fileName }) => ({
        key: `u${id}`,
        to: `/intake/${id}`,
        strong: fileName,
        rest: 'was read but not brought in.',
      })),
  ];
  return (
    <>
      <MarginPart title="Needs a hand">
        {standstills.data?.map((one) => (
          <Standstill key={`${one.work} ${one.thing}`} {...one} />
        ))}
        {hands.length === 0 && !standstills.data?.length && (
          <p className="soft">Nothing at the moment.</p>
        )}
        {hands.map(({ key, to, strong, rest }) => (
          <p key={key}>
            <Link to={to} style={{ color: 'var(--ink)' }}>
              {strong}
            </Link>{' '}
            {rest}
          </p>
        ))}
      </MarginPart>
      <MarginPart title={whose}>
        {house.data ? (
          <Sum
            label={whose}
            lines={[
              { label: 'contacts', value: house.data.total, to: '/contacts' },
              {
                label: 'not to be mailed',
                value: house.data.total - house.data.mayBeMailed,
                kind: 'less',
              },
              {
                label: 'may be mailed',
                value: house.data.mayBeMailed,
                to: '/contacts?standing=may%20be%20mailed',
                kind: 'total',
              },
            ]}
          />
        ) : (
          <Ghost lines={2} />
        )}
      </MarginPart>
      <MarginPart title="Answering">
        <p className="soft">
          <Link className="opens" to={peoplePath('since.90.responded')}>
            People who opened or clicked
          </Link>{' '}
          in the last 90 days.
        </p>
      </MarginPart>
    </>
  );
}

// What came back of one campaign: figures with their denominators, when, where they clicked, and the whole account.
import { Button, Skeleton, Title } from '@mantine/core';
import type { ResultReply } from '@palabra/contract/results';
import type { PeopleParts } from '@palabra/core/contacts';
import { figures, rateText } from '@palabra/core/results';
import { lazy, Suspense } from 'react';
import { Link, useParams } from 'react-router';
import { letterOf, LetterPicture } from '../campaigns';
import { useOffice } from '../office';
import { Bar, count, Figures, Num, peoplePath } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Empty, Waiting } from '../ui/states';
import { Small, Soft } from '../ui/text';
import { clock, day, dayAndClock } from '../ui/time';
import { useResultQuery } from './results.api';
import { ResultMargin, type To } from './ResultMargin';
import classes from './results.module.css';

const ResponseChart = lazy(async () => ({
  default: (await import('./ResponseChart')).ResponseChart,
}));
const FRESH_MS = 3000;

export function ResultPage() {
  const id = Number(useParams()['id']);
  const { office } = useOffice();
  const result = useResultQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
    pollingInterval: FRESH_MS,
    skipPollingIfUnfocused: true,
  });
  const data = result.data?.id === id ? result.data : undefined;
  if (!data) return <Waiting error={result.error} again={() => void result.refetch()} />;
  const to: To = (part) => peoplePath(`campaign.${id}.${part}`);
  return (
    <Page
      title={data.name}
      sub={whenItWentOut(data, office.timeZone)}
      actions={
        <Button component={Link} to={`/campaigns/${id}`} variant="default">
          The campaign
        </Button>
      }
      margin={<ResultMargin data={data} to={to} />}
    >
      {data.startedAt ? (
        <Result data={data} to={to} />
      ) : (
        <Empty title="This campaign has not gone out yet">
          What comes back is counted here from the first letter on.
        </Empty>
      )}
    </Page>
  );
}

function whenItWentOut({ startedAt, finishedAt }: ResultReply, zone: string): string {
  if (!startedAt) return 'not out yet';
  if (!finishedAt) return `going out since ${dayAndClock(zone, startedAt)}`;
  const isSameDay = day(zone, startedAt) === day(zone, finishedAt);
  return `went out ${dayAndClock(zone, startedAt)} to ${isSameDay ? clock(zone, finishedAt) : dayAndClock(zone, finishedAt)}`;
}

function Result({ data, to }: { readonly data: ResultReply; readonly to: To }) {
  const { office } = useOffice();
  const all = figures(data.counts);
  const own = data.yours && figures(data.yours);
  const figure = (name: keyof ReturnType<typeof figures>, part: PeopleParts['campaign']) => {
    const { count: value, ...rest } = all[name];
    const rate = rateText({ count: value, ...rest });
    return {
      value,
      to: own ? undefined : to(part),
      note: own && (
        <>
          <Num value={own[name].count} to={to(part)} label={`${name}, of yours`} /> of yours
        </>
      ),
      label: rate === '' ? name : `${name}, ${rate} of ${rest.ofWhat}`,
    };
  };
  return (
    <>
      <div className={classes.top}>
        <Figures
          figures={[
            figure('delivered', 'delivered'),
            figure('opened', 'opened'),
            figure('clicked', 'clicked'),
            figure('bounced', 'bounced'),
            figure('left', 'left'),
          ]}
        />
        <LetterPicture
          src={letterOf(data.id)}
          title="The letter as it went out"
          width={76}
          height={92}
        />
      </div>
      <Title order={2}>
        When they opened and clicked{' '}
        <Small fw={400}>
          {data.step === 'hour'
            ? 'for the first time, in the first three days'
            : 'for the first time'}
          ; dotted: by machines
        </Small>
      </Title>
      {data.points.length === 0 ? (
        <Empty title="Nothing has come back yet">Most opens come within the first day.</Empty>
      ) : (
        <Suspense fallback={<Skeleton h={220} />}>
          <ResponseChart points={data.points} step={data.step} zone={office.timeZone} />
        </Suspense>
      )}
      <Title order={2} mt="lg">
        Where they clicked
      </Title>
      <Links data={data} to={to} />
    </>
  );
}

function Links({ data, to }: { readonly data: ResultReply; readonly to: To }) {
  if (data.links.length === 0) return <Soft>The letter has no links.</Soft>;
  const most = Math.max(1, ...data.links.map(({ people }) => people));
  return data.links.map((link) => (
    <div className={classes.link} key={link.link}>
      <span title={link.url}>{link.label}</span>
      <Bar accent bare value={link.people} of={most} />
      <span>
        <Num value={link.people} to={to(`link-${link.link}`)} label={`clicked ${link.label}`} />
        {link.machines > 0 && (
          <span title="people for whom a machine followed it">
            <Small> + {count(link.machines)} by machines</Small>
          </span>
        )}
      </span>
    </div>
  ));
}

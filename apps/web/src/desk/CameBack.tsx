// What the last letters brought back, each with its curve.
import type { ResultLine } from '@palabra/contract/results';
import type { PeopleParts } from '@palabra/core/contacts';
import { rateText } from '@palabra/core/results';
import { letterOf } from '../campaigns';
import { useOffice } from '../office';
import { Curve, useLatestResultsQuery } from '../results';
import { Miniature } from '../ui/Miniature';
import { Num, peoplePath } from '../ui/numbers';
import { Part } from '../ui/Page';
import { Name, Row, Rows } from '../ui/Rows';
import { Ghost, Wrong } from '../ui/states';
import { Soft } from '../ui/text';
import { day } from '../ui/time';
import classes from './desk.module.css';
import { fresh } from './fresh';

export function CameBack() {
  const results = useLatestResultsQuery({ limit: 4 }, fresh);
  return (
    <Part title="Came back">
      {results.isError && <Wrong error={results.error} again={() => void results.refetch()} />}
      {results.isLoading && <Ghost />}
      <Rows>
        {results.data?.length === 0 && (
          <Row>
            <Soft>Nothing has gone out yet.</Soft>
          </Row>
        )}
        {results.data?.map((one) => (
          <Result key={one.id} result={one} />
        ))}
      </Rows>
    </Part>
  );
}

function Result({ result }: { readonly result: ResultLine }) {
  const { office } = useOffice();
  const { id, name, opened, clicked, left, delivered } = result;
  const of = (part: PeopleParts['campaign']): string => peoplePath(`campaign.${id}.${part}`);
  return (
    <Row
      picture={
        <Miniature src={letterOf(id)} title={`The letter of ${name}`} width={34} height={42} />
      }
      when={day(office.timeZone, result.startedAt)}
      end={
        <span className={classes.numbers}>
          <span>
            <Curve id={id} />
          </span>
          <span>
            <Num value={opened} to={of('opened')} label="opened" /> opened,{' '}
            {rateText({ count: opened, of: delivered }) || 'none delivered'}
          </span>
          <span>
            <Num value={clicked} to={of('clicked')} label="clicked" /> clicked
          </span>
          <span>
            <Num value={left} to={of('left')} label="left" /> left
          </span>
        </span>
      }
    >
      <Name to={`/results/${id}`}>{name}</Name>
    </Row>
  );
}

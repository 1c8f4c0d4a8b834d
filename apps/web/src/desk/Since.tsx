// What happened to people since yesterday, and what came in.
import type { ImportReply } from '@palabra/contract/intake';
import { importWords, useImportsQuery } from '../intake';
import { useSeesEverybody } from '../office';
import { useSinceQuery } from '../results';
import { count, Num, peoplePath } from '../ui/numbers';
import { Part } from '../ui/Page';
import { Name, Row, Rows } from '../ui/Rows';
import { Wrong } from '../ui/states';
import { fresh } from './fresh';

const IMPORTS_SHOWN = 2;

export function Since() {
  const seesAll = useSeesEverybody();
  const { data, error } = useSinceQuery(undefined, fresh);
  const imports = useImportsQuery(undefined, fresh);
  const recent =
    data === undefined
      ? []
      : (imports.data ?? []).filter(
          ({ state, createdAt }) => state === 'running' || createdAt >= data.from,
        );
  return (
    <Part title="Since yesterday">
      {error !== undefined && <Wrong error={error} />}
      <Rows>
        <Row when={seesAll ? 'people' : 'your people'}>
          {data ? (
            <>
              <Num value={data.cameIn} to={peoplePath('since.1.came-in')} /> came in,{' '}
              <Num value={data.left} to={peoplePath('since.1.left')} /> left,{' '}
              <Num value={data.hardBounces} to={peoplePath('since.1.hard-bounce')} /> found to have
              a dead address
            </>
          ) : (
            '…'
          )}
        </Row>
        {recent.slice(0, IMPORTS_SHOWN).map((one) => (
          <Import key={one.id} one={one} />
        ))}
      </Rows>
    </Part>
  );
}

function Import({ one }: { readonly one: ImportReply }) {
  return (
    <Row
      when="import"
      end={
        one.state === 'running'
          ? `${count(one.cursor)} of ${count(one.rows)} rows`
          : importWords(one)
      }
    >
      <Name to={`/intake/${one.id}`}>{one.fileName}</Name>
      {': '}
      {one.state === 'uploaded' ? (
        'not begun'
      ) : (
        <>
          <Num value={one.newCount} to={peoplePath(`import.${one.id}.new`)} /> new,{' '}
          <Num value={one.changedCount} to={peoplePath(`import.${one.id}.changed`)} /> changed,{' '}
          {count(one.refusedCount)} refused
        </>
      )}
    </Row>
  );
}

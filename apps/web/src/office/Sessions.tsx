// Where one is signed in, and an end to each.
import { command } from '../ui/command';
import { Row, Rows } from '../ui/Rows';
import { Ghost, Wrong } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { useEndSessionMutation, useSessionsQuery } from './office.api';
import { useOffice } from './OfficeContext';

export function Sessions() {
  const { office } = useOffice();
  const { data, error, refetch } = useSessionsQuery(undefined, {
    refetchOnMountOrArgChange: true,
  });
  const [end] = useEndSessionMutation();
  if (error !== undefined) return <Wrong error={error} again={() => void refetch()} />;
  if (!data) return <Ghost lines={2} />;
  return (
    <Rows>
      {data.map(({ id, device, since, seenAt, isThis }) => (
        <Row
          key={id}
          end={
            isThis ? (
              'this one'
            ) : (
              <Act
                aria-label={`End ${device}, since ${dayAndClock(office.timeZone, since)}`}
                onClick={() =>
                  void command({ run: () => end(id).unwrap(), says: () => 'It was ended.' })
                }
              >
                End it
              </Act>
            )
          }
        >
          <b>{device}</b>{' '}
          <Soft>
            since {dayAndClock(office.timeZone, since)}, last used{' '}
            {dayAndClock(office.timeZone, seenAt)}
          </Soft>
        </Row>
      ))}
    </Rows>
  );
}

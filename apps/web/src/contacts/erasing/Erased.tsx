// In place of a person who is not there: that they were erased, where that is so, and what holds them still.
import { useState } from 'react';
import { Link } from 'react-router';
import { useOffice } from '../../office';
import { Page } from '../../ui/Page';
import { Ghost, Lost, Note } from '../../ui/states';
import { Soft } from '../../ui/text';
import { day } from '../../ui/time';
import { useErasureQuery } from '../contacts.api';
import classes from '../contacts.module.css';

export function Erased({ id }: { readonly id: number }) {
  const { office } = useOffice();
  const [isDone, setDone] = useState(false);
  const { data, isError } = useErasureQuery(id, { pollingInterval: isDone ? 0 : 1000 });
  if (isError) return <Lost />;
  if (!data) return <Ghost lines={4} />;
  if (data.isDone !== isDone) setDone(data.isDone);
  const when = day(office.timeZone, data.at);
  return (
    <Page title="Erased">
      <p>
        {data.isAsked
          ? `This person was erased at their own request on ${when}${data.by === null ? '' : `, by ${data.by}`}.`
          : `This person was deleted, and erased on ${when}, after thirty days in the bin.`}{' '}
        What only counts stays in the figures, without a name.
      </p>
      {data.isAsked && (
        <p>
          No list brings them back. They themselves can come back by the page behind an earlier
          letter.
        </p>
      )}
      <p role="status">
        {data.isDone ? (
          <Soft>Imported files were gone through, too.</Soft>
        ) : (
          'Imported files are still being gone through; their rows there go within minutes.'
        )}
      </p>
      {data.backups.length > 0 && (
        <Note kind="caution">
          These backups hold them still:
          <ul className={classes.goes}>
            {data.backups.map((file) => (
              <li key={file}>{file}</li>
            ))}
          </ul>
        </Note>
      )}
      <Link to="/contacts">To the contacts</Link>
    </Page>
  );
}

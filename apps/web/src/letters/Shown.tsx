// The letter as a reader sees it: on a wide screen, on a phone, as plain text.
import { useState } from 'react';
import { count } from '../ui/numbers';
import { Wrong } from '../ui/states';
import { Small, Soft } from '../ui/text';
import { usePreviewQuery } from './letters.api';
import classes from './letters.module.css';

export const shows = ['write', 'wide', 'phone', 'text'] as const;
export type Show = (typeof shows)[number];

interface ShownProps {
  readonly id: number;
  readonly show: Exclude<Show, 'write'>;
  readonly as: number | undefined;
  readonly saved: boolean;
}

export function Shown({ id, show, as, saved }: ShownProps) {
  const [round, setRound] = useState(0);
  const [wasSaved, setWasSaved] = useState(saved);
  if (saved !== wasSaved) {
    setWasSaved(saved);
    if (saved) setRound(round + 1);
  }
  const preview = usePreviewQuery({ id, as, saved: round }, { skip: !saved });
  if (!saved)
    return (
      <p>
        <Soft>Saving, then showing …</Soft>
      </p>
    );
  return (
    <div className={classes.desk}>
      {preview.isError && <Wrong error={preview.error} again={() => void preview.refetch()} />}
      <p className={classes.about}>
        {preview.data ? (
          <>
            <b>{preview.data.subject || 'no subject'}</b>{' '}
            <Small>· {count(Math.ceil(preview.data.bytes / 1024))} kB</Small>
          </>
        ) : (
          '…'
        )}
      </p>
      {show === 'text' ? (
        <pre className={classes.plain}>{preview.data?.text ?? '…'}</pre>
      ) : (
        <iframe
          className={`${classes.frame} ${show === 'phone' ? classes.phone : classes.screen}`}
          title={`The letter ${show === 'phone' ? 'on a phone' : 'on a wide screen'}`}
          sandbox="allow-popups"
          src={`/api/letters/${id}/preview.html?${as ? `as=${as}&` : ''}round=${round}`}
        />
      )}
    </div>
  );
}

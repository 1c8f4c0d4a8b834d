// A rating wherever it is named: a short bar and the band’s word.
import type { Band } from '@palabra/core/contacts';
import { Bar } from '../../ui/numbers';
import { Soft } from '../../ui/text';
import classes from './ratings.module.css';

interface RatingBarProps {
  /** Null where too few letters arrived. */
  readonly rating: number | null;
  /** Null where they left or complained. */
  readonly band: Band | null;
}

export function RatingBar({ rating, band }: RatingBarProps) {
  if (band === null) return <Soft>ended</Soft>;
  if (rating === null) return <Soft>{band}</Soft>;
  return (
    <span className={classes.rating}>
      <span>
        <Bar value={rating} of={100} />
      </span>
      {band}
    </span>
  );
}

export const ratingWords = ({ rating, band }: RatingBarProps): string =>
  band === null ? 'ended: they left or complained' : rating === null ? band : `${rating}, ${band}`;

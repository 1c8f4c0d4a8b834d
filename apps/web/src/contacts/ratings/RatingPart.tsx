// A person’s rating: how high, how it went, what it is made of, and what the next letter would do.
import type { PersonRatingReply } from '@palabra/contract/contacts';
import { FADING_BY, type RatedResponse } from '@palabra/core/contacts';
import { useState } from 'react';
import { useOffice } from '../../office';
import { Spark, Sum } from '../../ui/numbers';
import { MarginPart } from '../../ui/Page';
import { Ghost, Wrong } from '../../ui/states';
import { Act, Figure, Soft } from '../../ui/text';
import { day } from '../../ui/time';
import { usePersonRatingQuery } from '../contacts.api';
import { RatingBar } from './RatingBar';
import classes from './ratings.module.css';

export function RatingPart({ id }: { readonly id: number }) {
  const { data, error, refetch } = usePersonRatingQuery(id, { refetchOnMountOrArgChange: true });
  return (
    <MarginPart title="Rating">
      {error !== undefined && <Wrong error={error} again={() => void refetch()} />}
      {!data && error === undefined && <Ghost lines={2} />}
      {data && (data.ended ? <Ended ended={data.ended} /> : <Rated told={data} />)}
    </MarginPart>
  );
}

function Ended({ ended }: { readonly ended: NonNullable<PersonRatingReply['ended']> }) {
  const { office } = useOffice();
  return (
    <Soft>
      Ended on {day(office.timeZone, ended.at)}, when they{' '}
      {ended.how === 'left' ? 'left' : 'complained'}.
    </Soft>
  );
}

const done: Readonly<Record<RatedResponse, string>> = {
  opened: 'opened',
  clicked: 'clicked in',
  replied: 'replied to',
};
const letters = (count: number): string => `${count} ${count === 1 ? 'letter' : 'letters'}`;

function Rated({ told }: { readonly told: PersonRatingReply }) {
  const [isOpen, setOpen] = useState(false);
  const { rating, band, parts, middle, course } = told;
  const known = course.filter((one) => one !== null);
  const arrived = parts.reduce((sum, part) => sum + part.letters, 0);
  if (rating === null)
    return (
      <Soft>
        New: {arrived === 0 ? 'no letter' : letters(arrived)} so far. People are rated from the
        third letter on.
      </Soft>
    );
  return (
    <>
      <div className={classes.head}>
        <RatingBar rating={rating} band={band} />
        {known.length > 1 && (
          <Spark
            points={known}
            most={100}
            label={`How the rating went: from ${known[0]} to ${known.at(-1)}, a point a week`}
          />
        )}
        <Figure className={classes.figure}>{rating}</Figure>
      </div>
      <p>
        <Soft>{inShort(told)}</Soft>
      </p>
      {isOpen && (
        <Sum
          label="What the rating is made of"
          lines={[
            ...parts.map((part) => ({
              label: part.response
                ? `${done[part.response]} ${letters(part.letters)}`
                : `left ${letters(part.letters)} unanswered`,
              value: part.points,
            })),
            { label: 'the middle, while letters are few', value: middle },
            { label: 'rating', value: rating, kind: 'total' },
          ]}
        />
      )}
      {isOpen && (
        <p>
          <Soft>{ahead(told, rating)}</Soft>
        </p>
      )}
      <Act aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {isOpen ? 'Fold away' : 'What it is made of'}
      </Act>
    </>
  );
}

function inShort({ parts, rating, band, wasHighest }: PersonRatingReply): string {
  const arrived = parts.reduce((sum, part) => sum + part.letters, 0);
  const answered = parts.flatMap(({ response, letters: count }) =>
    response ? [`${done[response]} ${count}`] : [],
  );
  const fell =
    band === 'fading' && wasHighest !== null && rating !== null && wasHighest - rating >= FADING_BY
      ? ` It was ${wasHighest} within the last three months.`
      : '';
  const of = arrived === 1 ? 'the one letter that arrived' : `${arrived} letters that arrived`;
  return `Of ${of}: ${answered.length > 0 ? answered.join(', ') : 'none answered'}. Later ones count more.${fell}`;
}

/** What the next letter would do. */
function ahead({ next, parts }: PersonRatingReply, rating: number): string {
  const has = (response: RatedResponse): number => next[response] ?? rating;
  const best = Math.max(has('clicked'), has('replied'));
  const ups =
    has('opened') < best
      ? `opening the next letter brings it to ${has('opened')}, clicking or replying to ${best}`
      : `answering the next letter brings it to ${best}`;
  const isTop = best <= rating;
  return `${isTop ? 'It can hardly rise further' : `What brings it up: ${ups}`}${
    parts.length > 0 ? `; unanswered, it goes to ${next.ignored ?? rating}` : ''
  }.`;
}

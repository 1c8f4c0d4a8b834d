// How people are rated: what each response weighs, how soon letters are forgotten, where bands begin; and what would shift.
import { Button, Group, NumberInput, RangeSlider, Slider } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import type { RatingPreviewReply, RatingScaleReply } from '@palabra/contract/contacts';
import {
  bands,
  FADING_BY,
  FADING_WITHIN,
  HALF_LIFE,
  parseScale,
  RATED_FROM,
  ratedResponses,
  type Band,
  type RatingScale,
} from '@palabra/core/contacts';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { problemOf } from '../../api/problems';
import { useMay, useOffice } from '../../office';
import { command } from '../../ui/command';
import { Bar, count, people, Progressing } from '../../ui/numbers';
import { MarginPart, Page, Part } from '../../ui/Page';
import { Note, Waiting } from '../../ui/states';
import { Act, Figure, Soft } from '../../ui/text';
import { dayAndClock } from '../../ui/time';
import {
  useChangeRatingScaleMutation,
  usePreviewRatingMutation,
  useRatingScaleQuery,
} from '../contacts.api';
import classes from './ratings.module.css';

export function RatingPage() {
  const may = useMay('settings');
  const [isCounting, setCounting] = useState(false);
  const found = useRatingScaleQuery(undefined, {
    refetchOnMountOrArgChange: true,
    skip: !may,
    pollingInterval: isCounting ? 1000 : 0,
  });
  const counting = found.data?.counting !== null && found.data !== undefined;
  if (counting !== isCounting) setCounting(counting);
  if (!may)
    return (
      <Page title="Rating">
        <Soft>A coordinator says how people are rated.</Soft>
      </Page>
    );
  if (!found.data) return <Waiting error={found.error} again={() => void found.refetch()} />;
  return <Scale key={found.data.version} kept={found.data} />;
}

const names: Readonly<Record<(typeof ratedResponses)[number], string>> = {
  opened: 'opening',
  clicked: 'clicking',
  replied: 'replying',
};

function Scale({ kept }: { readonly kept: RatingScaleReply }) {
  const [scale, setScale] = useState(kept.scale);
  const [change, changing] = useChangeRatingScaleMutation();
  const read = parseScale(scale);
  const isNew = JSON.stringify(scale) !== JSON.stringify(kept.scale);
  const isStandard = JSON.stringify(scale) === JSON.stringify(kept.standard);
  const keep = (): Promise<unknown> =>
    command({
      run: () => change({ version: kept.version, scale }).unwrap(),
      says: () => 'Kept. Everybody is being counted by it.',
      undo: ({ version }) => change({ version, scale: kept.scale }).unwrap(),
    });
  return (
    <Page
      title="Rating"
      sub="how responsive somebody is, from 0 to 100, by what they did with letters"
      actions={
        <Button component={Link} to="/settings" variant="default">
          To the settings
        </Button>
      }
      margin={<Shift kept={kept} scale={isNew && read.ok ? scale : undefined} />}
    >
      <Part title="What a response weighs">
        <div className={`${classes.part} ${classes.weights}`}>
          {ratedResponses.map((response) => (
            <Weight
              key={response}
              label={names[response]}
              value={scale.weights[response]}
              onChange={(weight) =>
                setScale({ ...scale, weights: { ...scale.weights, [response]: weight } })
              }
            />
          ))}
        </div>
      </Part>
      <Part title="How soon a letter is forgotten">
        <div className={classes.part}>
          <NumberInput
            label="Counts half after so many days"
            min={HALF_LIFE.least}
            max={HALF_LIFE.most}
            allowDecimal={false}
            clampBehavior="none"
            w={240}
            value={scale.halfLife}
            onChange={(next) => setScale({ ...scale, halfLife: Number(next) })}
          />
        </div>
      </Part>
      <Part title="Where the bands begin">
        <div className={classes.part}>
          <RangeSlider
            label={null}
            min={0}
            max={100}
            minRange={1}
            maw={560}
            mb={36}
            thumbFromLabel="Steady begins at"
            thumbToLabel="Keen begins at"
            value={[scale.steady, scale.keen]}
            marks={[
              { value: scale.steady, label: `steady from ${scale.steady}` },
              { value: scale.keen, label: `keen from ${scale.keen}` },
            ]}
            onChange={([steady, keen]) => setScale({ ...scale, steady, keen })}
          />
          <Soft>
            Below is <b>quiet</b>. Whoever fell by {FADING_BY} within {FADING_WITHIN} days is{' '}
            <b>fading</b>, wherever they are; fewer than {RATED_FROM} letters is <b>new</b>.
          </Soft>
          {!read.ok && <Note kind="wrong">{read.error}</Note>}
          <Group mt="lg">
            <Button
              disabled={!isNew || !read.ok}
              loading={changing.isLoading}
              onClick={() => void keep()}
            >
              Rate by this
            </Button>
            {isNew && <Act onClick={() => setScale(kept.scale)}>As it is now</Act>}
            {!isStandard && <Act onClick={() => setScale(kept.standard)}>The standard</Act>}
          </Group>
        </div>
      </Part>
      <Part title="How it is counted">
        <Soft mt="sm" maw={640}>
          Of each letter that arrived, the heaviest response counts; who clicked has opened it, too,
          and a reply is a reply. Letters count less the older they are. Beside them stand two
          letters’ worth of the middle, so that few letters tell little. What machines open or click
          counts nothing, and whoever leaves or complains has no rating any more. A rating may be
          lower the day after somebody opened a letter: what they did does not lower it, but their
          earlier letters have grown older.
        </Soft>
        <Check {...kept.check} />
      </Part>
    </Page>
  );
}

/** What the nightly check of everybody's letters came to. */
function Check({ at, isUnderWay, wrong }: RatingScaleReply['check']) {
  const { office } = useOffice();
  const found =
    wrong === 0
      ? 'everybody’s figures were as it happened'
      : `the figures of ${people(wrong)} were not as it happened, and were put right`;
  return (
    <Soft mt="sm" maw={640}>
      Every night what is kept of everybody’s letters is checked against what happened.{' '}
      {isUnderWay
        ? 'It is being checked just now.'
        : at !== null && `Last time, on ${dayAndClock(office.timeZone, at)}, ${found}.`}
    </Soft>
  );
}

function Weight({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: number;
  readonly onChange: (value: number) => void;
}) {
  return (
    <>
      <span>{label}</span>
      <Slider label={null} thumbLabel={`Weight of ${label}`} value={value} onChange={onChange} />
      <NumberInput
        aria-label={`Weight of ${label}, typed`}
        hideControls
        min={0}
        max={100}
        allowDecimal={false}
        value={value}
        onChange={(next) => onChange(Number(next))}
      />
    </>
  );
}

type Counted = Readonly<Record<Band, { readonly now: number; readonly then: number }>>;

const nothing = Object.fromEntries(
  bands.map((band) => [band, { now: 0, then: 0 }]),
) as unknown as Counted;
const added = (to: Counted, { bands: some }: RatingPreviewReply): Counted =>
  Object.fromEntries(
    some.map(({ band, now, then }) => [
      band,
      { now: to[band].now + now, then: to[band].then + then },
    ]),
  ) as unknown as Counted;

interface Preview {
  /** The scale it is of. */
  readonly of: string;
  readonly counted: Counted;
  readonly isDone: boolean;
  readonly error?: unknown;
}

/** Counts people by a scale that is only thought of, some at a time, until it is another. */
function usePreview(scale: RatingScale | undefined): Preview | undefined {
  const [ask] = usePreviewRatingMutation();
  const [settled] = useDebouncedValue(scale, 200);
  const [seen, setSeen] = useState<Preview>();
  const of = settled === undefined ? undefined : JSON.stringify(settled);
  useEffect(() => {
    if (of === undefined) return undefined;
    const run = { isOver: false };
    void (async () => {
      let counted = nothing;
      let after: number | null = 0;
      try {
        while (after !== null) {
          const answer: RatingPreviewReply = await ask({
            scale: JSON.parse(of) as RatingScale,
            after,
          }).unwrap();
          if (run.isOver) return;
          counted = added(counted, answer);
          after = answer.after;
          setSeen({ of, counted, isDone: after === null });
        }
      } catch (error) {
        if (!run.isOver) setSeen({ of, counted, isDone: true, error });
      }
    })();
    return () => {
      run.isOver = true;
    };
  }, [of, ask]);
  return seen?.of === of ? seen : undefined;
}

/** How many are in each band, and would be. */
function Shift({
  kept,
  scale,
}: {
  readonly kept: RatingScaleReply;
  readonly scale: RatingScale | undefined;
}) {
  const preview = usePreview(scale);
  const shown = scale === undefined ? undefined : preview;
  const total = kept.bands.reduce((sum, one) => sum + one.count, 0);
  const sum = (which: 'now' | 'then'): number =>
    shown ? bands.reduce((all, band) => all + shown.counted[band][which], 0) : total;
  const now = (band: Band): number =>
    shown ? shown.counted[band].now : (kept.bands.find((one) => one.band === band)?.count ?? 0);
  return (
    <>
      <MarginPart title={scale ? 'How the bands would shift' : 'The bands'}>
        <table className={classes.bands} aria-label="The bands">
          <thead>
            <tr>
              <th>band</th>
              <th>now</th>
              {scale && <th>then</th>}
              <th />
            </tr>
          </thead>
          <tbody>
            {bands.map((band) => (
              <tr key={band}>
                <td>{band}</td>
                <td>
                  <Figure>{count(now(band))}</Figure>
                </td>
                {scale && (
                  <td>
                    <Figure fw={700}>{shown ? count(shown.counted[band].then) : '…'}</Figure>
                  </td>
                )}
                <td>
                  <Bar
                    value={shown ? shown.counted[band].then : now(band)}
                    of={sum(shown ? 'then' : 'now')}
                    accent={shown !== undefined}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {shown && !shown.isDone && (
          <Soft role="status">
            of {people(sum('now'))} counted so far, {people(total)} in all
          </Soft>
        )}
        {shown?.error !== undefined && <Note kind="wrong">{problemOf(shown.error).detail}</Note>}
        {kept.ended > 0 && <Soft>{people(kept.ended)} left or complained and have none.</Soft>}
      </MarginPart>
      {kept.counting && (
        <MarginPart title="Everybody is being counted">
          <Progressing label="Counting" done={kept.counting.done} of={kept.counting.of} />
          <Soft>It goes on by itself; lists show the old rating until a person is counted.</Soft>
        </MarginPart>
      )}
    </>
  );
}

// Two to four segments beside one another: how large each is, whom they share, and who is in one alone.
import { Button, CloseButton, Group, Modal, Stack, TextInput } from '@mantine/core';
import type { CompareReply, SegmentLine } from '@palabra/contract/segments';
import type { RuleNode } from '@palabra/core/segments';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { useVocabularyQuery } from '../contacts';
import { useMay } from '../office';
import { command } from '../ui/command';
import { Finder } from '../ui/Finder';
import { Bar, count, Num, peoplePath } from '../ui/numbers';
import { MarginPart, Page, Part } from '../ui/Page';
import { Pick } from '../ui/Pick';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Soft } from '../ui/text';
import {
  useCombineMutation,
  useCompareQuery,
  useKeepFilterMutation,
  useSegmentsQuery,
} from './segments.api';
import classes from './segments.module.css';

const MOST = 4;
const letters = ['A', 'B', 'C', 'D'];

export function ComparePage() {
  const [search, setSearch] = useSearchParams();
  const ids = [
    ...new Set(
      (search.get('of') ?? '')
        .split(',')
        .map(Number)
        .filter((id) => Number.isInteger(id) && id > 0),
    ),
  ].slice(0, MOST);
  const { data: segments, error, refetch } = useSegmentsQuery();
  const compared = useCompareQuery({ segments: ids }, { skip: ids.length < 2 });
  const put = (next: readonly number[]): void => setSearch({ of: next.join(',') });
  const nameOf = (id: number): string => segments?.find((one) => one.id === id)?.name ?? '…';
  const answer = ids.length < 2 ? undefined : compared.currentData;
  return (
    <Page
      title="Compare segments"
      sub="whom they share, and who is in one alone"
      actions={ids.length > 1 && segments && <Combine ids={ids} segments={segments} />}
      margin={<Explained />}
    >
      {error !== undefined && <Wrong error={error} again={() => void refetch()} />}
      <Group gap="md" mb="md">
        {ids.map((id, at) => (
          <span key={id} className={classes.compared}>
            <b>{letters[at]}</b> {nameOf(id)}
            <CloseButton
              size={20}
              iconSize={12}
              aria-label={`Take ${nameOf(id)} out`}
              onClick={() => put(ids.filter((one) => one !== id))}
            />
          </span>
        ))}
        {ids.length < MOST && (
          <Finder
            words="+ segment"
            label="Find a segment"
            placeholder="find a segment"
            none="No other segment of that name."
            options={(segments ?? [])
              .filter(({ id }) => !ids.includes(id))
              .map(({ id, name, kind }) => ({ key: String(id), text: name, note: kind }))}
            onPick={({ key }) => put([...ids, Number(key)])}
          />
        )}
      </Group>
      {ids.length < 2 && (
        <Empty title="Choose two to four segments">
          <p>Every part of them is counted then, and opens into its people.</p>
        </Empty>
      )}
      {ids.length > 1 && compared.isError && (
        <Wrong error={compared.error} again={() => void compared.refetch()} />
      )}
      {ids.length > 1 && !answer && !compared.isError && <Ghost lines={8} />}
      {answer && segments && (
        <Answer ids={ids} answer={answer} segments={segments} nameOf={nameOf} />
      )}
    </Page>
  );
}

function Answer({
  ids,
  answer: { sizes, parts },
  segments,
  nameOf,
}: {
  readonly ids: readonly number[];
  readonly answer: CompareReply;
  readonly segments: readonly SegmentLine[];
  readonly nameOf: (id: number) => string;
}) {
  const open = useOpenPart(ids, segments);
  const total = parts.reduce((sum, { count: one }) => sum + one, 0);
  const most = Math.max(1, ...sizes, ...parts.map(({ count: one }) => one));
  const words = (inThese: number): string => {
    const own = ids.flatMap((_, bit) => ((inThese >>> bit) & 1 ? [letters[bit] ?? ''] : []));
    return own.length === 1
      ? `only in ${own[0]}`
      : `in ${own.join(' and ')}${own.length === ids.length ? '' : ', no other'}`;
  };
  return (
    <>
      <Part title="How large each is">
        <table className={classes.parts} aria-label="How large each is">
          <tbody>
            {ids.map((id, at) => (
              <tr key={id}>
                <th scope="row">
                  <b>{letters[at]}</b> {nameOf(id)}
                </th>
                <td>
                  <Bar value={sizes[at] ?? 0} of={most} accent />
                </td>
                <td>
                  <Num value={sizes[at] ?? 0} to={peoplePath(`segment.${id}`)} label="people" />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Part>
      <Part title="Where they meet" aside={<Soft>{count(total)} people in all, each once</Soft>}>
        <table className={classes.parts} aria-label="Where they meet">
          <tbody>
            {[...parts]
              .sort((a, b) => bits(b.inThese) - bits(a.inThese) || a.inThese - b.inThese)
              .map(({ inThese, count: one }) => (
                <tr key={inThese}>
                  <th scope="row">
                    <span className={classes.dots} aria-hidden>
                      {ids.map((id, bit) => (
                        <i key={id} data-on={Boolean((inThese >>> bit) & 1)}>
                          {letters[bit]}
                        </i>
                      ))}
                    </span>{' '}
                    {words(inThese)}
                  </th>
                  <td>
                    <Bar value={one} of={most} accent />
                  </td>
                  <td>
                    <Num value={one} onOpen={() => open(inThese)} label={words(inThese)} />
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
        {total === 0 && <Soft>Nobody is in any of them.</Soft>}
      </Part>
    </>
  );
}

const bits = (number: number): number =>
  [...number.toString(2)].filter((bit) => bit === '1').length;

/** Those who are in just some of the segments, by a rule. */
function useOpenPart(
  ids: readonly number[],
  segments: readonly SegmentLine[],
): (inThese: number) => void {
  const [keep] = useKeepFilterMutation();
  const navigate = useNavigate();
  const pools = useVocabularyQuery().data?.pools ?? [];
  return (inThese) => {
    const items = ids.map((segment, bit): RuleNode => ({
      kind: 'segment',
      op: (inThese >>> bit) & 1 ? 'is in' : 'is not in',
      segment,
    }));
    const first = ids.find((_, bit) => (inThese >>> bit) & 1) ?? 0;
    void command({
      run: () => keep({ rule: { v: 1, root: { of: 'all', items } } }).unwrap(),
    }).then((found) => {
      if (!found) return;
      const [name, ...others] = segments.find(({ id }) => id === first)?.pools ?? [];
      const pool = pools.find((one) => one.name === name);
      void navigate(
        pool && others.length === 0
          ? `/contacts?pool=${pool.id}&filter=${found.key}`
          : `/contacts?of=segment.${first}&filter=${found.key}`,
      );
    });
  };
}

function Explained() {
  return (
    <MarginPart title="How to read it">
      <p>
        Every person stands in one line only of “Where they meet”: the lines add up to everybody.
        Bars are as long as there are people.
      </p>
      <p>
        <Soft>
          A combined segment asks for these by their rules in force, and follows them when they
          change.
        </Soft>
      </p>
    </MarginPart>
  );
}

type How = 'together' | 'both' | 'without';
const ways: readonly { readonly value: How; readonly label: string }[] = [
  { value: 'together', label: 'together: whoever is in any' },
  { value: 'both', label: 'both: whoever is in all' },
  { value: 'without', label: 'the first without the others' },
];

function Combine({
  ids,
  segments,
}: {
  readonly ids: readonly number[];
  readonly segments: readonly SegmentLine[];
}) {
  const may = useMay('make segments');
  const navigate = useNavigate();
  const [isOpen, setOpen] = useState(false);
  const [how, setHow] = useState<How>('together');
  const names = ids.map((id) => segments.find((one) => one.id === id)?.name ?? '…');
  const said = {
    together: names.join(' or '),
    both: names.join(' and '),
    without: `${names[0]} without ${names.slice(1).join(' and ')}`,
  }[how].slice(0, 120);
  const [name, setName] = useState<string>();
  const [combine, state] = useCombineMutation();
  if (!may) return null;
  const go = async (): Promise<void> => {
    const made = await command({
      run: () => combine({ name: name ?? said, segments: [...ids], how }).unwrap(),
    });
    if (made) void navigate(`/segments/${made.id}`);
  };
  return (
    <>
      <Button onClick={() => setOpen(true)}>Combine into a new one</Button>
      <Modal opened={isOpen} title="A new segment of these" onClose={() => setOpen(false)}>
        <Stack gap="sm">
          <Pick<How>
            label="How they are put together"
            w="100%"
            value={how}
            options={ways}
            onChange={(next) => next && setHow(next)}
          />
          <TextInput
            label="Name"
            maxLength={120}
            value={name ?? said}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Group>
            <Button
              loading={state.isLoading}
              disabled={(name ?? said).trim() === ''}
              onClick={() => void go()}
            >
              Make it
            </Button>
          </Group>
        </Stack>
      </Modal>
    </>
  );
}

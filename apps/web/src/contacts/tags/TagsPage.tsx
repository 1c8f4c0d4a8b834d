// The tags: what each is for, on how many it is and how that went, and what names it; one is looked after in the margin.
import { Button, UnstyledButton } from '@mantine/core';
import type { TagCourse, TagLine } from '@palabra/contract/contacts';
import { useMemo, useState } from 'react';
import { useMay, useOffice } from '../../office';
import { ListPage } from '../../ui/ListPage';
import { Bar, count, Num, peoplePath, Spark } from '../../ui/numbers';
import { MarginPart } from '../../ui/Page';
import { useSearch } from '../../ui/search';
import type { Column } from '../../ui/table';
import { Soft } from '../../ui/text';
import { ago } from '../../ui/time';
import { Words } from '../../ui/Words';
import { useSummaryQuery, useTagCoursesQuery, useTagsQuery } from '../contacts.api';
import { Flag } from '../Flag';
import { NewTag } from './NewTag';
import { TagMargin } from './TagMargin';
import classes from './tags.module.css';
import { usesInWords } from './words';

/** A tag with its course, once that has come. */
interface Row extends TagLine {
  readonly course: TagCourse | undefined;
}

const parts = ['all', 'unused', 'alike'] as const;
type Part = (typeof parts)[number];

const YEAR_MS = 365 * 86_400_000;

export function TagsPage() {
  const found = useTagsQuery(undefined, { refetchOnMountOrArgChange: true });
  const courses = useTagCoursesQuery(undefined, { refetchOnMountOrArgChange: true });
  const may = useMay('settings');
  const mayMake = useMay('change people');
  const [search, setSearch] = useSearch();
  const [isMaking, setMaking] = useState(false);
  const [now] = useState(() => Date.now());
  const rows = useMemo(() => {
    const byTag = new Map(courses.data?.map((one) => [one.tag, one]));
    return found.data?.tags
      .map((tag): Row => ({ ...tag, course: byTag.get(tag.id) }))
      .sort((one, other) => (other.people ?? -1) - (one.people ?? -1));
  }, [found.data, courses.data]);
  const alike = useMemo(
    () => new Set<number>(found.data?.alike.flatMap(({ one, other }) => [one, other])),
    [found.data],
  );
  const within: Readonly<Record<Part, (row: Row) => boolean>> = {
    all: () => true,
    unused: ({ kind, uses, course }) =>
      kind === 'office' &&
      uses.length === 0 &&
      course !== undefined &&
      (course.lastPutOn === null || now - Date.parse(course.lastPutOn) > YEAR_MS),
    alike: ({ id }) => alike.has(id),
  };
  const part = parts.find((one) => one === search.get('which')) ?? 'all';
  const chosen = rows?.find(({ id }) => String(id) === search.get('tag'));
  const say = (key: string, value: string | undefined): void =>
    setSearch(
      (before) => {
        const after = new URLSearchParams(before);
        if (value === undefined) after.delete(key);
        else after.set(key, value);
        return after;
      },
      { replace: true },
    );
  const most = Math.max(1, ...(rows ?? []).map(({ people }) => people ?? 0));
  const columns = useColumns(most, chosen?.id, (id) => say('tag', String(id)));
  const words: Readonly<Record<Part, string>> = {
    all: 'all',
    unused: 'unused for a year',
    alike: 'alike',
  };
  const button = mayMake && <Button onClick={() => setMaking(true)}>New tag</Button>;
  return (
    <>
      <ListPage
        title="Tags"
        sub="what people are to the office, in a word"
        actions={button}
        rows={rows}
        filtered={rows?.filter(within[part])}
        error={found.error}
        again={() => void found.refetch()}
        columns={columns}
        textOf={textOf}
        narrow={
          <Words
            label="Which"
            value={part}
            options={parts.map((one) => ({
              value: one,
              label:
                one === 'all'
                  ? words[one]
                  : `${words[one]} ${count(rows?.filter(within[one]).length ?? 0)}`,
            }))}
            onChange={(next) => say('which', next === 'all' ? undefined : next)}
          />
        }
        margin={
          chosen ? (
            <TagMargin
              key={chosen.id}
              tag={chosen}
              all={found.data}
              may={may}
              onGone={() => say('tag', undefined)}
            />
          ) : (
            <MarginPart title="A tag">
              <Soft>
                A tag is put on people where they stand, one by one or by the thousand. Choose one
                to say what it is for, to recolour it, to merge it into another or to delete it.
              </Soft>
            </MarginPart>
          )
        }
        // The automatic ones are always there.
        empty={null}
      />
      {isMaking && (
        <NewTag
          onClose={() => setMaking(false)}
          onMade={(id) => {
            setMaking(false);
            say('tag', String(id));
          }}
        />
      )}
    </>
  );
}

/** Counted when it comes into sight: who has it is found out anew. */
function Automatically({ id, name }: { readonly id: number; readonly name: string }) {
  const of = `tag.${id}` as const;
  const { data, isError } = useSummaryQuery({ of }, { refetchOnMountOrArgChange: 60 });
  if (isError) return <Soft>–</Soft>;
  if (!data) return <Soft>…</Soft>;
  return <Num value={data.total} to={peoplePath(of)} label={`people tagged ${name}`} />;
}

const textOf = ({ name, purpose }: Row): string => `${name} ${purpose}`;

function useColumns(
  most: number,
  chosen: number | undefined,
  choose: (id: number) => void,
): readonly Column<Row>[] {
  const { office } = useOffice();
  return [
    {
      id: 'name',
      name: 'tag',
      width: 172,
      fixed: true,
      sort: ({ name }) => name.toLowerCase(),
      title: ({ name }) => name,
      view: ({ id, name, colour, kind }) => (
        <UnstyledButton
          className={classes.tag}
          aria-pressed={id === chosen}
          onClick={() => choose(id)}
        >
          <Flag name={name} colour={colour} kind={kind} />
        </UnstyledButton>
      ),
    },
    {
      id: 'purpose',
      name: 'what it is for',
      sort: ({ purpose }) => purpose.toLowerCase(),
      title: ({ purpose }) => purpose,
      view: ({ purpose }) => <Soft>{purpose}</Soft>,
    },
    {
      id: 'people',
      name: 'people',
      width: 76,
      end: true,
      sort: ({ people }) => people,
      view: ({ id, name, people }) =>
        people === null ? (
          <Automatically id={id} name={name} />
        ) : (
          <Num value={people} to={peoplePath(`tag.${id}`)} label={`people tagged ${name}`} />
        ),
    },
    {
      id: 'share',
      name: 'share',
      width: 90,
      view: ({ people }) => people !== null && <Bar value={people} of={most} />,
    },
    {
      id: 'year',
      name: 'over a year',
      width: 100,
      view: ({ name, course }) =>
        course && (
          <Spark
            points={course.months}
            label={`${name}: ${count(course.months[0] ?? 0)} people a year ago, ${count(course.months.at(-1) ?? 0)} now`}
          />
        ),
    },
    {
      id: 'uses',
      name: 'used in',
      width: 110,
      sort: ({ uses }) => uses.length,
      title: ({ uses }) => uses.map(({ name }) => name).join(', '),
      view: ({ uses }) => <Soft>{usesInWords(uses)}</Soft>,
    },
    {
      id: 'last',
      name: 'last put on',
      width: 110,
      sort: ({ course }) => course?.lastPutOn,
      view: ({ kind, course }) =>
        kind === 'automatic' ? (
          <Soft>by itself</Soft>
        ) : (
          course && (
            <Soft>{course.lastPutOn ? ago(office.timeZone, course.lastPutOn) : 'never'}</Soft>
          )
        ),
    },
  ];
}

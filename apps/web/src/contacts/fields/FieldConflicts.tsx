// Two changed the same fields of a person: for each, one says whose value goes on.
import { Button, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import { Note } from '../../ui/states';
import { Soft } from '../../ui/text';
import classes from './fields.module.css';

type Texts = Readonly<Record<string, string>>;

interface FieldConflictsProps {
  readonly mine: Texts;
  readonly theirs: Texts;
  /** What was there before either. */
  readonly kept: Texts;
  readonly labelOf: (key: string) => string;
  readonly onSettle: (texts: Texts) => void;
}

const short = (text = ''): string =>
  text === '' ? 'none' : text.length > 40 ? `${text.slice(0, 40)}…` : text;

export function FieldConflicts({ mine, theirs, kept, labelOf, onSettle }: FieldConflictsProps) {
  const ours = Object.keys(mine).filter((key) => mine[key] !== kept[key]);
  const both = ours.filter((key) => mine[key] !== theirs[key]);
  const [taken, setTaken] = useState<readonly string[]>([]);
  const settle = (): void => {
    const own = ours
      .filter((key) => !taken.includes(key))
      .map((key): [string, string] => [key, mine[key] ?? '']);
    onSettle({ ...theirs, ...Object.fromEntries(own) });
  };
  return (
    <div role="alert">
      <Note kind="caution">
        Somebody else changed this person meanwhile. Nothing is lost; choose what goes on.
        {both.map((key) => (
          <div key={key} className={classes.conflict}>
            <Soft>{labelOf(key)}</Soft>
            <SegmentedControl
              aria-label={labelOf(key)}
              size="xs"
              fullWidth
              orientation="vertical"
              value={taken.includes(key) ? 'theirs' : 'mine'}
              data={[
                { value: 'mine', label: `mine: ${short(mine[key])}` },
                { value: 'theirs', label: `theirs: ${short(theirs[key])}` },
              ]}
              onChange={(whose) =>
                setTaken(
                  whose === 'theirs' ? [...taken, key] : taken.filter((other) => other !== key),
                )
              }
            />
          </div>
        ))}
        <Button size="xs" mt="xs" onClick={settle}>
          Go on with these
        </Button>
      </Note>
    </div>
  );
}

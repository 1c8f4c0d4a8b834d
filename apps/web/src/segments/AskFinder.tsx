// What is asked, found by typing: what was asked lately comes first, then what is asked often.
import { useLocalStorage } from '@mantine/hooks';
import type { ReactNode } from 'react';
import { Finder } from '../ui/Finder';
import { begin, choices, type EditorContext } from './conditions';
import type { Condition } from './editing';

const LATELY = 4;
const OFTEN = 3;
/** From so many times on it is often. */
const TIMES = 3;

/** How often each thing was asked in this browser, the latest first. */
type Asked = readonly (readonly [value: string, times: number])[];
const KEPT = 60;

/** What was asked lately, then what is asked often. */
export function firstOffered(asked: Asked): {
  readonly lately: string[];
  readonly often: string[];
} {
  const lately = asked.slice(0, LATELY).map(([value]) => value);
  const often = asked
    .slice(LATELY)
    .filter(([, times]) => times >= TIMES)
    .sort(([, one], [, other]) => other - one)
    .slice(0, OFTEN)
    .map(([value]) => value);
  return { lately, often };
}

export const askedNow = (asked: Asked, value: string): Asked =>
  [
    [value, (asked.find(([one]) => one === value)?.[1] ?? 0) + 1] as const,
    ...asked.filter(([one]) => one !== value),
  ].slice(0, KEPT);

interface AskFinderProps {
  readonly words: ReactNode;
  readonly name: string;
  readonly context: EditorContext;
  readonly disabled?: boolean;
  readonly isLead?: boolean;
  readonly onBegin: (condition: Condition) => void;
}

export function AskFinder({ words, name, context, disabled, isLead, onBegin }: AskFinderProps) {
  const [asked, setAsked] = useLocalStorage<Asked>({
    key: 'palabra.asked-of',
    defaultValue: [],
    getInitialValueInEffect: false,
  });
  const all = choices(context);
  const { lately, often } = firstOffered(asked);
  const first = [...lately, ...often];
  const options = [
    ...first.flatMap((value) => all.find((one) => one.value === value) ?? []),
    ...all.filter(({ value }) => !first.includes(value)),
  ].map(({ value, label }) => ({
    key: value,
    text: label,
    note: lately.includes(value)
      ? 'asked lately'
      : often.includes(value)
        ? 'asked often'
        : undefined,
  }));
  return (
    <Finder
      words={words}
      name={name}
      label="What is asked"
      placeholder="a field, a tag …"
      none="Nothing that is called so can be asked."
      disabled={disabled}
      options={options}
      button={isLead ? { 'data-ink': true } : {}}
      onPick={({ key }) => {
        const condition = begin(key, context);
        if (!condition) return;
        setAsked(askedNow(asked, key));
        onBegin(condition);
      }}
    />
  );
}

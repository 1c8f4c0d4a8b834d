// What is asked, found by typing: what was asked lately comes first.
import { useLocalStorage } from '@mantine/hooks';
import type { ReactNode } from 'react';
import { Finder } from '../ui/Finder';
import { begin, choices, type EditorContext } from './conditions';
import type { Condition } from './editing';

const MOST = 6;

interface AskFinderProps {
  readonly words: ReactNode;
  readonly name: string;
  readonly context: EditorContext;
  readonly disabled?: boolean;
  readonly isLead?: boolean;
  readonly onBegin: (condition: Condition) => void;
}

export function AskFinder({ words, name, context, disabled, isLead, onBegin }: AskFinderProps) {
  const [lately, setLately] = useLocalStorage<readonly string[]>({
    key: 'palabra.asked',
    defaultValue: [],
    getInitialValueInEffect: false,
  });
  const all = choices(context);
  const recent = lately.flatMap((value) => all.find((one) => one.value === value) ?? []);
  const options = [...recent, ...all.filter(({ value }) => !lately.includes(value))].map(
    ({ value, label }, at) => ({
      key: value,
      text: label,
      note: at < recent.length ? 'asked lately' : undefined,
    }),
  );
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
        setLately([key, ...lately.filter((one) => one !== key)].slice(0, MOST));
        onBegin(condition);
      }}
    />
  );
}

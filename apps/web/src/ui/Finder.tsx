// Words that open a search: type, choose by arrows and Enter. Whatever is found by its name is found with this.
import { Combobox, Group, ScrollArea, useCombobox, type ButtonProps } from '@mantine/core';
import { searchKey } from '@palabra/core/contacts';
import { useEffect, useEffectEvent, useRef, useState, type ReactNode } from 'react';
import { Act, Small } from './text';
import classes from './Finder.module.css';

export interface Found {
  readonly key: string;
  /** What is searched, and how it is read out. */
  readonly text: string;
  readonly view?: ReactNode;
  /** Said at the end of the line. */
  readonly note?: ReactNode;
}

interface FinderProps<T extends Found> {
  /** The words that open it. */
  readonly words: ReactNode;
  /** What the words are called, where they show only what is chosen. */
  readonly name?: string;
  readonly label: string;
  readonly placeholder: string;
  readonly options: readonly T[];
  readonly disabled?: boolean;
  /** What is said when nothing fits. */
  readonly none: string;
  /** When the server searches: what was typed, and whether `options` are the answer to it. */
  readonly asked?: {
    readonly text: string;
    readonly onText: (text: string) => void;
    readonly isCurrent: boolean;
  };
  /** Offered after the options when nothing is called just that. */
  readonly make?: {
    readonly label: (text: string) => string;
    readonly can: (text: string) => boolean;
    readonly run: (text: string) => void;
  };
  readonly below?: ReactNode;
  readonly button?: ButtonProps & { readonly 'data-ink'?: boolean };
  readonly onPick: (option: T) => void;
}

const MAKE = '\0make';

/** What begins with the words comes before what holds them somewhere; what is called just that comes first. */
export function ranked<T extends Found>(options: readonly T[], text: string): T[] {
  const key = searchKey(text);
  if (key === '') return [...options];
  const rank = (own: string): number => (own === key ? 0 : own.startsWith(key) ? 1 : 2);
  return options
    .map((option) => ({ option, own: searchKey(option.text) }))
    .filter(({ own }) => own.includes(key))
    .sort((a, b) => rank(a.own) - rank(b.own))
    .map(({ option }) => option);
}

export function Finder<T extends Found>({
  words,
  name,
  label,
  placeholder,
  options,
  disabled,
  none,
  asked,
  make,
  below,
  button,
  onPick,
}: FinderProps<T>) {
  const [typed, setTyped] = useState('');
  const isWanted = useRef(false);
  const text = asked?.text ?? typed;
  const type = (next: string): void => {
    isWanted.current = false;
    if (asked) asked.onText(next);
    else setTyped(next);
  };
  const combobox = useCombobox({
    onDropdownOpen: () => combobox.focusSearchInput(),
    onDropdownClose: () => {
      combobox.resetSelectedOption();
      combobox.focusTarget();
      type('');
    },
  });
  const shown = asked ? [...options] : ranked(options, text);
  const canMake = make !== undefined && text.trim() !== '' && make.can(text.trim());
  const isCurrent = asked?.isCurrent ?? true;
  const count = shown.length + (canMake ? 1 : 0);
  const take = (key: string): void => {
    combobox.closeDropdown();
    const option = shown.find((one) => one.key === key);
    if (option) onPick(option);
    else if (key === MAKE) make?.run(text.trim());
  };
  const settle = useEffectEvent(() => {
    if (!combobox.dropdownOpened) return;
    if (text.trim() === '' && !canMake) combobox.resetSelectedOption();
    else combobox.selectFirstOption();
    // Enter came before the answer, or before there was anything to find: the only one that fits is what was meant.
    const only = shown.length === 1 ? shown[0] : undefined;
    if (!isWanted.current || !isCurrent) return;
    isWanted.current = false;
    if (only) take(only.key);
  });
  const keys = shown.map(({ key }) => key).join(' ');
  useEffect(() => {
    settle();
  }, [keys, canMake, isCurrent]);

  return (
    <Combobox
      store={combobox}
      position="bottom-start"
      width={300}
      shadow="sm"
      onOptionSubmit={take}
      withinPortal
    >
      <Combobox.Target targetType="button" withAriaAttributes={false}>
        <Act
          aria-label={name}
          aria-haspopup="listbox"
          aria-expanded={combobox.dropdownOpened}
          disabled={disabled}
          {...button}
          onClick={() => combobox.toggleDropdown()}
        >
          {words}
        </Act>
      </Combobox.Target>
      <Combobox.Dropdown>
        <Combobox.Search
          // What is highlighted is not the answer to what was typed, until that is there.
          withKeyboardNavigation={isCurrent}
          aria-label={label}
          placeholder={placeholder}
          maxLength={200}
          value={text}
          onChange={(event) => type(event.currentTarget.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' || (isCurrent && count > 0)) return;
            event.preventDefault();
            isWanted.current = true;
          }}
        />
        <Combobox.Options aria-label={label}>
          <ScrollArea.Autosize mah={260} type="scroll">
            {shown.map((option) => (
              <Combobox.Option key={option.key} value={option.key} className={classes.option}>
                <Group justify="space-between" wrap="nowrap" gap="sm">
                  <span className={classes.view}>{option.view ?? option.text}</span>
                  {option.note !== undefined && (
                    <Small className={classes.note}>{option.note}</Small>
                  )}
                </Group>
              </Combobox.Option>
            ))}
            {canMake && (
              <Combobox.Option value={MAKE} className={classes.option}>
                {make.label(text.trim())}
              </Combobox.Option>
            )}
          </ScrollArea.Autosize>
          {count === 0 && <Combobox.Empty>{isCurrent ? none : 'looking …'}</Combobox.Empty>}
        </Combobox.Options>
        {below && <Combobox.Footer>{below}</Combobox.Footer>}
      </Combobox.Dropdown>
    </Combobox>
  );
}

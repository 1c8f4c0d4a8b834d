// The choices of a field, in their order: named, added, moved, taken out.
import { ActionIcon, Input, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import type { WrittenChoice } from '@palabra/core/contacts';
import { useRef, type ClipboardEvent, type KeyboardEvent } from 'react';
import { Dragging, SortableItems, useDrag } from '../../ui/Sortable';
import { Act } from '../../ui/text';
import classes from './fields.module.css';

/** A choice while it is written; `at` names the line. */
export interface ChoiceLine extends WrittenChoice {
  readonly at: number;
}

let lines = 0;
export const choiceLine = (choice: WrittenChoice): ChoiceLine => ({ ...choice, at: ++lines });

interface ChoicesEditorProps {
  readonly value: readonly ChoiceLine[];
  readonly onChange: (value: readonly ChoiceLine[]) => void;
}

export function ChoicesEditor({ value, onChange }: ChoicesEditorProps) {
  const list = useRef<HTMLUListElement>(null);
  const focus = (place: number): void =>
    void requestAnimationFrame(() =>
      list.current?.querySelectorAll<HTMLInputElement>('input')[place]?.focus(),
    );
  const put = (place: number, ...choices: ChoiceLine[]): void =>
    onChange([...value.slice(0, place), ...choices, ...value.slice(place + 1)]);
  const move = (from: number, to: number): void => {
    const one = value[from];
    if (!one || to < 0 || to >= value.length) return;
    const rest = value.filter((_, place) => place !== from);
    onChange([...rest.slice(0, to), one, ...rest.slice(to)]);
    focus(to);
  };
  const press = (event: KeyboardEvent, place: number): void => {
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault();
      move(place, place + (event.key === 'ArrowUp' ? -1 : 1));
    } else if (event.key === 'Enter') {
      event.preventDefault();
      const one = value[place];
      if (one) put(place, one, choiceLine({ label: '' }));
      focus(place + 1);
    }
  };
  /** Several lines are several choices. */
  const paste = (event: ClipboardEvent<HTMLInputElement>, place: number): void => {
    const labels = event.clipboardData
      .getData('text')
      .split(/[\r\n\t]+/)
      .filter((one) => one.trim() !== '');
    if (labels.length < 2) return;
    event.preventDefault();
    const one = value[place];
    const made = labels.map((label) => choiceLine({ label: label.trim() }));
    put(place, ...(one && one.label !== '' ? [one] : []), ...made);
  };
  const placeOf = (id: string): number => value.findIndex(({ at }) => String(at) === id);
  return (
    <Input.Wrapper
      label="Choices"
      labelElement="div"
      description="In their order. Who has one that is taken out keeps it."
    >
      <Dragging onMove={(from, to) => move(placeOf(from), placeOf(to))}>
        <SortableItems ids={value.map(({ at }) => String(at))}>
          <ul ref={list} className={classes.choices} aria-label="Choices">
            {value.map((choice, place) => (
              <Line
                key={choice.at}
                choice={choice}
                place={place}
                onWrite={(label) => put(place, { ...choice, label })}
                onKey={(event) => press(event, place)}
                onPaste={(event) => paste(event, place)}
                onTakeOut={() => put(place)}
              />
            ))}
          </ul>
        </SortableItems>
      </Dragging>
      <Act
        onClick={() => {
          onChange([...value, choiceLine({ label: '' })]);
          focus(value.length);
        }}
      >
        + choice
      </Act>
    </Input.Wrapper>
  );
}

interface LineProps {
  readonly choice: ChoiceLine;
  readonly place: number;
  readonly onWrite: (label: string) => void;
  readonly onKey: (event: KeyboardEvent) => void;
  readonly onPaste: (event: ClipboardEvent<HTMLInputElement>) => void;
  readonly onTakeOut: () => void;
}

function Line({ choice, place, onWrite, onKey, onPaste, onTakeOut }: LineProps) {
  const { hold, style, handle } = useDrag(String(choice.at), false);
  return (
    <li ref={hold} style={style} className={classes.choice}>
      {handle}
      <TextInput
        variant="line"
        aria-label={`Choice ${place + 1}`}
        aria-description="Alt and an arrow moves it, Enter adds one below"
        placeholder="its name"
        maxLength={60}
        value={choice.label}
        onChange={(event) => onWrite(event.currentTarget.value)}
        onKeyDown={onKey}
        onPaste={onPaste}
      />
      <ActionIcon
        aria-label={`Take out ${choice.label || `choice ${place + 1}`}`}
        onClick={onTakeOut}
      >
        <IconX size={14} />
      </ActionIcon>
    </li>
  );
}

// To whom and not to whom: segments and tags as chips with their count.
import { Popover } from '@mantine/core';
import { whoKey, sameWho, type Who, type WhoRef } from '@palabra/core/campaigns';
import { searchKey } from '@palabra/core/contacts';
import { useState } from 'react';
import { Link } from 'react-router';
import { useVocabularyQuery } from '../contacts/contacts.api';
import { useSegmentsQuery } from '../segments/segments.api';
import { Num, peoplePath } from '../ui/numbers';

interface WhoPartProps {
  readonly who: Who;
  readonly names: Readonly<Record<string, { readonly name: string; readonly gone: boolean }>>;
  readonly counts: Readonly<Record<string, number>>;
  readonly disabled: boolean;
  readonly onChange: (who: Who) => void;
}

export function WhoPart({ who, names, counts, disabled, onChange }: WhoPartProps) {
  return (
    <>
      <WhoLine
        label="to"
        add="+ segment or tag"
        refs={who.to}
        {...{ names, counts, disabled }}
        onChange={(to) => onChange({ ...who, to })}
      />
      <WhoLine
        label="not to"
        add="+ leave out"
        refs={who.notTo}
        {...{ names, counts, disabled }}
        onChange={(notTo) => onChange({ ...who, notTo })}
      />
    </>
  );
}

interface WhoLineProps extends Omit<WhoPartProps, 'who' | 'onChange'> {
  readonly label: string;
  readonly add: string;
  readonly refs: readonly WhoRef[];
  readonly onChange: (refs: readonly WhoRef[]) => void;
}

function WhoLine({ label, add, refs, names, counts, disabled, onChange }: WhoLineProps) {
  const { data: segments } = useSegmentsQuery();
  const { data: vocabulary } = useVocabularyQuery();
  const [opened, setOpened] = useState(false);
  const [text, setText] = useState('');
  const nameOf = (ref: WhoRef): string =>
    (ref.kind === 'segment'
      ? segments?.find(({ id }) => id === ref.id)?.name
      : vocabulary?.tags.find(({ id }) => id === ref.id)?.name) ??
    names[whoKey(ref)]?.name ??
    '…';
  const choices: WhoRef[] = [
    ...(segments ?? []).map(({ id }): WhoRef => ({ kind: 'segment', id })),
    ...(vocabulary?.tags ?? []).map(({ id }): WhoRef => ({ kind: 'tag', id })),
  ].filter(
    (ref) =>
      !refs.some((own) => sameWho(own, ref)) && searchKey(nameOf(ref)).includes(searchKey(text)),
  );
  const put = (ref: WhoRef): void => {
    onChange([...refs, ref]);
    setOpened(false);
    setText('');
  };
  return (
    <div className="sheet-line">
      <span className="label">{label}</span>
      {refs.map((ref) => {
        const key = whoKey(ref);
        const own = counts[key];
        return (
          <span className="chip" key={key}>
            {ref.kind === 'segment' ? (
              <Link to={`/segments/${ref.id}`} style={{ color: 'var(--ink)' }}>
                {nameOf(ref)}
              </Link>
            ) : (
              <span>
                <span className="soft">tag </span>
                {nameOf(ref)}
              </span>
            )}
            <span className="soft">
              {own === undefined ? (
                '…'
              ) : (
                <Num
                  value={own}
                  to={
                    ref.kind === 'segment'
                      ? peoplePath(`segment.${ref.id}`)
                      : `/contacts?tag=${ref.id}`
                  }
                  label={`in ${nameOf(ref)}`}
                />
              )}
            </span>
            {!disabled && (
              <button
                type="button"
                className="x"
                aria-label={`Take ${nameOf(ref)} out`}
                onClick={() => onChange(refs.filter((one) => one !== ref))}
              >
                ×
              </button>
            )}
          </span>
        );
      })}
      {!disabled && (
        <Popover opened={opened} onChange={setOpened} position="bottom-start" trapFocus width={320}>
          <Popover.Target>
            <button type="button" className="act" onClick={() => setOpened(!opened)}>
              {add}
            </button>
          </Popover.Target>
          <Popover.Dropdown p="xs">
            <input
              className="line-input"
              style={{ width: '100%', boxSizing: 'border-box' }}
              aria-label="Find a segment or tag"
              placeholder="find a segment or tag"
              data-autofocus
              value={text}
              onChange={(event) => setText(event.currentTarget.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter' && choices[0]) put(choices[0]);
              }}
            />
            <ul
              className="rows"
              style={{ maxHeight: 260, overflowY: 'auto', margin: '6px 0 0' }}
              tabIndex={-1}
            >
              {choices.map((ref) => (
                <li key={whoKey(ref)} style={{ padding: '3px 0' }}>
                  <button
                    type="button"
                    className="act"
                    style={{ color: 'var(--ink)' }}
                    onClick={() => put(ref)}
                  >
                    {ref.kind === 'tag' && <span className="soft">tag</span>} {nameOf(ref)}
                  </button>
                </li>
              ))}
              {choices.length === 0 && <li className="soft">nothing of that name</li>}
            </ul>
          </Popover.Dropdown>
        </Popover>
      )}
    </div>
  );
}

// Ctrl+K: finds people, segments, letters, campaigns and what can be done, wherever one is.
import { Modal } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { listName, searchKey } from '@palabra/core/contacts';
import { useId, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useAddCampaignMutation, useCampaignsQuery } from '../campaigns/campaigns.api';
import { statusWords } from '../campaigns/words';
import { usePeopleQuery } from '../contacts/contacts.api';
import { useLettersQuery } from '../letters/letters.api';
import { useMay } from '../office/OfficeContext';
import { useSegmentsQuery } from '../segments/segments.api';

interface Find {
  readonly key: string;
  readonly group: string;
  readonly label: string;
  readonly note?: string;
  readonly go: () => void;
}

const EACH = 6;

export function Palette({
  opened,
  onClose,
}: {
  readonly opened: boolean;
  readonly onClose: () => void;
}) {
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      withCloseButton={false}
      padding={0}
      size={620}
      yOffset="12vh"
      aria-label="Find or do something"
    >
      {opened && <PaletteBody onClose={onClose} />}
    </Modal>
  );
}

function PaletteBody({ onClose }: { readonly onClose: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const finds = useFinds(text);
  const list = useRef<HTMLUListElement>(null);
  const id = useId();
  const chosen = Math.min(at, Math.max(finds.length - 1, 0));
  const move = (to: number): void => {
    const next = (to + finds.length) % Math.max(finds.length, 1);
    setAt(next);
    list.current?.querySelectorAll('[role="option"]')[next]?.scrollIntoView({ block: 'nearest' });
  };
  const go = (find: Find | undefined): void => {
    if (!find) return;
    onClose();
    find.go();
  };
  return (
    <div className="palette">
      <input
        type="text"
        role="combobox"
        aria-label="Find people, segments, letters, campaigns, or do something"
        aria-expanded
        aria-controls={id}
        aria-activedescendant={finds[chosen] ? `${id}-${chosen}` : undefined}
        placeholder="find people, segments, letters, campaigns, or do something"
        data-autofocus
        autoFocus
        maxLength={200}
        value={text}
        onChange={(event) => {
          setText(event.currentTarget.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') move(chosen + 1);
          else if (event.key === 'ArrowUp') move(chosen - 1);
          else if (event.key === 'Enter') go(finds[chosen]);
          else return;
          event.preventDefault();
        }}
      />
      <ul ref={list} id={id} role="listbox" aria-label="What was found">
        {finds.map((find, index) => (
          // The input keeps the focus; its keys choose and open.
          <li
            key={find.key}
            id={`${id}-${index}`}
            role="option"
            aria-selected={index === chosen}
            onMouseMove={() => setAt(index)}
            onClick={() => go(find)}
          >
            <span className="soft group-name">
              {finds[index - 1]?.group === find.group ? '' : find.group}
            </span>
            <span className="label">{find.label}</span>
            {find.note && <span className="soft note-text">{find.note}</span>}
          </li>
        ))}
      </ul>
      {finds.length === 0 && <p className="soft none">Nothing is called that.</p>}
    </div>
  );
}

function useFinds(text: string): Find[] {
  const navigate = useNavigate();
  const write = useMay('write letters');
  const change = useMay('change people');
  const [addCampaign] = useAddCampaignMutation();
  const q = text.trim();
  const [slow] = useDebouncedValue(q, 120);
  const people = usePeopleQuery({ q: slow, limit: EACH }, { skip: slow === '' });
  const segments = useSegmentsQuery();
  const letters = useLettersQuery();
  const campaigns = useCampaignsQuery();
  const to = (path: string) => () => void navigate(path);
  const key = searchKey(q);
  const named = <T extends { readonly name: string }>(items: readonly T[] | undefined): T[] =>
    (items ?? []).filter(({ name }) => searchKey(name).includes(key)).slice(0, EACH);
  const actions: Find[] = [
    ...(write
      ? [
          {
            key: 'new campaign',
            group: 'Do',
            label: 'New campaign',
            go: () =>
              void addCampaign({ name: 'New campaign' })
                .unwrap()
                .then(({ id }) => navigate(`/campaigns/${id}`)),
          },
        ]
      : []),
    ...(write
      ? [{ key: 'new letter', group: 'Do', label: 'Write a letter', go: to('/letters') }]
      : []),
    ...(change ? [{ key: 'import', group: 'Do', label: 'Import a list', go: to('/intake') }] : []),
    ...(
      [
        'Desk',
        'Contacts',
        'Segments',
        'Letters',
        'Campaigns',
        'Results',
        'Intake',
        'Activity',
        'Settings',
      ] as const
    ).map((name) => ({
      key: name,
      group: 'Go to',
      label: name,
      go: to(name === 'Desk' ? '/' : `/${name.toLowerCase()}`),
    })),
    { key: 'returned', group: 'Go to', label: 'Mail that came back', go: to('/results/returned') },
  ];
  const doing = actions.filter(({ label }) => searchKey(label).includes(key));
  if (q === '') return doing;
  return [
    ...(slow === '' ? [] : (people.currentData?.rows ?? [])).map((row) => ({
      key: `p${row.id}`,
      group: 'People',
      label: listName({ given: row.givenName, family: row.familyName }, row.address),
      note: row.address ?? undefined,
      go: to(`/contacts/${row.id}?q=${encodeURIComponent(q)}`),
    })),
    ...named(segments.data).map((one) => ({
      key: `s${one.id}`,
      group: 'Segments',
      label: one.name,
      go: to(`/segments/${one.id}`),
    })),
    ...named(letters.data).map((one) => ({
      key: `l${one.id}`,
      group: 'Letters',
      label: one.name,
      go: to(`/letters/${one.id}`),
    })),
    ...named(campaigns.data).map((one) => ({
      key: `c${one.id}`,
      group: 'Campaigns',
      label: one.name,
      note: statusWords[one.status],
      go: to(`/campaigns/${one.id}`),
    })),
    ...doing,
  ];
}

// The facts about a person: fields edited in place, each kept as it is left.
import type { PersonReply } from '@palabra/contract/contacts';
import { formatFieldValue, type Field } from '@palabra/core/contacts';
import { useState } from 'react';
import { useDraft } from '../api/drafts';
import { problemOf } from '../api/problems';
import { useMay, useOffice } from '../office';
import { Group, MultiSelect } from '@mantine/core';
import { InPlace } from '../ui/InPlace';
import { MarginPart } from '../ui/Page';
import { Pick } from '../ui/Pick';
import { SaveTrouble } from '../ui/saving';
import { Fact, Facts } from '../ui/Sheet';
import { Act, Small } from '../ui/text';
import { tellChange } from './changes';
import { useChangeContactMutation, useVocabularyQuery } from './contacts.api';
import { FieldInPlace } from './fields/FieldInPlace';
import { joinLabels, splitLabels } from './fields/FieldInput';
import { FieldConflicts } from './fields/FieldConflicts';
import { FurtherAddresses } from './fields/FurtherAddresses';
import classes from './contacts.module.css';
import { NewField } from './NewField';

type Texts = Readonly<Record<string, string>>;
interface Theirs {
  readonly version: number;
  readonly values: Texts;
}

const textsOf = (person: PersonReply): Texts => ({
  owner: String(person.owner.id),
  shared_with: person.sharedWith.join(', '),
  ...Object.fromEntries(
    person.fields.map(({ field, value }) => [field.key, formatFieldValue(field, value)]),
  ),
});

export function PersonFacts({ person }: { readonly person: PersonReply }) {
  const [change] = useChangeContactMutation();
  const { data: vocabulary } = useVocabularyQuery();
  const { user } = useOffice();
  const may = useMay('change people');
  const [kept, setKept] = useState<Texts>(() => textsOf(person));
  const nameOfOwner = (id: string): string =>
    vocabulary?.owners.find(({ key }) => key === id)?.label ?? '';
  const draft = useDraft<Texts>({
    value: textsOf(person),
    version: person.version,
    save: async (texts, version) => {
      const changed = Object.entries(texts).filter(([key, text]) => kept[key] !== text);
      const values = Object.fromEntries(
        changed.map(([key, text]) => [key, key === 'owner' ? nameOfOwner(text) : text]),
      );
      const put = (over: number) => change({ id: person.id, version: over, values }).unwrap();
      const { changeSet, version: next } = await put(version).catch((error: unknown) => {
        // Who changed other fields meanwhile is in nobody's way.
        const theirs = problemOf(error)['current'] as Theirs | undefined;
        if (theirs && changed.every(([key]) => (theirs.values[key] ?? '') === (kept[key] ?? '')))
          return put(theirs.version);
        throw error;
      });
      setKept(texts);
      if (changeSet !== null) tellChange(changeSet);
      return { version: next };
    },
    read: (current: Theirs) => ({ ...kept, ...current.values }),
    follow: setKept,
  });
  const [isAll, setAll] = useState(false);
  const { parts, hidden } = partsOf(person, isAll);
  const putAll = async (texts: Texts): Promise<void> => {
    draft.change((before) => ({ ...before, ...texts }));
    await draft.flush();
  };
  const put = (key: string, text: string): Promise<void> => putAll({ [key]: text });
  return (
    <MarginPart title="Facts">
      {draft.state.kind === 'conflict' ? (
        <FieldConflicts
          mine={draft.value}
          theirs={draft.state.theirs}
          kept={kept}
          labelOf={(key) =>
            person.fields.find(({ field }) => field.key === key)?.field.label ?? key
          }
          onSettle={draft.settle}
        />
      ) : (
        <SaveTrouble draft={draft} what="person" />
      )}
      <Facts>
        <Fact name="owner">
          {may && user.role === 'coordinator' ? (
            <Pick
              label="Owner"
              value={draft.value['owner'] ?? null}
              options={vocabulary?.owners.map(({ key, label }) => ({ value: key, label })) ?? []}
              onChange={(owner) => void put('owner', owner ?? '')}
            />
          ) : (
            <InPlace value={person.owner.name} label="Owner" disabled onSave={() => undefined} />
          )}
        </Fact>
        <SharedWith
          person={person}
          keys={draft.value['shared_with'] ?? ''}
          disabled={!may || !person.isOwn}
          onChange={(keys) => void put('shared_with', keys)}
        />
      </Facts>
      {parts.map(({ group, fields }) => (
        <section
          key={group}
          className={group === '' ? undefined : classes.group}
          aria-label={group === '' ? undefined : group}
        >
          {group !== '' && <Small fw={700}>{group}</Small>}
          <Facts>
            {fields.map((field) => (
              <Fact key={field.key} name={field.label}>
                <FieldInPlace
                  field={field}
                  text={draft.value[field.key] ?? ''}
                  disabled={!may}
                  onSave={(text) => put(field.key, text)}
                />
                {field.key === 'more_addresses' && may && (
                  <FurtherAddresses
                    first={draft.value['address'] ?? ''}
                    further={draft.value['more_addresses'] ?? ''}
                    onChange={(texts) => void putAll(texts)}
                  />
                )}
              </Fact>
            ))}
          </Facts>
        </section>
      ))}
      <Group gap="md">
        {hidden > 0 && <Act onClick={() => setAll(true)}>{hidden} more fields</Act>}
        {isAll && <Act onClick={() => setAll(false)}>Only what is filled</Act>}
        {may && <NewField onMade={() => setAll(true)} />}
      </Group>
    </MarginPart>
  );
}

/** Colleagues who see them as well, for the owner to say. */
function SharedWith({
  person,
  keys,
  disabled,
  onChange,
}: {
  readonly person: PersonReply;
  /** Of accounts, with commas between. */
  readonly keys: string;
  readonly disabled: boolean;
  readonly onChange: (keys: string) => void;
}) {
  const owners = useVocabularyQuery().data?.owners ?? [];
  const chosen = splitLabels(keys);
  const names = owners.filter(({ key }) => chosen.includes(key)).map(({ label }) => label);
  if (disabled) return names.length > 0 ? <Fact name="shared with">{names.join(', ')}</Fact> : null;
  return (
    <Fact name="shared with">
      <MultiSelect
        variant="line"
        aria-label="Shared with"
        placeholder={chosen.length === 0 ? 'nobody' : undefined}
        searchable
        hidePickedOptions
        data={owners
          .filter(({ key }) => key !== String(person.owner.id) || chosen.includes(key))
          .map(({ key, label }) => ({ value: key, label }))}
        value={chosen}
        onChange={(next) => onChange(joinLabels(next))}
      />
    </Fact>
  );
}

/** The fields of a person, those of a group together, the empty ones folded away unless they are wanted. */
function partsOf(
  person: PersonReply,
  isAll: boolean,
): { readonly parts: readonly { group: string; fields: Field[] }[]; readonly hidden: number } {
  const shown = person.fields.filter(
    ({ field, value }) => isAll || value !== null || always.has(field.key) || field.isRequired,
  );
  const groups = new Map<string, Field[]>([['', []]]);
  for (const { field } of shown) {
    const group = field.group ?? '';
    groups.set(group, [...(groups.get(group) ?? []), field]);
  }
  return {
    parts: [...groups].map(([group, fields]) => ({ group, fields })),
    hidden: person.fields.length - shown.length,
  };
}

/** What one looks for on a person's page, filled or not. */
const always: ReadonlySet<string> = new Set([
  'given_name',
  'family_name',
  'address',
  'phone',
  'town',
  'stage',
]);

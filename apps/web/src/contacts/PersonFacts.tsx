// The facts about a person: fields edited in place, each kept as it is left.
import type { PersonReply } from '@palabra/contract/contacts';
import { formatFieldValue, type Field } from '@palabra/core/contacts';
import { useState } from 'react';
import { useDraft } from '../api/drafts';
import { useMay, useOffice } from '../office';
import { InPlace } from '../ui/InPlace';
import { MarginPart } from '../ui/Page';
import { Pick } from '../ui/Pick';
import { SaveTrouble } from '../ui/saving';
import { Fact, Facts } from '../ui/Sheet';
import { longDate } from '../ui/time';
import { tellChange } from './changes';
import { useChangeContactMutation, useOccurringQuery, useVocabularyQuery } from './contacts.api';
import { NewField } from './NewField';

type Texts = Readonly<Record<string, string>>;
interface Theirs {
  readonly version: number;
  readonly values: Texts;
}

const textsOf = (person: PersonReply): Texts => ({
  owner: String(person.owner.id),
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
      const { changeSet, version: next } = await change({
        id: person.id,
        version,
        values,
      }).unwrap();
      setKept(texts);
      if (changeSet !== null) tellChange(changeSet);
      return { version: next };
    },
    read: (current: Theirs) => ({ ...kept, ...current.values }),
  });
  const put = async (key: string, text: string): Promise<void> => {
    draft.change((before) => ({ ...before, [key]: text }));
    await draft.flush();
  };
  return (
    <MarginPart title="Facts">
      <SaveTrouble draft={draft} what="person" />
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
        {person.fields.map(({ field }) => (
          <Fact key={field.key} name={field.label}>
            <FieldInPlace
              field={field}
              text={draft.value[field.key] ?? ''}
              disabled={!may}
              onSave={(text) => put(field.key, text)}
            />
          </Fact>
        ))}
      </Facts>
      {may && <NewField />}
    </MarginPart>
  );
}

const offersWhatOccurs = (field: Field): boolean =>
  field.type === 'text' && !['address', 'given_name', 'family_name'].includes(field.key);

function FieldInPlace({
  field,
  text,
  disabled,
  onSave,
}: {
  readonly field: Field;
  readonly text: string;
  readonly disabled: boolean;
  readonly onSave: (text: string) => Promise<void>;
}) {
  const [isEdited, setEdited] = useState(false);
  const occurring = useOccurringQuery(
    { field: field.key },
    { skip: !isEdited || !offersWhatOccurs(field) },
  );
  const isDay = field.type === 'date' && /^\d{4}-\d{2}-\d{2}$/.test(text);
  return (
    <InPlace
      value={text}
      shown={isDay ? longDate(text) : undefined}
      label={field.label}
      disabled={disabled}
      offered={
        field.choices?.map(({ label }) => label) ??
        (offersWhatOccurs(field) ? (occurring.data?.map(({ value }) => value) ?? []) : undefined)
      }
      onEdit={() => setEdited(true)}
      onSave={onSave}
    />
  );
}

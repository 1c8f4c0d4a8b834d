// How far from a place: found by its name or postcode in the gazetteer.
import type { GazetteerPlace, GazetteerQuery } from '@palabra/contract/contacts';
import {
  FARTHEST_KM,
  placeOperators,
  type PlaceCondition,
  type PlaceOperator,
} from '@palabra/core/segments';
import { useState, type ComponentProps } from 'react';
import { useLatest } from '../../api/latest';
import { contactsApi, useGazetteerAboutQuery } from '../../contacts';
import { Finder } from '../../ui/Finder';
import { count } from '../../ui/numbers';
import { Pick } from '../../ui/Pick';
import { Small } from '../../ui/text';
import type { EditorOf } from './kind';
import { Whole } from './Whole';

type Props = ComponentProps<EditorOf<PlaceCondition>['Operand']>;

function Operand({ condition, disabled, onChange }: Props) {
  const [text, setText] = useState('');
  const q = text.trim();
  const { answer, isCurrent } = useLatest<GazetteerQuery, GazetteerPlace[]>(
    contactsApi.endpoints.gazetteer.initiate,
    q === '' ? undefined : { q },
  );
  const { data: about } = useGazetteerAboutQuery();
  const without = about?.withoutPosition ?? 0;
  const { km, ...base } = condition;
  return (
    <>
      <Pick<PlaceOperator>
        label="How near"
        disabled={disabled}
        value={condition.op}
        options={placeOperators.map((value) => ({ value, label: value }))}
        onChange={(op) => op && onChange({ ...condition, op })}
      />
      <Whole
        label="How many kilometres"
        most={FARTHEST_KM}
        disabled={disabled}
        value={km}
        onChange={(next) => onChange(next === undefined ? base : { ...base, km: next })}
      />
      km {condition.op === 'within' ? 'of' : 'from'}
      <Finder
        words={condition.place?.name ?? 'choose a place'}
        name={`Place: ${condition.place?.name ?? 'none yet'}`}
        label="Find a place"
        placeholder="a town or a postcode"
        none={q === '' ? 'Type a town or a postcode.' : 'No such place in the gazetteer.'}
        disabled={disabled}
        asked={{ text, onText: setText, isCurrent }}
        options={(q === '' ? [] : (answer ?? [])).map((place) => ({
          key: String(place.id),
          text: place.name,
          note: place.region,
          place,
        }))}
        button={{ 'data-ink': true }}
        onPick={({ place: { name, lat, lon } }) =>
          onChange({ ...condition, place: { name, lat, lon } })
        }
      />
      {without > 0 && (
        <Small title="Their town or postcode is empty, or not in the gazetteer">
          {count(without)} have no known place
        </Small>
      )}
    </>
  );
}

export const place: EditorOf<PlaceCondition> = {
  choices: () => [{ value: 'place', label: 'place: how far away' }],
  chosen: () => 'place',
  title: 'lives',
  begin: (choice) => (choice === 'place' ? { kind: 'place', op: 'within', km: 25 } : undefined),
  Operand,
};

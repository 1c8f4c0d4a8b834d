// The facts about a person: fields edited in place, permission, do not mail.
import { Popover } from '@mantine/core';
import type { PersonReply } from '@palabra/contract/contacts';
import {
  doNotMailWords,
  formatFieldValue,
  permissionKinds,
  permissionWords,
  type PermissionKind,
} from '@palabra/core/contacts';
import { useState } from 'react';
import { useDispatch } from 'react-redux';
import { problemOf } from '../app/api';
import { useMay, useOffice } from '../office/OfficeContext';
import { InPlace } from '../ui/InPlace';
import { count } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { day, longDate } from '../ui/time';
import {
  useAddFieldMutation,
  useChangeContactMutation,
  useChangePermissionMutation,
  useSetDoNotMailMutation,
  useTryAgainMutation,
  useVocabularyQuery,
} from './contacts.api';
import { did } from './justDone';
import { JustDonePart } from './JustDonePart';

export function PersonMargin({ person }: { readonly person: PersonReply }) {
  return (
    <>
      <JustDonePart />
      <Facts person={person} />
      <Permission person={person} />
      <MarginPart title="Letters">
        <p className="soft">
          {person.counts.sent === 0
            ? 'No letter so far.'
            : `Got ${count(person.counts.sent)}, opened ${count(person.counts.opened)}, clicked in ${count(person.counts.clicked)}.`}
        </p>
      </MarginPart>
    </>
  );
}

function Facts({ person }: { readonly person: PersonReply }) {
  const [change] = useChangeContactMutation();
  const { data: vocabulary } = useVocabularyQuery();
  const { user } = useOffice();
  const may = useMay('change people');
  const dispatch = useDispatch();
  const save = async (key: string, label: string, text: string): Promise<void> => {
    try {
      const { changeSet } = await change({
        id: person.id,
        version: person.version,
        values: { [key]: text },
      }).unwrap();
      if (changeSet !== null) dispatch(did({ changeSet }));
    } catch (error) {
      const problem = problemOf(error);
      throw new Error(problem.errors?.[0]?.message ?? problem.detail, { cause: error });
    }
  };
  return (
    <MarginPart title="Facts">
      <dl className="facts">
        <dt>owner</dt>
        <dd>
          {may && user.role === 'coordinator' ? (
            <select
              className="plain-select"
              aria-label="Owner"
              value={person.owner.id}
              onChange={(event) =>
                void save(
                  'owner',
                  'the owner',
                  vocabulary?.owners.find(({ key }) => key === event.currentTarget.value)?.label ??
                    '',
                ).catch(() => undefined)
              }
            >
              {vocabulary?.owners.map(({ key, label }) => (
                <option key={key} value={key}>
                  {label}
                </option>
              ))}
            </select>
          ) : (
            <span className="inplace">{person.owner.name}</span>
          )}
        </dd>
        {person.fields.map(({ field, value }) => (
          <div key={field.key} style={{ display: 'contents' }}>
            <dt>{field.label}</dt>
            <dd>
              <InPlace
                value={formatFieldValue(field, value)}
                shown={field.type === 'date' && value ? longDate(String(value)) : undefined}
                label={field.label}
                disabled={!may}
                onSave={(text) => save(field.key, field.label, text)}
              />
            </dd>
          </div>
        ))}
      </dl>
      {may && <NewField />}
    </MarginPart>
  );
}

function NewField() {
  const [opened, setOpened] = useState(false);
  const [label, setLabel] = useState('');
  const [type, setType] = useState<'text' | 'number' | 'date' | 'yes or no'>('text');
  const [error, setError] = useState<string>();
  const [add] = useAddFieldMutation();
  const make = async (): Promise<void> => {
    try {
      await add({ label, type }).unwrap();
      setOpened(false);
      setLabel('');
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  return (
    <Popover opened={opened} onChange={setOpened} trapFocus position="bottom-start" width={260}>
      <Popover.Target>
        <button type="button" className="act" onClick={() => setOpened(!opened)}>
          + field
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void make();
          }}
        >
          <p className="small soft">A field of your own, for everybody in the office.</p>
          <input
            className="line-input"
            aria-label="Name of the field"
            placeholder="name, such as “dog’s name”"
            data-autofocus
            maxLength={60}
            value={label}
            onChange={(event) => setLabel(event.currentTarget.value)}
            style={{ width: '100%' }}
          />
          <select
            className="plain-select"
            aria-label="Kind of field"
            value={type}
            onChange={(event) => setType(event.currentTarget.value as typeof type)}
            style={{ margin: '8px 12px 0 0' }}
          >
            {['text', 'number', 'date', 'yes or no'].map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
          <button type="submit" className="act" disabled={label.trim() === ''}>
            Make this field
          </button>
          {error && (
            <p className="wrong small" role="alert">
              {error}
            </p>
          )}
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}

function Permission({ person }: { readonly person: PersonReply }) {
  const { office } = useOffice();
  const may = useMay('change people');
  const [change] = useChangePermissionMutation();
  const [setDoNotMail] = useSetDoNotMailMutation();
  const [tryAgain] = useTryAgainMutation();
  const { data: vocabulary } = useVocabularyQuery();
  const dispatch = useDispatch();
  const { kind, at, source } = person.permission;
  const fail = (error: unknown): void => void dispatch(did({ text: problemOf(error).detail }));
  const save = async (permission: PermissionKind, text: string): Promise<void> => {
    const { changeSet } = await change({
      id: person.id,
      version: person.version,
      permission,
      source: text,
    }).unwrap();
    if (changeSet !== null) dispatch(did({ changeSet }));
  };
  return (
    <MarginPart title="May be mailed">
      {person.doNotMail && (
        <p>
          <b className="wrong">On do not mail</b> since {day(office.timeZone, person.doNotMail.at)}:{' '}
          {doNotMailWords[person.doNotMail.reason]}.{' '}
          {person.doNotMail.note && <span className="soft">“{person.doNotMail.note}” </span>}
          {may && person.doNotMail.mayTakeOff && (
            <button
              type="button"
              className="act"
              onClick={() =>
                void setDoNotMail({ id: person.id, put: false, note: '' }).unwrap().catch(fail)
              }
            >
              Take off again
            </button>
          )}
        </p>
      )}
      {person.droppedTopics.length > 0 && (
        <p className="soft">
          Chose not to get:{' '}
          {person.droppedTopics
            .map((id) => vocabulary?.topics.find((topic) => topic.id === id)?.name ?? '…')
            .join(', ')}
          .
        </p>
      )}
      <InARow times={person.softBounces} limit={office.softBounceLimit} what="came back for now" />
      <InARow
        times={person.unreadBounces}
        limit={office.unreadBounceLimit}
        what={`${person.unreadBounces === 1 ? 'was' : 'were'} refused, for a reason nobody could read`}
      />
      {may && person.softBounces + person.unreadBounces > 0 && (
        <p>
          <button
            type="button"
            className="act"
            onClick={() => void tryAgain(person.id).unwrap().catch(fail)}
          >
            Try again
          </button>
        </p>
      )}
      <dl className="facts">
        <dt>permission</dt>
        <dd>
          {may ? (
            <select
              className="plain-select"
              aria-label="Permission"
              value={kind}
              onChange={(event) =>
                void save(event.currentTarget.value as PermissionKind, source ?? '').catch(fail)
              }
            >
              {permissionKinds.map((one) => (
                <option key={one} value={one}>
                  {permissionWords[one]}
                </option>
              ))}
            </select>
          ) : (
            <span className="inplace">{permissionWords[kind]}</span>
          )}
        </dd>
        <dt>where from</dt>
        <dd>
          <InPlace
            value={source ?? ''}
            label="Where the permission is from"
            empty="not known"
            maxLength={200}
            disabled={!may}
            onSave={(text) => save(kind, text)}
          />
        </dd>
        {at && (
          <>
            <dt>since</dt>
            <dd style={{ padding: '3px 0' }}>{day(office.timeZone, at)}</dd>
          </>
        )}
      </dl>
      {may && !person.doNotMail && person.address && (
        <button
          type="button"
          className="act"
          onClick={() =>
            void setDoNotMail({ id: person.id, put: true, note: '' }).unwrap().catch(fail)
          }
        >
          Put on do not mail
        </button>
      )}
    </MarginPart>
  );
}

function InARow({
  times,
  limit,
  what,
}: {
  readonly times: number;
  readonly limit: number;
  readonly what: string;
}) {
  if (times === 0) return null;
  const isHeld = limit > 0 && times >= limit;
  return (
    <p className={isHeld ? 'caution' : 'soft'}>
      {times === 1 ? 'The last letter' : `The last ${count(times)} letters`} {what}
      {isHeld ? '; held back until you try again.' : '.'}
    </p>
  );
}

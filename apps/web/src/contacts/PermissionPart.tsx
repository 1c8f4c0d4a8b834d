// What somebody agreed to: how, where, word for word, and how it was before.
import type { PersonReply } from '@palabra/contract/contacts';
import {
  permissionKinds,
  permissionWords,
  WORDING_LIMIT,
  type PermissionKind,
} from '@palabra/core/contacts';
import { Text } from '@mantine/core';
import { useState } from 'react';
import { refusalOf } from '../api/problems';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { InPlace } from '../ui/InPlace';
import { Pick } from '../ui/Pick';
import { Fact, Facts } from '../ui/Sheet';
import { Ghost, Wrong } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { day } from '../ui/time';
import { tellChange } from './changes';
import { useChangePermissionMutation, usePermissionsQuery } from './contacts.api';
import classes from './contacts.module.css';

export function PermissionPart({ person }: { readonly person: PersonReply }) {
  const { office } = useOffice();
  const may = useMay('change people');
  const [change] = useChangePermissionMutation();
  const [isShown, setShown] = useState(false);
  const { kind, at, source, wording } = person.permission;
  const save = async (next: {
    readonly permission?: PermissionKind;
    readonly source?: string;
    readonly wording?: string;
  }): Promise<void> => {
    const { changeSet } = await change({
      id: person.id,
      version: person.version,
      permission: kind,
      source: source ?? '',
      ...next,
    }).unwrap();
    if (changeSet !== null) tellChange(changeSet);
  };
  const inPlace = (next: Parameters<typeof save>[0]): Promise<void> =>
    save(next).catch((error: unknown) => {
      throw refusalOf(error);
    });
  return (
    <>
      <Facts>
        <Fact name="permission">
          <Pick
            label="Permission"
            value={kind}
            disabled={!may}
            options={permissionKinds.map((value) => ({ value, label: permissionWords[value] }))}
            onChange={(next) => void command({ run: () => save(next ? { permission: next } : {}) })}
          />
        </Fact>
        <Fact name="where from">
          <InPlace
            value={source ?? ''}
            label="Where the permission is from"
            empty="not known"
            maxLength={200}
            disabled={!may}
            onSave={(text) => inPlace({ source: text })}
          />
        </Fact>
        <Fact name="agreed to">
          <InPlace
            value={wording ?? ''}
            label="What they agreed to, word for word"
            empty="no wording kept"
            lines
            maxLength={WORDING_LIMIT}
            disabled={!may}
            onSave={(text) => inPlace({ wording: text })}
          />
        </Fact>
        {at && (
          <Fact name="since">
            <InPlace
              value={day(office.timeZone, at)}
              label="Since"
              disabled
              onSave={() => undefined}
            />
          </Fact>
        )}
      </Facts>
      <Act aria-expanded={isShown} onClick={() => setShown(!isShown)}>
        All they ever agreed to
      </Act>
      {isShown && <History id={person.id} />}
    </>
  );
}

function History({ id }: { readonly id: number }) {
  const { office } = useOffice();
  const { data, error, refetch } = usePermissionsQuery(id);
  if (error) return <Wrong error={error} again={() => void refetch()} />;
  if (!data) return <Ghost lines={2} />;
  if (data.length === 0) return <Soft>Nothing is known of that.</Soft>;
  return (
    <ol className={classes.agreed} aria-label="All they ever agreed to">
      {data.map(({ at, kind, source, wording, by }) => (
        <li key={at}>
          <b>{permissionWords[kind]}</b>, {day(office.timeZone, at)}
          {source && ` · ${source}`}
          {by && <Soft> · written down by {by}</Soft>}
          {wording && (
            <Text inherit className={classes.wording}>
              “{wording}”
            </Text>
          )}
        </li>
      ))}
    </ol>
  );
}

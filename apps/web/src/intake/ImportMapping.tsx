// Before anything changes: how the file is read, which column fills which field, and how these people agreed.
import { Button, Table, Textarea, TextInput } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import {
  dayOrders,
  hasDayOrder,
  permissionKinds,
  permissionWords,
  WORDING_LIMIT,
  type DayOrder,
  type PermissionKind,
} from '@palabra/core/contacts';
import type { Target } from '@palabra/core/intake';
import { useState } from 'react';
import { Flag, NewField, TagPicker, useVocabularyQuery } from '../contacts';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Pick } from '../ui/Pick';
import { SheetLine, SheetPart } from '../ui/Sheet';
import { Note } from '../ui/states';
import { Small } from '../ui/text';
import { day } from '../ui/time';
import { Words } from '../ui/Words';
import { useStartImportMutation } from './intake.api';
import classes from './intake.module.css';
import { MappingMargin } from './MappingMargin';

const notImported = new Set(['owner', 'shared_with', 'permission']);

export function ImportMapping({ found }: { readonly found: ImportReply }) {
  const may = useMay('change people');
  const { office } = useOffice();
  const [start, starting] = useStartImportMutation();
  const [mapping, setMapping] = useState<readonly Target[]>(found.mapping);
  const [permission, setPermission] = useState<PermissionKind>('unknown');
  const [source, setSource] = useState('');
  const [wording, setWording] = useState('');
  const [tagIds, setTagIds] = useState<readonly number[]>([]);
  const hasAddress = mapping.some((target) => target.to === 'field' && target.field === 'address');
  const go = (): void =>
    void command({
      run: () =>
        start({
          id: found.id,
          mapping: [...mapping],
          permission,
          source,
          wording,
          tagIds: [...tagIds],
        }).unwrap(),
    });
  return (
    <Page
      title={found.fileName}
      sub={`${count(found.rows)} rows, nothing has changed yet`}
      actions={
        may && (
          <Button disabled={!hasAddress} loading={starting.isLoading} onClick={go}>
            Bring in {count(found.rows)} rows
          </Button>
        )
      }
      margin={<MappingMargin found={found} />}
    >
      {!hasAddress && (
        <Note kind="caution">
          Say which column holds the email address; people are matched by it.
        </Note>
      )}
      {found.knownSince && (
        <Note>
          The columns are read as in the last file like this, of{' '}
          {day(office.timeZone, found.knownSince)}.
        </Note>
      )}
      <Columns found={found} mapping={mapping} disabled={!may} onChange={setMapping} />
      <SheetPart title="Permission">
        <SheetLine>
          <Words
            label="How these people gave permission"
            value={permission}
            options={permissionKinds.map((value) => ({ value, label: permissionWords[value] }))}
            onChange={setPermission}
          />
        </SheetLine>
        <SheetLine label="where, when">
          <TextInput
            variant="line"
            w={360}
            aria-label="Where and when they agreed"
            placeholder="sign-up sheet at the spring fair"
            maxLength={200}
            value={source}
            onChange={(event) => setSource(event.currentTarget.value)}
          />
        </SheetLine>
        {permission !== 'unknown' && (
          <SheetLine label="wording">
            <Textarea
              variant="line"
              w={360}
              autosize
              maxRows={6}
              aria-label="What they agreed to, word for word"
              placeholder="Yes, send me the letter. I can leave it at any time."
              maxLength={WORDING_LIMIT}
              value={wording}
              onChange={(event) => setWording(event.currentTarget.value)}
            />
          </SheetLine>
        )}
        {permission === 'unknown' && (
          <Small>
            Whose permission is unknown is held back from campaigns, unless the office’s settings
            allow it.
          </Small>
        )}
      </SheetPart>
      <SheetPart title="Tags">
        <Tags ids={tagIds} onChange={setTagIds} />
        {mapping.some(({ to }) => to === 'tags') && (
          <Small>
            Tags that the file names and that are not there yet are made, a hundred at the most.
          </Small>
        )}
      </SheetPart>
    </Page>
  );
}

/** No field has such a key. */
const TAGS = 'tags';
const targetOf = (chosen: string | null): Target =>
  chosen === null
    ? { to: 'nothing' }
    : chosen === TAGS
      ? { to: 'tags' }
      : { to: 'field', field: chosen };

const withDays = (field: string, days: DayOrder | null): Target => ({
  to: 'field',
  field,
  ...(days ? { days } : {}),
});

interface ColumnsProps {
  readonly found: ImportReply;
  readonly mapping: readonly Target[];
  readonly disabled: boolean;
  readonly onChange: (mapping: readonly Target[]) => void;
}

function Columns({ found, mapping, disabled, onChange }: ColumnsProps) {
  const { data: vocabulary } = useVocabularyQuery();
  const fields =
    vocabulary?.fields.filter(({ key, isFact }) => !isFact && !notImported.has(key)) ?? [];
  const used = mapping.flatMap((target) => (target.to === 'field' ? [target.field] : []));
  const put = (at: number, chosen: string | null): void =>
    onChange(mapping.map((target, own) => (own === at ? targetOf(chosen) : target)));
  return (
    <Table.ScrollContainer minWidth={560}>
      <Table aria-label="Columns of the file">
        <Table.Thead>
          <Table.Tr>
            <Table.Th>column</Table.Th>
            <Table.Th>first rows</Table.Th>
            <Table.Th>fills</Table.Th>
          </Table.Tr>
        </Table.Thead>
        <Table.Tbody>
          {found.headers.map((header, at) => {
            const target = mapping[at];
            const chosen =
              target?.to === 'field' ? target.field : target?.to === 'tags' ? TAGS : null;
            const sample = found.sample.map((row) => row[at]).filter(Boolean);
            return (
              <Table.Tr key={at}>
                <Table.Td>
                  <b>{header || `column ${at + 1}`}</b>
                </Table.Td>
                <Table.Td className={classes.sample}>{sample.slice(0, 3).join(' · ')}</Table.Td>
                <Table.Td>
                  <SheetLine>
                    <Pick
                      label={`What the column ${header || at + 1} fills`}
                      nothing="nothing, left out"
                      value={chosen}
                      disabled={disabled}
                      options={[
                        { value: TAGS, label: 'tags, several in a cell' },
                        ...fields.map(({ key, label }) => ({
                          value: key,
                          label,
                          off: key !== chosen && used.includes(key),
                        })),
                      ]}
                      onChange={(field) => put(at, field)}
                    />
                    {target?.to === 'field' &&
                      fields.find(({ key }) => key === target.field)?.type === 'date' &&
                      sample.some((cell) => hasDayOrder(cell ?? '')) && (
                        <Pick
                          label={`What comes first in the days of ${header || at + 1}`}
                          nothing="day or month first?"
                          value={target.days ?? null}
                          disabled={disabled}
                          options={dayOrders.map((value) => ({ value, label: value }))}
                          onChange={(days) =>
                            onChange(
                              mapping.map((one, own) =>
                                own === at ? withDays(target.field, days) : one,
                              ),
                            )
                          }
                        />
                      )}
                    {chosen === null && !disabled && (
                      <NewField
                        words="+ new field"
                        suggestion={header}
                        onMade={(field) => put(at, field)}
                      />
                    )}
                  </SheetLine>
                </Table.Td>
              </Table.Tr>
            );
          })}
        </Table.Tbody>
      </Table>
    </Table.ScrollContainer>
  );
}

function Tags({
  ids,
  onChange,
}: {
  readonly ids: readonly number[];
  readonly onChange: (ids: readonly number[]) => void;
}) {
  const { data: vocabulary } = useVocabularyQuery();
  return (
    <SheetLine>
      {ids.map((id) => {
        const tag = vocabulary?.tags.find((one) => one.id === id);
        return (
          tag && (
            <Flag
              key={id}
              name={tag.name}
              colour={tag.colour}
              onTakeOff={() => onChange(ids.filter((one) => one !== id))}
            />
          )
        );
      })}
      <TagPicker
        label="+ tag for all of them"
        leaveOut={ids}
        onPick={(id) => onChange([...ids, id])}
      />
    </SheetLine>
  );
}

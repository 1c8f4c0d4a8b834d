// Before anything changes: how the file is read, which column fills which field, and how these people agreed.
import { Button, Popover } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import { permissionKinds, permissionWords, type PermissionKind } from '@palabra/core/contacts';
import { encodings, separators, separatorWords, type Target } from '@palabra/core/intake';
import { useState } from 'react';
import { problemOf } from '../app/api';
import { useAddFieldMutation, useVocabularyQuery } from '../contacts/contacts.api';
import { Flag } from '../contacts/Flag';
import { TagPicker } from '../contacts/TagPicker';
import { useMay } from '../office/OfficeContext';
import { count } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Note } from '../ui/states';
import { Words } from '../ui/Words';
import { useReadAgainMutation, useStartImportMutation } from './intake.api';
import { encodingWords } from './words';

const notImported = new Set(['owner', 'permission', 'came_in']);

export function ImportMapping({ found }: { readonly found: ImportReply }) {
  const { data: vocabulary } = useVocabularyQuery();
  const may = useMay('change people');
  const [start, starting] = useStartImportMutation();
  const [readAgain] = useReadAgainMutation();
  const [mapping, setMapping] = useState<readonly Target[]>(found.mapping);
  const [permission, setPermission] = useState<PermissionKind>('unknown');
  const [source, setSource] = useState('');
  const [tagIds, setTagIds] = useState<readonly number[]>([]);
  const [error, setError] = useState<string>();
  const fields = vocabulary?.fields.filter(({ key }) => !notImported.has(key)) ?? [];
  const used = mapping.flatMap((target) => (target.to === 'field' ? [target.field] : []));
  const hasAddress = used.includes('address');
  const go = async (): Promise<void> => {
    setError(undefined);
    try {
      await start({
        id: found.id,
        mapping: [...mapping],
        permission,
        source,
        tagIds: [...tagIds],
      }).unwrap();
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  const put = (at: number, field: string): void =>
    setMapping(
      mapping.map((target, own) =>
        own === at ? (field === '' ? { to: 'nothing' } : { to: 'field', field }) : target,
      ),
    );
  const read = (
    change: Partial<Pick<ImportReply, 'encoding' | 'separator' | 'headerAt'>>,
  ): void => {
    readAgain({ id: found.id, encoding: found.encoding, separator: found.separator, ...change })
      .unwrap()
      .catch((reason: unknown) => setError(problemOf(reason).detail));
  };
  return (
    <Page
      title={found.fileName}
      sub={`${count(found.rows)} rows, nothing has changed yet`}
      actions={
        may && (
          <Button disabled={!hasAddress} loading={starting.isLoading} onClick={() => void go()}>
            Bring in {count(found.rows)} rows
          </Button>
        )
      }
      margin={
        <>
          <MarginPart title="How the file is read">
            <dl className="facts">
              <dt>encoding</dt>
              <dd>
                <select
                  className="plain-select"
                  aria-label="Encoding"
                  value={found.encoding}
                  onChange={(event) =>
                    read({ encoding: encodings.find((one) => one === event.currentTarget.value) })
                  }
                >
                  {encodings.map((one) => (
                    <option key={one} value={one}>
                      {encodingWords[one]}
                    </option>
                  ))}
                </select>
              </dd>
              <dt>separator</dt>
              <dd>
                <select
                  className="plain-select"
                  aria-label="Separator"
                  value={found.separator}
                  onChange={(event) =>
                    read({ separator: separators.find((one) => one === event.currentTarget.value) })
                  }
                >
                  {separators.map((one) => (
                    <option key={one} value={one}>
                      {separatorWords[one]}
                    </option>
                  ))}
                </select>
              </dd>
              <dt>header</dt>
              <dd>
                <select
                  className="plain-select"
                  aria-label="Header"
                  value={found.headerAt === null ? 'none' : String(found.headerAt)}
                  onChange={(event) =>
                    read({
                      headerAt:
                        event.currentTarget.value === 'none'
                          ? null
                          : Number(event.currentTarget.value),
                    })
                  }
                >
                  <option value="none">none: the first row is a person</option>
                  {found.beginning.map((cells, at) => (
                    <option key={at} value={at}>
                      row {at + 1}:{' '}
                      {cells
                        .filter((cell) => cell.trim() !== '')
                        .join(', ')
                        .slice(0, 40)}
                    </option>
                  ))}
                </select>
              </dd>
            </dl>
            {found.headerAt !== null && found.headerAt > 0 && (
              <p className="soft">
                {found.headerAt === 1 ? 'The row' : `The ${count(found.headerAt)} rows`} above the
                header {found.headerAt === 1 ? 'is' : 'are'} left out.
              </p>
            )}
          </MarginPart>
          <MarginPart title="What will happen">
            <p className="soft">
              People are matched by their address in the house pool. An empty cell leaves what is
              there. Who is on do not mail stays there. Everything can be taken back.
            </p>
          </MarginPart>
        </>
      }
    >
      {error && (
        <div role="alert">
          <Note kind="wrong">{error}</Note>
        </div>
      )}
      {!hasAddress && (
        <Note kind="caution">
          Say which column holds the email address; people are matched by it.
        </Note>
      )}
      <div style={{ overflowX: 'auto' }}>
        <table className="mapping">
          <thead>
            <tr>
              <th scope="col">column</th>
              <th scope="col">first rows</th>
              <th scope="col">fills</th>
            </tr>
          </thead>
          <tbody>
            {found.headers.map((header, at) => {
              const target = mapping[at];
              const chosen = target?.to === 'field' ? target.field : '';
              return (
                <tr key={at}>
                  <td>
                    <b>{header || `column ${at + 1}`}</b>
                  </td>
                  <td className="sample">
                    {found.sample
                      .map((row) => row[at])
                      .filter(Boolean)
                      .slice(0, 3)
                      .join(' · ')}
                  </td>
                  <td>
                    <select
                      className="plain-select"
                      aria-label={`What the column ${header || at + 1} fills`}
                      value={chosen}
                      disabled={!may}
                      onChange={(event) => put(at, event.currentTarget.value)}
                    >
                      <option value="">nothing, left out</option>
                      {fields.map(({ key, label }) => (
                        <option
                          key={key}
                          value={key}
                          disabled={key !== chosen && used.includes(key)}
                        >
                          {label}
                        </option>
                      ))}
                    </select>{' '}
                    {chosen === '' && may && (
                      <NewTextField suggestion={header} onMade={(field) => put(at, field)} />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <section className="sheet-part">
        <h2>Permission</h2>
        <div>
          <div className="sheet-line">
            <Words
              label="How these people gave permission"
              value={permission}
              options={permissionKinds.map((value) => ({ value, label: permissionWords[value] }))}
              onChange={setPermission}
            />
          </div>
          <div className="sheet-line">
            <label className="label" htmlFor="source">
              where, when
            </label>
            <input
              id="source"
              className="line-input"
              style={{ flex: '1 1 240px', maxWidth: 420 }}
              placeholder="sign-up sheet at the spring fair"
              maxLength={200}
              value={source}
              onChange={(event) => setSource(event.currentTarget.value)}
            />
          </div>
          {permission === 'unknown' && (
            <p className="soft small">
              Whose permission is unknown is held back from campaigns, unless the office’s settings
              allow it.
            </p>
          )}
        </div>
      </section>
      <section className="sheet-part">
        <h2>Tags</h2>
        <div className="sheet-line">
          {tagIds.map((id) => {
            const tag = vocabulary?.tags.find((one) => one.id === id);
            return (
              tag && (
                <Flag
                  key={id}
                  name={tag.name}
                  colour={tag.colour}
                  onTakeOff={() => setTagIds(tagIds.filter((one) => one !== id))}
                />
              )
            );
          })}
          <TagPicker
            label="+ tag for all of them"
            leaveOut={tagIds}
            onPick={(id) => setTagIds([...tagIds, id])}
          />
        </div>
      </section>
    </Page>
  );
}

function NewTextField({
  suggestion,
  onMade,
}: {
  readonly suggestion: string;
  readonly onMade: (field: string) => void;
}) {
  const [opened, setOpened] = useState(false);
  const [label, setLabel] = useState(suggestion.slice(0, 60));
  const [error, setError] = useState<string>();
  const [add] = useAddFieldMutation();
  const make = async (): Promise<void> => {
    try {
      const field = await add({ label, type: 'text' }).unwrap();
      setOpened(false);
      onMade(field.key);
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  return (
    <Popover opened={opened} onChange={setOpened} trapFocus position="bottom-start" width={260}>
      <Popover.Target>
        <button type="button" className="act" onClick={() => setOpened(!opened)}>
          + new field
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void make();
          }}
        >
          <label>
            <span className="soft small">A text field of your own, called</span>
            <input
              className="line-input"
              style={{ width: '100%' }}
              data-autofocus
              maxLength={60}
              value={label}
              onChange={(event) => setLabel(event.currentTarget.value)}
            />
          </label>
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

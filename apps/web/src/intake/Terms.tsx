// Whose these people are, how they agreed, and what they get: said once for the whole file.
import { Group, TextInput, Textarea } from '@mantine/core';
import type { ImportPlan } from '@palabra/contract/intake';
import { permissionKinds, permissionWords, WORDING_LIMIT } from '@palabra/core/contacts';
import { matchings } from '@palabra/core/intake';
import { useEffect } from 'react';
import { useLocation } from 'react-router';
import type { Draft } from '../api/drafts';
import { FieldInput, Flag, TagPicker, useVocabularyQuery } from '../contacts';
import { useSeesEverybody } from '../office';
import { Pick } from '../ui/Pick';
import { SheetLine, SheetPart } from '../ui/Sheet';
import { Act, Small } from '../ui/text';
import { Words } from '../ui/Words';
import { useImportable } from './Columns';

interface TermsProps {
  readonly draft: Draft<ImportPlan>;
  readonly disabled: boolean;
}

export function Terms({ draft, disabled }: TermsProps) {
  const plan = draft.value;
  const set = (next: Partial<ImportPlan>): void =>
    draft.change((before) => ({ ...before, ...next }));
  const { hash, key } = useLocation();
  useEffect(() => {
    if (hash === '#permission') document.getElementById('permission')?.scrollIntoView();
  }, [hash, key]);
  return (
    <>
      <SheetPart id="permission" title="Permission">
        <SheetLine>
          <Words
            label="How these people gave permission"
            value={plan.permission}
            disabled={disabled}
            options={permissionKinds.map((value) => ({ value, label: permissionWords[value] }))}
            onChange={(permission) => set({ permission })}
          />
        </SheetLine>
        <SheetLine label="where, when">
          <TextInput
            variant="line"
            w={360}
            aria-label="Where and when they agreed"
            placeholder="sign-up sheet at the spring fair"
            maxLength={200}
            disabled={disabled}
            value={plan.source}
            onChange={(event) => set({ source: event.currentTarget.value })}
          />
        </SheetLine>
        {plan.permission !== 'unknown' && (
          <SheetLine label="wording">
            <Textarea
              variant="line"
              w={360}
              autosize
              maxRows={6}
              aria-label="What they agreed to, word for word"
              placeholder="Yes, send me the letter. I can leave it at any time."
              maxLength={WORDING_LIMIT}
              disabled={disabled}
              value={plan.wording}
              onChange={(event) => set({ wording: event.currentTarget.value })}
            />
          </SheetLine>
        )}
        <Small>
          {plan.permission === 'unknown'
            ? 'Whose permission is unknown is held back from campaigns, unless the office’s settings allow it.'
            : 'A permission that somebody has already is never weakened, and who is on do not mail stays there.'}
        </Small>
      </SheetPart>
      <SheetPart title="They get">
        <Tags draft={draft} disabled={disabled} />
        <Owner draft={draft} disabled={disabled} />
        <Fixed draft={draft} disabled={disabled} />
      </SheetPart>
      <SheetPart title="Who is who">
        <SheetLine label="known by">
          <Words
            label="By what people are known"
            value={plan.matching}
            disabled={disabled}
            options={[...matchings]}
            onChange={(matching) => set({ matching })}
          />
        </SheetLine>
        <Small>
          {plan.matching === 'address'
            ? 'Any address that somebody has counts, the further ones, too. The same name and postcode is pointed out and never decided.'
            : 'Who has the number is meant, whatever the address; another address comes on top of theirs. Without a number, the address counts.'}
        </Small>
      </SheetPart>
    </>
  );
}

function Tags({ draft, disabled }: TermsProps) {
  const { data: vocabulary } = useVocabularyQuery();
  const { tagIds, mapping } = draft.value;
  const set = (ids: readonly number[]): void =>
    draft.change((before) => ({ ...before, tagIds: ids }));
  return (
    <>
      <SheetLine label="everybody">
        {tagIds.map((id) => {
          const tag = vocabulary?.tags.find((one) => one.id === id);
          return (
            tag && (
              <Flag
                key={id}
                name={tag.name}
                colour={tag.colour}
                onTakeOff={disabled ? undefined : () => set(tagIds.filter((one) => one !== id))}
              />
            )
          );
        })}
        {!disabled && (
          <TagPicker
            label="+ tag for all of them"
            leaveOut={tagIds}
            onPick={(id) => set([...tagIds, id])}
          />
        )}
      </SheetLine>
      {mapping.some(({ to }) => to === 'tags') && (
        <Small>
          Tags that the file names and that are not there yet are made, a hundred at the most.
        </Small>
      )}
    </>
  );
}

function Owner({ draft, disabled }: TermsProps) {
  const seesAll = useSeesEverybody();
  const { data } = useVocabularyQuery();
  const { ownerId, poolId, mapping } = draft.value;
  const pools = data?.pools ?? [];
  const hasColumn = mapping.some(({ to }) => to === 'owner');
  return (
    <SheetLine label="new people">
      <Group gap="xs">
        {pools.length > 1 && (
          <>
            pool
            <Pick
              label="Pool"
              value={poolId}
              disabled={disabled}
              options={pools.map(({ id, name }) => ({ value: id, label: name }))}
              onChange={(pool) => pool && draft.change((before) => ({ ...before, poolId: pool }))}
            />
          </>
        )}
        {seesAll && (
          <>
            {hasColumn ? 'without an owner in the file go to' : 'owner'}
            <Pick
              label="Who looks after new people"
              value={String(ownerId)}
              disabled={disabled}
              options={data?.owners.map(({ key, label }) => ({ value: key, label })) ?? []}
              onChange={(owner) =>
                owner && draft.change((before) => ({ ...before, ownerId: Number(owner) }))
              }
            />
          </>
        )}
        {!seesAll && pools.length < 2 && 'are yours'}
      </Group>
    </SheetLine>
  );
}

/** Usual ones first: what one says of a whole list. */
const usual = ['closeness', 'stage', 'source'];
/** What names one person is nobody else's. */
const personal = new Set([
  'address',
  'more_addresses',
  'given_name',
  'family_name',
  'phone',
  'more_phones',
  'external_number',
]);

function Fixed({ draft, disabled }: TermsProps) {
  const fields = useImportable().filter(({ key }) => !personal.has(key));
  const { fixed } = draft.value;
  const put = (key: string, text: string | undefined): void =>
    draft.change((before) => {
      const { [key]: _, ...rest } = before.fixed;
      return { ...before, fixed: text === undefined ? rest : { ...rest, [key]: text } };
    });
  const rank = (key: string): number => (usual.includes(key) ? usual.indexOf(key) : usual.length);
  const left = fields
    .filter(({ key }) => !Object.hasOwn(fixed, key))
    .sort((a, b) => rank(a.key) - rank(b.key));
  return (
    <>
      {Object.entries(fixed).map(([key, text]) => {
        const field = fields.find((one) => one.key === key);
        return (
          field && (
            <SheetLine key={key}>
              <FieldInput
                field={field}
                label={`${field.label} of new people`}
                value={text}
                onChange={(next) => put(key, next)}
              />
              {!disabled && (
                <Act
                  aria-label={`Give new people no ${field.label}`}
                  onClick={() => put(key, undefined)}
                >
                  leave out
                </Act>
              )}
            </SheetLine>
          )
        );
      })}
      {!disabled && left.length > 0 && (
        <SheetLine label="">
          <Pick
            label="Give new people a field"
            value={null}
            nothing="+ closeness, stage or another field"
            options={left.map(({ key, label }) => ({ value: key, label }))}
            onChange={(key) => key && put(key, '')}
          />
        </SheetLine>
      )}
    </>
  );
}

// Which column of a file fills what, with its first cells beside it.
import { Table } from '@mantine/core';
import type { ImportPlan, ImportReply } from '@palabra/contract/intake';
import { dayOrders, hasDayOrder, type Field } from '@palabra/core/contacts';
import {
  guessedType,
  knownWayWords,
  waysOf,
  type KnownWay,
  type Target,
} from '@palabra/core/intake';
import type { Draft } from '../api/drafts';
import { NewField, useVocabularyQuery } from '../contacts';
import { useSeesEverybody } from '../office';
import { Pick } from '../ui/Pick';
import { SheetLine } from '../ui/Sheet';
import classes from './intake.module.css';

const notImported = new Set(['owner', 'shared_with', 'permission']);

/** Fields that a column, or everybody new, can be given. */
export function useImportable(): readonly Field[] {
  const { data } = useVocabularyQuery();
  return data?.fields.filter(({ key, isFact }) => !isFact && !notImported.has(key)) ?? [];
}

/** Targets that are no field; no field has such a key. */
const others = { tags: 'tags, several in a cell', name: 'whole name', owner: 'owner' } as const;
const isOther = (chosen: string): chosen is keyof typeof others => Object.hasOwn(others, chosen);
const targetOf = (chosen: string | null): Target =>
  chosen === null
    ? { to: 'nothing' }
    : isOther(chosen)
      ? { to: chosen }
      : { to: 'field', field: chosen };
const chosenOf = (target: Target | undefined): string | null =>
  target === undefined || target.to === 'nothing'
    ? null
    : target.to === 'field'
      ? target.field
      : target.to;

/** Fields that a target fills: none is filled twice. */
const filledBy = (target: Target): readonly string[] =>
  target.to === 'field'
    ? [target.field]
    : target.to === 'name'
      ? ['name', 'given_name', 'family_name']
      : target.to === 'owner'
        ? ['owner']
        : [];
const wantedBy = (chosen: string): readonly string[] =>
  chosen === 'name' ? ['name', 'given_name', 'family_name'] : [chosen];

interface ColumnsProps {
  readonly found: ImportReply;
  readonly draft: Draft<ImportPlan>;
  readonly disabled: boolean;
}

export function Columns({ found, draft, disabled }: ColumnsProps) {
  const fields = useImportable();
  const seesAll = useSeesEverybody();
  const { mapping } = draft.value;
  const put = (at: number, target: Target, made?: string): void =>
    draft.change((plan) => ({
      ...plan,
      mapping: plan.mapping.map((own, column) => (column === at ? target : own)),
      fieldsMade: made === undefined ? plan.fieldsMade : [...plan.fieldsMade, made],
    }));
  return (
    <Table.ScrollContainer minWidth={620}>
      <Table aria-label="Columns of the file">
        <Table.Thead>
          <Table.Tr>
            <Table.Th>column</Table.Th>
            <Table.Th>first rows</Table.Th>
            <Table.Th>fills</Table.Th>
            <Table.Th>of people who are here</Table.Th>
          </Table.Tr>
        </Table.Thead>
        <Table.Tbody>
          {found.headers.map((header, at) => {
            const target = mapping[at];
            const chosen = chosenOf(target);
            const field = fields.find(({ key }) => key === chosen);
            const used = new Set(
              mapping.flatMap((own, column) => (column === at ? [] : filledBy(own))),
            );
            const isOff = (value: string): boolean => wantedBy(value).some((key) => used.has(key));
            const cells = found.sample.map((row) => row[at] ?? '');
            const sample = cells.filter((cell) => cell !== '');
            const name = header || `column ${at + 1}`;
            return (
              <Table.Tr key={at}>
                <Table.Td>
                  <b>{name}</b>
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
                        { value: 'name', label: others.name, off: isOff('name') },
                        { value: 'tags', label: others.tags },
                        ...(seesAll
                          ? [{ value: 'owner', label: others.owner, off: isOff('owner') }]
                          : []),
                        ...fields.map(({ key, label }) => ({
                          value: key,
                          label,
                          off: isOff(key),
                        })),
                      ]}
                      onChange={(next) => put(at, targetOf(next))}
                    />
                    {target?.to === 'field' &&
                      field?.type === 'date' &&
                      sample.some((cell) => hasDayOrder(cell)) && (
                        <Pick
                          label={`What comes first in the days of ${header || at + 1}`}
                          nothing="day or month first?"
                          value={target.days ?? null}
                          disabled={disabled}
                          options={dayOrders.map((value) => ({ value, label: value }))}
                          onChange={(days) => put(at, withDays(target, days))}
                        />
                      )}
                    {chosen === null && !disabled && (
                      <NewField
                        words="+ new field"
                        suggestion={header}
                        type={guessedType(cells)}
                        onMade={(key) => put(at, targetOf(key), key)}
                      />
                    )}
                  </SheetLine>
                </Table.Td>
                <Table.Td>
                  {target?.to === 'name' && knownWayWords.replace}
                  {target?.to === 'field' && field && (
                    <Way
                      name={name}
                      target={target}
                      field={field}
                      matching={draft.value.matching}
                      disabled={disabled}
                      onChange={(way) => put(at, { ...target, way })}
                    />
                  )}
                </Table.Td>
              </Table.Tr>
            );
          })}
        </Table.Tbody>
      </Table>
    </Table.ScrollContainer>
  );
}

type FieldTarget = Extract<Target, { to: 'field' }>;

const withDays = ({ days: _, ...target }: FieldTarget, days: FieldTarget['days'] | null): Target =>
  days ? { ...target, days } : target;

/** What becomes of what somebody has in the field already. The address that people are known by is theirs anyway. */
function Way({
  name,
  target,
  field,
  matching,
  disabled,
  onChange,
}: {
  readonly name: string;
  readonly target: FieldTarget;
  readonly field: Field;
  readonly matching: ImportPlan['matching'];
  readonly disabled: boolean;
  readonly onChange: (way: KnownWay) => void;
}) {
  if (field.key === 'address' && matching === 'address') return 'people are known by it';
  if (field.key === 'external_number' && matching === 'external number')
    return 'people are known by it';
  const ways: readonly KnownWay[] =
    field.key === 'address' ? ['add', 'replace', 'leave'] : waysOf(field.type);
  return (
    <Pick
      label={`What becomes of the ${field.label} of people who are here, by ${name}`}
      value={target.way ?? ways[0] ?? 'replace'}
      disabled={disabled}
      options={ways.map((value) => ({ value, label: knownWayWords[value] }))}
      onChange={(way) => way && onChange(way)}
    />
  );
}

// What an answer is given, and what is offered while it is typed: what occurs in the field, with how many.
import { Group } from '@mantine/core';
import type { Field } from '@palabra/core/contacts';
import { useState } from 'react';
import { useOccurringQuery } from '../../contacts';
import { count } from '../../ui/numbers';
import { Small } from '../../ui/text';

export interface AnswerProps<V> {
  readonly field: Field;
  readonly value: V | undefined;
  readonly disabled: boolean;
  readonly onChange: (value: V | undefined) => void;
}

/** What occurs in the field, most frequent first, with how many; asked for when it is wanted. */
export function useOffered(field: Field): {
  readonly values: readonly string[];
  readonly counts: ReadonlyMap<string, number>;
  readonly want: () => void;
} {
  const [isAsked, setAsked] = useState(false);
  const { data } = useOccurringQuery({ field: field.key }, { skip: !isAsked });
  return {
    values: data?.map(({ value }) => value) ?? [],
    counts: new Map(data?.map((one) => [one.value, one.count])),
    want: () => setAsked(true),
  };
}

/** A value, and with how many it occurs. */
export function Offered({
  label,
  count: often,
}: {
  readonly label: string;
  readonly count?: number;
}) {
  return (
    <Group justify="space-between" gap="sm" wrap="nowrap" w="100%">
      <span>{label}</span>
      <Small>{count(often ?? 0)}</Small>
    </Group>
  );
}

export const offered =
  (counts: ReadonlyMap<string, number>) =>
  ({ option }: { readonly option: { readonly value: string } }) => (
    <Offered label={option.value} count={counts.get(option.value)} />
  );

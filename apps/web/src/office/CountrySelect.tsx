// The country an office dials from.
import { Select } from '@mantine/core';
import type { ReactNode } from 'react';
import { countries } from './countries';

interface CountrySelectProps {
  /** ISO 3166; empty is not said. */
  readonly value: string;
  readonly error?: ReactNode;
  readonly onChange: (country: string) => void;
}

export function CountrySelect({ value, error, onChange }: CountrySelectProps) {
  return (
    <Select
      mt="sm"
      label="Country"
      description="Telephone numbers are written as it does."
      searchable
      clearable
      limit={40}
      data={countries()}
      error={error}
      value={value === '' ? null : value}
      onChange={(country) => onChange(country ?? '')}
    />
  );
}

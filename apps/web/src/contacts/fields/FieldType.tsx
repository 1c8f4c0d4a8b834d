// A field made one of another kind: what would not fit is shown first.
import { Button, Group, Select, Stack } from '@mantine/core';
import type { FieldFitReply, FieldReply } from '@palabra/contract/contacts';
import { typesFor } from '@palabra/core/contacts';
import { useState } from 'react';
import { command } from '../../ui/command';
import { count, people } from '../../ui/numbers';
import { MarginPart } from '../../ui/Page';
import { Row, Rows } from '../../ui/Rows';
import { Ghost, Note, Wrong } from '../../ui/states';
import { Soft } from '../../ui/text';
import { tellChange } from '../changes';
import { useChangeFieldTypeMutation, useFieldFitQuery } from '../contacts.api';
import classes from './fields.module.css';
import { currencies, typeWords } from './words';

export function FieldType({ defined: { field, version } }: { readonly defined: FieldReply }) {
  const types = typesFor(field.type);
  const [type, setType] = useState<string | null>(null);
  const [currency, setCurrency] = useState<string | null>(null);
  const found = types.find((one) => one === type);
  const isSaid = found !== undefined && (found !== 'money' || currency !== null);
  if (types.length === 0) return null;
  return (
    <MarginPart title="Another kind">
      <Stack gap="xs">
        <Select
          aria-label="Another kind"
          placeholder="make it …"
          clearable
          data={types.map((one) => ({ value: one, label: typeWords[one] }))}
          value={type}
          onChange={setType}
        />
        {found === 'money' && (
          <Select
            label="Currency"
            searchable
            limit={40}
            data={currencies()}
            value={currency}
            onChange={setCurrency}
          />
        )}
        {isSaid && (
          <Fit
            key={`${found} ${currency ?? ''}`}
            request={{
              key: field.key,
              type: found,
              ...(found === 'money' && currency !== null ? { currency } : {}),
            }}
            version={version}
            label={field.label}
          />
        )}
      </Stack>
    </MarginPart>
  );
}

interface FitProps {
  readonly request: Parameters<typeof useFieldFitQuery>[0] & object;
  readonly version: number;
  readonly label: string;
}

function Fit({ request, version, label }: FitProps) {
  const fit = useFieldFitQuery(request);
  const [change, changing] = useChangeFieldTypeMutation();
  const go = async (): Promise<void> => {
    const { choices: _, ...rest } = request;
    const made = await command({ run: () => change({ ...rest, version }).unwrap() });
    if (made) tellChange(made.id);
  };
  if (fit.isError) return <Wrong error={fit.error} again={() => void fit.refetch()} />;
  if (!fit.data || fit.isFetching) return <Ghost lines={2} />;
  return (
    <>
      <FitWords fit={fit.data} type={typeWords[request.type]} />
      <Group>
        <Button size="xs" loading={changing.isLoading} onClick={() => void go()}>
          Make {label} {request.type === 'yes or no' ? 'a yes or no' : typeWords[request.type]}
        </Button>
      </Group>
      <Soft>It can be taken back for thirty days from the activity log.</Soft>
    </>
  );
}

function FitWords({ fit, type }: { readonly fit: FieldFitReply; readonly type: string }) {
  const { fits, doesNotFit, examples, choices } = fit;
  return (
    <>
      {fits + doesNotFit === 0 && <Note>It is empty with everybody.</Note>}
      {fits > 0 && <p>{people(fits)} keep what they have.</p>}
      {choices.length > 0 && (
        <p>
          <Soft>
            {choices.length} {choices.length === 1 ? 'choice' : 'choices'}, as they occur:{' '}
            {choices.slice(0, 12).join(', ')}
            {choices.length > 12 && ' …'}
          </Soft>
        </p>
      )}
      {doesNotFit > 0 && (
        <>
          <Note kind="caution">
            What {people(doesNotFit)} {doesNotFit === 1 ? 'has' : 'have'} is no {type}, and is
            cleared.
          </Note>
          <div
            className={classes.misfits}
            tabIndex={0}
            role="region"
            aria-label="What does not fit"
          >
            <Rows label="What does not fit">
              {examples.map(({ value, count: often }) => (
                <Row key={value} end={count(often)}>
                  {value}
                </Row>
              ))}
            </Rows>
          </div>
        </>
      )}
    </>
  );
}

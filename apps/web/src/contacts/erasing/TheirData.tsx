// What a person may ask of the office: to be told what it holds about them, and to be erased.
import { Anchor } from '@mantine/core';
import { useState } from 'react';
import { useMay } from '../../office';
import { MarginPart } from '../../ui/Page';
import { Act, Small } from '../../ui/text';
import { EraseDialog } from './EraseDialog';

export function TheirData({ id, name }: { readonly id: number; readonly name: string }) {
  const may = useMay('erase people');
  const [isAsked, setAsked] = useState(false);
  if (!may) return null;
  return (
    <MarginPart title="If they ask">
      <p>
        <Anchor href={`/api/people/${id}/held`} download inherit>
          Everything we hold about them
        </Anchor>
        <br />
        <Small>one file, to read, print or hand over</Small>
      </p>
      <p>
        <Act c="var(--wrong)" onClick={() => setAsked(true)}>
          Erase them
        </Act>
        <br />
        <Small>for good, at their own request</Small>
      </p>
      {isAsked && <EraseDialog id={id} name={name} onClose={() => setAsked(false)} />}
    </MarginPart>
  );
}

// What happened to one letter of a person, in words; the letter itself is seen on hover.
import type { LetterKind, TimelineEntry } from '@palabra/contract/contacts';
import type { ReactNode } from 'react';
import { WithMiniature } from '../ui/Miniature';
import { Name } from '../ui/Rows';
import { Soft } from '../ui/text';

type Letter = Extract<TimelineEntry, { kind: LetterKind }>;

export function LetterEntry({ entry }: { readonly entry: Letter }) {
  const { id, name } = entry.campaign;
  return letterWords[entry.kind]({
    campaign: (
      <WithMiniature src={`/api/campaigns/${id}/letter.html`} title={`The letter of ${name}`}>
        <Name to={`/results/${id}`}>{name}</Name>
      </WithMiniature>
    ),
    detail: entry.detail,
    machine: entry.machine && <Soft> by a machine ({entry.machine}); not counted</Soft>,
  });
}

interface Said {
  readonly campaign: ReactNode;
  readonly detail: string | null;
  readonly machine: ReactNode;
}

const letterWords: { readonly [K in LetterKind]: (said: Said) => ReactNode } = {
  sent: ({ campaign }) => <>Got {campaign}</>,
  opened: ({ campaign, machine }) => (
    <>
      Opened {campaign}
      {machine}
    </>
  ),
  clicked: ({ campaign, detail, machine }) => (
    <>
      Clicked <b>“{detail ?? 'a link'}”</b> in {campaign}
      {machine}
    </>
  ),
  left: ({ campaign }) => <>Left after {campaign}</>,
  'came back': ({ campaign }) => <>Wants letters again, by the link in {campaign}</>,
  'chose topics': ({ campaign }) => <>Chose topics, by the link in {campaign}</>,
  'changed own data': ({ campaign }) => <>Corrected own data, by the link in {campaign}</>,
  complained: ({ campaign }) => <>Complained about {campaign}</>,
  replied: ({ campaign }) => <>Replied to {campaign}</>,
  'replied by itself': ({ campaign }) => (
    <>
      An automatic reply to {campaign}
      <Soft>; not counted</Soft>
    </>
  ),
  bounced: ({ campaign, detail }) => (
    <>
      {campaign} came back <Soft>{detail}</Soft>
    </>
  ),
  'held back': ({ campaign, detail }) => (
    <>
      Held back from {campaign}: <Soft>{detail}</Soft>
    </>
  ),
  waiting: ({ campaign }) => <>{campaign} waits to go out</>,
  'handing over': ({ campaign }) => <>{campaign} is being handed over</>,
  deferred: ({ campaign, detail }) => (
    <>
      {campaign} was put off and is tried again <Soft>{detail}</Soft>
    </>
  ),
  stopped: ({ campaign }) => <>{campaign} was stopped before it went out</>,
  'gave up': ({ campaign, detail }) => (
    <>
      {campaign} was given up after several tries <Soft>{detail}</Soft>
    </>
  ),
  uncertain: ({ campaign, detail }) => (
    <>
      Nobody knows whether {campaign} arrived <Soft>{detail}</Soft>
    </>
  ),
};

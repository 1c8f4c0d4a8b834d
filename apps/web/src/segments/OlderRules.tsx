// Rules that were in force before: with who and when, beside the one now, and brought back as a draft.
import { Modal, Stack } from '@mantine/core';
import type { RuleInForce } from '@palabra/contract/segments';
import { parseRule, readback } from '@palabra/core/segments';
import { useState } from 'react';
import { useMay, useOffice } from '../office';
import { Ghost, Wrong } from '../ui/states';
import { Act, Small, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import type { EditorContext } from './conditions';
import { useOlderRulesQuery } from './segments.api';
import classes from './segments.module.css';
import type { SegmentModel } from './useSegment';

export function OlderRules({
  id,
  model,
  onClose,
}: {
  readonly id: number;
  readonly model: SegmentModel;
  readonly onClose: () => void;
}) {
  const { data, error, refetch } = useOlderRulesQuery(id);
  const { office } = useOffice();
  const may = useMay('make segments') && model.start.mayChange;
  const [compared, setCompared] = useState<number>();
  const when = (at: string): string => dayAndClock(office.timeZone, at);
  const bringBack = ({ rule, pools }: RuleInForce): void => {
    model.draft.change((before) => ({ ...before, rule, pools }));
    onClose();
  };
  return (
    <Modal opened size="lg" title="Older rules of this segment" onClose={onClose}>
      {error !== undefined && <Wrong error={error} again={() => void refetch()} />}
      {!data && error === undefined && <Ghost lines={4} />}
      {data?.length === 0 && <Soft>The rule was never another one.</Soft>}
      <Stack gap="md">
        {data && data.length > 0 && (
          <section>
            <b>In force now</b>
            <p>{said(model.inForce, model.context)}</p>
          </section>
        )}
        {data?.map((one) => (
          <section
            key={one.version}
            className={classes.older}
            aria-label={`Until ${when(one.until)}`}
          >
            <Small>
              {one.since ? `${when(one.since)} to ` : 'until '}
              {when(one.until)}
              {one.by && ` · made by ${one.by}`}
              {one.replacedBy && ` · replaced by ${one.replacedBy}`}
            </Small>
            <p>{said(one, model.context)}</p>
            {compared === one.version && (
              <Differences one={one} other={model.inForce} context={model.context} />
            )}
            <Act
              onClick={() => setCompared(compared === one.version ? undefined : one.version)}
              aria-expanded={compared === one.version}
            >
              {compared === one.version ? 'close' : 'compare with now'}
            </Act>{' '}
            {may && <Act onClick={() => bringBack(one)}>bring it back as a draft</Act>}
          </section>
        ))}
      </Stack>
    </Modal>
  );
}

function said({ rule }: RuleInForce, context: EditorContext): string {
  const read = parseRule(rule, context);
  return read.ok
    ? readback(read.value, context)
        .map(({ text }) => text)
        .join('')
    : read.error;
}

/** The clauses of a rule, in their order. */
function clauses({ rule }: RuleInForce, context: EditorContext): readonly string[] {
  const read = parseRule(rule, context);
  if (!read.ok) return [];
  const parts = new Map<string, string>();
  for (const { path, text } of readback(read.value, context))
    if (path !== undefined) parts.set(path, `${parts.get(path) ?? ''}${text}`);
  return [...parts.values()];
}

function Differences({
  one,
  other,
  context,
}: {
  readonly one: RuleInForce;
  readonly other: RuleInForce;
  readonly context: EditorContext;
}) {
  const [before, now] = [clauses(one, context), clauses(other, context)];
  const gone = before.filter((clause) => !now.includes(clause));
  const added = now.filter((clause) => !before.includes(clause));
  if (gone.length === 0 && added.length === 0)
    return <p>The same conditions, put together otherwise.</p>;
  return (
    <ul className={classes.differences}>
      {gone.map((clause) => (
        <li key={`- ${clause}`}>
          <Soft>only then:</Soft> {clause}
        </li>
      ))}
      {added.map((clause) => (
        <li key={`+ ${clause}`}>
          <Soft>only now:</Soft> {clause}
        </li>
      ))}
    </ul>
  );
}

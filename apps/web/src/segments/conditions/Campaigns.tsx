// Campaigns that went out, chosen by name; each says when it began.
import { CloseButton } from '@mantine/core';
import { dayIn } from '@palabra/core/office';
import { Finder } from '../../ui/Finder';
import { longDate } from '../../ui/time';
import type { EditorContext } from './kind';
import classes from './conditions.module.css';

export function Campaigns({
  value,
  one = false,
  context: { campaigns, timeZone },
  disabled,
  onChange,
}: {
  readonly value: readonly number[];
  /** A single one, which another takes the place of. */
  readonly one?: boolean;
  readonly context: EditorContext;
  readonly disabled: boolean;
  readonly onChange: (value: readonly number[]) => void;
}) {
  const nameOf = (id: number): string =>
    campaigns.find((campaign) => campaign.id === id)?.name ?? 'a campaign that is gone';
  return (
    <>
      {value.map((id) => (
        <span key={id} className={classes.chip}>
          {nameOf(id)}
          {!disabled && (
            <CloseButton
              size={20}
              iconSize={12}
              aria-label={`Take ${nameOf(id)} out`}
              onClick={() => onChange(value.filter((other) => other !== id))}
            />
          )}
        </span>
      ))}
      {!disabled && (
        <Finder
          words={value.length === 0 ? 'choose a campaign' : one ? 'another' : '+ campaign'}
          label="Find a campaign"
          placeholder="find a campaign"
          none="No campaign of that name went out."
          options={campaigns
            .filter(({ id }) => !value.includes(id))
            .map(({ id, name, at }) => ({
              key: String(id),
              text: name,
              note: longDate(dayIn(timeZone, new Date(at))),
            }))}
          onPick={({ key }) => onChange(one ? [Number(key)] : [...value, Number(key)])}
        />
      )}
    </>
  );
}

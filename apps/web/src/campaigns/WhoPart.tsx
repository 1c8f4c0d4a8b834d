// To whom and not to whom: segments, tags and people chosen in a list, with their count.
import { CloseButton } from '@mantine/core';
import type { CampaignReply } from '@palabra/contract/campaigns';
import { sameWho, whoKey, type WhoRef } from '@palabra/core/campaigns';
import { Link } from 'react-router';
import { useVocabularyQuery } from '../contacts';
import { useSegmentsQuery } from '../segments';
import { OnTheSpot } from './OnTheSpot';
import { Finder } from '../ui/Finder';
import { Num, peoplePath } from '../ui/numbers';
import { SheetLine } from '../ui/Sheet';
import { Soft } from '../ui/text';
import { useWhoCountsQuery } from './campaigns.api';
import classes from './campaigns.module.css';
import type { PartProps } from './useCampaign';

type Names = CampaignReply['names'];

export function WhoPart({
  id,
  value: { who },
  names,
  used,
  disabled,
  onChange,
}: PartProps & { readonly names: Names; readonly used: CampaignReply['whoUsed'] }) {
  const { data } = useWhoCountsQuery(id ?? 0, { skip: id === undefined });
  const rest = { names, counts: data?.counts ?? {}, disabled };
  return (
    <>
      <WhoLine
        label="to"
        add="+ segment or tag"
        refs={who.to}
        {...rest}
        onChange={(to) => onChange({ who: { ...who, to } })}
      />
      <WhoLine
        label="not to"
        add="+ leave out"
        refs={who.notTo}
        {...rest}
        onChange={(notTo) => onChange({ who: { ...who, notTo } })}
      />
      {data && data.inSeveral > 0 && id !== undefined && (
        <SheetLine label="">
          <Soft>
            <Num
              value={data.inSeveral}
              to={peoplePath(`campaign.${id}.in-several`)}
              label="in more than one"
            />{' '}
            {data.inSeveral === 1 ? 'is' : 'are'} in more than one of these, and get one letter.
          </Soft>
        </SheetLine>
      )}
      {used && <AsItWas used={used} />}
    </>
  );
}

/** What the groups were when the recipients were fixed: whatever became of them later. */
function AsItWas({ used }: { readonly used: NonNullable<CampaignReply['whoUsed']> }) {
  const said = used.filter(({ said: words }) => words !== null);
  if (said.length === 0) return null;
  return (
    <SheetLine label="as it was">
      <ul className={classes.used}>
        {said.map(({ kind, id, isLeftOut, name, said: words }) => (
          <li key={`${kind}.${id} ${String(isLeftOut)}`}>
            <b>{name}</b>
            {isLeftOut && ' (left out)'}: <Soft>{words}</Soft>
          </li>
        ))}
      </ul>
    </SheetLine>
  );
}

interface WhoLineProps {
  readonly label: string;
  readonly add: string;
  readonly refs: readonly WhoRef[];
  readonly names: Names;
  readonly counts: Readonly<Record<string, number>>;
  readonly disabled: boolean;
  readonly onChange: (refs: readonly WhoRef[]) => void;
}

function WhoLine({ label, add, refs, names, counts, disabled, onChange }: WhoLineProps) {
  const { data: segments } = useSegmentsQuery();
  const { data: vocabulary } = useVocabularyQuery();
  const nameOf = (ref: WhoRef): string =>
    (ref.kind === 'segment'
      ? segments?.find(({ id }) => id === ref.id)?.name
      : ref.kind === 'tag'
        ? vocabulary?.tags.find(({ id }) => id === ref.id)?.name
        : undefined) ??
    names[whoKey(ref)]?.name ??
    (ref.kind === 'people' ? 'people chosen in a list' : '…');
  const choices: WhoRef[] = [
    ...(segments ?? []).map(({ id }): WhoRef => ({ kind: 'segment', id })),
    ...(vocabulary?.tags ?? []).map(({ id }): WhoRef => ({ kind: 'tag', id })),
  ].filter((ref) => !refs.some((own) => sameWho(own, ref)));
  return (
    <SheetLine label={label}>
      {refs.map((ref) => (
        <WhoChip
          key={whoKey(ref)}
          who={ref}
          name={nameOf(ref)}
          count={counts[whoKey(ref)]}
          onTakeOut={disabled ? undefined : () => onChange(refs.filter((one) => one !== ref))}
        />
      ))}
      {disabled && refs.length === 0 && <Soft>nobody</Soft>}
      {!disabled && (
        <Finder
          words={add}
          label="Find a segment or tag"
          placeholder="find a segment or tag"
          none="Nothing of that name."
          options={choices.map((ref) => ({
            key: whoKey(ref),
            text: nameOf(ref),
            note: ref.kind,
            ref,
          }))}
          onPick={({ ref }) => onChange([...refs, ref])}
        />
      )}
      {!disabled && label === 'to' && <OnTheSpot onMade={(ref) => onChange([...refs, ref])} />}
    </SheetLine>
  );
}

function WhoChip({
  who: ref,
  name,
  count,
  onTakeOut,
}: {
  readonly who: WhoRef;
  readonly name: string;
  readonly count: number | undefined;
  readonly onTakeOut: (() => void) | undefined;
}) {
  const to = ref.kind === 'tag' ? `/contacts?tag=${ref.id}` : peoplePath(`${ref.kind}.${ref.id}`);
  return (
    <span className={`${classes.chip} ${onTakeOut ? '' : classes.still}`}>
      {ref.kind === 'segment' ? (
        <Link to={`/segments/${ref.id}`}>{name}</Link>
      ) : (
        <span>
          {ref.kind === 'tag' && <Soft>tag </Soft>}
          {name}
        </span>
      )}
      <Soft>{count === undefined ? '…' : <Num value={count} to={to} label={`in ${name}`} />}</Soft>
      {onTakeOut && (
        <CloseButton size={24} iconSize={13} aria-label={`Take ${name} out`} onClick={onTakeOut} />
      )}
    </span>
  );
}

// What can be done with whom one has chosen.
import { Checkbox } from '@mantine/core';
import { useState, type ReactNode } from 'react';
import { command } from '../ui/command';
import { count, people as peopleWords } from '../ui/numbers';
import { Act, Small } from '../ui/text';
import { tellChange } from './changes';
import {
  useAmongQuery,
  useDoToManyMutation,
  useTaggingMutation,
  useTagsAmongQuery,
  type Filter,
} from './contacts.api';
import classes from './contacts.module.css';
import { FieldForMany } from './FieldForMany';
import { countTags, isWithin, meantBy, type Choosing, type Chosen, type Meant } from './selection';
import { TagPicker } from './TagPicker';
import { TakeOut } from './TakeOut';

interface SelectionBarProps {
  readonly filter: Filter;
  readonly choosing: Choosing;
  /** How many are chosen, and of how many. */
  readonly size: number;
  readonly total: number | undefined;
  readonly sort: string | undefined;
  /** The columns one sees. */
  readonly shown: readonly string[];
  /** What else can be done with them. */
  readonly further?: (meant: Meant, size: number) => ReactNode;
}

export function SelectionBar({
  filter,
  choosing,
  size,
  total,
  sort,
  shown,
  further,
}: SelectionBarProps) {
  const { chosen } = choosing;
  const [tagging, state] = useTaggingMutation();
  const [deed, doing] = useDoToManyMutation();
  const [isSetting, setSetting] = useState(false);
  const [isTaking, setTaking] = useState(false);
  const amongAll = useTagsAmongQuery(chosen.all ? chosen.of : filter, { skip: !chosen.all });
  const among = chosen.all ? (amongAll.data ?? []) : countTags(chosen.people.values());
  const meant = meantBy(chosen);
  const isBusy = state.isLoading || doing.isLoading;
  const end = (change: { readonly id: number } | undefined): void => {
    if (!change) return;
    tellChange(change.id, size);
    choosing.none();
  };
  const tag = async (id: number, put: boolean): Promise<void> =>
    end(await command({ run: () => tagging({ people: meant, tag: id, put }).unwrap() }));
  const act = async (what: object): Promise<void> =>
    end(await command({ run: () => deed({ people: meant, deed: what }).unwrap() }));
  return (
    <div className={classes.bar} role="toolbar" aria-label="What to do with the chosen people">
      <Checkbox checked readOnly aria-label="Choose nobody" onChange={choosing.none} />
      <b>{chosen.all && chosen.except.size === 0 ? `All ${count(size)}` : count(size)}</b>
      <OutOfSight filter={filter} chosen={chosen} size={size} total={total} />
      {!chosen.all && total !== undefined && total > size && (
        <Act onClick={choosing.all}>Choose all {count(total)}</Act>
      )}
      <TagPicker label="Tag" disabled={isBusy} onPick={(id) => void tag(id, true)} />
      <TagPicker
        label="Untag"
        among={among}
        disabled={isBusy || among.length === 0}
        onPick={(id) => void tag(id, false)}
      />
      <Act disabled={isBusy} onClick={() => setSetting(true)}>
        Set a field
      </Act>
      {further?.(meant, size)}
      <Act onClick={() => setTaking(true)}>Take out</Act>
      <Act disabled={isBusy} onClick={() => void act({ kind: 'delete' })}>
        Delete {peopleWords(size)}
      </Act>
      <Small className={classes.end}>Esc clears</Small>
      {isTaking && <TakeOut {...{ meant, size, sort, shown }} onClose={() => setTaking(false)} />}
      {isSetting && (
        <FieldForMany
          size={size}
          onClose={() => setSetting(false)}
          onSet={(what) => {
            setSetting(false);
            void act(what);
          }}
        />
      )}
    </div>
  );
}

interface OutOfSightProps {
  readonly filter: Filter;
  readonly chosen: Chosen;
  readonly size: number;
  readonly total: number | undefined;
}

/** Of the chosen, how many the list as it is narrowed now doesn't show. */
function OutOfSight({ filter, chosen, size, total }: OutOfSightProps) {
  const { currentData } = useAmongQuery(
    { ...filter, ids: chosen.all ? [] : [...chosen.people.keys()] },
    { skip: chosen.all },
  );
  if (chosen.all && !isWithin(filter, chosen.of)) return <Small>of another list</Small>;
  // Who is left out is counted as in sight: that is where they were left out.
  const inSight = chosen.all ? (total ?? 0) - chosen.except.size : currentData?.count;
  const away = inSight === undefined ? 0 : size - inSight;
  return away > 0 ? <Small>{count(away)} of them out of sight</Small> : null;
}

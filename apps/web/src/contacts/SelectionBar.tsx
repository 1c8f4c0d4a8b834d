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
import { countTags, type Choosing, type Meant } from './selection';
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
  const amongAll = useTagsAmongQuery(filter, { skip: !chosen.all });
  const among = chosen.all ? (amongAll.data ?? []) : countTags(chosen.people.values());
  const meant: Meant = chosen.all ? filter : { ids: [...chosen.people.keys()] };
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
      <b>{chosen.all ? `All ${count(size)}` : count(size)}</b>
      {!chosen.all && <OutOfSight filter={filter} ids={[...chosen.people.keys()]} />}
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

/** Of those chosen one by one, how many the list as it is narrowed now doesn't show. */
function OutOfSight({ filter, ids }: { readonly filter: Filter; readonly ids: number[] }) {
  const { currentData } = useAmongQuery({ ...filter, ids });
  const away = currentData === undefined ? 0 : ids.length - currentData.count;
  return away > 0 ? <Small>{count(away)} of them out of sight</Small> : null;
}

// What can be done with whom one has chosen.
import { Checkbox } from '@mantine/core';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { Act, Small } from '../ui/text';
import { tellChange } from './changes';
import { useTaggingMutation, useTagsAmongQuery, type Filter } from './contacts.api';
import classes from './contacts.module.css';
import { countTags, type Choosing } from './selection';
import { TagPicker } from './TagPicker';

export function SelectionBar({
  filter,
  choosing,
  size,
  total,
}: {
  readonly filter: Filter;
  readonly choosing: Choosing;
  /** How many are chosen, and of how many. */
  readonly size: number;
  readonly total: number | undefined;
}) {
  const { chosen } = choosing;
  const [tagging, state] = useTaggingMutation();
  const amongAll = useTagsAmongQuery(filter, { skip: !chosen.all });
  const among = chosen.all ? (amongAll.data ?? []) : countTags(chosen.people.values());
  const tag = async (id: number, put: boolean): Promise<void> => {
    const people = chosen.all ? filter : { ids: [...chosen.people.keys()] };
    const change = await command({ run: () => tagging({ people, tag: id, put }).unwrap() });
    if (!change) return;
    tellChange(change.id, size);
    choosing.none();
  };
  return (
    <div className={classes.bar} role="toolbar" aria-label="What to do with the chosen people">
      <Checkbox checked readOnly aria-label="Choose nobody" onChange={choosing.none} />
      <b>{chosen.all ? `All ${count(size)}` : count(size)}</b>
      {!chosen.all && total !== undefined && total > size && (
        <Act onClick={choosing.all}>Choose all {count(total)}</Act>
      )}
      <TagPicker label="Tag" disabled={state.isLoading} onPick={(id) => void tag(id, true)} />
      <TagPicker
        label="Untag"
        among={among}
        disabled={state.isLoading || among.length === 0}
        onPick={(id) => void tag(id, false)}
      />
      <Small className={classes.end}>Esc clears</Small>
    </div>
  );
}

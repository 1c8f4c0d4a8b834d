import { useHotkeys } from '@mantine/hooks';
import { useRef } from 'react';
import { useMay } from '../office';
import { command } from '../ui/command';
import { tellChange } from './changes';
import { useTaggingMutation, useVocabularyQuery } from './contacts.api';
import classes from './contacts.module.css';
import { Flag } from './Flag';
import { TagPicker } from './TagPicker';

export function PersonTags({
  id,
  tags,
}: {
  readonly id: number;
  readonly tags: readonly number[];
}) {
  const { data } = useVocabularyQuery();
  const [tagging] = useTaggingMutation();
  const may = useMay('change people');
  const place = useRef<HTMLDivElement>(null);
  useHotkeys([['t', () => place.current?.querySelector<HTMLElement>('[aria-haspopup]')?.click()]]);
  const change = async (tag: number, put: boolean): Promise<void> => {
    const done = await command({
      run: () => tagging({ people: { ids: [id] }, tag, put }).unwrap(),
    });
    if (done) tellChange(done.id);
  };
  return (
    <div className={classes.tags} ref={place}>
      {tags.map((tag) => {
        const known = data?.tags.find((one) => one.id === tag);
        return (
          known && (
            <Flag
              key={tag}
              name={known.name}
              colour={known.colour}
              kind={known.kind}
              purpose={known.purpose}
              onTakeOff={may && known.kind === 'office' ? () => void change(tag, false) : undefined}
            />
          )
        );
      })}
      {may && <TagPicker label="+ tag" leaveOut={tags} onPick={(tag) => void change(tag, true)} />}
    </div>
  );
}

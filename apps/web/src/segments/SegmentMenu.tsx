// What else can be done with a segment: copied, shared, turned into the other kind, its older rules, taken out as a file.
import { ActionIcon, Menu } from '@mantine/core';
import { IconDots } from '@tabler/icons-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { TakeOut, useSummaryQuery } from '../contacts';
import { useMay } from '../office';
import { command } from '../ui/command';
import { OlderRules } from './OlderRules';
import { useAddSegmentMutation, useTurnSegmentMutation } from './segments.api';
import { SharingDialog } from './SharingDialog';
import type { SegmentModel } from './useSegment';

export function SegmentMenu({
  model,
  onTurned,
}: {
  readonly model: SegmentModel;
  readonly onTurned: (() => void) | undefined;
}) {
  const { id, start, draft, inForce } = model;
  const navigate = useNavigate();
  const mayMake = useMay('make segments');
  const [add] = useAddSegmentMutation();
  const [turn] = useTurnSegmentMutation();
  const [shown, setShown] = useState<'sharing' | 'rules' | 'people'>();
  const of = `segment.${id ?? 0}` as const;
  const { data: summary } = useSummaryQuery({ of }, { skip: shown !== 'people' });
  if (id === undefined) return null;
  const isFixed = start.kind === 'fixed';
  const { name, description } = draft.value;
  const kept = inForce.isUsed ? inForce : draft.value;
  const copy = async (asList: boolean): Promise<void> => {
    const made = await command({
      run: () =>
        add({
          name: `Copy of ${name}`.slice(0, 120),
          description,
          // What is in force; of one that was never used, its draft.
          ...(asList ? { people: { of } } : { rule: kept.rule, pools: [...kept.pools] }),
        }).unwrap(),
      says: () => (asList ? 'A fixed segment of who is in it now was made.' : 'It was copied.'),
    });
    if (made) void navigate(`/segments/${made.id}`);
  };
  const change = async (into: 'fix' | 'unfix'): Promise<void> => {
    const version = await draft.flush();
    if (version === undefined) return;
    const done = await command({
      run: () => turn({ id, version, into }).unwrap(),
      says: () => (into === 'fix' ? 'It stays as it is now.' : 'It follows its rule again.'),
    });
    if (done) onTurned?.();
  };
  return (
    <>
      <Menu position="bottom-end" withinPortal>
        <Menu.Target>
          <ActionIcon aria-label="What else can be done with the segment">
            <IconDots size={18} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          {start.mayChange && (
            <Menu.Item onClick={() => setShown('sharing')}>Who sees it …</Menu.Item>
          )}
          {!isFixed && <Menu.Item onClick={() => setShown('rules')}>Older rules …</Menu.Item>}
          {mayMake && !isFixed && <Menu.Item onClick={() => void copy(false)}>Copy</Menu.Item>}
          {mayMake && (
            <Menu.Item onClick={() => void copy(true)}>Copy as a fixed segment of now</Menu.Item>
          )}
          {start.mayChange && !isFixed && inForce.isUsed && (
            <Menu.Item onClick={() => void change('fix')}>Make it fixed: as it is now</Menu.Item>
          )}
          {start.mayChange && isFixed && (
            <Menu.Item onClick={() => void change('unfix')}>
              Make it live: by its rule, the list goes
            </Menu.Item>
          )}
          <Menu.Divider />
          <Menu.Item onClick={() => setShown('people')}>Take its people out as a file …</Menu.Item>
          {!isFixed && (
            <Menu.Item component="a" href={`/api/segments/${id}/file`} download>
              Take its rule out as a file
            </Menu.Item>
          )}
        </Menu.Dropdown>
      </Menu>
      {shown === 'sharing' && <SharingDialog model={model} onClose={() => setShown(undefined)} />}
      {shown === 'rules' && (
        <OlderRules id={id} model={model} onClose={() => setShown(undefined)} />
      )}
      {shown === 'people' && summary && (
        <TakeOut
          meant={{ of }}
          size={summary.total}
          sort={undefined}
          shown={['town']}
          onClose={() => setShown(undefined)}
        />
      )}
    </>
  );
}

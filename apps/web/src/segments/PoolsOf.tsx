// Which bodies of contacts a segment sifts: the house pool, unless it is said otherwise.
import { Checkbox, Popover, Stack } from '@mantine/core';
import { useVocabularyQuery } from '../contacts';
import { Act } from '../ui/text';
import type { SegmentModel } from './useSegment';

export function PoolsOf({
  model: { draft },
  disabled,
}: {
  readonly model: SegmentModel;
  readonly disabled: boolean;
}) {
  const pools = useVocabularyQuery().data?.pools ?? [];
  const { pools: chosen } = draft.value;
  const nameOf = ({ name, kind }: (typeof pools)[number]): string =>
    kind === 'house' ? 'house pool' : name;
  const isAny = chosen.length === 0;
  const words = isAny
    ? 'any pool'
    : pools
        .filter(({ id }) => chosen.includes(id))
        .map(nameOf)
        .join(' and ');
  if (disabled || pools.length < 2) return <>{words}</>;
  return (
    <Popover position="bottom-start" withinPortal>
      <Popover.Target>
        <Act aria-label={`Pools: ${words}`}>{words}</Act>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={6} role="group" aria-label="Pools">
          <Checkbox
            label="any pool"
            checked={isAny}
            onChange={() => {
              const house = pools.find(({ kind }) => kind === 'house') ?? pools[0];
              draft.change((before) => ({
                ...before,
                pools: before.pools.length > 0 || !house ? [] : [house.id],
              }));
            }}
          />
          {pools.map((pool) => (
            <Checkbox
              key={pool.id}
              label={nameOf(pool)}
              checked={chosen.includes(pool.id)}
              // One is sifted in any case.
              disabled={chosen.length === 1 && chosen[0] === pool.id}
              onChange={(event) => {
                const isOn = event.currentTarget.checked;
                draft.change((before) => ({
                  ...before,
                  pools: pools.flatMap(({ id }) =>
                    (id === pool.id ? isOn : before.pools.includes(id)) ? [id] : [],
                  ),
                }));
              }}
            />
          ))}
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}

// Who sees a segment beside its owner.
import { Modal, MultiSelect, Stack } from '@mantine/core';
import { segmentsIn, type SegmentSharing } from '@palabra/core/segments';
import { useVocabularyQuery } from '../contacts';
import { useOffice } from '../office';
import { Soft } from '../ui/text';
import { Words } from '../ui/Words';
import { useSegmentsQuery } from './segments.api';
import type { SegmentModel } from './useSegment';

const options: readonly { readonly value: SegmentSharing; readonly label: string }[] = [
  { value: 'private', label: 'nobody else' },
  { value: 'some', label: 'some colleagues' },
  { value: 'all', label: 'everybody' },
];

export function SharingDialog({
  model: { draft },
  onClose,
}: {
  readonly model: SegmentModel;
  readonly onClose: () => void;
}) {
  const { user } = useOffice();
  const owners = useVocabularyQuery().data?.owners ?? [];
  const { sharing, sharedWith, rule } = draft.value;
  const { data: segments = [] } = useSegmentsQuery();
  const asked = new Set(segmentsIn(rule));
  const narrow = segments.filter((one) => asked.has(one.id) && one.sharing !== 'all');
  return (
    <Modal opened title="Who sees this segment" onClose={onClose}>
      <Stack gap="sm">
        <Words
          label="Who sees it beside you"
          value={sharing}
          options={options}
          onChange={(next) => draft.change((before) => ({ ...before, sharing: next }))}
        />
        {sharing === 'some' && (
          <MultiSelect
            label="Which colleagues"
            searchable
            data={owners
              .filter(({ key }) => key !== String(user.id))
              .map(({ key, label }) => ({ value: key, label }))}
            value={sharedWith.map(String)}
            onChange={(next) =>
              draft.change((before) => ({ ...before, sharedWith: next.map(Number) }))
            }
          />
        )}
        {sharing !== 'private' && narrow.length > 0 && (
          <Soft c="var(--caution)">
            The rule asks for {narrow.map(({ name }) => `“${name}”`).join(', ')}, which not
            everybody sees. On the page of whoever doesn’t, the numbers of this one are missing;
            campaigns go to the same people. Share {narrow.length === 1 ? 'that one' : 'those'},
            too.
          </Soft>
        )}
        <Soft>
          A segment of somebody who sees the whole office gathers everybody; one of a member reaches
          only that member’s own people, whoever uses it. Members see of any segment their own
          people, and how many are colleagues’.
        </Soft>
      </Stack>
    </Modal>
  );
}

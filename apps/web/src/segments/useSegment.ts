// A segment as it is edited: kept as it is made, and counted as it stands on the screen.
import { useDebouncedValue } from '@mantine/hooks';
import type { SegmentReply, SiftReply, StrainReply } from '@palabra/contract/segments';
import { dayIn } from '@palabra/core/office';
import type { Rule } from '@palabra/core/segments';
import { useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useDraft, type Draft } from '../api/drafts';
import { useVocabularyQuery } from '../contacts';
import { useOffice } from '../office';
import { peoplePath } from '../ui/numbers';
import type { EditorContext } from './conditions';
import {
  useAddSegmentMutation,
  useSaveSegmentMutation,
  useSiftQuery,
  useStrainQuery,
} from './segments.api';

export interface SegmentDraft {
  readonly name: string;
  readonly description: string;
  readonly poolId: number;
  readonly rule: Rule;
}

/** What rules are read against; the same until the office's words change. */
export function useRuleContext(): EditorContext {
  const { data } = useVocabularyQuery();
  const { office } = useOffice();
  const today = dayIn(office.timeZone, new Date());
  return useMemo(
    () => ({
      fields: data?.fields ?? [],
      tags: data?.tags ?? [],
      topics: data?.topics ?? [],
      today,
      timeZone: office.timeZone,
    }),
    [data, today, office.timeZone],
  );
}

export interface SegmentModel {
  /** Undefined until it has a name or a rule: then it is kept. */
  readonly id: number | undefined;
  readonly draft: Draft<SegmentDraft>;
  readonly context: EditorContext;
  readonly sifted: SiftReply | undefined;
  readonly strained: StrainReply | undefined;
  readonly wrong: unknown;
  /** Where the people are; nowhere while what is on the screen is not what is kept. */
  readonly of: string | undefined;
}

export type SegmentStart = Omit<SegmentReply, 'id' | 'pool' | 'updatedAt' | 'uses'> & {
  readonly id: number | undefined;
};

export function useSegment(segment: SegmentStart): SegmentModel {
  const [id, setId] = useState(segment.id);
  /** The same, for a save that follows at once. */
  const kept = useRef(segment.id);
  const navigate = useNavigate();
  const [add] = useAddSegmentMutation();
  const [save] = useSaveSegmentMutation();
  const draft = useDraft<SegmentDraft>({
    value: {
      name: segment.name,
      description: segment.description,
      poolId: segment.poolId,
      rule: segment.rule,
    },
    version: segment.version,
    save: async ({ name, description, poolId: pool, rule }, version) => {
      const said = { name, description, pool, rule };
      if (kept.current !== undefined) return save({ id: kept.current, version, ...said }).unwrap();
      const made = await add(said).unwrap();
      kept.current = made.id;
      setId(made.id);
      void navigate(`/segments/${made.id}`, { replace: true });
      return made;
    },
    read: ({ version: _, ...theirs }: SegmentDraft & { version: number }) => theirs,
  });
  const { poolId: pool, rule } = draft.value;
  const [asked] = useDebouncedValue({ pool, rule }, 200);
  const context = useRuleContext();
  const sift = useSiftQuery(asked);
  const strain = useStrainQuery(asked);
  return {
    id,
    draft,
    context,
    sifted: sift.data,
    strained: strain.data,
    wrong: sift.error,
    of: id !== undefined && draft.state.kind === 'saved' ? peoplePath(`segment.${id}`) : undefined,
  };
}

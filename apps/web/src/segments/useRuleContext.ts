import { dayIn } from '@palabra/core/office';
import { useMemo } from 'react';
import { useVocabularyQuery } from '../contacts';
import { useOffice } from '../office';
import type { EditorContext } from './conditions';
import { useRuleWordsQuery } from './segments.api';

/** What rules are read against; the same until the office's words change. A rule doesn't see its own segment. */
export function useRuleContext(own?: number): EditorContext {
  const { data } = useVocabularyQuery();
  const { data: words } = useRuleWordsQuery();
  const { office } = useOffice();
  const today = dayIn(office.timeZone, new Date());
  return useMemo(
    () => ({
      fields: data?.fields ?? [],
      tags: data?.tags ?? [],
      topics: data?.topics ?? [],
      campaigns: (words?.campaigns ?? []).map(({ id, name, at }) => ({
        id,
        name,
        at: Date.parse(at),
        links: [],
      })),
      segments: (words?.segments ?? []).filter(({ id }) => id !== own),
      today,
      timeZone: office.timeZone,
    }),
    [data, words, own, today, office.timeZone],
  );
}

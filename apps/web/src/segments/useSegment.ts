// A segment as it is edited: kept as it is made, as a draft beside the rule in force, and counted as it stands on the screen.
import { useDebouncedValue } from '@mantine/hooks';
import type {
  DraftDifference,
  RuleInForce,
  SegmentReply,
  SiftReply,
  StrainReply,
} from '@palabra/contract/segments';
import { isActive, type Group, type Rule, type SegmentSharing } from '@palabra/core/segments';
import { useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useDraft, type Draft } from '../api/drafts';
import { command } from '../ui/command';
import type { EditorContext } from './conditions';
import {
  useAddSegmentMutation,
  useDifferenceQuery,
  useKeepFilterMutation,
  useSaveSegmentMutation,
  useSiftQuery,
  useStrainQuery,
  usePutInForceMutation,
} from './segments.api';
import { useRuleContext } from './useRuleContext';

export interface SegmentDraft {
  readonly name: string;
  readonly description: string;
  readonly labels: readonly string[];
  readonly sharing: SegmentSharing;
  readonly sharedWith: readonly number[];
  /** As they are edited: the draft, or what is in force. */
  readonly pools: readonly number[];
  readonly rule: Rule;
}

export type SegmentStart = Pick<
  SegmentReply,
  | 'kind'
  | 'name'
  | 'description'
  | 'labels'
  | 'sharing'
  | 'sharedWith'
  | 'version'
  | 'rule'
  | 'poolIds'
  | 'draft'
  | 'inForceSince'
  | 'inForceBy'
  | 'mayChange'
> & { readonly id: number | undefined };

export interface SegmentModel {
  /** Undefined until it has a name or a rule: then it is kept. */
  readonly id: number | undefined;
  readonly start: SegmentStart;
  readonly draft: Draft<SegmentDraft>;
  readonly inForce: RuleInForce & { readonly isUsed: boolean };
  /** What is on the screen is not what is in force. */
  readonly isDraft: boolean;
  /** What using it would change; undefined until it is counted. */
  readonly difference: DraftDifference | undefined;
  readonly context: EditorContext;
  readonly sifted: SiftReply | undefined;
  readonly strained: StrainReply | undefined;
  /** The numbers are of what was on the screen before. */
  readonly isCounting: boolean;
  readonly wrong: unknown;
  /** Shows the people of a rule in the segment's pools. */
  readonly open: (root: Group) => void;
  readonly use: () => Promise<void>;
  readonly throwAway: () => void;
}

const same = (one: RuleInForce, other: RuleInForce): boolean =>
  JSON.stringify([one.rule, [...one.pools]]) === JSON.stringify([other.rule, [...other.pools]]);

type Conflicting = Omit<SegmentDraft, 'pools' | 'rule'> & {
  readonly version: number;
  readonly draft: RuleInForce | null;
  readonly inForce: RuleInForce;
};

export function useSegment(segment: SegmentStart): SegmentModel {
  const [id, setId] = useState(segment.id);
  /** The same, for a save that follows at once. */
  const kept = useRef(segment.id);
  const navigate = useNavigate();
  const [add] = useAddSegmentMutation();
  const [save] = useSaveSegmentMutation();
  const [inForce, setInForce] = useState({
    pools: segment.poolIds,
    rule: segment.rule,
    isUsed: segment.inForceSince !== null,
  });
  const inForceNow = useRef(inForce);
  // Who can't use a draft looks at what is in force.
  const begun = segment.mayChange ? segment.draft : null;
  const [version, setVersion] = useState(segment.version);
  const putInForce = (next: RuleInForce): void => {
    inForceNow.current = { pools: next.pools, rule: next.rule, isUsed: true };
    setInForce(inForceNow.current);
  };
  const draft = useDraft<SegmentDraft>({
    value: {
      name: segment.name,
      description: segment.description,
      labels: segment.labels,
      sharing: segment.sharing,
      sharedWith: segment.sharedWith,
      pools: begun?.pools ?? segment.poolIds,
      rule: begun?.rule ?? segment.rule,
    },
    version: segment.version,
    save: async ({ pools, rule, labels, sharedWith, ...said }, before) => {
      const asked = { pools: [...pools], rule };
      const body = {
        ...said,
        labels: [...labels],
        sharedWith: [...sharedWith],
        draft: same(asked, inForceNow.current) ? null : asked,
      };
      let from = before;
      if (kept.current === undefined) {
        const made = await add({
          name: said.name,
          description: said.description,
          pools: [...inForceNow.current.pools],
        }).unwrap();
        kept.current = made.id;
        from = made.version;
        setId(made.id);
        void navigate(`/segments/${made.id}`, { replace: true });
      }
      const saved = await save({ id: kept.current, version: from, ...body }).unwrap();
      setVersion(saved.version);
      return saved;
    },
    read: ({ version: _, draft: theirs, inForce: other, ...rest }: Conflicting) => {
      putInForce(other);
      return { ...rest, pools: theirs?.pools ?? other.pools, rule: theirs?.rule ?? other.rule };
    },
  });
  const { pools, rule } = draft.value;
  const question = useMemo(() => ({ pools: [...pools], rule }), [pools, rule]);
  const [asked] = useDebouncedValue(question, 150);
  const context = useRuleContext(id);
  const sift = useSiftQuery(asked, { skip: segment.kind === 'fixed' });
  const strain = useStrainQuery(asked, {
    skip: segment.kind === 'fixed' || !isActive(rule.root, context),
  });
  const isDraft = !same({ pools, rule }, inForce);
  const isSaved = draft.state.kind === 'saved' && id !== undefined;
  const difference = useDifferenceQuery(
    { id: id ?? 0, version },
    { skip: !isSaved || !isDraft || segment.kind === 'fixed' },
  );
  const [keep] = useKeepFilterMutation();
  const [putInForceThere] = usePutInForceMutation();
  return {
    id,
    start: segment,
    draft,
    inForce,
    isDraft,
    difference: isDraft && isSaved ? difference.currentData : undefined,
    context,
    sifted: sift.data,
    strained: isActive(rule.root, context) ? strain.data : undefined,
    isCounting: sift.isFetching || strain.isFetching || asked !== question,
    wrong: sift.error,
    open: (root) =>
      void command({ run: () => keep({ rule: { v: 1, root } }).unwrap() }).then((found) => {
        if (!found) return;
        const [only, ...others] = pools;
        const among =
          only !== undefined && others.length === 0
            ? `pool=${only}`
            : id === undefined
              ? ''
              : `of=segment.${id}.pools`;
        void navigate(`/contacts?${among}&filter=${found.key}`);
      }),
    use: async () => {
      const used = { pools: draft.value.pools, rule: draft.value.rule };
      await draft.apart(async (seen) => {
        const own = kept.current;
        if (own === undefined) return undefined;
        const done = await command({
          run: () => putInForceThere({ id: own, version: seen }).unwrap(),
          says: () => 'The rule is in force.',
        });
        if (!done) return undefined;
        // What is changed meanwhile is a draft beside this one.
        putInForce(used);
        setVersion(done.version);
        return done;
      });
    },
    throwAway: () =>
      draft.change((before) => ({ ...before, pools: inForce.pools, rule: inForce.rule })),
  };
}

// A rule that narrows a list: its editor over the list, and itself in a few words beside the search.
import { Button, Pill } from '@mantine/core';
import { useDebouncedCallback, useDebouncedValue } from '@mantine/hooks';
import { emptyRule, isActive, parseRule, readback, type Rule } from '@palabra/core/segments';
import { useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { problemOf } from '../api/problems';
import type { ListPlace } from '../contacts';
import { useMay } from '../office';
import { command } from '../ui/command';
import { Note } from '../ui/states';
import { Act, Small, Soft } from '../ui/text';
import { longDate } from '../ui/time';
import type { EditorContext } from './conditions';
import classes from './segments.module.css';
import { RuleEditor } from './RuleEditor';
import {
  useAddSegmentMutation,
  useFilterQuery,
  useKeepFilterMutation,
  useStrainQuery,
} from './segments.api';
import { useRuleContext } from './useRuleContext';
import { shortWords } from './words';

export interface FilterDraft {
  readonly rule: Rule;
  /** The list is narrowed by it. */
  readonly isOn: boolean;
  readonly isOpen: boolean;
  readonly wrong: string | undefined;
  readonly context: EditorContext;
  readonly change: (rule: Rule) => void;
  readonly open: (isOpen: boolean) => void;
  readonly clear: () => void;
}

/** The rule behind a key. */
export const useFilterRule = (key: string | undefined): Rule | undefined =>
  useFilterQuery(key ?? '', { skip: key === undefined }).currentData?.rule;

const REST_MS = 350;

interface Draft {
  readonly rule: Rule;
  readonly keys: readonly (string | undefined)[];
}

/** `key` is what the list is narrowed by now; a rule that is made is kept, and its key goes to `onKey`. */
export function useFilterDraft(
  key: string | undefined,
  onKey: (key: string | undefined) => void,
): FilterDraft {
  const context = useRuleContext();
  const kept = useFilterQuery(key ?? '', { skip: key === undefined });
  const [keep] = useKeepFilterMutation();
  const [isOpen, setOpen] = useState(false);
  const [wrong, setWrong] = useState<string>();
  /** What is being made, and under which keys it is shown: that it was begun from, until the address has its own. */
  const [draft, setDraft] = useState<Draft>();
  if (draft && draft.keys.length > 1 && draft.keys.at(-1) === key)
    setDraft({ rule: draft.rule, keys: [key] });
  const latest = useRef<Rule>(undefined);
  const own = draft?.keys.includes(key) ? draft.rule : undefined;
  const rule = own ?? (key === undefined ? undefined : kept.data?.rule) ?? emptyRule;
  const put = useDebouncedCallback(async (next: Rule): Promise<void> => {
    try {
      const found = isActive(next.root, context)
        ? (await keep({ rule: next }).unwrap()).key
        : undefined;
      // Whoever typed on meanwhile is answered by what comes after.
      if (latest.current !== next) return;
      setDraft((before) => ({
        rule: next,
        keys: [...(before?.keys ?? [key]).filter((one) => one !== found), found],
      }));
      if (found !== key) onKey(found);
    } catch (error) {
      setWrong(problemOf(error).detail);
    }
  }, REST_MS);
  const gone = kept.data && !own ? parseRule(kept.data.rule, context) : undefined;
  return {
    rule,
    isOn: key !== undefined,
    isOpen,
    wrong:
      wrong ??
      (kept.isError && key !== undefined ? problemOf(kept.error).detail : undefined) ??
      (gone && !gone.ok && context.fields.length > 0 ? gone.error : undefined),
    context,
    change: (next) => {
      setWrong(undefined);
      latest.current = next;
      // A key may have been given that the address does not have yet: what is typed just then belongs to it, too.
      setDraft((before) => ({
        rule: next,
        keys: before?.keys.includes(key) ? before.keys : [key],
      }));
      put(next);
    },
    open: setOpen,
    clear: () => {
      setWrong(undefined);
      latest.current = undefined;
      setDraft(undefined);
      onKey(undefined);
    },
  };
}

export function FilterChip({ model }: { readonly model: FilterDraft }) {
  const { rule, isOn, isOpen, context, open, clear } = model;
  return (
    <>
      {isOn && !isOpen && (
        <Pill
          withRemoveButton
          size="md"
          removeButtonProps={{
            'aria-label': 'Take the filter away',
            tabIndex: 0,
            'aria-hidden': false,
          }}
          onRemove={clear}
        >
          {shortWords(rule.root, context)}
        </Pill>
      )}
      <Act aria-expanded={isOpen} onClick={() => open(!isOpen)}>
        {isOpen ? 'close the filter' : isOn ? 'change the filter' : 'filter by a rule …'}
      </Act>
    </>
  );
}

export function FilterPanel({
  model,
  place,
  pool,
}: {
  readonly model: FilterDraft;
  readonly place: ListPlace;
  readonly pool: number | undefined;
}) {
  const { rule, context, wrong, change, clear, isOn } = model;
  const [lit, setLit] = useState<string>();
  const question = useMemo(() => ({ pools: [pool ?? 0], rule }), [pool, rule]);
  const [asked] = useDebouncedValue(question, REST_MS);
  const strained = useStrainQuery(asked, {
    skip: asked.pools[0] === 0 || !isActive(asked.rule.root, context),
  });
  return (
    <section className={classes.filter} aria-label="Filter">
      {wrong !== undefined && <Note kind="caution">{wrong}</Note>}
      <RuleEditor
        rule={rule}
        context={context}
        disabled={false}
        alone={isActive(rule.root, context) ? strained.data?.alone : undefined}
        lit={lit}
        onHover={setLit}
        onChange={change}
      />
      <div className={classes.filterEnd}>
        <Soft>
          {isActive(rule.root, context)
            ? readback(rule, context)
                .map(({ text }) => text)
                .join('')
            : 'Nothing is asked yet: everybody is shown.'}
        </Soft>
        <span className={classes.end}>
          {isOn && <KeepAsSegment model={model} place={place} pool={pool} />}
          {isOn && <Act onClick={clear}>take the filter away</Act>}
        </span>
      </div>
    </section>
  );
}

function KeepAsSegment({
  model: { rule },
  place,
  pool,
}: {
  readonly model: FilterDraft;
  readonly place: ListPlace;
  readonly pool: number | undefined;
}) {
  const may = useMay('make segments');
  const navigate = useNavigate();
  const [add, state] = useAddSegmentMutation();
  if (!may || pool === undefined) return null;
  if (place.q) return <Small>a search by words can’t be part of a segment</Small>;
  const further = [
    ...(place.tag === undefined
      ? []
      : [{ kind: 'tag' as const, op: 'has' as const, tags: [place.tag] }]),
    ...(place.standing === undefined ? [] : [{ kind: 'standing' as const, any: [place.standing] }]),
  ];
  const whole: Rule =
    further.length === 0 ? rule : { v: 1, root: { of: 'all', items: [...further, rule.root] } };
  const keep = async (): Promise<void> => {
    const name = `Segment of ${longDate(new Date().toISOString().slice(0, 10))}`;
    const made = await command({ run: () => add({ name, pools: [pool], rule: whole }).unwrap() });
    if (made) void navigate(`/segments/${made.id}`);
  };
  return (
    <Button size="xs" variant="default" loading={state.isLoading} onClick={() => void keep()}>
      Keep as a segment
    </Button>
  );
}

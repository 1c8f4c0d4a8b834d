// A segment: its rule, or the list of a fixed one, in the work; what counts and explains it in the margin.
import { Button, TagsInput, Title } from '@mantine/core';
import type { Trace } from '@palabra/core/segments';
import { emptyRule, isActive } from '@palabra/core/segments';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { problemOf } from '../api/problems';
import { PeopleTable, usePeopleQuery, useSummaryQuery, useVocabularyQuery } from '../contacts';
import { useMay, useSeesEverybody } from '../office';
import { InPlace } from '../ui/InPlace';
import { count, Num, peoplePath } from '../ui/numbers';
import { Page } from '../ui/Page';
import { SaveTrouble, SaveWord } from '../ui/saving';
import { Empty, Lost, Note, Waiting } from '../ui/states';
import { Small, Soft } from '../ui/text';
import { longDate } from '../ui/time';
import { Words } from '../ui/Words';
import { DraftBar } from './DraftBar';
import { FixedPart } from './FixedPart';
import { PoolsOf } from './PoolsOf';
import { RuleEditor } from './RuleEditor';
import { useSegmentQuery } from './segments.api';
import classes from './segments.module.css';
import { SegmentMargin } from './SegmentMargin';
import { SegmentMenu } from './SegmentMenu';
import { useSegment, type SegmentModel, type SegmentStart } from './useSegment';

export function SegmentPage() {
  const text = useParams()['id'];
  const isNew = text === 'new';
  const id = Number(text);
  /** What was begun here stays on the screen when it is kept and gets its address. */
  const [begun, setBegun] = useState<number | 'new' | undefined>(isNew ? 'new' : undefined);
  const segment = useSegmentQuery(id, { skip: !Number.isInteger(id) || begun === id });
  const { data: vocabulary } = useVocabularyQuery();
  if (begun !== undefined && begun !== id && !isNew) setBegun(begun === 'new' ? id : undefined);
  if (isNew && begun !== 'new') setBegun('new');
  if (!isNew && !Number.isInteger(id)) return <Lost />;
  if (!vocabulary) return <Waiting error={undefined} again={() => undefined} />;
  if (begun !== undefined) {
    const house = vocabulary.pools.find(({ kind }) => kind === 'house')?.id ?? 1;
    return <Editor key="new" segment={begin(house)} isBegun onTurned={() => setBegun(undefined)} />;
  }
  if (!segment.data || segment.data.id !== id)
    return <Waiting error={segment.error} again={() => void segment.refetch()} />;
  // Another kind is another editor.
  return <Editor key={`${id} ${segment.data.kind}`} segment={segment.data} />;
}

const begin = (pool: number): SegmentStart => ({
  id: undefined,
  version: 0,
  kind: 'live',
  name: `Segment of ${longDate(new Date().toISOString().slice(0, 10))}`,
  description: '',
  labels: [],
  sharing: 'all',
  sharedWith: [],
  poolIds: [pool],
  rule: emptyRule,
  draft: null,
  inForceSince: null,
  inForceBy: null,
  mayChange: true,
});

/** Names that say when, not who. */
const isBare = (name: string): boolean => /^Segment of |^New |^Copy of /i.test(name);

function Editor({
  segment,
  isBegun,
  onTurned,
}: {
  readonly segment: SegmentStart;
  readonly isBegun?: boolean;
  /** It is of the other kind now, and has to be read anew. */
  readonly onTurned?: () => void;
}) {
  const model = useSegment(segment);
  const { draft } = model;
  const may = segment.mayChange;
  const [lit, setLit] = useState<string>();
  const [traced, setTraced] = useState<Trace>();
  const held = useMemo(() => (traced ? Object.fromEntries(heldIn(traced)) : undefined), [traced]);
  const { name } = draft.value;
  const isFixed = segment.kind === 'fixed';
  const rename = (next: string): void => {
    if (next === '') throw new Error('A segment needs a name.');
    draft.change((before) => ({ ...before, name: next }));
  };
  return (
    <Page
      title={name}
      heading={
        <Title order={1}>
          <InPlace
            title
            label="Name of the segment"
            value={name}
            maxLength={120}
            disabled={!may}
            onSave={rename}
          />
        </Title>
      }
      sub={
        <>
          {isFixed ? 'fixed: who is listed, until somebody changes it' : 'live, in '}
          {!isFixed && model.draft.value.pools.length > 0 && 'the '}
          {!isFixed && <PoolsOf model={model} disabled={!may} />} ·{' '}
          {isBegun && model.id === undefined && draft.state.kind === 'saved' ? (
            'kept as soon as it has a name or a condition'
          ) : (
            <SaveWord state={draft.state} />
          )}
        </>
      }
      actions={
        <>
          <AsList model={model} />
          <CampaignToThese model={model} />
          <SegmentMenu model={model} onTurned={onTurned} />
        </>
      }
      margin={<SegmentMargin model={model} lit={lit} onHover={setLit} onTrace={setTraced} />}
    >
      <SaveTrouble draft={draft} what="segment" />
      <div className={classes.about}>
        <InPlace
          label="Description"
          empty="what is it for?"
          value={draft.value.description}
          maxLength={500}
          disabled={!may}
          onSave={(description) => draft.change((before) => ({ ...before, description }))}
        />
        <Labels model={model} disabled={!may} />
      </div>
      {may && isBare(name) && (
        <p>
          <Small>
            A name that says who is in it is found again: “Members near Quillwater” rather than a
            date.
          </Small>
        </p>
      )}
      {!may && segment.draft && (
        <p>
          <Small>
            This is the rule in force. Another one is being drafted; nothing goes by that.
          </Small>
        </p>
      )}
      {isFixed ? (
        <FixedPart model={model} />
      ) : (
        <>
          <RuleEditor
            rule={draft.value.rule}
            context={model.context}
            alone={model.strained?.alone}
            disabled={!may}
            lit={lit}
            held={held}
            onHover={setLit}
            onOpen={model.open}
            onChange={(rule) => draft.change((before) => ({ ...before, rule }))}
          />
          <DraftBar model={model} />
          <FirstPeople model={model} />
        </>
      )}
    </Page>
  );
}

function* heldIn({ path, holds, items }: Trace): Generator<[string, boolean]> {
  yield [path, holds];
  for (const item of items ?? []) yield* heldIn(item);
}

function Labels({
  model: { draft },
  disabled,
}: {
  readonly model: SegmentModel;
  readonly disabled: boolean;
}) {
  const { labels } = draft.value;
  if (disabled) return labels.length > 0 ? <Soft>{labels.join(', ')}</Soft> : null;
  return (
    <TagsInput
      variant="unstyled"
      aria-label="Labels"
      placeholder={labels.length === 0 ? 'labels, to find it by' : ''}
      maxTags={20}
      maxLength={40}
      className={classes.labels}
      value={[...labels]}
      onChange={(next) => draft.change((before) => ({ ...before, labels: next }))}
    />
  );
}

/** Its people as a list. */
function AsList({ model: { id, start, draft, context, open } }: { readonly model: SegmentModel }) {
  const navigate = useNavigate();
  const { rule } = draft.value;
  if (start.kind === 'live' && !isActive(rule.root, context)) return null;
  const show = (): void => {
    if (start.kind === 'fixed') void navigate(peoplePath(`segment.${id ?? 0}`));
    else open(rule.root);
  };
  return (
    <Button variant="default" onClick={show}>
      Open as a list
    </Button>
  );
}

function CampaignToThese({
  model: { id, draft, inForce, start },
}: {
  readonly model: SegmentModel;
}) {
  const may = useMay('write letters');
  if (!may || id === undefined || (start.kind === 'live' && !inForce.isUsed)) return null;
  return (
    <Button
      component={Link}
      to={`/campaigns/new?segment=${id}&name=${encodeURIComponent(draft.value.name)}`}
      variant="default"
      onClick={() => void draft.flush()}
    >
      New campaign to these
    </Button>
  );
}

type Shown = 'in' | 'comes' | 'goes';

function FirstPeople({ model }: { readonly model: SegmentModel }) {
  const { id, sifted, strained, wrong, draft, context, isDraft, difference, open } = model;
  const { root } = draft.value.rule;
  // Whether another segment that it asks for is finished is not known here.
  const isAsking = isActive(root, context) && strained?.steps.length !== 0;
  const seesAll = useSeesEverybody();
  const [chosen, setChosen] = useState<Shown>('in');
  // Who comes and goes is only asked of a draft that is kept.
  const shown = difference ? chosen : 'in';
  const moved = usePeopleQuery(
    { of: `segment.${id ?? 0}.${shown}`, limit: 8 },
    { skip: shown === 'in', refetchOnMountOrArgChange: true },
  );
  // How many of colleagues' people are in it is said of the segment as it is in force, not of what is asked here.
  const { data: summary } = useSummaryQuery(
    { of: `segment.${id ?? 0}` },
    { skip: seesAll || id === undefined || isDraft },
  );
  const rows = shown === 'in' ? sifted?.people : moved.currentData?.rows;
  return (
    <>
      <Title order={2} mt="lg" mb={4}>
        People{' '}
        <Small fw={400}>
          {sifted ? (
            <Num value={sifted.count} onOpen={() => open(root)} label="people, all of them" />
          ) : (
            '…'
          )}
        </Small>
      </Title>
      {difference && (
        <Words<Shown>
          label="Which people"
          value={shown}
          options={[
            { value: 'in', label: 'by the draft' },
            { value: 'comes', label: `${count(difference.comes)} who would come in` },
            { value: 'goes', label: `${count(difference.goes)} who would go` },
          ]}
          onChange={setChosen}
        />
      )}
      {wrong !== undefined && <Note kind="caution">{problemOf(wrong).detail}</Note>}
      {rows && rows.length > 0 && (
        <PeopleTable
          label="First people"
          rows={rows}
          list={
            shown !== 'in'
              ? `?of=segment.${id ?? 0}.${shown}`
              : id === undefined || isDraft
                ? ''
                : `?of=segment.${id}`
          }
        />
      )}
      {shown !== 'in' && rows?.length === 0 && <Soft>Nobody.</Soft>}
      {shown === 'in' && sifted?.count === 0 && (
        <Empty title={isAsking ? 'Nobody is left' : 'Nobody is chosen yet'}>
          {isAsking
            ? 'The strainer in the margin shows where the last ones went.'
            : `${root.items.length > 0 ? 'Finish' : 'Add'} a condition, or say that everybody in the pool is meant.`}
        </Empty>
      )}
      {summary && summary.colleagues > 0 && (
        <p>
          <Soft>and {count(summary.colleagues)} of colleagues</Soft>
        </p>
      )}
    </>
  );
}

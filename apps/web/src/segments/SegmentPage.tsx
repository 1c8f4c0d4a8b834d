// A segment: its rule in the work; readback, strainer and “why” in the margin.
import { Button, Title } from '@mantine/core';
import { emptyRule, isActive } from '@palabra/core/segments';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { problemOf } from '../api/problems';
import { PeopleTable, useSummaryQuery, useVocabularyQuery } from '../contacts';
import { useMay, useSeesEverybody } from '../office';
import { command } from '../ui/command';
import { InPlace } from '../ui/InPlace';
import { count, Num } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Pick } from '../ui/Pick';
import { SaveTrouble, SaveWord } from '../ui/saving';
import { Empty, Lost, Note, Waiting } from '../ui/states';
import { Small, Soft } from '../ui/text';
import { longDate } from '../ui/time';
import { RuleEditor } from './RuleEditor';
import { useKeepFilterMutation, useSegmentQuery } from './segments.api';
import { SegmentMargin } from './SegmentMargin';
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
    return (
      <Editor
        key="new"
        segment={{
          id: undefined,
          version: 0,
          name: `Segment of ${longDate(new Date().toISOString().slice(0, 10))}`,
          description: '',
          poolId: house,
          rule: emptyRule,
        }}
        isBegun
      />
    );
  }
  if (!segment.data || segment.data.id !== id)
    return <Waiting error={segment.error} again={() => void segment.refetch()} />;
  return <Editor key={id} segment={segment.data} />;
}

function Editor({
  segment,
  isBegun,
}: {
  readonly segment: SegmentStart;
  readonly isBegun?: boolean;
}) {
  const model = useSegment(segment);
  const { draft } = model;
  const may = useMay('write letters');
  const [lit, setLit] = useState<string>();
  const { name } = draft.value;
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
          live, in the <PoolOf model={model} may={may} /> ·{' '}
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
          {may && <CampaignToThese model={model} />}
        </>
      }
      margin={<SegmentMargin model={model} lit={lit} onHover={setLit} />}
    >
      <SaveTrouble draft={draft} what="segment" />
      <InPlace
        label="Description"
        empty="what is it for?"
        value={draft.value.description}
        maxLength={500}
        disabled={!may}
        onSave={(description) => draft.change((before) => ({ ...before, description }))}
      />
      <RuleEditor
        rule={draft.value.rule}
        context={model.context}
        to={model.of && `${model.of}.only-`}
        alone={model.strained?.alone}
        disabled={!may}
        lit={lit}
        onHover={setLit}
        onChange={(rule) => draft.change((before) => ({ ...before, rule }))}
      />
      <FirstPeople model={model} />
    </Page>
  );
}

function PoolOf({ model, may }: { readonly model: SegmentModel; readonly may: boolean }) {
  const { data } = useVocabularyQuery();
  const { draft } = model;
  if (!data || data.pools.length < 2) return <>house pool</>;
  return (
    <Pick
      label="Pool"
      w="auto"
      display="inline-block"
      value={draft.value.poolId}
      disabled={!may}
      options={data.pools.map(({ id, name, kind }) => ({
        value: id,
        label: kind === 'house' ? 'house pool' : name,
      }))}
      onChange={(poolId) => poolId && draft.change((before) => ({ ...before, poolId }))}
    />
  );
}

/** Its rule as a filter over the contacts. */
function AsList({ model: { draft, context } }: { readonly model: SegmentModel }) {
  const navigate = useNavigate();
  const [keep, state] = useKeepFilterMutation();
  const { rule, poolId } = draft.value;
  if (!isActive(rule.root, context)) return null;
  const open = async (): Promise<void> => {
    const kept = await command({ run: () => keep({ rule }).unwrap() });
    if (kept) void navigate(`/contacts?pool=${poolId}&filter=${kept.key}`);
  };
  return (
    <Button variant="default" loading={state.isLoading} onClick={() => void open()}>
      Open as a list
    </Button>
  );
}

function CampaignToThese({ model: { id, draft } }: { readonly model: SegmentModel }) {
  if (id === undefined) return null;
  return (
    <Button
      component={Link}
      to={`/campaigns/new?segment=${id}&name=${encodeURIComponent(draft.value.name)}`}
      onClick={() => void draft.flush()}
    >
      New campaign to these
    </Button>
  );
}

function FirstPeople({
  model: { id, sifted, of, wrong, draft, context },
}: {
  readonly model: SegmentModel;
}) {
  const isAsking = isActive(draft.value.rule.root, context);
  const seesAll = useSeesEverybody();
  // How many of colleagues' people are in it is said of the segment as it is kept, not of what is asked here.
  const { data: summary } = useSummaryQuery(
    { of: `segment.${id ?? 0}` },
    { skip: seesAll || id === undefined },
  );
  return (
    <>
      <Title order={2} mt="lg" mb={4}>
        First people{' '}
        <Small fw={400}>of {sifted ? <Num value={sifted.count} to={of} /> : '…'}</Small>
      </Title>
      {wrong !== undefined && <Note kind="caution">{problemOf(wrong).detail}</Note>}
      {sifted && sifted.people.length > 0 && (
        <PeopleTable
          label="First people"
          rows={sifted.people}
          list={id === undefined ? '' : `?of=segment.${id}`}
        />
      )}
      {sifted?.count === 0 && (
        <Empty title={isAsking ? 'Nobody is left' : 'Nobody is chosen yet'}>
          {isAsking
            ? 'The strainer in the margin shows where the last ones went.'
            : 'Add a condition, or say that everybody in the pool is meant.'}
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

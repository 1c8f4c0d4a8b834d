// A segment: its rule in the work; readback, strainer and “why” in the margin.
import { Button } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import type { SegmentReply } from '@palabra/contract/segments';
import { dayIn } from '@palabra/core/office';
import { readback, type Rule, type RuleContext } from '@palabra/core/segments';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { problemOf } from '../app/api';
import { Lost } from '../app/Lost';
import { useAddCampaignMutation } from '../campaigns/campaigns.api';
import { useSummaryQuery, useVocabularyQuery } from '../contacts/contacts.api';
import { PeopleTable } from '../contacts/PeopleTable';
import { useMay, useOffice, useSeesEverybody } from '../office/OfficeContext';
import { useAutosave } from '../ui/autosave';
import { InPlace } from '../ui/InPlace';
import { count, Measure, Num, peoplePath } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { SaveTrouble, SaveWord } from '../ui/SaveNote';
import { Empty, Ghost, Note, Wrong } from '../ui/states';
import { RuleEditor } from './RuleEditor';
import {
  useSaveSegmentMutation,
  useSegmentQuery,
  useSiftQuery,
  useStrainQuery,
} from './segments.api';
import { shortWords } from './words';
import { WhyPart } from './WhyPart';

export function SegmentPage() {
  const id = Number(useParams()['id']);
  const segment = useSegmentQuery(id, { skip: !Number.isInteger(id) });
  const { data: vocabulary } = useVocabularyQuery();
  if (segment.isError)
    return problemOf(segment.error).status === 404 ? (
      <Lost />
    ) : (
      <Wrong error={segment.error} again={() => void segment.refetch()} />
    );
  if (!segment.data || !vocabulary)
    return (
      <Page title="…" margin={<Ghost />}>
        <Ghost lines={6} />
      </Page>
    );
  return <SegmentEditor key={segment.data.id} segment={segment.data} />;
}

interface Draft {
  readonly name: string;
  readonly description: string;
  readonly poolId: number;
  readonly rule: Rule;
}

function SegmentEditor({ segment }: { readonly segment: SegmentReply }) {
  const { data: vocabulary } = useVocabularyQuery();
  const { office } = useOffice();
  const may = useMay('write letters');
  const navigate = useNavigate();
  const [save] = useSaveSegmentMutation();
  const [addCampaign, adding] = useAddCampaignMutation();
  const [draft, setDraft] = useState<Draft>({
    name: segment.name,
    description: segment.description,
    poolId: segment.poolId,
    rule: segment.rule,
  });
  const [lit, setLit] = useState<string>();
  const auto = useAutosave<Draft>(segment.version, ({ name, description, poolId, rule }, version) =>
    save({ id: segment.id, version, name, description, pool: poolId, rule }).unwrap(),
  );
  const context = {
    fields: vocabulary?.fields ?? [],
    tags: vocabulary?.tags ?? [],
    today: dayIn(office.timeZone, new Date()),
    timeZone: office.timeZone,
  };
  const [asked] = useDebouncedValue({ pool: draft.poolId, rule: draft.rule }, 200);
  const sift = useSiftQuery(asked);
  const strain = useStrainQuery(asked);
  const seesAll = useSeesEverybody();
  // How many of colleagues' people are in it is said of the segment as it is kept, not of what is asked here.
  const { data: summary } = useSummaryQuery({ of: `segment.${segment.id}` }, { skip: seesAll });
  const change = (next: Draft): void => {
    setDraft(next);
    auto.change(next);
  };
  const rename = async (name: string): Promise<void> => {
    if (name === '') throw new Error('A segment needs a name.');
    change({ ...draft, name });
    return Promise.resolve();
  };
  const use = async (): Promise<void> => {
    if ((await auto.flush()) === undefined) return;
    const { id } = await addCampaign({ name: draft.name, segment: segment.id }).unwrap();
    void navigate(`/campaigns/${id}`);
  };
  const of = peoplePath(`segment.${segment.id}`);
  const saved = auto.state.kind === 'saved';
  return (
    <Page
      title={draft.name}
      heading={
        <h1>
          <InPlace
            title
            label="Name of the segment"
            value={draft.name}
            maxLength={120}
            disabled={!may}
            onSave={rename}
          />
        </h1>
      }
      sub={
        <>
          live, in the{' '}
          {vocabulary && vocabulary.pools.length > 1 && may ? (
            <select
              className="plain-select"
              aria-label="Pool"
              value={draft.poolId}
              onChange={(event) => change({ ...draft, poolId: Number(event.currentTarget.value) })}
            >
              {vocabulary.pools.map(({ id, name, kind }) => (
                <option key={id} value={id}>
                  {kind === 'house' ? 'house pool' : name}
                </option>
              ))}
            </select>
          ) : (
            'house pool'
          )}{' '}
          · <SaveWord state={auto.state} />
        </>
      }
      actions={
        may && (
          <Button loading={adding.isLoading} onClick={() => void use()}>
            New campaign to these
          </Button>
        )
      }
      margin={
        <SegmentMargin
          draft={draft}
          context={context}
          lit={lit}
          sifted={sift.data}
          left={strain.data?.left}
          to={saved ? of : undefined}
          wrong={sift.error}
        />
      }
    >
      <SaveTrouble
        state={auto.state}
        what="segment"
        onAgain={() => void auto.flush()}
        onMine={auto.keepMine}
        onTheirs={(current) => {
          const theirs = current as Draft & { version: number };
          setDraft({
            name: theirs.name,
            description: theirs.description,
            poolId: theirs.poolId,
            rule: theirs.rule,
          });
          auto.reset(theirs.version);
        }}
      />
      <div className="soft" style={{ marginBottom: 12 }}>
        <InPlace
          label="Description"
          empty="what is it for?"
          value={draft.description}
          maxLength={500}
          disabled={!may}
          onSave={(description) => change({ ...draft, description })}
        />
      </div>
      <RuleEditor
        rule={draft.rule}
        context={context}
        to={saved ? `${of}.only-` : undefined}
        alone={strain.data?.alone ?? {}}
        disabled={!may}
        onHover={setLit}
        onChange={(rule) => change({ ...draft, rule })}
      />
      <h2 style={{ margin: '18px 0 4px' }}>
        First people{' '}
        <span className="soft small">
          of {sift.data ? <Num value={sift.data.count} to={saved ? of : undefined} /> : '…'}
        </span>
      </h2>
      {sift.isError && <Note kind="caution">{problemOf(sift.error).detail}</Note>}
      {sift.data && sift.data.people.length > 0 && (
        <PeopleTable
          rows={sift.data.people}
          to={(id) => `/contacts/${id}?of=segment.${segment.id}`}
        />
      )}
      {sift.data?.count === 0 && (
        <Empty title="Nobody is left">
          The strainer in the margin shows where the last ones went.
        </Empty>
      )}
      {summary && summary.colleagues > 0 && (
        <p className="soft">and {count(summary.colleagues)} of colleagues</p>
      )}
    </Page>
  );
}

interface SegmentMarginProps {
  readonly draft: Draft;
  readonly context: RuleContext;
  readonly lit: string | undefined;
  readonly sifted: { readonly count: number; readonly everybody: number } | undefined;
  readonly left: readonly number[] | undefined;
  readonly to: string | undefined;
  readonly wrong: unknown;
}

function SegmentMargin({ draft, context, lit, sifted, left, to, wrong }: SegmentMarginProps) {
  const seesAll = useSeesEverybody();
  const { root } = draft.rule;
  return (
    <>
      <MarginPart title="Readback">
        <p className="readback">
          {readback(draft.rule, context).map((phrase, at) => {
            const isLit = lit !== undefined && phrase.path === lit;
            return phrase.strong ? (
              <b key={at} data-lit={isLit}>
                {phrase.text}
              </b>
            ) : (
              <span key={at} data-lit={isLit}>
                {phrase.text}
              </span>
            );
          })}
        </p>
      </MarginPart>
      <MarginPart title="How many">
        {sifted ? (
          <p>
            <span style={{ fontSize: 22, fontWeight: 700 }}>
              <Num value={sifted.count} to={to} label="people in this segment" />
            </span>{' '}
            of {seesAll ? '' : 'your '}
            {count(sifted.everybody)}
          </p>
        ) : wrong ? (
          <p className="caution">The rule can’t be counted as it stands.</p>
        ) : (
          <Ghost lines={1} />
        )}
      </MarginPart>
      {root.of === 'all' &&
        left &&
        sifted &&
        root.items.length > 0 &&
        left.length === root.items.length && (
          <MarginPart title="Strainer">
            <Measure
              accent
              label={seesAll ? 'everybody in the pool' : 'your people in the pool'}
              value={sifted.everybody}
              of={sifted.everybody}
            />
            {root.items.map((item, at) => (
              <Measure
                key={at}
                accent
                label={shortWords(item, context)}
                value={left[at] ?? 0}
                of={sifted.everybody}
                to={to && `${to}.upto-${at + 1}`}
              />
            ))}
          </MarginPart>
        )}
      <WhyPart pool={draft.poolId} rule={draft.rule} context={context} />
      <p className="soft small">
        Used in <Link to="/campaigns">campaigns</Link> as it is at the moment of sending.
      </p>
    </>
  );
}

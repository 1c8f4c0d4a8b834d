// What bringing a file in would do, what it asks, and how it is read.
import { Group } from '@mantine/core';
import type { ImportPlan, ImportReply } from '@palabra/contract/intake';
import { permissionWords, tagKey } from '@palabra/core/contacts';
import type { LookCounts } from '@palabra/core/intake';
import { Link } from 'react-router';
import type { Draft } from '../api/drafts';
import { useVocabularyQuery } from '../contacts';
import { useSeesEverybody } from '../office';
import { count, Num, Sum, type SumLine } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Pick } from '../ui/Pick';
import { Fact, Facts } from '../ui/Sheet';
import { Ghost } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { Reading } from './Reading';
import { lookPath } from './words';

interface LookMarginProps {
  readonly data: ImportReply;
  readonly draft: Draft<ImportPlan>;
}

/** How far a long look is; a short one is over before one has read it. */
const lookingWords = ({ look, rows }: ImportReply): string =>
  rows < 2000 ? 'looking …' : `${count(look.cursor)} of ${count(rows)} …`;

export function LookMargin({ data, draft }: LookMarginProps) {
  const { counts, isCurrent } = data.look;
  return (
    <>
      <MarginPart title="What will happen" aside={isCurrent ? undefined : lookingWords(data)}>
        {counts ? <Happens data={data} counts={counts} /> : <Ghost lines={4} />}
      </MarginPart>
      <Agreed draft={draft} id={data.id} />
      {counts && counts.fields.length > 0 && <Changing counts={counts} id={data.id} />}
      {counts && counts.unknownOwners.length > 0 && <Owners counts={counts} draft={draft} />}
      {counts && <NewTags counts={counts} draft={draft} />}
      <Reading found={data} save={draft.flush} />
    </>
  );
}

function Happens({ data, counts }: { readonly data: ImportReply; readonly counts: LookCounts }) {
  const seesAll = useSeesEverybody();
  const { outcomes } = counts;
  const less = (label: string, value: number, to?: string): SumLine[] =>
    value === 0 ? [] : [{ label, value, kind: 'less', ...(to ? { to } : {}) }];
  const to = (part: Parameters<typeof lookPath>[1]): string => lookPath(data.id, part);
  const lines: SumLine[] = [
    { label: 'rows', value: data.rows },
    ...less('refused, to look at', outcomes.refused, to('look')),
    ...less('left out', outcomes.out, to('out')),
    ...less('said again', outcomes.again, to('again')),
    ...less('as they are', outcomes.unchanged, to('unchanged')),
    ...(seesAll ? less('of others, left as they are', outcomes.elsewhere, to('elsewhere')) : []),
    { label: 'people touched', value: outcomes.new + outcomes.changed, kind: 'total' },
    { label: 'new', value: outcomes.new, to: to('new') },
    { label: 'change', value: outcomes.changed, to: to('changed') },
  ];
  const doubted = counts.look - outcomes.refused;
  return (
    <>
      <Sum label="What will happen" lines={lines} />
      {!seesAll && (
        <p>
          <Soft>
            Whom colleagues look after already is left as they are; how many, it says afterwards.
          </Soft>
        </p>
      )}
      {doubted > 0 && (
        <p>
          <Soft>
            <Num value={doubted} to={to('look')} /> {doubted === 1 ? 'row comes' : 'rows come'} in
            and {doubted === 1 ? 'is' : 'are'} worth a look: a cell that can’t be read stays empty.
          </Soft>
        </p>
      )}
      {counts.doNotMail > 0 && (
        <p>
          <Soft>
            {count(counts.doNotMail)} {counts.doNotMail === 1 ? 'is' : 'are'} on do not mail, and
            {counts.doNotMail === 1 ? ' stays' : ' stay'} there.
          </Soft>
        </p>
      )}
      <p>
        <Soft>Everything can be taken back.</Soft>
      </p>
    </>
  );
}

/** How they agreed, which is easily forgotten further down. */
function Agreed({ draft, id }: { readonly draft: Draft<ImportPlan>; readonly id: number }) {
  const { permission, source } = draft.value;
  const isWhole = permission !== 'unknown' && source.trim() !== '';
  return (
    <MarginPart title="Permission">
      <Soft>
        {permissionWords[permission]}
        {isWhole && `, “${source.trim()}”`}
        {permission === 'unknown' && ': held back from campaigns'}
        {permission !== 'unknown' && !isWhole && ', but not said where and how'}
      </Soft>
      {!isWhole && (
        <>
          {' '}
          <Link to={`/intake/${id}#permission`}>Say how they agreed</Link>
        </>
      )}
    </MarginPart>
  );
}

function Changing({ counts, id }: { readonly counts: LookCounts; readonly id: number }) {
  const { data } = useVocabularyQuery();
  const label = (key: string): string =>
    data?.fields.find((field) => field.key === key)?.label ?? key;
  return (
    <MarginPart title="Fields that change">
      <Facts>
        {[...counts.fields]
          .sort((a, b) => b.changed + b.filled - a.changed - a.filled)
          .slice(0, 12)
          .map(({ field, changed, filled }) => (
            <Fact
              key={field}
              name={
                <>
                  {label(field)}
                  {changed === 0 && <Soft> (was empty)</Soft>}
                  {changed > 0 && filled > 0 && <Soft> ({count(filled)} were empty)</Soft>}
                </>
              }
            >
              <Num value={changed + filled} to={lookPath(id, 'changed')} />
            </Fact>
          ))}
      </Facts>
    </MarginPart>
  );
}

function Owners({
  counts,
  draft,
}: {
  readonly counts: LookCounts;
  readonly draft: Draft<ImportPlan>;
}) {
  const { data } = useVocabularyQuery();
  return (
    <MarginPart title="Who is meant?">
      <Facts>
        {counts.unknownOwners.slice(0, 12).map(({ name, rows }) => (
          <Fact
            key={name}
            name={
              <>
                {name} <Soft>{count(rows)}</Soft>
              </>
            }
          >
            <Pick
              label={`Who is ${name}`}
              value={null}
              nothing="nobody"
              options={data?.owners.map(({ key, label }) => ({ value: key, label })) ?? []}
              onChange={(owner) =>
                owner &&
                draft.change((plan) => ({
                  ...plan,
                  owners: [
                    ...plan.owners.filter((one) => one.name !== name),
                    { name, userId: Number(owner) },
                  ],
                }))
              }
            />
          </Fact>
        ))}
      </Facts>
    </MarginPart>
  );
}

const SHOWN_TAGS = 15;

function NewTags({
  counts,
  draft,
}: {
  readonly counts: LookCounts;
  readonly draft: Draft<ImportPlan>;
}) {
  const tags = useVocabularyQuery().data?.tags ?? [];
  const { tagsMeant } = draft.value;
  const mean = (name: string, tag: number | null): void =>
    draft.change((plan) => ({ ...plan, tagsMeant: [...plan.tagsMeant, { name, tag }] }));
  const said = new Set(tagsMeant.map(({ name }) => tagKey(name)));
  const fresh = counts.newTags.filter(({ name }) => !said.has(tagKey(name)));
  if (fresh.length + tagsMeant.length === 0) return null;
  return (
    <MarginPart
      title="Tags that are new"
      aside={fresh.length > 0 ? count(fresh.length) : undefined}
    >
      <Facts>
        {fresh.slice(0, SHOWN_TAGS).map(({ name, rows, alike }) => {
          const other = tags.find(({ id }) => id === alike);
          return (
            <Fact
              key={name}
              name={
                <>
                  {name} <Soft>{count(rows)}</Soft>
                </>
              }
            >
              <Group gap="0 12px">
                {other && <Act onClick={() => mean(name, other.id)}>take “{other.name}”</Act>}
                <Act aria-label={`Leave the tag ${name} out`} onClick={() => mean(name, null)}>
                  leave out
                </Act>
              </Group>
            </Fact>
          );
        })}
        {tagsMeant.map(({ name, tag }) => (
          <Fact key={`said ${name}`} name={<Soft>{name}</Soft>}>
            <Soft>
              {tag === null
                ? 'left out'
                : `is “${tags.find(({ id }) => id === tag)?.name ?? 'gone'}”`}
            </Soft>{' '}
            <Act
              aria-label={`Take back what was said of the tag ${name}`}
              onClick={() =>
                draft.change((plan) => ({
                  ...plan,
                  tagsMeant: plan.tagsMeant.filter((one) => one.name !== name),
                }))
              }
            >
              take back
            </Act>
          </Fact>
        ))}
      </Facts>
      {fresh.length > SHOWN_TAGS && (
        <p>
          <Soft>
            {fresh.length >= 100
              ? 'A hundred at the most are made.'
              : `and ${count(fresh.length - SHOWN_TAGS)} more.`}{' '}
            Is this a column of tags?
          </Soft>
        </p>
      )}
    </MarginPart>
  );
}

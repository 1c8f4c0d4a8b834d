// What is on the screen beside what is in force: who would come and go, and the step that puts it in force.
import { Button, Group } from '@mantine/core';
import type { DraftDifference } from '@palabra/contract/segments';
import { useState } from 'react';
import { Link } from 'react-router';
import { count, Num, peoplePath } from '../ui/numbers';
import { Note } from '../ui/states';
import { Act, Soft } from '../ui/text';
import classes from './segments.module.css';
import type { SegmentModel } from './useSegment';

/** Below the rule, which would jump away under the hand when this comes and grows; never out of sight below a long one. */
export function DraftBar({ model }: { readonly model: SegmentModel }) {
  const { id, isDraft, inForce, difference, start, draft } = model;
  const [isBusy, setBusy] = useState(false);
  if (!isDraft || id === undefined) return null;
  const use = async (): Promise<void> => {
    setBusy(true);
    await model.use();
    setBusy(false);
  };
  const blocks = difference?.blocks ?? [];
  return (
    <section aria-label="Draft" className={classes.draft}>
      <Note kind={blocks.length > 0 ? 'caution' : 'plain'}>
        <div>
          <b>Draft.</b>{' '}
          {inForce.isUsed
            ? 'Campaigns, other segments and lists go on with the rule in force until you use this one.'
            : 'Nothing goes by this rule until you use it.'}
        </div>
        {difference && <Changes id={id} difference={difference} isFirst={!inForce.isUsed} />}
        {blocks.map((block) => (
          <div key={block}>{block}</div>
        ))}
        {start.mayChange && (
          <Group gap="md" mt={6}>
            <Button
              size="xs"
              loading={isBusy}
              disabled={draft.state.kind !== 'saved' || !difference || blocks.length > 0}
              onClick={() => void use()}
            >
              Use this rule
            </Button>
            {inForce.isUsed && <Act onClick={model.throwAway}>Throw the draft away</Act>}
          </Group>
        )}
      </Note>
    </section>
  );
}

function Changes({
  id,
  difference: { comes, goes, now, campaigns },
  isFirst,
}: {
  readonly id: number;
  readonly difference: DraftDifference;
  readonly isFirst: boolean;
}) {
  return (
    <>
      <div>
        {comes === 0 && goes === 0 ? (
          isFirst ? (
            'It finds nobody so far.'
          ) : (
            <>The same {count(now)} people are in either way.</>
          )
        ) : (
          <>
            <Num value={comes} to={peoplePath(`segment.${id}.comes`)} label="would come in" /> would
            come in{isFirst ? '' : ', '}
            {!isFirst && (
              <>
                <Num value={goes} to={peoplePath(`segment.${id}.goes`)} label="would go" /> would go
              </>
            )}
            <Soft>
              {' '}
              · {count(now)} now, {count(now + comes - goes)} then
            </Soft>
          </>
        )}
      </div>
      {campaigns.length > 0 && (
        <div>
          {campaigns.length === 1 ? 'A campaign waits' : `${campaigns.length} campaigns wait`} to go
          out and would change:{' '}
          {campaigns.map(({ id: campaign, name }, at) => (
            <span key={campaign}>
              {at > 0 && ', '}
              <Link to={`/campaigns/${campaign}`}>{name}</Link>
            </span>
          ))}
        </div>
      )}
    </>
  );
}

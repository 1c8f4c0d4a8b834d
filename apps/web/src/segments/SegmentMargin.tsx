// Beside the rule: in plain words, how many, where the others went, and why one person is in or not.
import { isActive, isGroup, readback } from '@palabra/core/segments';
import { Link } from 'react-router';
import { useSeesEverybody } from '../office';
import { count, Measure, Num } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Ghost } from '../ui/states';
import { Small, Soft } from '../ui/text';
import classes from './segments.module.css';
import type { SegmentModel } from './useSegment';
import { WhyPart } from './WhyPart';
import { shortWords } from './words';

interface SegmentMarginProps {
  readonly model: SegmentModel;
  readonly lit: string | undefined;
  readonly onHover: (path: string | undefined) => void;
}

export function SegmentMargin({ model, lit, onHover }: SegmentMarginProps) {
  const { rule, poolId } = model.draft.value;
  return (
    <>
      <MarginPart title="Readback">
        <p className={classes.readback}>
          {readback(rule, model.context).map((phrase, at) => {
            const Phrase = phrase.strong ? 'b' : 'span';
            return (
              <Phrase
                key={at}
                data-lit={lit !== undefined && phrase.path === lit}
                onMouseEnter={() => onHover(phrase.path)}
                onMouseLeave={() => onHover(undefined)}
              >
                {phrase.text}
              </Phrase>
            );
          })}
        </p>
      </MarginPart>
      <HowMany model={model} />
      <Strainer model={model} />
      <WhyPart pool={poolId} rule={rule} context={model.context} />
      <Small>
        Used in <Link to="/campaigns">campaigns</Link> as it is at the moment of sending.
      </Small>
    </>
  );
}

function HowMany({ model: { sifted, of, wrong } }: { readonly model: SegmentModel }) {
  const seesAll = useSeesEverybody();
  return (
    <MarginPart title="How many">
      {sifted ? (
        <p>
          <Num value={sifted.count} to={of} label="people in this segment" large /> of{' '}
          {seesAll ? '' : 'your '}
          {count(sifted.everybody)}
        </p>
      ) : wrong === undefined ? (
        <Ghost lines={1} />
      ) : (
        <p>
          <Soft c="var(--caution)">The rule can’t be counted as it stands.</Soft>
        </p>
      )}
    </MarginPart>
  );
}

function Strainer({
  model: { draft, context, sifted, strained, of },
}: {
  readonly model: SegmentModel;
}) {
  const seesAll = useSeesEverybody();
  const { root } = draft.value.rule;
  const left = strained?.left;
  if (
    root.of !== 'all' ||
    !isActive(root, context) ||
    !sifted ||
    left?.length !== root.items.length ||
    left.length === 0
  )
    return null;
  return (
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
          label={
            item.off ? (
              <Soft>not asked for now</Soft>
            ) : isActive(item, context) ? (
              shortWords(item, context)
            ) : (
              <Soft>
                {isGroup(item) && item.items.length === 0 ? 'an empty group' : 'not finished yet'}
              </Soft>
            )
          }
          value={left[at] ?? 0}
          of={sifted.everybody}
          to={of && `${of}.upto-${at + 1}`}
        />
      ))}
    </MarginPart>
  );
}

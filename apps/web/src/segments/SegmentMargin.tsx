// Beside the rule: in plain words, how many, where the others went, what another choice would give, and why one person is in or not.
import {
  changedAt,
  differsByMuch,
  isActive,
  isGroup,
  leftAfter,
  nodeAt,
  parsePath,
  readback,
  type Group,
  type Phrase,
  type Step,
  type Trace,
} from '@palabra/core/segments';
import { useDebouncedValue } from '@mantine/hooks';
import { useSeesEverybody } from '../office';
import { count, Measure, Num, peoplePath } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Ghost } from '../ui/states';
import { Act, Small, Soft } from '../ui/text';
import classes from './segments.module.css';
import { SizesPart } from './SizesPart';
import type { SegmentModel } from './useSegment';
import { UsedIn } from './UsedIn';
import { WhyPart } from './WhyPart';
import { IN_THE_MARGIN, shortWords } from './words';

interface SegmentMarginProps {
  readonly model: SegmentModel;
  readonly lit: string | undefined;
  readonly onHover: (path: string | undefined) => void;
  readonly onTrace: (trace: Trace | undefined) => void;
}

export function SegmentMargin({ model, lit, onHover, onTrace }: SegmentMarginProps) {
  const { rule, pools } = model.draft.value;
  const { id, start } = model;
  return (
    <>
      {start.kind === 'live' && (
        <>
          <Readback model={model} lit={lit} onHover={onHover} />
          <HowMany model={model} />
          <Strainer model={model} lit={lit} onHover={onHover} />
          <Otherwise model={model} lit={lit} />
          <WhyPart pools={pools} rule={rule} context={model.context} onTrace={onTrace} />
        </>
      )}
      {id !== undefined && <SizesPart id={id} />}
      {id !== undefined && <UsedIn id={id} />}
    </>
  );
}

type PartProps = Omit<SegmentMarginProps, 'onTrace'>;

function Readback({ model, lit, onHover }: PartProps) {
  const phrases = readback(model.draft.value.rule, model.context);
  return (
    <MarginPart title="Readback">
      <div className={classes.readback}>
        {phrases.map((phrase, at) => {
          const Words = phrase.strong ? 'b' : 'span';
          return (
            <Words
              key={at}
              data-depth={phrase.depth}
              data-lit={lit !== undefined && isUnder(phrase.path, lit)}
              onMouseEnter={() => onHover(phrase.path)}
              onMouseLeave={() => onHover(undefined)}
            >
              {phrase.breaks ? <OnItsLine phrase={phrase} /> : phrase.text}
            </Words>
          );
        })}
      </div>
    </MarginPart>
  );
}

/** On a line of its own; a comma stays at the end of the one before. */
function OnItsLine({ phrase: { text, depth = 0 } }: { readonly phrase: Phrase }) {
  const isAfterComma = text.startsWith(',');
  return (
    <>
      {isAfterComma && ','}
      <br />
      {'\u2003'.repeat(depth)}
      {(isAfterComma ? text.slice(1) : text).trimStart()}
    </>
  );
}

/** A group lights up with everything in it. */
const isUnder = (path: string | undefined, lit: string): boolean =>
  path !== undefined && lit !== '' && (path === lit || path.startsWith(`${lit}.`));

/** After so long it is said that the numbers are of what was there before. */
const LATE_MS = 700;

function HowMany({
  model: { id, isDraft, sifted, strained, open, wrong, draft, isCounting },
}: {
  readonly model: SegmentModel;
}) {
  const seesAll = useSeesEverybody();
  const everybody = strained?.everybody;
  const [wasCounting] = useDebouncedValue(isCounting, LATE_MS);
  const isLate = isCounting && wasCounting;
  return (
    <MarginPart title="How many">
      {sifted ? (
        <p aria-busy={isCounting} className={isLate ? classes.stale : undefined}>
          <Num
            value={sifted.count}
            {...(id !== undefined && !isDraft
              ? { to: peoplePath(`segment.${id}`) }
              : { onOpen: () => open(draft.value.rule.root) })}
            label="people in this segment"
            large
          />{' '}
          {everybody !== undefined && (
            <>
              of {seesAll ? '' : 'your '}
              {count(everybody)}
            </>
          )}
          {isLate && <Small> · still counting</Small>}
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

/** More bars than these are shown when they are wanted. */
const BARS = 14;

function Strainer({ model, lit, onHover }: PartProps) {
  const { draft, strained } = model;
  const seesAll = useSeesEverybody();
  const {
    pools,
    rule: { root },
  } = draft.value;
  const where = pools.length === 0 ? '' : ' in the pool';
  if (!strained || strained.steps.length === 0) return null;
  const steps = strained.steps.slice(0, BARS);
  return (
    <MarginPart title="Strainer">
      <Measure
        accent
        label={`${seesAll ? 'everybody' : 'your people'}${where}`}
        value={strained.everybody}
        of={strained.everybody}
      />
      {steps.map((step) => (
        <div
          key={step.path}
          data-lit={lit === step.path}
          className={classes.step}
          onMouseEnter={() => onHover(step.path)}
          onMouseLeave={() => onHover(undefined)}
        >
          <Bar model={model} step={step} root={root} everybody={strained.everybody} />
        </div>
      ))}
      {strained.steps.length > BARS && (
        <Small>and {count(strained.steps.length - BARS)} more parts, counted beside each</Small>
      )}
    </MarginPart>
  );
}

function Bar({
  model: { context, open },
  step: { path, came, left },
  root,
  everybody,
}: {
  readonly model: SegmentModel;
  readonly step: Step;
  readonly root: Group;
  readonly everybody: number;
}) {
  const place = parsePath(path);
  const node = nodeAt(root, place);
  const parent = nodeAt(root, place.slice(0, -1));
  if (!node) return null;
  const gathers = parent !== undefined && isGroup(parent) && parent.of === 'any';
  const show = (rule: Group | undefined): (() => void) | undefined => rule && (() => open(rule));
  const fell = came - left;
  return (
    <Measure
      accent
      label={
        <span className={classes.part} style={{ paddingLeft: 12 * (place.length - 1) }}>
          {gathers && place.at(-1) !== 0 && <Soft>or </Soft>}
          {parent && isGroup(parent) && parent.of === 'none' && <Soft>but not </Soft>}
          {isGroup(node) ? (
            <Soft>{`${node.of} of these:`}</Soft>
          ) : (
            shortWords(node, context, IN_THE_MARGIN)
          )}
        </span>
      }
      value={left}
      of={everybody}
      number={
        <span className={classes.counted}>
          {!gathers && fell > 0 && (
            <Act
              className={classes.fell}
              aria-label={`${count(fell)} fall out here`}
              title="who falls out here"
              onClick={show(changedAt(root, path, context))}
            >
              –{count(fell)}
            </Act>
          )}{' '}
          <Num
            value={left}
            onOpen={show(leftAfter(root, path, context))}
            label={gathers ? 'gathered so far' : 'left here'}
          />
        </span>
      }
    />
  );
}

const SHOWN_CHOICES = 6;

/** What another choice would give, where it differs by much; of the group one is at, always. */
function Otherwise({ model: { strained, draft, context }, lit }: Omit<PartProps, 'onHover'>) {
  if (!strained) return null;
  const { root } = draft.value.rule;
  // The words of groups first: the wrong one is the costliest slip.
  const shown = strained.whatIf
    .filter(
      ({ path, change, count: other }) =>
        differsByMuch(strained.count, other) || (change !== 'without' && path === groupOf(lit)),
    )
    .sort((one, other) => Number(one.change === 'without') - Number(other.change === 'without'));
  if (shown.length === 0 || !isActive(root, context)) return null;
  return (
    <MarginPart title="What if">
      <ul className={classes.whatIf}>
        {shown.slice(0, SHOWN_CHOICES).map(({ path, change, count: other }) => {
          const node = nodeAt(root, parsePath(path));
          if (!node) return null;
          return (
            <li key={`${path} ${change}`}>
              {change === 'without' ? (
                <>
                  Without “{isGroup(node) && node.of === 'none' && 'none of: '}
                  {shortWords(node, context, IN_THE_MARGIN)}”
                </>
              ) : (
                <>
                  {path === '' ? 'The whole' : `“${shortWords(node, context, IN_THE_MARGIN)}”`} as{' '}
                  <b>{change} of</b>
                </>
              )}
              : <Num value={other} />
              <Soft className={classes.counted}>
                {' '}
                ({other > strained.count ? '+' : '–'}
                {count(Math.abs(other - strained.count))})
              </Soft>
            </li>
          );
        })}
      </ul>
    </MarginPart>
  );
}

/** The group of a part that is lit up. */
const groupOf = (lit: string | undefined): string =>
  lit === undefined || !lit.includes('.') ? '' : lit.slice(0, lit.lastIndexOf('.'));

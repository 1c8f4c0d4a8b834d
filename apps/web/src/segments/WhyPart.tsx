// Why is she in, why is he not: asks of one person which conditions hold.
import {
  isGroup,
  type Rule,
  type RuleContext,
  type RuleNode,
  type Trace,
} from '@palabra/core/segments';
import { useEffect, useEffectEvent, useState } from 'react';
import { useSearchParams } from 'react-router';
import { PersonChooser } from '../contacts';
import { Mark, Marks } from '../ui/Marks';
import { MarginPart } from '../ui/Page';
import { Small, Soft } from '../ui/text';
import { useWhyQuery } from './segments.api';
import { IN_THE_MARGIN, shortWords } from './words';

export function WhyPart({
  pools,
  rule,
  context,
  onTrace,
}: {
  readonly pools: readonly number[];
  readonly rule: Rule;
  readonly context: RuleContext;
  /** The rule lights up with what holds for the person. */
  readonly onTrace: (trace: Trace | undefined) => void;
}) {
  // A person’s page leads here with the question asked already.
  const [search] = useSearchParams();
  const asked = Number(search.get('why'));
  const [contact, setContact] = useState(Number.isInteger(asked) && asked > 0 ? asked : undefined);
  const why = useWhyQuery(
    { pools: [...pools], rule, contact: contact ?? 0 },
    { skip: contact === undefined },
  );
  const answer = contact === undefined ? undefined : why.currentData;
  const trace = answer?.trace;
  const show = useEffectEvent(onTrace);
  useEffect(() => show(trace), [trace]);
  return (
    <MarginPart title="Why, or why not">
      <PersonChooser
        label="Ask about a person"
        nobody="ask about a person"
        pool={pools.length === 1 ? pools[0] : undefined}
        value={contact}
        onChange={setContact}
      />
      {answer && (
        <div role="status">
          <p>
            <b>{answer.holds ? 'In this segment.' : 'Not in this segment.'}</b>
          </p>
          <Marks>
            {lines(rule.root, answer.trace, context).map((line) => (
              <Mark
                key={line.path}
                kind={line.holds ? 'good' : 'no'}
                means={line.holds ? 'holds' : 'does not hold'}
                depth={line.path.split('.').length - 1}
              >
                {line.text}
                {line.saw !== undefined && <Small>: {line.saw}</Small>}
              </Mark>
            ))}
          </Marks>
        </div>
      )}
      {contact !== undefined && why.isError && <Soft>That can’t be said of this rule.</Soft>}
    </MarginPart>
  );
}

function lines(
  node: RuleNode,
  trace: Trace,
  context: RuleContext,
): { path: string; holds: boolean; text: string; saw?: string | undefined }[] {
  if (!isGroup(node))
    return [
      {
        path: trace.path,
        holds: trace.holds,
        text: shortWords(node, context, IN_THE_MARGIN),
        saw: trace.saw,
      },
    ];
  return node.items.flatMap((item, at) => {
    const own = trace.items?.[at];
    if (!own) return [];
    return isGroup(item)
      ? [{ path: own.path, holds: own.holds, text: `${item.of} of:` }, ...lines(item, own, context)]
      : lines(item, own, context);
  });
}

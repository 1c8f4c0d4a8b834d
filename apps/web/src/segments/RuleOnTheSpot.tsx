// A rule made in the middle of something else: its editor, what it says, and how many it finds.
import { useDebouncedValue } from '@mantine/hooks';
import { isActive, readback, type Rule } from '@palabra/core/segments';
import { useMemo, useState } from 'react';
import { count } from '../ui/numbers';
import { Soft } from '../ui/text';
import { RuleEditor } from './RuleEditor';
import { useStrainQuery } from './segments.api';
import { useRuleContext } from './useRuleContext';

export function RuleOnTheSpot({
  rule,
  pool,
  onChange,
}: {
  readonly rule: Rule;
  readonly pool: number;
  readonly onChange: (rule: Rule) => void;
}) {
  const context = useRuleContext();
  const [lit, setLit] = useState<string>();
  const question = useMemo(() => ({ pools: [pool], rule }), [pool, rule]);
  const [asked] = useDebouncedValue(question, 200);
  const isAsking = isActive(rule.root, context);
  const strained = useStrainQuery(asked, { skip: !isActive(asked.rule.root, context) });
  return (
    <>
      <RuleEditor
        rule={rule}
        context={context}
        disabled={false}
        alone={isAsking ? strained.data?.alone : undefined}
        lit={lit}
        onHover={setLit}
        onChange={onChange}
      />
      <p role="status">
        <b>{isAsking && strained.data ? count(strained.data.count) : isAsking ? '…' : '0'}</b>{' '}
        people.{' '}
        <Soft>
          {readback(rule, context)
            .map(({ text }) => text)
            .join('')}
        </Soft>
      </p>
    </>
  );
}

// Why is she in, why is he not: asks of one person which conditions hold.
import { useDebouncedValue } from '@mantine/hooks';
import { listName } from '@palabra/core/contacts';
import {
  isGroup,
  type Rule,
  type RuleContext,
  type RuleNode,
  type Trace,
} from '@palabra/core/segments';
import { useState } from 'react';
import { usePeopleQuery } from '../contacts/contacts.api';
import { MarginPart } from '../ui/Page';
import { useWhyQuery } from './segments.api';
import { shortWords } from './words';

export function WhyPart({
  pool,
  rule,
  context,
}: {
  readonly pool: number;
  readonly rule: Rule;
  readonly context: RuleContext;
}) {
  const [text, setText] = useState('');
  const [contact, setContact] = useState<{ id: number; name: string }>();
  const [q] = useDebouncedValue(text.trim(), 200);
  const found = usePeopleQuery({ q, pool, limit: 6 }, { skip: q === '' || contact !== undefined });
  const why = useWhyQuery(
    { pool, rule, contact: contact?.id ?? 0 },
    { skip: contact === undefined },
  );
  return (
    <MarginPart title="Why, or why not">
      <input
        className="line-input"
        style={{ width: '100%', boxSizing: 'border-box' }}
        aria-label="Ask about a person"
        placeholder="type a name"
        value={contact?.name ?? text}
        onChange={(event) => {
          setContact(undefined);
          setText(event.currentTarget.value);
        }}
      />
      {!contact && q !== '' && (
        <ul className="rows">
          {found.data?.rows.map((row) => {
            const name = listName({ given: row.givenName, family: row.familyName }, row.address);
            return (
              <li key={row.id} style={{ padding: '2px 0' }}>
                <button
                  type="button"
                  className="act"
                  onClick={() => setContact({ id: row.id, name })}
                >
                  {name}
                </button>
              </li>
            );
          })}
          {found.data?.rows.length === 0 && (
            <li className="soft">nobody of that name in this pool</li>
          )}
        </ul>
      )}
      {contact && why.currentData && (
        <div role="status">
          <p>
            <b>{why.currentData.holds ? 'In this segment.' : 'Not in this segment.'}</b>
          </p>
          <ul className="checks">
            {lines(rule.root, why.currentData.trace, context).map((line) => (
              <li key={line.path} style={{ paddingLeft: 14 * (line.path.split('.').length - 1) }}>
                <span
                  className={`sign ${line.holds ? 'good' : 'wrong'}`}
                  title={line.holds ? 'holds' : 'does not hold'}
                >
                  {line.holds ? '✓' : '✗'}
                </span>
                <span>
                  <span className="hidden">{line.holds ? 'holds: ' : 'does not hold: '}</span>
                  {line.text}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </MarginPart>
  );
}

function lines(
  node: RuleNode,
  trace: Trace,
  context: RuleContext,
): { path: string; holds: boolean; text: string }[] {
  if (!isGroup(node))
    return [{ path: trace.path, holds: trace.holds, text: shortWords(node, context) }];
  return node.items.flatMap((item, at) => {
    const own = trace.items?.[at];
    if (!own) return [];
    return isGroup(item)
      ? [{ path: own.path, holds: own.holds, text: `${item.of} of:` }, ...lines(item, own, context)]
      : lines(item, own, context);
  });
}

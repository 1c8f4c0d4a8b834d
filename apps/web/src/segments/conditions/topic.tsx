import { topicOperators, type TopicCondition } from '@palabra/core/segments';
import { Pick } from '../../ui/Pick';
import { Soft } from '../../ui/text';
import type { EditorOf } from './kind';
import { Several } from './Several';

export const topic: EditorOf<TopicCondition> = {
  choices: ({ topics }) => (topics.length > 0 ? [{ value: 'topic', label: 'topic' }] : []),
  chosen: () => 'topic',
  begin: (choice) => (choice === 'topic' ? { kind: 'topic', op: 'wants', topics: [] } : undefined),
  Operand: ({ condition, context: { topics }, disabled, onChange }) => (
    <>
      <Pick
        label="How the topic is asked for"
        disabled={disabled}
        value={condition.op}
        options={topicOperators.map((op) => ({ value: op, label: op }))}
        onChange={(op) => op && onChange({ ...condition, op })}
      />
      {topics.length === 0 && <Soft>there are no topics any more</Soft>}
      <Several
        label="Topics"
        disabled={disabled}
        value={condition.topics.map(String)}
        options={topics.map(({ id, name }) => ({ value: String(id), label: name }))}
        onChange={(ids) => onChange({ ...condition, topics: ids.map(Number) })}
      />
    </>
  ),
};

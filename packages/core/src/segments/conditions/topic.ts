// Whether somebody wants a kind of letter, or has dropped it.
import { fail, ok, type Result } from '../../kernel/index.js';
import { hashAmong, negate, type Fragment } from '../fragment.js';
import type { ConditionKind } from './kind.js';

export const topicOperators = ['wants', 'has dropped'] as const;
export type TopicOperator = (typeof topicOperators)[number];

export interface TopicCondition {
  readonly kind: 'topic';
  readonly op: TopicOperator;
  /** Any of them. */
  readonly topics: readonly number[];
}

const dropped = (topic: number): Fragment =>
  hashAmong([
    { ref: { of: 'dropped topic' } },
    ' where topic_id = ',
    { param: topic, type: 'int' },
  ]);

export const topic: ConditionKind<TopicCondition, 'droppedTopics'> = {
  needs: () => ['droppedTopics'],
  parse(raw, context): Result<TopicCondition, string> {
    const op = topicOperators.find((word) => word === raw['op']);
    if (!op) return fail('this way of asking for a topic is not known.');
    const topics = raw['topics'];
    if (
      !Array.isArray(topics) ||
      topics.length > 50 ||
      !topics.every((one): one is number => typeof one === 'number')
    )
      return fail('the topics must be a list of at most 50.');
    if (topics.some((one) => !context.topics.some(({ id }) => id === one)))
      return fail('one of its topics no longer exists. Take it out or choose another.');
    return ok({ kind: 'topic', op, topics: [...new Set(topics)] });
  },
  finished: ({ topics }) => topics.length > 0,
  weight: ({ topics }) => Math.max(1, topics.length),
  compile: ({ op, topics }) => [
    '(',
    ...topics.flatMap((one, at) => [
      ...(at === 0 ? [] : [' or ']),
      ...(op === 'has dropped' ? dropped(one) : negate(dropped(one))),
    ]),
    ')',
  ],
  holds: ({ op, topics }, { droppedTopics }) =>
    topics.some((one) => droppedTopics.has(one) === (op === 'has dropped')),
  saw: ({ topics }, { droppedTopics }, context) => {
    const names = topics.flatMap((one) =>
      droppedTopics.has(one) ? (context.topics.find(({ id }) => id === one)?.name ?? []) : [],
    );
    return names.length === 0 ? 'has dropped none of them' : `has dropped ${names.join(', ')}`;
  },
  words: ({ op, topics }, context) => [
    { text: op === 'wants' ? 'who have not dropped ' : 'who have dropped ' },
    ...topics.flatMap((one, at) => [
      ...(at === 0 ? [] : [{ text: ' or ' }]),
      {
        text: context.topics.find(({ id }) => id === one)?.name ?? 'a topic that is gone',
        strong: true,
      },
    ]),
  ],
};

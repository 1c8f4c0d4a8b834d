// The kinds of letters that readers can choose between.
import { Button, TextInput } from '@mantine/core';
import type { TopicReply } from '@palabra/contract/contacts';
import { useState } from 'react';
import {
  useAddTopicMutation,
  useChangeTopicMutation,
  useVocabularyQuery,
} from '../contacts/contacts.api';
import { useForm } from '../ui/form';
import { Note } from '../ui/states';

export function TopicsPart({ may }: { readonly may: boolean }) {
  const { data } = useVocabularyQuery();
  const [edited, setEdited] = useState<number | 'new'>();
  return (
    <div style={{ maxWidth: 620 }}>
      {data?.topics.length === 0 && (
        <p className="soft">
          Readers can leave all letters, or only some kinds of them. Name the kinds, such as
          newsletter and offers, and say on a campaign’s sheet which one it is.
        </p>
      )}
      <ul className="rows" style={{ marginTop: -8 }}>
        {data?.topics.map((topic) =>
          edited === topic.id ? (
            <li key={topic.id}>
              <TopicForm topic={topic} onDone={() => setEdited(undefined)} />
            </li>
          ) : (
            <li key={topic.id}>
              <span className="what">
                <b>{topic.name}</b> <span className="soft">{topic.description}</span>
              </span>
              {may && (
                <button
                  type="button"
                  className="act"
                  aria-label={`Change the topic ${topic.name}`}
                  onClick={() => setEdited(topic.id)}
                >
                  Change
                </button>
              )}
            </li>
          ),
        )}
      </ul>
      {may &&
        (edited === 'new' ? (
          <TopicForm onDone={() => setEdited(undefined)} />
        ) : (
          <button type="button" className="act" onClick={() => setEdited('new')}>
            + topic
          </button>
        ))}
    </div>
  );
}

function TopicForm({
  topic,
  onDone,
}: {
  readonly topic?: TopicReply;
  readonly onDone: () => void;
}) {
  const [add] = useAddTopicMutation();
  const [change] = useChangeTopicMutation();
  const form = useForm(
    { name: topic?.name ?? '', description: topic?.description ?? '' },
    async (values) => {
      await (topic ? change({ id: topic.id, ...values }) : add(values)).unwrap();
      onDone();
    },
  );
  return (
    <form onSubmit={form.submit} noValidate style={{ maxWidth: 460, flex: 1 }}>
      <TextInput label="Name" data-autofocus autoFocus maxLength={60} {...form.field('name')} />
      <TextInput
        mt="sm"
        label="What it brings"
        description="One sentence that readers see."
        maxLength={200}
        {...form.field('description')}
      />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Button mt="md" type="submit" loading={form.busy}>
        Keep this topic
      </Button>{' '}
      <Button mt="md" variant="subtle" color="gray" onClick={onDone}>
        Not now
      </Button>
    </form>
  );
}

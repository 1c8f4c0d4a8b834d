// The kinds of letters that readers can choose between.
import { Button, Group, TextInput } from '@mantine/core';
import { TopicRequest, type TopicReply } from '@palabra/contract/contacts';
import { useState } from 'react';
import { useContractForm } from '../api/form';
import { Row, Rows } from '../ui/Rows';
import { Note } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { useAddTopicMutation, useChangeTopicMutation, useVocabularyQuery } from './contacts.api';

export function TopicsPart({ may }: { readonly may: boolean }) {
  const { data } = useVocabularyQuery();
  const [edited, setEdited] = useState<number | 'new'>();
  const done = (): void => setEdited(undefined);
  return (
    <>
      {data?.topics.length === 0 && (
        <p>
          <Soft>
            Readers can leave all letters, or only some kinds of them. Name the kinds, such as
            newsletter and offers, and say on a campaign’s sheet which one it is.
          </Soft>
        </p>
      )}
      <Rows>
        {data?.topics.map((topic) =>
          edited === topic.id ? (
            <Row key={topic.id}>
              <TopicForm topic={topic} onDone={done} />
            </Row>
          ) : (
            <Row
              key={topic.id}
              end={
                may && (
                  <Act
                    aria-label={`Change the topic ${topic.name}`}
                    onClick={() => setEdited(topic.id)}
                  >
                    Change
                  </Act>
                )
              }
            >
              <b>{topic.name}</b> <Soft>{topic.description}</Soft>
            </Row>
          ),
        )}
      </Rows>
      {may &&
        (edited === 'new' ? (
          <TopicForm onDone={done} />
        ) : (
          <Act onClick={() => setEdited('new')}>+ topic</Act>
        ))}
    </>
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
  const form = useContractForm({
    request: TopicRequest,
    initial: { name: topic?.name ?? '', description: topic?.description ?? '' },
    send: async (request) => {
      await (topic ? change({ id: topic.id, ...request }) : add(request)).unwrap();
      onDone();
    },
  });
  return (
    <form onSubmit={form.send} noValidate>
      <TextInput label="Name" autoFocus maxLength={60} {...form.getInputProps('name')} />
      <TextInput
        mt="sm"
        label="What it brings"
        description="One sentence that readers see."
        maxLength={200}
        {...form.getInputProps('description')}
      />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Group mt="md">
        <Button type="submit" loading={form.submitting}>
          Keep this topic
        </Button>
        <Button variant="subtle" color="gray" onClick={onDone}>
          Not now
        </Button>
      </Group>
    </form>
  );
}

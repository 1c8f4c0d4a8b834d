// The office's words for people: tags and topics.
import { Inject, Injectable } from '@nestjs/common';
import type { TopicRequest } from '@palabra/contract/contacts';
import { oneLine, searchKey, type Field, type TopicId } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { dayIn } from '@palabra/core/office';
import { theOffice } from '../../office/index.js';
import { Database, type Db } from '../../platform/database.js';
import { notFound } from '../../platform/refusals.js';
import { CLOCK } from '../../platform/time.js';
import { refuse } from '../contacts.refusals.js';
import { allFields } from '../fields/fields.store.js';
import type { Today } from '../people/columns.store.js';
import * as topics from './topics.store.js';

@Injectable()
export class VocabularyService {
  constructor(
    private readonly database: Database,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  private get db(): Db {
    return this.database.db;
  }

  /** All fields that a contact can have, by their keys. */
  async fields(db: Db = this.db): Promise<Map<string, Field>> {
    return new Map((await allFields(db)).map((field) => [field.key, field]));
  }

  /** The day it is where the office is. */
  async today(): Promise<Today> {
    const { timeZone } = await theOffice(this.db);
    return { timeZone, today: dayIn(timeZone, this.clock.now()) };
  }

  async addTopic(request: TopicRequest): Promise<topics.Topic> {
    const topic = await topics.addTopic(
      this.db,
      this.topicName(request.name),
      oneLine(request.description),
      this.clock.now(),
    );
    if (!topic) throw refuse('topic-exists', oneLine(request.name));
    return topic;
  }

  async changeTopic(id: TopicId, request: TopicRequest): Promise<topics.Topic> {
    const name = this.topicName(request.name);
    if (
      (await topics.allTopics(this.db)).some(
        (topic) => topic.id !== id && topic.nameKey === searchKey(name),
      )
    )
      throw refuse('topic-exists', name);
    const topic = await topics.changeTopic(this.db, id, name, oneLine(request.description));
    if (!topic) throw notFound('topic');
    return topic;
  }

  private topicName(text: string): string {
    const name = oneLine(text);
    if (name === '') throw refuse('topic-has-no-name');
    return name;
  }
}

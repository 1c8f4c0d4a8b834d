import { Body, Controller, Get, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import {
  TopicRequest,
  type TagReply,
  type TopicReply,
  type VocabularyReply,
} from '@palabra/contract/contacts';
import type { TopicId } from '@palabra/core/contacts';
import { Database } from '../../platform/database.js';
import { May, Tells } from '../../platform/sign-in/guard.js';
import { allUsers } from '../../platform/sign-in/sign-in.store.js';
import { allFields } from '../fields/fields.store.js';
import * as topics from './topics.store.js';
import { VocabularyService } from './vocabulary.service.js';
import * as words from './vocabulary.store.js';

@Controller('api')
export class VocabularyController {
  constructor(
    private readonly vocabulary: VocabularyService,
    private readonly database: Database,
  ) {}

  @Get('vocabulary')
  @Tells('nobody')
  async all(): Promise<VocabularyReply> {
    const { db } = this.database;
    const tags = await words.allTags(db);
    return {
      tags: tags.map(tagReply),
      fields: await allFields(db),
      pools: await words.allPools(db),
      topics: (await topics.allTopics(db)).map(topicReply),
      owners: (await allUsers(db)).map(({ id, name }) => ({ key: String(id), label: name })),
    };
  }

  @Post('topics')
  @May('settings')
  @Tells('nobody')
  async addTopic(@Body() request: TopicRequest): Promise<TopicReply> {
    return topicReply(await this.vocabulary.addTopic(request));
  }

  @Put('topics/:id')
  @May('settings')
  @Tells('nobody')
  async changeTopic(
    @Param('id', ParseIntPipe) id: TopicId,
    @Body() request: TopicRequest,
  ): Promise<TopicReply> {
    return topicReply(await this.vocabulary.changeTopic(id, request));
  }
}

const topicReply = ({ id, name, description }: topics.Topic): TopicReply => ({
  id,
  name,
  description,
});
export const tagReply = ({ id, name, colour, kind, purpose }: words.Tag): TagReply => ({
  purpose,
  id,
  name,
  colour,
  kind,
});

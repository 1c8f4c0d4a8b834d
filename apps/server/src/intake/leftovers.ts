// Tags and own fields that came with an import and that nobody has any more, now that it was taken back.
import { Injectable } from '@nestjs/common';
import type { LeftoverReply } from '@palabra/contract/intake';
import { ownId, ownKey, type TagId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import {
  allTags,
  fieldsMadeSince,
  FieldsService,
  tagCounts,
  TagsService,
  TagUses,
} from '../contacts/index.js';
import { Database } from '../platform/database.js';
import type { ImportLine } from './intake.store.js';

@Injectable()
export class Leftovers {
  constructor(
    private readonly database: Database,
    private readonly tags: TagsService,
    private readonly fields: FieldsService,
    private readonly tagUses: TagUses,
  ) {}

  /** None before it is taken back whole. */
  async of({ row, undoing }: ImportLine, viewer: Viewer): Promise<LeftoverReply> {
    if (!undoing?.finishedAt) return { tags: [], fields: [] };
    const { db } = this.database;
    const [counts, uses] = [await tagCounts(db), await this.tagUses.all(db, viewer)];
    const tags = (await allTags(db)).filter(
      ({ id }) => row.tagsMade.includes(id) && !counts.get(id) && (uses.get(id)?.length ?? 0) === 0,
    );
    const fields: LeftoverReply['fields'][number][] = [];
    for (const { key, label } of await fieldsMadeSince(db, row.fieldsMade, row.createdAt)) {
      const id = ownId(key);
      const use = await this.fields.usesOf(key, viewer);
      if (id !== undefined && use.filled === 0 && use.uses.length === 0) fields.push({ id, label });
    }
    return { tags: tags.map(({ id, name }) => ({ id, name })), fields };
  }

  /** Takes them out; each can be brought back by itself. */
  async takeOut(line: ImportLine, viewer: Viewer): Promise<void> {
    const { tags, fields } = await this.of(line, viewer);
    for (const { id } of tags) await this.tags.goes(idOf<TagId>(id), undefined, viewer);
    for (const { id } of fields) await this.fields.remove(ownKey(id), viewer);
  }
}

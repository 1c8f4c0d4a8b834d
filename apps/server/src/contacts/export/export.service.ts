// Taking people out as a file: within what the asker sees, in the order of the list, a stretch at a time, and written
// down in the activity log.
import { Inject, Injectable } from '@nestjs/common';
import type { ExportRequest } from '@palabra/contract/contacts';
import {
  displayName,
  doNotMailWords,
  exportFormatNames,
  formatFieldValue,
  isMoment,
  lines,
  listName,
  parseSort,
  type ContactId,
  type Field,
} from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { dayIn, type Viewer } from '@palabra/core/office';
import { Database } from '../../platform/database.js';
import { Foreground, Stride } from '../../platform/stride.js';
import { CLOCK } from '../../platform/time.js';
import { openChangeSet } from '../changes/changes.store.js';
import { orderOf, valuesOf, type Today } from '../people/columns.store.js';
import { PeopleSets } from '../people/people-sets.js';
import { keysInOrder, linesOf, type PersonLine } from '../people/people.store.js';
import { VocabularyService } from '../vocabulary/vocabulary.service.js';
import { allTags } from '../vocabulary/vocabulary.store.js';
import type { ExportedPerson } from './formats.js';

/** So many people are read in one go. */
const STRETCH = { first: 200, least: 50, most: 1000 };
/** What a visiting card says, besides name and address. */
const onCards = [
  'position',
  'street',
  'postcode',
  'town',
  'region',
  'country',
  'phone',
  'more_phones',
  'more_addresses',
] as const;

interface Words {
  readonly fields: ReadonlyMap<string, Field>;
  readonly tags: ReadonlyMap<number, string>;
  readonly today: Today;
}

/** A column that is more than a field. */
const apart: Readonly<
  Record<string, { name: string; cell: (line: PersonLine, words: Words) => string }>
> = {
  name: {
    name: 'name',
    cell: (line) => listName({ given: line.given_name, family: line.family_name }, line.address),
  },
  tags: {
    name: 'tags',
    cell: (line, { tags }) => (line.tags ?? []).flatMap((id) => tags.get(id) ?? []).join('; '),
  },
  do_not_mail: {
    name: 'do not mail',
    cell: (line) => (line.do_not_mail === null ? '' : doNotMailWords[line.do_not_mail]),
  },
};

const apartOf = (key: string) => (Object.hasOwn(apart, key) ? apart[key] : undefined);

export interface Exported {
  readonly head: readonly string[];
  readonly people: AsyncIterable<ExportedPerson>;
}

@Injectable()
export class ExportService {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly vocabulary: VocabularyService,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  async begin(
    { people, format, columns, sort }: ExportRequest,
    viewer: Viewer,
    signal: AbortSignal,
  ): Promise<Exported> {
    const { db } = this.database;
    const fields = await this.vocabulary.fields();
    const meant = await this.sets.meant(people, viewer);
    const today = await this.vocabulary.today();
    const keys = await keysInOrder(db, meant, orderOf(parseSort(sort ?? '') ?? [], fields, today));
    const known = [...new Set(columns)].filter(
      (key) => Object.hasOwn(apart, key) || fields.has(key),
    );
    const words: Words = {
      fields,
      tags: new Map((await allTags(db)).map(({ id, name }) => [id, name])),
      today,
    };
    await openChangeSet(db, {
      kind: 'export',
      userId: viewer.userId,
      at: this.clock.now(),
      what: `took out ${keys.length.toLocaleString('en')} ${keys.length === 1 ? 'person' : 'people'} as ${exportFormatNames[format]}`,
      undoable: false,
    });
    return {
      head: known.map((key) => apartOf(key)?.name ?? fields.get(key)?.label ?? key),
      people: this.rows(keys, known, words, signal),
    };
  }

  private async *rows(
    keys: readonly ContactId[],
    columns: readonly string[],
    words: Words,
    signal: AbortSignal,
  ): AsyncGenerator<ExportedPerson> {
    const values = valuesOf([...new Set([...columns, ...onCards])], words.fields, words.today);
    const stride = new Stride(this.foreground, STRETCH.first, STRETCH.least, STRETCH.most);
    for (let at = 0; at < keys.length && !signal.aborted;) {
      const from = at;
      const [stretch, found] = await this.foreground.aside(() =>
        stride.step(async (size) => {
          const some = keys.slice(from, from + size);
          return [some, await linesOf(this.database.db, some, values)] as const;
        }),
      );
      at += stretch.length;
      const lines = new Map(found.map((line) => [line.id, line]));
      // Whoever was deleted meanwhile is left out.
      for (const key of stretch) {
        const line = lines.get(key);
        if (line)
          yield { cells: columns.map((column) => cellOf(line, column, words)), card: cardOf(line) };
      }
    }
  }
}

function cellOf(line: PersonLine, column: string, words: Words): string | number | null {
  const own = apartOf(column);
  if (own) return own.cell(line, words);
  const field = words.fields.get(column);
  const value = line.values[column] ?? null;
  if (!field || value === null) return null;
  if (isMoment(column) && typeof value === 'string')
    return dayIn(words.today.timeZone, new Date(value));
  return typeof value === 'number' ? value : formatFieldValue(field, value);
}

function cardOf(line: PersonLine): ExportedPerson['card'] {
  const text = (key: (typeof onCards)[number]): string => {
    const value = line.values[key];
    return typeof value === 'string' ? value : '';
  };
  return {
    name: displayName({ given: line.given_name, family: line.family_name }, line.address),
    given: line.given_name,
    family: line.family_name,
    emails: [...(line.address === null ? [] : [line.address]), ...lines(text('more_addresses'))],
    phones: [...lines(text('phone')), ...lines(text('more_phones'))],
    title: text('position'),
    street: text('street'),
    town: text('town'),
    region: text('region'),
    postcode: text('postcode'),
    country: text('country'),
  };
}

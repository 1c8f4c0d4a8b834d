// Rules that name somebody's address, as they are told and mended when somebody is erased.
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { withoutAddressesIn } from '@palabra/core/contacts';
import { PersonalPlaces, withoutMentions, type Whose } from '../contacts/index.js';
import type { Db } from '../platform/database.js';
import { forgetMembers, listsOf } from './members.store.js';
import { dropFilters, rulesNaming } from './personal.store.js';
import { segments, segmentVersions, views } from './segments.table.js';

const theirs = async (db: Db, { addresses, isTheirs }: Whose) =>
  (await rulesNaming(db, addresses)).filter(
    ({ rule }) => withoutAddressesIn(rule, isTheirs) !== rule,
  );

@Injectable()
export class SegmentPlaces implements OnModuleInit {
  constructor(private readonly places: PersonalPlaces) {}

  onModuleInit(): void {
    this.places.register('segments', {
      held: async (db, whose) => [
        ...(await theirs(db, whose)).map(({ kind, name }) => ({
          what: kind,
          text: `“${name}” asks for an address of theirs`,
        })),
        ...(await listsOf(db, whose.people)).map(({ name, at }) => ({
          at,
          what: 'fixed segment',
          text: `listed in “${name}”`,
        })),
      ],
      forget: async (tx, whose) => {
        // A filter's key is of what it says: it can't be mended, and is made anew by whoever needs it.
        const naming = (await theirs(tx, whose)).flatMap(({ key }) => key ?? []);
        for (const [table, column] of [
          [segments, segments.name],
          [segments, segments.description],
          [segments, segments.rule],
          [segments, segments.draftRule],
          [segmentVersions, segmentVersions.rule],
          [views, views.name],
          [views, views.rule],
          [views, views.arrangement],
        ] as const)
          await withoutMentions(tx, table, column, whose);
        await dropFilters(tx, naming);
        await forgetMembers(tx, whose.people);
      },
    });
  }
}

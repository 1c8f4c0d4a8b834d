// Campaigns that were made for chosen people, as they are told and mended when somebody is erased.
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { PersonalPlaces, withoutMentions } from '../contacts/index.js';
import { campaigns, chosenPeople } from './campaigns.table.js';
import { chosenWith } from './chosen.store.js';

@Injectable()
export class CampaignPlaces implements OnModuleInit {
  constructor(private readonly places: PersonalPlaces) {}

  onModuleInit(): void {
    this.places.register('campaigns', {
      held: async (db, { people }) =>
        (await chosenWith(db, people)).map(({ createdAt, name }) => ({
          at: createdAt,
          what: 'chosen to be written to',
          text: name,
        })),
      forget: async (tx, whose) => {
        for (const column of [chosenPeople.name, chosenPeople.filter, chosenPeople.rule])
          await withoutMentions(tx, chosenPeople, column, whose);
        await withoutMentions(tx, campaigns, campaigns.whoUsed, whose);
      },
    });
  }
}

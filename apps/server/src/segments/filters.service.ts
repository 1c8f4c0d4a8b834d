// Rules to narrow lists by: kept once by what they say, so that a list is an address that can be sent to a colleague.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { FilterReply } from '@palabra/contract/segments';
import type { Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { compileRule, parseRule, type FilterKey, type Rule } from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import { PeopleSets } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { notFound } from '../platform/refusals.js';
import { CLOCK } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { filterBy, forgetFilters, keepFilter } from './filters.store.js';
import { bindRule } from './rule.store.js';
import { RulesService } from './rules.service.js';

/** An address that nobody opened for so long says so when it is. */
const UNUSED_DAYS = 180;

@Injectable()
export class FiltersService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly rules: RulesService,
    private readonly sets: PeopleSets,
    private readonly upkeep: Upkeep,
    private readonly keys: Keys,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.sets.registerFilters((key) => this.condition(key));
    this.upkeep.register(async () => {
      const before = new Date(this.clock.now().getTime() - UNUSED_DAYS * 86_400_000);
      await forgetFilters(this.database.db, before);
      return false;
    });
  }

  async keep(raw: object, viewer: Viewer): Promise<FilterReply> {
    const { rule } = await this.rules.readFor(raw, viewer);
    return { key: await this.keepRule(rule), rule };
  }

  /** The same rule has the same key; nobody who guesses a rule can make it, and learn that somebody keeps it. */
  async keepRule(rule: Rule): Promise<FilterKey> {
    const key = this.keys.mark(`filter ${JSON.stringify(rule)}`);
    await keepFilter(this.database.db, key, rule, this.clock.now());
    return key;
  }

  /** As it was kept, even where it names what is gone since: it is shown, and can be mended. */
  async one(key: FilterKey): Promise<FilterReply> {
    const rule = await filterBy(this.database.db, key, this.clock.now());
    if (!rule) throw notFound('filter');
    return { key, rule };
  }

  private async condition(key: FilterKey): Promise<SQL | undefined> {
    const kept = await filterBy(this.database.db, key, this.clock.now());
    if (!kept) return undefined;
    const context = await this.rules.context(kept);
    const rule = parseRule(kept, context);
    return rule.ok ? bindRule(compileRule(rule.value, context), context.timeZone) : undefined;
  }
}

// Everything that knows no capability, made once at start and handed to whoever asks.
import { Module, type DynamicModule } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, DiscoveryModule } from '@nestjs/core';
import type { Clock, Ids } from '@palabra/core/kernel';
import type { Config } from './config.js';
import { Continuity } from './continuity.js';
import { Database } from './database.js';
import { Jobs } from './jobs.js';
import { Keys } from './keys.js';
import { ProblemFilter } from './problem.js';
import { SignInGuard, WhoAsks } from './sign-in/guard.js';
import { SignIn } from './sign-in/sign-in.js';
import { Streams } from './streams.js';
import { Foreground } from './stride.js';
import { CLOCK, CONFIG, IDS } from './time.js';
import { Upkeep } from './upkeep.js';

export interface Parts {
  readonly config: Config;
  readonly database: Database;
  readonly keys: Keys;
  readonly clock: Clock;
  readonly ids: Ids;
}

@Module({})
export class PlatformModule {
  static with({ config, database, keys, clock, ids }: Parts): DynamicModule {
    return {
      module: PlatformModule,
      global: true,
      imports: [DiscoveryModule],
      providers: [
        { provide: Database, useValue: database },
        { provide: Keys, useValue: keys },
        { provide: CONFIG, useValue: config },
        { provide: CLOCK, useValue: clock },
        { provide: IDS, useValue: ids },
        SignIn,
        WhoAsks,
        Continuity,
        Streams,
        Foreground,
        Jobs,
        Upkeep,
        { provide: APP_GUARD, useClass: SignInGuard },
        { provide: APP_FILTER, useClass: ProblemFilter },
      ],
      exports: [
        Database,
        Keys,
        Continuity,
        CONFIG,
        CLOCK,
        IDS,
        SignIn,
        WhoAsks,
        Streams,
        Foreground,
        Jobs,
        Upkeep,
      ],
    };
  }
}

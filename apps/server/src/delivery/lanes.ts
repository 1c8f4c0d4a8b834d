// Connections to the mail server, and what it says it takes.
import {
  Inject,
  Injectable,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { keepMailTakesUtf8 } from '../office/index.js';
import type { Config } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { log } from '../platform/log.js';
import { CONFIG } from '../platform/time.js';
import { Lane } from './smtp.js';

const AGAIN_MS = 30_000;

@Injectable()
export class Lanes implements OnApplicationBootstrap, OnApplicationShutdown {
  private kept: boolean | undefined;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** A campaign's sheet has to know whom this server can reach; until it has answered, what it last said holds. */
  onApplicationBootstrap(): void {
    void this.ask();
  }

  onApplicationShutdown(): void {
    clearTimeout(this.timer);
  }

  open(): Lane {
    return new Lane(
      this.config.smtpUrl,
      this.config.smtpTimeoutMs,
      (takesUtf8) => void this.keep(takesUtf8),
    );
  }

  /** Until it has answered and there is an office to keep it for. */
  private async ask(): Promise<void> {
    this.timer = setTimeout(() => void this.ask(), AGAIN_MS).unref();
    const lane = this.open();
    await lane.greet().catch(() => lane.close());
  }

  private async keep(takesUtf8: boolean): Promise<void> {
    if (takesUtf8 === this.kept) return;
    try {
      if (!(await keepMailTakesUtf8(this.database.db, takesUtf8))) return;
      this.kept = takesUtf8;
      clearTimeout(this.timer);
    } catch (error) {
      log.warn({ error }, 'what the mail server takes was not kept; it is asked again');
    }
  }
}

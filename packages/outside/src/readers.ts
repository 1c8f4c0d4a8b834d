// People who read their mail: they open, click and leave by themselves, at an adjustable pace. They
// reach the sender only through the addresses in the letter.
import { parse, type DefaultTreeAdapterMap } from 'parse5';
import PostalMime from 'postal-mime';
import {
  away,
  complaint,
  lateNotice,
  plainNotice,
  reply,
  type Answer,
  type Answered,
} from './answers.js';
import { habitsOf, mood } from './habits.js';
import type { Kept } from './mailboxes.js';

type Node = DefaultTreeAdapterMap['node'];

const PERSON = 'Mozilla/5.0 (X11; Linux x86_64) Lantern/4.2 (a mail program of the outside)';
const FRIEND = 'Mozilla/5.0 (Tablet) Windowsill/2.0 (a mail program of the outside)';
const SCANNER = 'outside-link-scanner/1.0 (+bot)';
const PROXY = 'lanternpost image-proxy/2';
const PREFETCH = { 'user-agent': PERSON, 'sec-purpose': 'prefetch' };
const AT_ONCE = 16;

export interface Links {
  readonly pictures: readonly string[];
  readonly links: readonly string[];
}

export function linksIn(html: string): Links {
  const pictures: string[] = [];
  const links: string[] = [];
  const walk = (node: Node): void => {
    if ('tagName' in node) {
      const attribute = (name: string): string =>
        node.attrs.find((one) => one.name === name)?.value ?? '';
      if (node.tagName === 'img') pictures.push(attribute('src'));
      if (node.tagName === 'a') links.push(attribute('href'));
    }
    if ('childNodes' in node) node.childNodes.forEach(walk);
  };
  walk(parse(html));
  return { pictures, links };
}

export interface ReaderOptions {
  readonly seed: number;
  /** Mean time until a letter is opened, in milliseconds. */
  readonly meanDelay: number;
  /** Only addresses of this origin are visited: nothing else is reached from the outside. */
  readonly origin: string;
  /** Hands an answer to the sender's mail server; absent when it takes none. */
  readonly answer?: (answer: Answer) => Promise<void>;
}

const replyKinds = {
  reply,
  away,
  complaint,
  'late notice': (about: Answered): Answer =>
    lateNotice(about, '5.1.1', '550 5.1.1 There is no mailbox of that name here'),
  'late and full': (about: Answered): Answer =>
    lateNotice(about, '5.2.2', '552 5.2.2 The mailbox is full'),
  'notice in own words': plainNotice,
} as const;

export class Readers {
  private readonly timers = new Set<NodeJS.Timeout>();
  private readonly waiting: (() => Promise<void>)[] = [];
  private busy = 0;

  constructor(private readonly options: ReaderOptions) {}

  received(kept: Kept, raw: Buffer): void {
    const habits = habitsOf(kept.to, this.options.seed);
    if (
      !habits.opens &&
      !habits.leaves &&
      !habits.scanned &&
      !habits.proxied &&
      !habits.prefetches &&
      habits.answers === 'nothing'
    )
      return;
    const roll = mood(kept.to, String(kept.id), this.options.seed);
    void this.plan(kept, raw, roll);
  }

  private async plan(kept: Kept, raw: Buffer, roll: number): Promise<void> {
    const habits = habitsOf(kept.to, this.options.seed);
    const mail = await PostalMime.parse(raw);
    const { pictures, links } = linksIn(mail.html ?? '');
    const open = pictures.find((url) => url.includes('/o/'));
    const clicks = links.filter((url) => url.includes('/c/'));
    const leave = /<(https?:[^>]+)>/.exec(
      mail.headers.find(({ key }) => key === 'list-unsubscribe')?.value ?? '',
    )?.[1];
    const delay = this.options.meanDelay * (0.05 + -Math.log(1 - roll * 0.98));
    if (habits.scanned)
      this.later(delay * 0.02, async () => {
        for (const url of clicks.slice(0, 3))
          await this.visit(url, { method: 'HEAD', headers: { 'user-agent': SCANNER } });
      });
    if (habits.opens && open)
      this.later(delay, () => this.visit(open, { headers: { 'user-agent': PERSON } }));
    if (habits.proxied && open)
      this.later(delay * 0.01, () => this.visit(open, { headers: { 'user-agent': PROXY } }));
    if (habits.prefetches)
      this.later(delay, async () => {
        for (const url of clicks.slice(0, 2)) await this.visit(url, { headers: PREFETCH });
      });
    if (habits.forwards && open)
      this.later(delay * 1.5 + 800, () => this.visit(open, { headers: { 'user-agent': FRIEND } }));
    const { answer } = this.options;
    if (habits.answers !== 'nothing' && answer && kept.from) {
      const head = raw.toString('utf8').split(/\r?\n\r?\n/, 1)[0] ?? '';
      const about: Answered = {
        reader: kept.to,
        bounceTo: kept.from,
        subject: mail.subject ?? '',
        messageId: mail.messageId ?? '',
        headers: head,
      };
      const make = replyKinds[habits.answers];
      this.later(delay * 1.1 + 500, () => answer(make(about)));
    }
    const click = clicks[Math.floor(roll * clicks.length)];
    if (habits.clicks && click)
      this.later(delay * 1.2 + 300, () => this.visit(click, { headers: { 'user-agent': PERSON } }));
    if (habits.leaves && leave)
      this.later(delay * 1.3 + 400, () =>
        this.visit(leave, {
          method: 'POST',
          headers: { 'user-agent': PERSON, 'content-type': 'application/x-www-form-urlencoded' },
          body: 'List-Unsubscribe=One-Click',
        }),
      );
  }

  private later(delay: number, deed: () => Promise<void>): void {
    const timer = setTimeout(() => {
      this.timers.delete(timer);
      this.waiting.push(deed);
      void this.work();
    }, delay);
    this.timers.add(timer);
  }

  private async work(): Promise<void> {
    while (this.busy < AT_ONCE) {
      const deed = this.waiting.shift();
      if (!deed) return;
      this.busy++;
      deed()
        .catch(() => undefined) // the sender's application is not running: the reader shrugs
        .finally(() => {
          this.busy--;
          void this.work();
        });
    }
  }

  private async visit(url: string, init: RequestInit): Promise<void> {
    if (!URL.canParse(url) || new URL(url).origin !== this.options.origin) return;
    const response = await fetch(url, {
      ...init,
      redirect: 'manual',
      signal: AbortSignal.timeout(10_000),
    });
    await response.arrayBuffer();
  }

  stop(): void {
    for (const timer of this.timers) clearTimeout(timer);
    this.waiting.length = 0;
  }
}

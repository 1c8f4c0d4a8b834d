// Streams of events: one look at a thing whoever watches it, a few per session, none that outlives it.
import { Injectable, type MessageEvent } from '@nestjs/common';
import {
  distinctUntilChanged,
  exhaustMap,
  filter,
  finalize,
  from,
  map,
  ReplaySubject,
  share,
  takeUntil,
  takeWhile,
  timer,
  type Observable,
} from 'rxjs';
import { refuse } from './refusals.js';
import type { SignedRequest } from './sign-in/guard.js';
import { SignIn } from './sign-in/sign-in.js';

const EVERY_MS = 600;
/** After so long a browser that still wants to know asks again. */
const RETRY_MS = 1000;
const SESSION_EVERY_MS = 5000;
/** A browser keeps no more connections to one place, and needs some for its requests. */
const MOST_PER_SESSION = 6;

interface Seen<T> {
  readonly value: T;
  readonly text: string;
}

@Injectable()
export class Streams {
  private readonly looks = new Map<string, Observable<Seen<unknown>>>();
  private readonly open = new Map<string, number>();

  constructor(private readonly signIn: SignIn) {}

  /**
   * What `look` sees of the thing named `name`, whenever it has changed, until `goesOn` says that the last was
   * seen. Whether the asker may see it is for the caller to ask beforehand: everybody who watches shares a look.
   */
  watch<T>(
    { sessionToken = '', user, res }: SignedRequest,
    name: string,
    look: () => Promise<T>,
    goesOn: (seen: T) => boolean,
  ): Observable<MessageEvent> {
    const open = this.open.get(sessionToken) ?? 0;
    if (open >= MOST_PER_SESSION) throw refuse('too-many-streams', open);
    if (res && !res.closed) {
      this.open.set(sessionToken, open + 1);
      res.once('close', () => this.release(sessionToken));
    }
    const isOver = timer(SESSION_EVERY_MS, SESSION_EVERY_MS).pipe(
      exhaustMap(() => from(this.signIn.user(sessionToken))),
      filter((now) => now?.id !== user?.id || now?.role !== user?.role),
    );
    return this.shared(name, look).pipe(
      distinctUntilChanged((one, other) => one.text === other.text),
      takeWhile(({ value }) => goesOn(value), true),
      map(({ text }): MessageEvent => ({ data: text, retry: RETRY_MS })),
      takeUntil(isOver),
    );
  }

  private release(session: string): void {
    const left = (this.open.get(session) ?? 1) - 1;
    if (left > 0) this.open.set(session, left);
    else this.open.delete(session);
  }

  private shared<T>(name: string, look: () => Promise<T>): Observable<Seen<T>> {
    const known = this.looks.get(name);
    if (known) return known as Observable<Seen<T>>;
    const made = timer(0, EVERY_MS).pipe(
      exhaustMap(() => from(look())),
      map((value): Seen<T> => ({ value, text: JSON.stringify(value) })),
      finalize(() => this.looks.delete(name)),
      share({ connector: () => new ReplaySubject<Seen<T>>(1) }),
    );
    this.looks.set(name, made);
    return made;
  }
}

// What one kind of condition can do, all in one place.
import type { DoNotMailReason, Field, FieldValue, Standing } from '../../contacts/index.js';
import type { Result } from '../../kernel/index.js';
import type { Fragment } from '../fragment.js';

/** What a rule is read against: the office's fields, tags and topics, and the day. */
export interface RuleContext {
  readonly fields: readonly Field[];
  readonly tags: readonly { readonly id: number; readonly name: string }[];
  readonly topics: readonly { readonly id: number; readonly name: string }[];
  /** `YYYY-MM-DD` in the office's time zone. */
  readonly today: string;
  readonly timeZone: string;
}

/** What can be known of one person, as rules see them. Each is loaded only where a condition asks for it. */
export interface Facts {
  /** By field. Text as given; days as `YYYY-MM-DD`. */
  readonly values: Readonly<Record<string, FieldValue>>;
  readonly tags: ReadonlySet<number>;
  /** The day on which each tag was put on last, as far as that is known. */
  readonly tagPutOn: ReadonlyMap<number, string>;
  readonly standing: Standing;
  /** Why the address is on do not mail, and the day since when. */
  readonly doNotMail: { readonly reason: DoNotMailReason; readonly on: string } | null;
  readonly droppedTopics: ReadonlySet<number>;
  /** The rating now, a day ago and so on; null where there was none. */
  readonly ratingCourse: readonly (number | null)[];
}
export type FactName = keyof Facts;

export interface Phrase {
  readonly text: string;
  readonly strong?: boolean;
  /** Position of the condition the phrase comes from, e.g. `0.2`. */
  readonly path?: string;
}

export interface ConditionKind<C, Need extends FactName> {
  /** The facts that `holds` looks at. */
  readonly needs: readonly Need[];
  /** Reads stored or received JSON; what is named must exist, what is missing may come later. */
  readonly parse: (raw: Record<string, unknown>, context: RuleContext) => Result<C, string>;
  /** An unfinished condition is kept and shown, but sifts nobody and blocks sending. */
  readonly finished: (condition: C, context: RuleContext) => boolean;
  /** How many looks at a contact it takes; usually one. */
  readonly weight: (condition: C) => number;
  readonly compile: (condition: C, context: RuleContext) => Fragment;
  /** The same for one person. */
  readonly holds: (condition: C, facts: Pick<Facts, Need>, context: RuleContext) => boolean;
  /** A clause that follows “people”, such as “tagged *member*”. */
  readonly words: (condition: C, context: RuleContext) => readonly Phrase[];
}

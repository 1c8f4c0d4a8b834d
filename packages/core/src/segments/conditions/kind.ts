// What one kind of condition can do, all in one place.
import type { DoNotMailReason, Field, FieldValue, Standing } from '../../contacts/index.js';
import type { Result } from '../../kernel/index.js';
import type { Fragment } from '../fragment.js';

/** A campaign whose first letter was handed over. */
export interface CampaignInRule {
  readonly id: number;
  readonly name: string;
  /** When its first letter was handed over, in milliseconds since 1970. */
  readonly at: number;
  /** Where its links lead, by their number. */
  readonly links: readonly string[];
}

/** The rule of another segment, ready to be asked. */
export interface ReadSegment {
  readonly people: Fragment;
  readonly needs: readonly FactName[];
  readonly weight: number;
  /** How many conditions it has, with those of the segments that it asks for. */
  readonly reached: number;
  readonly finds: (person: Partial<Facts>) => boolean;
}

/** Another segment, as a rule asks for it: by its rule in force, or by who is listed. */
export interface SegmentInRule {
  readonly id: number;
  readonly name: string;
  readonly kind: SegmentKind;
  /** Those that it sifts; none of any pool. */
  readonly pools: readonly number[];
  /** Reads the rule in force of a live one, see `reader`; undefined of a fixed one, and where only names are wanted. */
  readonly read?: (context: RuleContext) => ReadSegment | undefined;
  /** It reaches only those whom this member sees. */
  readonly seenBy?: number;
}

/** What a rule is read against: the office's fields, tags, topics, letters and segments, and the day. */
export interface RuleContext {
  readonly fields: readonly Field[];
  readonly tags: readonly { readonly id: number; readonly name: string }[];
  readonly topics: readonly { readonly id: number; readonly name: string }[];
  /** The latest first. One whose recipients are just being fixed, or a proof, is none of them. */
  readonly campaigns: readonly CampaignInRule[];
  readonly segments: readonly SegmentInRule[];
  /** `YYYY-MM-DD` in the office's time zone. */
  readonly today: string;
  readonly timeZone: string;
}

/** Live ones follow their rule; fixed ones are a list of people. */
export const segmentKinds = ['live', 'fixed'] as const;
export type SegmentKind = (typeof segmentKinds)[number];

/** What became of one campaign's letter to one person. Times in milliseconds since 1970. */
export interface LetterFact {
  readonly campaign: number;
  /** When it was first tried; null where it was not. */
  readonly sent: number | null;
  /** Accepted, and not come back since. */
  readonly delivered: boolean;
  /** First opened, clicked, answered and so on, by a person. */
  readonly opened: number | null;
  readonly clicked: number | null;
  readonly bounced: number | null;
  readonly replied: number | null;
  readonly left: number | null;
  readonly machineOpened: boolean;
  readonly machineClicked: boolean;
  /** The numbers of the links that were clicked. */
  readonly links: readonly number[];
  readonly machineLinks: readonly number[];
}

/** Degrees, WGS 84. */
export interface Position {
  readonly lat: number;
  readonly lon: number;
}

/** What can be known of one person, as rules see them. Each is loaded only where a condition asks for it. */
export interface Facts {
  /** By field. Text as given; days as `YYYY-MM-DD`. */
  readonly values: Readonly<Record<string, FieldValue>>;
  readonly tags: ReadonlySet<number>;
  /** When each tag was put on last, as far as that is known, in milliseconds since 1970. */
  readonly tagPutOn: ReadonlyMap<number, number>;
  readonly standing: Standing;
  /** Why the address is on do not mail, and the day since when. */
  readonly doNotMail: { readonly reason: DoNotMailReason; readonly on: string } | null;
  readonly droppedTopics: ReadonlySet<number>;
  /** The rating now, a day ago and so on; null where there was none. */
  readonly ratingCourse: readonly (number | null)[];
  /** The letters that were meant for them, of any campaign. */
  readonly letters: readonly LetterFact[];
  /** In milliseconds since 1970. */
  readonly moments: { readonly cameIn: number; readonly changed: number };
  readonly position: Position | null;
  readonly pool: number;
  /** The fixed segments that list them. */
  readonly listedIn: ReadonlySet<number>;
}
export type FactName = keyof Facts;

export interface Phrase {
  readonly text: string;
  readonly strong?: boolean;
  /** Position of the condition the phrase comes from, e.g. `0.2`; of a group's own words, the group's. */
  readonly path?: string;
  /** It begins a line, indented so many steps: groups of several stand apart. */
  readonly breaks?: true;
  readonly depth?: number;
}

export interface ConditionKind<C, Need extends FactName> {
  /** The facts that `holds` looks at. */
  readonly needs: (condition: C, context: RuleContext) => readonly Need[];
  /** Reads stored or received JSON; what is named must exist, what is missing may come later. */
  readonly parse: (raw: Record<string, unknown>, context: RuleContext) => Result<C, string>;
  /** An unfinished condition is kept and shown, but sifts nobody and blocks sending. */
  readonly finished: (condition: C, context: RuleContext) => boolean;
  /**
   * Whether what it names has lost its meaning: a segment that can't be asked, a choice that is none any more. It is not
   * finished either; but where nobody knows what was meant, a rule finds nobody rather than too many.
   */
  readonly lost?: (condition: C, context: RuleContext) => boolean;
  /** How many conditions stand behind it, in other segments. */
  readonly reaches?: (condition: C, context: RuleContext) => number;
  /** How many looks at a contact it takes; usually one. */
  readonly weight: (condition: C, context: RuleContext) => number;
  readonly compile: (condition: C, context: RuleContext) => Fragment;
  /** The same for one person. */
  readonly holds: (condition: C, facts: Pick<Facts, Need>, context: RuleContext) => boolean;
  /** What was looked at in one person, in a few words: “opened on 3 March 2026”. */
  readonly saw: (condition: C, facts: Pick<Facts, Need>, context: RuleContext) => string;
  /** A clause that follows “people”, such as “tagged *member*”. */
  readonly words: (condition: C, context: RuleContext) => readonly Phrase[];
}

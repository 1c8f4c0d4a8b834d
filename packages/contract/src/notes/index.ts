import {
  noteKinds,
  parseDue,
  parseNote,
  parseTaskText,
  taskKinds,
  type NoteKind,
  type TaskKind,
} from '@palabra/core/notes';
import type { RichText } from '@palabra/core/letters';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';
import { PeopleSelection } from '../contacts/selection.js';
import { MAX_ID, Parsed, ParsedInto, type Moment } from '../wire/index.js';

export class NoteRequest {
  @IsIn(noteKinds, { message: 'A note is a note, of a call, or of a meeting.' }) kind!: NoteKind;
  @ParsedInto(parseNote) text!: RichText;
  @IsBoolean() pinned!: boolean;
  /** Colleagues who find it on their desk, by their account. */
  @IsArray() @ArrayMaxSize(50) @IsInt({ each: true }) tell!: number[];
}

export class NoteChangeRequest extends NoteRequest {
  @IsInt() version!: number;
}

export interface Colleague {
  readonly id: number;
  readonly name: string;
}

export interface NoteReply {
  readonly id: number;
  readonly version: number;
  readonly kind: NoteKind;
  readonly text: RichText;
  readonly at: Moment;
  readonly by: Colleague;
  readonly pinned: boolean;
  readonly told: readonly Colleague[];
  readonly mayChange: boolean;
}

class TaskParts {
  @IsIn(taskKinds, { message: 'A task is to call, to write, to meet or something else.' })
  kind!: TaskKind;
  @ParsedInto(parseTaskText) text!: string;
  /** `YYYY-MM-DD`, or null. */
  @Parsed(parseDue) due!: string | null;
  /** Whether a mail reminds of it on the morning of the day. */
  @IsBoolean() remind!: boolean;
}

export class TaskRequest extends TaskParts {
  /** An account. */
  @IsInt() @Min(1) @Max(MAX_ID) assignee!: number;
}

export class TaskChangeRequest extends TaskRequest {
  @IsInt() version!: number;
}

export class TaskDoneRequest {
  @IsBoolean() done!: boolean;
}

class TaskForEach extends TaskParts {
  /** An account; without it, it is for the owner of each. */
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) assignee?: number;
}

/** A task for each of some people. */
export class TasksRequest {
  @IsObject({ message: 'Say which people are meant.' })
  @ValidateNested()
  @Type(() => PeopleSelection)
  people!: PeopleSelection;
  @IsObject({ message: 'Say what is to be done.' })
  @ValidateNested()
  @Type(() => TaskForEach)
  task!: TaskForEach;
}

export class TasksQuery {
  @IsIn(['mine', 'all'], { message: 'Tasks are one’s own, or all.' }) whose!: 'mine' | 'all';
  @IsIn(['open', 'done'], { message: 'Tasks are open or done.' }) state!: 'open' | 'done';
  /** Where the page before ended. */
  @IsOptional()
  @IsString()
  @Matches(/^[0-9TZ:.-]{4,30} \d{1,10}$/, {
    message: 'This part of the list can’t be found. Go back to the first one.',
  })
  after?: string;
}

export interface TaskReply {
  readonly id: number;
  readonly version: number;
  readonly person: {
    readonly id: number;
    readonly givenName: string;
    readonly familyName: string;
    readonly address: string | null;
    readonly phone: string | null;
  };
  readonly kind: TaskKind;
  readonly text: string;
  readonly due: string | null;
  readonly assignee: Colleague & { readonly isClosed: boolean };
  readonly madeBy: string;
  readonly remind: boolean;
  readonly doneAt: Moment | null;
  readonly doneBy: string | null;
  readonly mayChange: boolean;
}

export interface TasksPage {
  readonly tasks: readonly TaskReply[];
  readonly after: string | null;
}

/** How one's own, or all, open tasks stand to today. */
export interface TaskCounts {
  readonly overdue: number;
  readonly today: number;
  readonly later: number;
}

export interface TasksMade {
  readonly batch: number;
  readonly count: number;
  /** People whom the assignee does not see: none was made for them. */
  readonly leftOut: number;
}

/** What is kept in sight over a person's timeline. */
export interface KeptReply {
  readonly pinned: readonly NoteReply[];
  readonly tasks: readonly TaskReply[];
}

/** A note in which a colleague was told of a person. */
export interface ToldReply {
  readonly note: NoteReply;
  readonly person: TaskReply['person'];
}

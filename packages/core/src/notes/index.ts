// What somebody of the office wrote down about a person, and what somebody is to do for one.
import { fail, ok, type Id, type Result } from '../kernel/index.js';
import { Refusal, richText, textFields, type RichText, type TextNode } from '../letters/text.js';
import { oneLine } from '../contacts/text.js';
import { isDay } from '../office/index.js';

export type NoteId = Id<'Note'>;
export type TaskId = Id<'Task'>;
export type TaskBatchId = Id<'TaskBatch'>;

export const noteKinds = ['note', 'call', 'meeting'] as const;
export type NoteKind = (typeof noteKinds)[number];
/** Whether somebody had to do with the person: it is the last contact then. */
export const isContact = (kind: NoteKind): boolean => kind !== 'note';

export const taskKinds = ['call', 'write', 'meet', 'other'] as const;
export type TaskKind = (typeof taskKinds)[number];
/** What one does: “call Maud Ash”. */
export const taskWords: Readonly<Record<TaskKind, string>> = {
  call: 'call',
  write: 'write to',
  meet: 'meet',
  other: 'see to',
};

export const NOTE_LIMITS = {
  /** Signs. */
  note: 20_000,
  task: 500,
  /** People for whom a task each is made at once: a list that somebody could still work through. */
  forEach: 2000,
} as const;

const lengthOf = (nodes: readonly TextNode[]): number =>
  nodes.reduce(
    (sum, node) =>
      sum +
      (node.type === 'paragraph'
        ? (node.content ?? []).reduce(
            (length, inline) => length + (inline.type === 'text' ? inline.text.length : 1),
            1,
          )
        : node.content.reduce((length, item) => length + lengthOf(item.content), 0)),
    0,
  );

/** The words of a text, a line for each paragraph. */
export const plainText = (nodes: readonly TextNode[]): string =>
  nodes
    .map((node) =>
      node.type === 'paragraph'
        ? (node.content ?? [])
            .map((inline) => (inline.type === 'text' ? inline.text : '\n'))
            .join('')
        : node.content.map((item) => plainText(item.content)).join('\n'),
    )
    .join('\n');

/** Reads the text of a note: marks, lists and links, as in a letter, but nothing that is filled per reader. */
export function parseNote(raw: unknown): Result<RichText, string> {
  try {
    const text = richText(raw);
    if (textFields(text.content).length > 0)
      return fail('A note has no personal fields: it is about one person.');
    if (plainText(text.content).trim() === '') return fail('Write something down first.');
    const length = lengthOf(text.content);
    return length > NOTE_LIMITS.note
      ? fail(
          `A note has at most ${NOTE_LIMITS.note.toLocaleString('en')} signs, and this has ${length.toLocaleString('en')}. Keep what matters, or split it.`,
        )
      : ok(text);
  } catch (error) {
    if (error instanceof Refusal) return fail(error.message);
    throw error;
  }
}

/** Reads what is to be done; empty where its kind says all. */
export function parseTaskText(raw: unknown): Result<string, string> {
  if (typeof raw !== 'string') return fail('What is to be done is a text.');
  const text = oneLine(raw);
  return text.length > NOTE_LIMITS.task
    ? fail(`What is to be done has at most ${NOTE_LIMITS.task} signs. A note has room for more.`)
    : ok(text);
}

/** A day a task is due, or null for none. */
export const parseDue = (raw: unknown): Result<string | null, string> =>
  raw === null || (typeof raw === 'string' && /^[12]/.test(raw) && isDay(raw))
    ? ok(raw)
    : fail('A task is due on a day such as 2026-03-02, or on none.');

export type Dueness = 'overdue' | 'today' | 'later' | 'none';
export const dueness = (due: string | null, today: string): Dueness =>
  due === null ? 'none' : due < today ? 'overdue' : due === today ? 'today' : 'later';

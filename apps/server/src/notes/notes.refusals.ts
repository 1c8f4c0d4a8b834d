import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('notes', {
  'not-yours': {
    status: 422,
    words: 'Who wrote a note changes it, or a coordinator. Write one of your own.',
  },
  'not-your-task': {
    status: 422,
    words: 'Who made a task or is to do it changes it, or a coordinator.',
  },
  'closed-account': {
    status: 422,
    words: (name: string) => `${name} has left the office and does no tasks. Choose somebody else.`,
    at: 'assignee',
  },
  'no-such-colleague': {
    status: 422,
    words: 'This colleague is not there. Choose somebody else.',
    at: 'assignee',
  },
  'does-not-see-them': {
    status: 422,
    words: (name: string) =>
      `${name} does not see this person. Share the person first, or choose somebody else.`,
  },
  'too-many-tasks': {
    status: 422,
    words: (count: number, most: number) =>
      `That would be ${count.toLocaleString('en')} tasks, and ${most.toLocaleString('en')} are the most that are made at once. Narrow the list to whom somebody will really call.`,
  },
  'nobody-meant': { status: 422, words: 'There is nobody among them for whom a task can be made.' },
});

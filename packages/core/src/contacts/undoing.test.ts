// Whatever is taken back, made again, and in which order: in the end somebody is what the changes that hold say.
import fc from 'fast-check';
import { movesOf, type LoggedChange } from './undoing.js';

const keys = ['town', 'stage', 'tag_1', 'tag_2', 'deleted'];
type State = Record<string, unknown>;
const nobody: State = { town: null, stage: null, tag_1: false, tag_2: false, deleted: false };

/** What holds, said one after another from the beginning. */
function said(start: State, log: readonly LoggedChange[]): State {
  const state = { ...start };
  for (const { after, isUndone } of log) if (!isUndone) Object.assign(state, after);
  return state;
}

const change = fc.record({
  key: fc.constantFrom(...keys),
  value: fc.constantFrom('a', 'b', 'c', null),
  more: fc.constantFrom(...keys),
});
const valueFor = (key: string, value: string | null): unknown =>
  key.startsWith('tag') || key === 'deleted' ? value === 'a' || value === 'b' : value;

it('ends where the log says, in any order of taking back and making again', () => {
  fc.assert(
    fc.property(
      fc.array(change, { minLength: 1, maxLength: 8 }),
      fc.array(fc.nat(), { maxLength: 24 }),
      (changes, turns) => {
        let state: State = { ...nobody };
        let log: LoggedChange[] = changes.map(({ key, value, more }, at) => {
          const after = {
            [key]: valueFor(key, value),
            ...(at % 2 ? { [more]: valueFor(more, value) } : {}),
          };
          const before = Object.fromEntries(Object.keys(after).map((one) => [one, state[one]]));
          state = { ...state, ...after };
          return { set: at + 1, before, after, isUndone: false };
        });
        for (const turn of turns) {
          const at = turn % log.length;
          const one = log[at];
          if (!one) continue;
          for (const { key, from, to } of movesOf(one, log, one.isUndone)) {
            expect(state[key] ?? null).toEqual(from);
            state = { ...state, [key]: to };
          }
          log = log.with(at, { ...one, isUndone: !one.isUndone });
          expect(state).toEqual(said(nobody, log));
        }
      },
    ),
    { numRuns: 500 },
  );
});

const came: LoggedChange = { set: 1, before: null, after: { tag_1: true }, isUndone: false };
const town = (set: number, was: string, is: string, isUndone = false): LoggedChange => ({
  set,
  before: { town: was },
  after: { town: is },
  isUndone,
});

it.each<[string, LoggedChange, LoggedChange[], boolean, object[]]>([
  [
    'somebody who came in goes, with their tags',
    came,
    [came],
    false,
    [
      { key: 'tag_1', from: true, to: false },
      { key: 'deleted', from: false, to: true },
    ],
  ],
  [
    'who was deleted since stays so',
    came,
    [
      came,
      {
        set: 2,
        before: { deleted: false, tag_1: true },
        after: { deleted: true, tag_1: false },
        isUndone: false,
      },
    ],
    false,
    [],
  ],
  [
    'a deletion taken back brings nobody back whose coming in was taken back',
    { set: 2, before: { deleted: false }, after: { deleted: true }, isUndone: false },
    [
      { ...came, isUndone: true },
      { set: 2, before: { deleted: false }, after: { deleted: true }, isUndone: false },
    ],
    false,
    [{ key: 'deleted', from: true, to: true }],
  ],
  [
    'what a later change says stays',
    town(1, 'x', 'y'),
    [town(1, 'x', 'y'), town(2, 'y', 'z')],
    false,
    [],
  ],
  [
    'the later one leads back to before the earlier, which is undone',
    town(2, 'y', 'z'),
    [town(1, 'x', 'y', true), town(2, 'y', 'z')],
    false,
    [{ key: 'town', from: 'z', to: 'x' }],
  ],
  [
    'made again, it is what it said',
    town(1, 'x', 'y', true),
    [town(1, 'x', 'y', true), town(2, 'y', 'z', true)],
    true,
    [{ key: 'town', from: 'x', to: 'y' }],
  ],
])('%s', (_, changed, log, holds, moves) => expect(movesOf(changed, log, holds)).toEqual(moves));

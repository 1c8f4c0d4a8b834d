// Undo and redo of a letter.
import { emptyLetter, type LetterContent } from '@palabra/core/letters';
import fc from 'fast-check';
import { beginHistory, step } from './history.js';

const letter = (name: string): LetterContent => ({ ...emptyLetter('footer'), subject: [name] });
const change = (name: string, place: string, at: number) => ({
  kind: 'change' as const,
  content: letter(name),
  place,
  at,
});
const subject = ({ present }: { present: LetterContent }): unknown => present.subject[0];

it('counts typing in one place as one step until there is a pause', () => {
  let history = beginHistory(letter('a'));
  history = step(history, change('ab', 'subject', 1000));
  history = step(history, change('abc', 'subject', 1500));
  history = step(history, change('abcd', 'subject', 3000));
  history = step(history, change('abcde', 'preview', 3100));
  expect(history.past).toHaveLength(3);
  history = step(history, { kind: 'undo' });
  expect(subject(history)).toBe('abcd');
  history = step(history, { kind: 'undo' });
  expect(subject(history)).toBe('abc');
  history = step(history, { kind: 'undo' });
  expect(subject(history)).toBe('a');
  expect(step(history, { kind: 'undo' })).toBe(history);
});

it('starts a new step after an undo, and forgets what could have been done again', () => {
  let history = step(beginHistory(letter('a')), change('ab', 'subject', 1000));
  history = step(history, { kind: 'undo' });
  expect(history.future).toHaveLength(1);
  history = step(history, change('ax', 'subject', 1100));
  expect([history.future, history.past.length]).toEqual([[], 1]);
});

it('has no history of a state that came from elsewhere', () => {
  const history = step(step(beginHistory(letter('a')), change('b', '', 1)), {
    kind: 'replace',
    content: letter('theirs'),
  });
  expect([subject(history), history.past, history.future]).toEqual(['theirs', [], []]);
});

it('comes back to where it was by as many undos as redos, whatever happened', () => {
  const action = fc.oneof(
    fc
      .record({
        kind: fc.constant('change' as const),
        name: fc.string(),
        place: fc.constantFrom('', 'subject', 'block'),
        at: fc.nat(5000),
      })
      .map(({ name, place, at }) => change(name, place, at)),
    fc.constantFrom({ kind: 'undo' as const }, { kind: 'redo' as const }),
  );
  fc.assert(
    fc.property(fc.array(action, { maxLength: 30 }), (actions) => {
      const history = actions.reduce(step, beginHistory(letter('first')));
      const back = history.past.reduce((one) => step(one, { kind: 'undo' }), history);
      expect(back.past).toEqual([]);
      const forth = history.past.reduce((one) => step(one, { kind: 'redo' }), back);
      expect(forth.present).toBe(history.present);
      expect(forth.past).toEqual(history.past);
    }),
  );
});

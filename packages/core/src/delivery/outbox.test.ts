import {
  afterHandingOver,
  mailKinds,
  officeMails,
  outboxStates,
  outboxSteps,
  type HandedOver,
  type OutboxState,
} from './index.js';

const answered = (answer: Extract<HandedOver, { kind: 'answered' }>['answer']): HandedOver => ({
  kind: 'answered',
  answer,
});

describe('a mail of the office', () => {
  it.each<[string, HandedOver, string]>([
    ['was taken', answered({ kind: 'accepted' }), 'accepted'],
    ['was refused for good', answered({ kind: 'bounced', bounce: 'hard' }), 'refused'],
    ['was put off', answered({ kind: 'deferred' }), 'put off'],
    ['never reached the server', { kind: 'not taken' }, 'put off'],
    ['may have arrived', { kind: 'lost' }, 'lost'],
  ])('that %s: %s', (_, end, step) => expect(afterHandingOver(end, 1).step).toBe(step));

  it('is tried again after growing pauses over most of a day, then given up', () => {
    const pauses: number[] = [];
    for (let tries = 1; ; tries++) {
      const { step, pause } = afterHandingOver({ kind: 'not taken' }, tries);
      if (pause === undefined) {
        expect(step).toBe('given up');
        break;
      }
      pauses.push(pause);
    }
    expect(pauses).toEqual([...pauses].sort((a, b) => a - b));
    const hours = pauses.reduce((sum, pause) => sum + pause, 0) / 3_600_000;
    expect(hours).toBeGreaterThan(12);
    expect(hours).toBeLessThan(24);
  });

  it('goes out again from no state in which it may have arrived, unless somebody says so', () => {
    const reached = new Set<OutboxState>(['uncertain']);
    for (let grew = true; grew;) {
      const before = reached.size;
      for (const [step, { from, to }] of Object.entries(outboxSteps))
        if (step !== 'send again' && from.some((state) => reached.has(state))) reached.add(to);
      grew = reached.size > before;
    }
    expect([...reached].sort()).toEqual(['left', 'uncertain']);
  });

  it('can reach every state there is', () => {
    const targets = new Set<string>(Object.values(outboxSteps).map(({ to }) => to));
    expect([...targets].sort()).toEqual([...outboxStates].sort());
  });

  it.each(mailKinds)('of the kind “%s” names its office and carries its link', (kind) => {
    const office = { name: 'Quillwater Garden', postalAddress: '3 Orchard Walk' };
    const facts = {
      url: 'https://office.example/yours/x',
      address: 'a…@example.com',
      tasks: ['call Maud Ash'],
      all: 3,
    };
    const { subject, text } = officeMails[kind](facts, office);
    expect(subject).not.toBe('');
    expect(text).toContain(facts.url);
    expect(text.trim().endsWith('Quillwater Garden\n3 Orchard Walk')).toBe(true);
  });
});

// Messages come in any pieces; names of different connections never meet.
import fc from 'fast-check';
import {
  backendMessages,
  closeStatement,
  errorResponse,
  greeting,
  message,
  MessageReader,
  parseText,
  query,
  queryText,
  readyForQuery,
  startupParameters,
  withPrefix,
  type Message,
} from './wire.js';

const text = fc.string({ unit: 'grapheme' }).map((one) => one.replaceAll('\0', ''));
const typed = fc
  .tuple(fc.constantFrom('Q', 'P', 'B', 'D', 'E', 'S', 'd', 'X'), fc.uint8Array({ maxLength: 300 }))
  .map(([type, body]) => message(type, Buffer.from(body)));

function readAll(reader: MessageReader): Message[] {
  const found: Message[] = [];
  for (let next = reader.next(); next; next = reader.next()) found.push(next);
  return found;
}

it('gives back the messages of a stream, however it was cut', () => {
  fc.assert(
    fc.property(
      fc.array(typed, { maxLength: 8 }),
      fc.array(fc.nat(40), { maxLength: 60 }),
      (messages, cuts) => {
        const reader = new MessageReader();
        reader.started = true;
        const stream = Buffer.concat(messages);
        const found: Message[] = [];
        let at = 0;
        for (const cut of [...cuts, stream.length]) {
          reader.push(Buffer.from(stream.subarray(at, at + cut)));
          at += cut;
          found.push(...readAll(reader));
        }
        expect(found.map(({ bytes }) => bytes.toString('hex'))).toEqual(
          messages.map((one) => one.toString('hex')),
        );
      },
    ),
  );
});

it.each([
  ['too short', [0x51, 0, 0, 0, 3]],
  ['negative', [0x51, 0xff, 0xff, 0xff, 0xff]],
  ['beyond all bounds', [0x51, 0x7f, 0xff, 0xff, 0xff]],
])('refuses a length that is %s', (_, bytes) => {
  const reader = new MessageReader();
  reader.started = true;
  reader.push(Buffer.from(bytes));
  expect(() => reader.next()).toThrow('impossible message length');
});

it('reads the parameters a client opens with', () => {
  const body = Buffer.from('\0\x03\0\0user\0postgres\0application_name\0palabra\0\0', 'latin1');
  const head = Buffer.alloc(4);
  head.writeInt32BE(body.length + 4);
  const reader = new MessageReader();
  reader.push(Buffer.concat([head, body]));
  const [first] = readAll(reader);
  expect([...startupParameters(first?.bytes ?? Buffer.alloc(0))]).toEqual([
    ['user', 'postgres'],
    ['application_name', 'palabra'],
  ]);
});

it('reads the text of queries', () => {
  fc.assert(
    fc.property(text, text, (sql, name) => {
      expect(queryText(query(sql))).toBe(sql);
      expect(parseText(message('P', Buffer.from(`${name}\0${sql}\0\0\0`)))).toBe(sql);
    }),
  );
});

describe('names', () => {
  const put = (
    type: string,
    body: string,
    named = new Set<string>(),
  ): { body: string; named: string[] } => {
    const out = withPrefix(
      { type, bytes: message(type, Buffer.from(body, 'latin1')) },
      'g7_',
      named,
    );
    expect(out.readInt32BE(1)).toBe(out.length - 1);
    return { body: out.subarray(5).toString('latin1'), named: [...named] };
  };
  it.each([
    ['a named statement', 'P', 'one\0select 1\0\0\0', 'g7_one\0select 1\0\0\0', ['g7_one']],
    ['an unnamed one', 'P', '\0select 1\0\0\0', '\0select 1\0\0\0', []],
    ['a binding of both', 'B', 'portal\0one\0rest', 'g7_portal\0g7_one\0rest', []],
    ['a binding of an unnamed portal', 'B', '\0one\0rest', '\0g7_one\0rest', []],
    ['a description', 'D', 'Sone\0', 'Sg7_one\0', []],
    ['an execution', 'E', 'portal\0\0\0\0\0', 'g7_portal\0\0\0\0\0', []],
    ['an unnamed execution', 'E', '\0\0\0\0\0', '\0\0\0\0\0', []],
    ['a sync', 'S', '', '', []],
  ])('%s', (_, type, before, after, named) =>
    expect(put(type, before)).toEqual({ body: after, named }),
  );

  it('forgets a statement that its client closes', () => {
    expect(put('C', 'Sone\0', new Set(['g7_one', 'g7_two'])).named).toEqual(['g7_two']);
    expect(closeStatement('g7_one').subarray(5).toString()).toBe('Sg7_one\0');
  });

  it('keeps two connections apart whatever they call their statements', () => {
    fc.assert(
      fc.property(text, text, fc.nat(999), fc.nat(999), (one, other, first, second) => {
        const named = (name: string, id: number): string =>
          withPrefix(
            { type: 'D', bytes: message('D', Buffer.from(`S${name}\0`)) },
            `g${id}_`,
            new Set(),
          ).toString('hex');
        if (one !== '' && other !== '' && first !== second)
          expect(named(one, first)).not.toBe(named(other, second));
      }),
    );
  });
});

it('walks over what the database answers, and notices half a message', () => {
  const answer = Buffer.concat([
    greeting(4),
    errorResponse('ERROR', '22012', 'division by zero'),
    readyForQuery('E'),
  ]);
  const types = [...backendMessages(answer)].map(({ type }) => type).join('');
  expect(types).toBe('RSSSSSSSKZEZ'.replace('SSSSSSS', types.slice(1, types.indexOf('K'))));
  expect(types.endsWith('ZEZ')).toBe(true);
  expect(() => [...backendMessages(answer.subarray(0, -1))]).toThrow('half a message');
});

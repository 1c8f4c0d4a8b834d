import { PassThrough } from 'node:stream';
import { readConfig, ConfigError } from './config.js';
import { isConnectionLost } from './database.js';
import { safeError } from './log.js';
import { refuseShape } from './body.js';

describe('the environment', () => {
  it('has sensible defaults', () =>
    expect(readConfig({})).toMatchObject({
      port: 4600,
      host: '127.0.0.1',
      publicUrl: 'http://localhost:4600',
      pace: 1,
    }));
  it.each([
    [{ PORT: 'x' }, 'PORT must be a whole number'],
    [{ PORT: '70000' }, 'PORT must be'],
    [{ SMTP_URL: 'http://x' }, 'SMTP_URL must begin with smtp:// or smtps://'],
    [{ PUBLIC_URL: 'letters.example.com' }, 'PUBLIC_URL must begin with'],
    [{ DATABASE_URL: 'mysql://x' }, 'DATABASE_URL must begin with'],
  ])('%j is refused with a sentence', (env, message) => {
    expect(() => readConfig(env)).toThrow(ConfigError);
    expect(() => readConfig(env)).toThrow(message);
  });
});

describe('logs', () => {
  it('never quote a statement or its values', () => {
    const error = new Error('Failed query: insert into contacts ... params: ada@example.com', {
      cause: Object.assign(new Error('duplicate key: ada@example.com'), { code: '23505' }),
    });
    const logged = JSON.stringify(safeError(error));
    expect(logged).not.toContain('ada@example.com');
    expect(logged).toContain('23505');
  });
  it('say what else went wrong', () =>
    expect(safeError(new TypeError('x is not a function'))).toMatchObject({
      name: 'TypeError',
      message: 'x is not a function',
    }));
});

describe('the shape of a request', () => {
  const check = (text: string) => () => refuseShape(Buffer.from(text));
  it('is counted outside of texts only', () => {
    expect(check(JSON.stringify({ text: '[{'.repeat(200) + '\\"[' }))).not.toThrow();
    expect(check('['.repeat(64) + ']'.repeat(64))).not.toThrow();
    expect(check('['.repeat(65))).toThrow('nested deeper');
    expect(check(`[${'[{}],'.repeat(5000)}]`)).not.toThrow();
  });
  it('has an end in every direction', () => {
    const object = (keys: number): string =>
      `{${Array.from({ length: keys }, (_, at) => `"a,{${at}":1`).join(',')}}`;
    expect(check(object(500))).not.toThrow();
    expect(check(object(501))).toThrow('more than 500 fields');
    expect(check(`[${object(501)}]`)).toThrow('more than 500 fields');
    expect(check(`[${'1,'.repeat(9999)}1]`)).not.toThrow();
    expect(check(`[${'1,'.repeat(25_000)}1]`)).toThrow('more than 25000 entries');
    expect(check(`[${'[[],[],[],[],[],[],[]],'.repeat(9000)}1]`)).toThrow('more than 60000 parts');
  });
});

it('knows a lost connection from a wrong statement, however deep it is wrapped', () => {
  expect(
    isConnectionLost(
      new Error('x', { cause: Object.assign(new Error('y'), { code: 'ECONNRESET' }) }),
    ),
  ).toBe(true);
  expect(isConnectionLost(new Error('Connection terminated unexpectedly'))).toBe(true);
  expect(isConnectionLost(Object.assign(new Error('duplicate key'), { code: '23505' }))).toBe(
    false,
  );
  expect(isConnectionLost(new PassThrough())).toBe(false);
});

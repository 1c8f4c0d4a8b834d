import { idOf } from '../kernel/index.js';
import { happeningsOf, markedTag, tagMark, type Happening } from './index.js';

type Remembered = Record<string, unknown>;

describe('what stays of a change', () => {
  it.each<[string, Remembered | null, Remembered, readonly Happening[]]>([
    ['nothing', {}, {}, []],
    [
      'somebody who comes in, with their tags and without their fields',
      null,
      { town: 'Millrace', address: 'a@example.com', tag_4: true },
      [
        { kind: 'came in', which: '' },
        { kind: 'tag put on', which: '4' },
      ],
    ],
    [
      'tags put on and taken off',
      { tag_4: false, tag_5: true },
      { tag_4: true, tag_5: false },
      [
        { kind: 'tag put on', which: '4' },
        { kind: 'tag taken off', which: '5' },
      ],
    ],
    [
      'kinds of their own',
      { stage: 'a', owner: '1', pool: 1, address: null },
      { stage: 'b', owner: '2', pool: 2, address: 'a@example.com' },
      [
        { kind: 'stage', which: '' },
        { kind: 'owner', which: '' },
        { kind: 'pool', which: '' },
        { kind: 'address', which: '' },
      ],
    ],
    [
      'permission once, whatever of it changed',
      { permission: 'unknown', permission_at: null, permission_source: null },
      { permission: 'asked', permission_at: '2026-01-01', permission_source: 'form' },
      [{ kind: 'permission', which: '' }],
    ],
    [
      'which field',
      { town: 'a', own_7: 1 },
      { town: 'b', own_7: 2 },
      [
        { kind: 'changed', which: 'town' },
        { kind: 'changed', which: 'own_7' },
      ],
    ],
    [
      'going and coming back with the tags',
      { deleted: false, tag_4: true },
      { deleted: true, tag_4: false },
      [
        { kind: 'deleted', which: '' },
        { kind: 'tag taken off', which: '4' },
      ],
    ],
    ['coming back', { deleted: true }, { deleted: false }, [{ kind: 'brought back', which: '' }]],
    [
      'do not mail',
      { do_not_mail: false },
      { do_not_mail: true },
      [{ kind: 'put on do not mail', which: '' }],
    ],
  ])('is %s', (_, before, after, expected) =>
    expect(happeningsOf(before, after)).toEqual(expected),
  );

  it('knows tags by their mark, and nothing else', () => {
    expect(markedTag(tagMark(idOf(12)))).toBe(12);
    for (const key of ['tag_', 'tag_0', 'tag_1x', 'own_1', 'tag_12345678901', 'xtag_1'])
      expect(markedTag(key)).toBeUndefined();
  });
});

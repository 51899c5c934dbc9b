import { describe, expect, it } from 'vitest';
import { headerLinesProblem, headersOf } from '@/core/settings/header-lines';
import { isKept, KEPT } from '@/core/settings/kept';

describe('lines of headers', () => {
  it('are names in small letters, and values without the space around them', () => {
    expect(headersOf('X-Pier:  north pier \r\n  Accept :a: b\nno header\n: none\nEmpty:')).toEqual({
      'x-pier': 'north pier',
      accept: 'a: b',
      empty: '',
    });
    expect(headersOf('two words: x')).toEqual({});
    expect(headersOf('')).toEqual({});
  });

  it.each(['X-Pier: north', ' X-Pier : north', "!#$%&'*+.^_`|~0-9aZ: x", 'A:\r\n\nB: ö\r', ''])(
    'are taken: %j',
    (lines) => expect(headerLinesProblem(lines)).toBeNull(),
  );

  it.each(['north', 'two words: x', ': x', 'A: x\u0000y', 'A: x\ty', 'Ä: x', '(A): x'])(
    'are refused with the line that is none: %j',
    (line) => {
      const said = `Expected one “Name: value” a line, got “${line}”.`;
      expect(headerLinesProblem(line)).toBe(said);
      expect(headerLinesProblem(`A: b\n  ${line} `)).toBe(said);
    },
  );

  it('are refused with no more of a line than tells it apart', () => {
    expect(headerLinesProblem('x'.repeat(100))).toBe(
      `Expected one “Name: value” a line, got “${'x'.repeat(80)}”.`,
    );
  });
});

describe('a secret that stays', () => {
  it('is said so in one way', () => {
    expect(isKept(KEPT)).toBe(true);
    for (const other of [null, undefined, true, 'kept', {}, { kept: 1 }, { kept: false }, [true]]) {
      expect(isKept(other)).toBe(false);
    }
  });
});

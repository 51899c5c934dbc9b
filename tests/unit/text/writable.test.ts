import { describe, expect, it } from 'vitest';
import { unwritableIn, writable } from '@/core/text/writable';

describe('what can be kept in a text', () => {
  it.each([
    ['\0', 'U+0000 at character 1'],
    ['tide\u0008', 'U+0008 at character 5'],
    ['\u000b', 'U+000B at character 1'],
    ['\u000c', 'U+000C at character 1'],
    ['\u000e', 'U+000E at character 1'],
    ['a\u001b[31m', 'U+001B at character 2'],
    ['\u001f', 'U+001F at character 1'],
    ['\u007f', 'U+007F at character 1'],
    ['pier \u202etxt.exe', 'U+202E at character 6'],
    ['\u202a', 'U+202A at character 1'],
    ['\ud800', 'U+D800 at character 1'],
    ['\udc00\ud800', 'U+DC00 at character 1'],
    ['\ufffe', 'U+FFFE at character 1'],
    ['\uffff', 'U+FFFF at character 1'],
  ])('is not %j', (text, found) => {
    expect(unwritableIn(text)).toBe(found);
    expect(unwritableIn(writable(text))).toBeNull();
    expect(writable(text)).toContain('\ufffd');
  });

  it.each(['', 'São Tomé', 'a\tb\r\nc', '⛴️ 👩‍👧', '\u200eעברית\u200f', '\u2066x\u2069', '\u2029', '~\u0080'])(
    'is %j, as it is',
    (text) => {
      expect(unwritableIn(text)).toBeNull();
      expect(writable(text)).toBe(text);
    },
  );

  it('has a mark for each that could not', () => {
    expect(writable('a\u0001b\u0002\ud800c')).toBe('a\ufffdb\ufffd\ufffdc');
  });
});

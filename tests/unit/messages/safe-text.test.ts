import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutTo, forHtml, forMarkdown, inPieces, oneLine, withoutCalls } from '@/core/messages/safe-text';
import { colourOf, signOf, toneOf, type Tone } from '@/core/messages/tone';
import type { SaidEvent } from '@/core/messages/said';
import { tries } from '../tries';

describe('a text from anywhere', () => {
  it.each([
    ['Kiosk\r\nPRIVMSG #crew :forged', 'Kiosk PRIVMSG #crew :forged'],
    ['a\u0000b\u0007c', 'a b c'],
    ['gnp.\u202eexe', 'gnp.exe'],
    ['two\u2028lines', 'twolines'],
    ['  much   room ', 'much room'],
    ['family 👨‍👩‍👧', 'family 👨‍👩‍👧'],
  ])('%j is one line', (text, line) => {
    expect(oneLine(text)).toBe(line);
  });

  it.each([
    ['@everyone', '@\u2060everyone'],
    ['@Here and @ROOM', '@\u2060Here and @\u2060ROOM'],
    ['ines@ternferry.test', 'ines@ternferry.test'],
    ['@hereby', '@hereby'],
    ['<!channel> <@U1> <#C1>', '<\u2060!channel> <\u2060@U1> <\u2060#C1>'],
    ['5 < 6', '5 < 6'],
  ])('%j calls nobody', (text, safe) => {
    expect(withoutCalls(text)).toBe(safe);
  });

  it('is shown as it is by Markdown and HTML', () => {
    expect(forMarkdown('# **a** [b](c) `d` ~e~ |f| <g> \\')).toBe(
      '\\# \\*\\*a\\*\\* \\[b\\]\\(c\\) \\`d\\` \\~e\\~ \\|f\\| \\<g\\> \\\\',
    );
    expect(forHtml('<a href="x">&</a>')).toBe('&lt;a href=&quot;x&quot;&gt;&amp;&lt;/a&gt;');
  });

  it('is cut in whole characters', () => {
    expect(cutTo('abc', 3)).toBe('abc');
    expect(cutTo('abcd', 3)).toBe('ab…');
    expect(cutTo('a😀bc', 3)).toBe('a…');
  });

  it('is cut into pieces between words, none longer than it may be, with nothing lost but blanks', () => {
    expect(inPieces('one two three', 8)).toEqual(['one two', 'three']);
    expect(inPieces('onetwothree', 4)).toEqual(['onet', 'woth', 'ree']);
    expect(inPieces('', 4)).toEqual([]);
    expect(inPieces('ää ää', 4)).toEqual(['ää', 'ää']);
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 200 }),
        fc.integer({ min: 40, max: 80 }),
        (text, most) => {
          const pieces = inPieces(text, most);
          for (const piece of pieces) expect(Buffer.byteLength(piece)).toBeLessThanOrEqual(most);
          expect(pieces.join('').replaceAll(' ', '')).toBe(text.replaceAll(' ', ''));
        },
      ),
      { numRuns: tries(200) },
    );
  });
});

describe('how bad it is', () => {
  const down = { kind: 'down' } as SaidEvent;
  const item = (over: unknown) => ({ over }) as never;
  it.each<[SaidEvent | null, Tone]>([
    [down, 'bad'],
    [{ kind: 'still-down' } as SaidEvent, 'bad'],
    [{ kind: 'also', items: [] }, 'bad'],
    [{ kind: 'several', because: 'burst', items: [item(null), item({})] }, 'bad'],
    [{ kind: 'several', because: 'hours', items: [item({})] }, 'fine'],
    [{ kind: 'warned' } as SaidEvent, 'hand'],
    [{ kind: 'unsteady', turns: 6, withinMs: 1 }, 'hand'],
    [{ kind: 'given-back', by: null }, 'hand'],
    [{ kind: 'recovered', began: 0, ended: 1 }, 'fine'],
    [{ kind: 'several-over', items: [] }, 'fine'],
    [{ kind: 'steady', since: 0 }, 'fine'],
    [{ kind: 'line', began: 0, ended: null }, 'bad'],
    [{ kind: 'line', began: 0, ended: 1 }, 'fine'],
    [{ kind: 'own', code: 'disk.full', detail: {}, began: 0, ended: null } as never, 'bad'],
    [{ kind: 'own', code: 'disk.full', detail: {}, began: 0, ended: 1 } as never, 'fine'],
    [{ kind: 'taken', by: 'Ines', until: null }, 'note'],
    [{ kind: 'test' }, 'note'],
    [null, 'note'],
  ])('%j is %s', (event, tone) => {
    expect(toneOf(event)).toBe(tone);
  });

  it('is told apart by colour and by shape', () => {
    const tones: Tone[] = ['bad', 'hand', 'fine', 'note'];
    expect(new Set(tones.map(colourOf)).size).toBe(4);
    expect(new Set(tones.map(signOf)).size).toBe(4);
    for (const tone of tones) expect(colourOf(tone)).toMatch(/^#[\da-f]{6}$/);
  });
});

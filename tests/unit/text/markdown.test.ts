import { describe, expect, it } from 'vitest';
import { plainMarkdown, renderMarkdown } from '@/core/text/markdown';
import { ownEntry } from '@/core/text/own-entry';
import { countOf } from '@/core/text/words';

describe('Markdown from the desk', () => {
  it('is text and links, whatever is written', () => {
    const html = renderMarkdown(
      '**a** <script>alert(1)</script> [x](javascript:alert(1)) ![i](http://x/y.png)',
    );
    expect(html).toContain('<strong>a</strong>');
    expect(html).not.toMatch(/<script|<img|href="javascript/);
    expect(renderMarkdown('[x](https://ternferry.test)')).toContain('<a href="https://ternferry.test">');
    // What looks like an address is no link by itself.
    expect(renderMarkdown('https://ternferry.test')).toBe('<p>https://ternferry.test</p>\n');
  });

  it('is plain words where marks mean nothing', () => {
    const text = '# Storm\n\nWe **look** at [it](https://x.test):\n\n- one\n- two `code`\n\nline\nbreak';
    expect(plainMarkdown(text)).toBe('Storm We look at it: one two code line break');
    expect(plainMarkdown('hard  \nbreak')).toBe('hard break');
    expect(plainMarkdown('```\nfenced\n```\n\n    indented\n\n> said')).toBe('fenced indented said');
    expect(plainMarkdown('a **b**c *d* <b>e</b>')).toBe('a bc d <b>e</b>');
  });
});

describe('words', () => {
  it('count', () => {
    expect([0, 1, 2].map((count) => countOf(count, 'outage'))).toEqual([
      'no outages',
      'one outage',
      '2 outages',
    ]);
  });

  it('are found in a record only where it holds them itself', () => {
    expect(ownEntry({ a: 1 }, 'a')).toBe(1);
    expect(ownEntry<unknown>({}, 'constructor')).toBeUndefined();
  });
});

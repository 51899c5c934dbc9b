import { describe, expect, it } from 'vitest';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { languageFor, readAsked, readBadge } from '@/server/site/asked';
import { fileFrom, hrefTo, nameOf, type SheetAddress } from '@/site/frame/place';
import { wayOf } from '@/site/parts/line';

const sheet = (path: string, query = '') => readAsked(path, new URLSearchParams(query));

describe('what is asked of a page', () => {
  it.each<[string, string, SheetAddress]>([
    ['', '', { sheet: 'page', days: 90 }],
    ['', 'days=7', { sheet: 'page', days: 7 }],
    ['', 'days=8', { sheet: 'page', days: 90 }],
    ['day/2026-11-25', '', { sheet: 'day', day: '2026-11-25' }],
    ['diary', '', { sheet: 'diary', month: null }],
    ['diary/2026-11', 'lang=xx', { sheet: 'diary', month: '2026-11' }],
    ['incident/12', '', { sheet: 'incident', id: 12 }],
  ])('%s?%s', (path, query, address) => {
    expect(sheet(path, query)).toEqual({ what: 'sheet', address, words: null, chosen: null });
  });

  it('takes a language that ships, and words for the diary alone', () => {
    expect(sheet('', 'lang=de&words=fog')).toMatchObject({ chosen: 'de', words: null });
    expect(sheet('diary', `words=%20fog%20`)).toMatchObject({ words: 'fog' });
    const long = sheet('diary', `words=${'x'.repeat(500)}`);
    expect(long?.what === 'sheet' && long.words).toHaveLength(100);
  });

  it.each([
    ...[
      'day',
      'day/',
      'day/2026-1-1',
      'day/2026-11-25/x',
      'incident/012',
      'incident/0',
      'incident/99999999999',
    ],
    ...['diary/november', '../watches', 'assets/', 'assets/../x', 'look.css', 'api', 'feed', '.', 'live/'],
  ])('knows nothing of %s', (path) => expect(sheet(path)).toBeNull());

  it('knows today and yesterday by name', () => {
    expect([sheet('day/today'), sheet('day/yesterday'), sheet('day/tomorrow')]).toEqual([
      { what: 'near', day: 'today' },
      { what: 'near', day: 'yesterday' },
      null,
    ]);
  });

  it('tells files from sheets', () => {
    expect(sheet('feed.atom')).toEqual({ what: 'file', file: 'feed.atom' });
    expect(sheet('assets/page-ABC.css')).toEqual({ what: 'asset', name: 'page-ABC.css' });
    expect(sheet('look-0a1b.css')).toEqual({ what: 'look', name: 'look-0a1b.css' });
    expect([sheet('live'), sheet('password')]).toEqual([{ what: 'live' }, { what: 'password' }]);
  });

  it.each([
    [undefined, 'pt', 'pt'],
    ['de', 'en', 'de'],
    ['de-CH, de;q=0.9, en;q=0.8', 'en', 'de'],
    ['nl, fr;q=0.5', 'en', 'fr'],
    ['nl', 'es', 'es'],
    ['*', 'es', 'es'],
    ['\u0000 ;;q=x', 'fr', 'fr'],
  ] as const)('speaks to %s, of %s pages, in %s', (asked, own, spoken) => {
    expect(languageFor(asked, own)).toBe(spoken);
  });

  it('speaks every language that ships to whoever reads it', () => {
    for (const code of LANGUAGE_CODES) expect(languageFor(code, 'en')).toBe(code);
  });
});

describe('links of a sheet', () => {
  const ADDRESSES: SheetAddress[] = [
    { sheet: 'page', days: 90 },
    { sheet: 'page', days: 7 },
    { sheet: 'day', day: '2026-11-25' },
    { sheet: 'diary', month: null },
    { sheet: 'diary', month: '2026-11' },
    { sheet: 'incident', id: 3 },
  ];
  const all = (root: string, filed: boolean, chosen: 'de' | null = null) =>
    ADDRESSES.map((address) => hrefTo({ root, filed, chosen, live: false }, address));

  it('go from where it stands, so that they hold behind any proxy', () => {
    const deep = ['../', '../?days=7', '../day/2026-11-25', '../diary', '../diary/2026-11', '../incident/3'];
    expect(all('../', false)).toEqual(deep);
    expect(all('./', false).slice(0, 3)).toEqual(['./', './?days=7', 'day/2026-11-25']);
    expect(all('./', false, 'de').slice(1, 3)).toEqual(['./?days=7&lang=de', 'day/2026-11-25?lang=de']);
  });

  it('name files in a folder', () => {
    expect(all('./', true, 'de')).toEqual([
      ...['index.html', '7-days.html', 'day/2026-11-25.html', 'diary.html', 'diary/2026-11.html'],
      'incident/3.html',
    ]);
    expect(nameOf({ sheet: 'page', days: 90 }, false)).toBe('');
    expect(fileFrom({ root: '../', chosen: null, filed: true, live: false }, 'feed.atom')).toBe(
      '../feed.atom',
    );
  });
});

describe('the way of a line', () => {
  it('is drawn to the scale of time, and trouble wide enough to be seen', () => {
    const range = { from: 0, to: 1_000_000 };
    const line = [
      { from: 0, to: 500_000, kind: 'running' as const },
      { from: 500_000, to: 500_001, kind: 'out' as const },
      { from: 500_001, to: 999_999, kind: 'running' as const },
      { from: 999_999, to: 1_000_000, kind: 'out' as const },
    ];
    expect(wayOf(line, 'running', range)).toBe('M0 12h500M500 12h500');
    expect(wayOf(line, 'out', range)).toBe('M500 12h8M992 12h8');
    expect(wayOf(line, 'slow', range)).toBe('');
  });
});

describe('the edges of what is asked for', () => {
  const badge = (query: string) => readBadge(new URLSearchParams(query)).wish;
  const read = (path: string, query = '') => readAsked(path, new URLSearchParams(query));

  it('are a ground of six digits and nothing beside them, and a size from one to four', () => {
    expect(badge('ground=0aB9fF').ground).toBe('#0aB9fF');
    for (const wrong of ['', 'abc', '12345', '1234567', '"/>123456', '123456"/>', 'gggggg']) {
      expect(badge(`ground=${encodeURIComponent(wrong)}`).ground).toBeNull();
    }
    expect(badge('').ground).toBeNull();
    const sizes = ['1', '1.5', '4', '0.9', '4.1', '-1', 'x', ''].map((size) => badge(`size=${size}`).size);
    expect(sizes).toEqual([1, 1.5, 4, 1, 1, 1, 1, 1]);
  });

  it('are days, months and incidents by their whole name', () => {
    expect(read('day/2026-11-25')).toMatchObject({ address: { sheet: 'day', day: '2026-11-25' } });
    expect(read('diary/2026-11')).toMatchObject({ address: { sheet: 'diary', month: '2026-11' } });
    expect(read('incident/7')).toMatchObject({ address: { sheet: 'incident', id: 7 } });
    for (const none of [
      'x/day/2026-11-25',
      'day/',
      'day/2026-11',
      'diary/2026-11-25',
      'incident/0',
      'incident/',
    ]) {
      expect(read(none)).toBeNull();
    }
    expect(read('xincident/7')).toBeNull();
  });

  it('are words for the diary alone', () => {
    expect(read('diary', 'words=+mast+')).toMatchObject({ words: 'mast' });
    expect(read('diary')).toMatchObject({ words: null });
    expect(read('', 'words=mast')).toMatchObject({ words: null });
  });
});

import { describe, expect, it } from 'vitest';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { pageSpeechOf } from '@/core/languages/page-speech';
import { contrastOf, readColour } from '@/core/pages/colour';
import { BADGE_SHOWS, badgeState, badgeWords, type BadgeFacts } from '@/core/pages/badge';
import { PUBLIC_KINDS, type PublicKind } from '@/core/pages/public-line';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { readAsked } from '@/server/site/asked';
import { badgeSvg, type BadgeWish } from '@/site/files/badge';

const NOW = Date.UTC(2026, 10, 25);
const EN = pageSpeechOf('en');
const at = (fromAgo: number, toAgo: number, kind: PublicKind) => ({
  from: NOW - fromAgo,
  to: NOW - toAgo,
  kind,
});
const calm = { state: 'running' as const, line: [at(90 * DAY_MS, 0, 'running')], times: null };
const facts = (...rows: BadgeFacts['rows'][number][]): BadgeFacts => ({ rows, days: 90, now: NOW });
const once = {
  state: 'running' as const,
  line: [
    at(90 * DAY_MS, 13 * DAY_MS, 'running'),
    at(13 * DAY_MS, 12 * DAY_MS, 'out'),
    at(12 * DAY_MS, 0, 'running'),
  ],
  times: { medianMs: 140.4 },
};
const young = {
  state: 'running' as const,
  line: [at(90 * DAY_MS, HOUR_MS, 'unknown'), at(HOUR_MS, 0, 'running')],
  times: null,
};

describe('what a badge says', () => {
  it('is how all it stands for stand, the worst first', () => {
    const stands = (...states: PublicKind[]) =>
      badgeState({ rows: states.map((state) => ({ ...calm, state })) });
    expect([
      stands(),
      stands('running'),
      stands('running', 'slow', 'out'),
      stands('running', 'unknown'),
    ]).toEqual(['unknown', 'running', 'out', 'unknown']);
  });

  it.each([
    ['state', facts(calm), 'running'],
    ['uptime', facts(calm), '100 % · 90 days'],
    ['uptime', facts(calm, once), '98.88 % · 90 days'],
    // An hour of history is an hour, not ninety days.
    ['uptime', facts(young), '100 % · 1 h'],
    ['uptime', facts(calm, { ...calm, line: [] }), 'no data · 90 days'],
    ['time', facts(once, calm), 'usually 140 ms'],
    ['time', facts(calm), 'no data'],
    ['calm', facts(calm), 'no outage in 90 days'],
    ['calm', facts(calm, once), '12 d without an outage'],
    ['calm', facts({ ...calm, line: [at(2 * HOUR_MS, 0, 'out')] }), 'out for 2 h'],
    ['calm', facts({ ...calm, line: [at(2 * HOUR_MS, 0, 'unknown')] }), 'no data'],
  ] as const)('%s: %#', (shows, of, words) => expect(badgeWords(of, shows, EN)).toBe(words));

  it('is said in each language', () => {
    for (const language of LANGUAGE_CODES) {
      for (const shows of BADGE_SHOWS)
        expect(badgeWords(facts(once), shows, pageSpeechOf(language))).not.toMatch(/[{}]/);
    }
  });
});

describe('a badge', () => {
  const wish: BadgeWish = {
    shows: 'state',
    label: 'Booking',
    light: 'both',
    shape: 'round',
    ground: null,
    size: 1,
  };
  const draw = (rest: Partial<BadgeWish> = {}, of = facts(once)) =>
    badgeSvg(of, { ...wish, ...rest }, 'Ferries', EN);

  it('says in its title what it shows, and runs nothing that was typed', () => {
    expect(draw()).toContain('<title>Booking: running</title>');
    expect(draw({ label: '' })).toContain('<title>Ferries: running</title>');
    const hostile = draw({ label: '</text><script>alert(1)</script>"&' });
    expect(hostile).not.toContain('<script>');
    expect(hostile).toContain('&lt;script&gt;');
  });

  it('follows the light, or has one', () => {
    expect(draw()).toContain('prefers-color-scheme:dark');
    expect(draw({ light: 'dark' })).not.toContain('prefers-color-scheme');
    expect(draw({ light: 'dark' })).not.toBe(draw({ light: 'light' }));
  });

  it('stands on a ground of one’s own, and can be read there', () => {
    for (const ground of ['#1c5d7d', '#ffffff', '#000000', '#808080', '#f0b557']) {
      const svg = draw({ ground, light: 'both' });
      expect(svg).toContain(`.g{fill:${ground};`);
      expect(svg).not.toContain('prefers-color-scheme');
      const colours = [...svg.matchAll(/(?:\.i\{fill|color):(#[\da-f]{6})/g)].map(([, colour]) => colour!);
      expect(colours).toHaveLength(6);
      for (const colour of colours) {
        expect(
          contrastOf(readColour(colour)!, readColour(ground)!),
          `${colour} on ${ground}`,
        ).toBeGreaterThanOrEqual(4.45);
      }
    }
  });

  it('has a shape of its own for every state', () => {
    const shapes = PUBLIC_KINDS.map((state) =>
      draw({ label: '', shape: 'bare' }, facts({ ...calm, state })).replace(
        /<style>.*<\/style>|<title>.*?<\/title>|<text.*/gs,
        '',
      ),
    );
    expect(
      new Set(
        shapes.map((one) => one.replace(/class="\w+"|aria-label="[^"]*"|width="\d+"|viewBox="[^"]*"/g, '')),
      ).size,
    ).toBe(PUBLIC_KINDS.length);
  });

  it('draws its line, and grows', () => {
    expect(draw({ shows: 'line' })).toMatch(/<path class="out" stroke-width="16" d="M\d/);
    const [small, large] = [draw(), draw({ size: 2 })].map((svg) => Number(/width="(\d+)"/.exec(svg)![1]));
    expect(large).toBe(2 * small!);
  });
});

describe('what is asked of badges', () => {
  const asked = (path: string, query = '') => readAsked(path, new URLSearchParams(query));

  it('is read, and what nobody knows is as usual', () => {
    expect(
      asked(
        'badge/2-1.svg',
        'shows=uptime&days=7&label=A%00b&light=dark&shape=bare&ground=1c5d7d&size=2&lang=de',
      ),
    ).toEqual({
      what: 'badge',
      of: '2-1',
      as: 'svg',
      days: 7,
      chosen: 'de',
      wish: { shows: 'uptime', label: 'Ab', light: 'dark', shape: 'bare', ground: '#1c5d7d', size: 2 },
    });
    expect(asked('badge/page.svg', `shows=x&days=1&size=99&ground=red&label=${'x'.repeat(500)}`)).toEqual({
      what: 'badge',
      of: 'page',
      as: 'svg',
      days: 90,
      chosen: null,
      wish: { shows: 'state', label: 'x'.repeat(60), light: 'both', shape: 'round', ground: null, size: 1 },
    });
    expect(asked('badge/1.png', 'shape=bare')).toMatchObject({ of: '1', as: 'png', wish: { shape: 'bare' } });
    const picture = 'abcdefghijklmnopqrstuv.480x96.webp';
    expect(asked(`picture/${picture}`)).toEqual({ what: 'picture', name: picture });
    expect(asked('social.png')).toEqual({ what: 'social' });
    expect(asked('embed', 'light=dark')).toEqual({ what: 'embed', light: 'dark', chosen: null });
    for (const none of [
      'badge/0.svg',
      'badge/1-0.svg',
      'badge/x.svg',
      'badge/1-1-1.svg',
      'badge/page.gif',
      'picture/x.webp',
      'picture/../x',
      'picture/',
      'social.svg',
      'badge/',
    ]) {
      expect(asked(none), none).toBeNull();
    }
  });
});

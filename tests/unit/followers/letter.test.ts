import { describe, expect, it } from 'vitest';
import { composeLetter, type LetterFacts, type LetterPlace } from '@/core/followers/letter';
import { LANGUAGE_CODES } from '@/core/languages/language';

const AT = Date.parse('2026-11-27T08:30:00Z');
const LINKS = {
  about: 'https://status.ternferry.test/incident/3',
  own: 'https://status.ternferry.test/follow/own/1.x',
  off: 'https://status.ternferry.test/follow/off/1.x',
};
const place = (rest: Partial<LetterPlace> = {}): LetterPlace => ({
  ...{ page: 'Tern Island Ferries', language: 'en', zone: 'Europe/Lisbon', links: LINKS },
  ...rest,
});
const incident: LetterFacts = {
  ...{ kind: 'incident', notice: false, title: 'Booking is out', stage: 'found', at: AT },
  body: 'The database is **full**.\n\nBuy [at the pier](https://ternferry.test/piers).',
  affected: [{ label: 'Online booking', how: 'out' }],
};
const maintenance: LetterFacts = {
  ...{
    kind: 'maintenance',
    stage: 'ahead',
    title: 'New mast',
    text: 'It goes dark.',
    labels: ['Camera', 'Tides'],
  },
  ...{ begins: AT, ends: AT + 7_200_000 },
};

describe('a letter to a follower', () => {
  it('says what is told, where to read on, and how to change and end it', () => {
    const { subject, text, html } = composeLetter(incident, place());
    expect(subject).toBe('Booking is out · Tern Island Ferries');
    expect(text).toBe(
      [
        ...['Booking is out', '', 'Cause found (Fri 27 Nov, 08:30)', ''],
        ...['The database is full. Buy at the pier.', '', 'Online booking: out', '', LINKS.about, '', '-- '],
        'You get this because you asked “Tern Island Ferries” to write to you.',
        ...[`Change what you hear of: ${LINKS.own}`, `End it with one click: ${LINKS.off}`, ''],
      ].join('\n'),
    );
    expect(html).toContain('The database is <strong>full</strong>.');
    for (const link of Object.values(LINKS)) expect(html).toContain(`href="${link}"`);
  });

  it('tells maintenance ahead, as it begins and as it ends, by the clocks of the page', () => {
    const first = (stage: 'ahead' | 'begins' | 'ends') =>
      composeLetter({ ...maintenance, stage }, place({ zone: 'Pacific/Auckland' }))
        .text.split('\n')
        .slice(2, 6);
    expect(first('ahead')).toEqual([
      'Maintenance is planned: Fri 27 Nov, 21:30 to Fri 27 Nov, 23:30',
      ...['', 'It goes dark.', ''],
    ]);
    expect(first('begins')[0]).toMatch(/^Maintenance has begun: /);
    // What it means is over too.
    expect(first('ends')).toEqual([
      'Maintenance is over: Fri 27 Nov, 21:30 to Fri 27 Nov, 23:30',
      ...['', 'Camera and Tides', ''],
    ]);
  });

  it('asks with nothing but the question and its link', () => {
    const { subject, text, html } = composeLetter({ kind: 'confirm' }, place());
    expect(subject).toBe('Do you want to be told by “Tern Island Ferries”?');
    const [line, ...rest] = text.split('\n');
    expect(rest).toEqual(['', LINKS.own, '', expect.stringMatching(/^\S.*\.$/), '']);
    const asked = html.split('\n').map((part) => part.replaceAll(/<[^>]+>/g, ''));
    expect(asked).toEqual([subject, line, LINKS.own, rest[3]]);
    expect(html).toContain(`<a href="${LINKS.own}">`);
    expect(text + html).not.toContain(LINKS.off);
    expect(composeLetter({ kind: 'again' }, place()).subject).toMatch(/already$/);
  });

  it('is as short as what there is to say', () => {
    const bare = (facts: LetterFacts) => {
      const { text, html } = composeLetter(facts, place());
      return [text.split(LINKS.about)[0]!.split('\n'), html.split('\n').length];
    };
    const notice = { ...incident, notice: true, body: '', affected: [] };
    expect(bare(notice)).toEqual([['Booking is out', '', 'Fri 27 Nov, 08:30', '', ''], 6]);
    const off = { ...maintenance, stage: 'off' as const, labels: [] };
    const [lines, parts] = bare(off);
    expect(lines).toEqual(['New mast', '', expect.stringContaining('Fri 27 Nov, 08:30'), '', '']);
    expect(parts).toBe(6);
  });

  it('keeps what was typed from being more than words', () => {
    const hostile = '<img src=x onerror=alert(1)>';
    const { html, subject } = composeLetter(
      {
        ...incident,
        title: hostile,
        body: `${hostile} [x](javascript:alert(1)) ![y](https://a.test/p.png)`,
        affected: [{ label: hostile, how: 'slow' }],
      },
      place({ page: hostile }),
    );
    expect(html).not.toMatch(/<img|<script|href="javascript/i);
    expect(subject).toContain(hostile);
  });

  it('is said whole in each language', () => {
    const seen = new Set<string>();
    for (const language of LANGUAGE_CODES) {
      for (const facts of [incident, maintenance, { kind: 'confirm' }, { kind: 'again' }] as LetterFacts[]) {
        const { subject, text, html } = composeLetter(facts, place({ language }));
        expect(`${subject}${text}${html}`).not.toMatch(/\{\w+\}|undefined/);
        if (facts.kind === 'maintenance') seen.add(text.split('\n')[2]!);
      }
    }
    expect(seen.size).toBe(LANGUAGE_CODES.length);
  });
});

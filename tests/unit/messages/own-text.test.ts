import { describe, expect, it } from 'vitest';
import { exampleOf } from '@/core/messages/example';
import type { KeptMessage } from '@/core/messages/kept-message';
import { messageInOwnWords } from '@/core/messages/own-text';
import { SAID_KINDS } from '@/core/messages/said';
import { fillTemplate, MOST_TEMPLATE, TemplateError, templateProblem } from '@/core/messages/sandbox';
import { TEXT_VALUES } from '@/core/messages/text-values';

const NOW = Date.parse('2026-11-26T08:12:00Z');
const PLACE = { linkBase: 'https://watch.ternferry.test', zone: 'Europe/Lisbon' };
const TAKE = 'https://watch.ternferry.test/take/abc';

function said(title: string, body: string, kept: KeptMessage = exampleOf('down', NOW)) {
  return messageInOwnWords(kept, 3, PLACE, { title, body }, TAKE);
}

describe('words of one’s own', () => {
  it('say what the message is about', () => {
    const { title, lines, link } = said(
      '{{ name }} needs somebody',
      '{{ why }}\n{{ advice }}\nSince {{ since }} ({{ zone }}), that is {{ began }}.\n{{ note }} {{ runbook }}\n{{ take }}\n{{ cause }} {{ happening }}',
    );
    expect(title).toBe('Booking site needs somebody');
    expect(lines).toEqual([
      'The host is there, but nothing listens on port 443.',
      'Start the service, or check which port it listens on.',
      'Since Thu 26 Nov, 08:00 (Europe/Lisbon), that is 2026-11-26T08:00:00.000Z.',
      'Restart it. https://crew.ternferry.test/booking',
      TAKE,
      'port.refused down',
    ]);
    expect(link).toBe('https://watch.ternferry.test/watches/3');
  });

  it('say how long it lasted once it is over', () => {
    const { lines } = said(
      '',
      '{{ length }}, {{ since }} to {{ until }}, {{ ended }}',
      exampleOf('recovered', NOW),
    );
    expect(lines).toEqual(['12 min, Thu 26 Nov, 08:00 to Thu 26 Nov, 08:12, 2026-11-26T08:12:00.000Z']);
  });

  it('say how long it lasts by now, while it goes on', () => {
    expect(said('', '{{ length }} {{ why }}', exampleOf('still-down', NOW)).lines).toEqual([
      '12 min The host is there, but nothing listens on port 443.',
    ]);
  });

  it('say who has it, and the names of several', () => {
    expect(said('', '{{ who }}', exampleOf('taken', NOW)).lines).toEqual(['Ines']);
    expect(said('', '{{ names | join: " + " }}', exampleOf('several', NOW)).lines).toEqual([
      'Booking site + Tide tables',
    ]);
    expect(said('', '{{ names | join: " + " }}', exampleOf('maintenance', NOW)).lines).toEqual([
      'Tide tables',
    ]);
  });

  it('keep the built-in part where one is left empty', () => {
    const built = said('{{ title }}', '{{ text }}');
    expect(said('', ' ')).toEqual(built);
    expect(built.title).toBe('Booking site is down');
    expect(said('Look!', '').lines).toEqual(built.lines);
    expect(said(' {{ who }} ', 'x').title).toBe('Booking site is down');
  });

  it('make lines of what stands on lines, without empty ones', () => {
    expect(said('', 'one\n\n   two  \n{% if drill %}three{% endif %}\nfour').lines).toEqual([
      'one',
      'two',
      'four',
    ]);
  });

  it('are marked in a drill, and lead to it', () => {
    const kept = { ...exampleOf('down', NOW), drill: 4 };
    expect(said('{{ name }}!', '{% if drill %}not real{% endif %}', kept)).toEqual({
      title: 'Drill: Booking site!',
      lines: ['This is a rehearsal: nothing of it is real.', 'not real'],
      link: 'https://watch.ternferry.test/messages/drills/4',
    });
  });

  it('may name every value in every kind of message', () => {
    const all = Object.keys(TEXT_VALUES)
      .map((name) => `{{ ${name} }}`)
      .join('|');
    for (const kind of SAID_KINDS) {
      const { title, lines } = said('{{ happening }}', all, exampleOf(kind, NOW));
      expect(title, kind).toBe(kind);
      expect(lines.join(' '), kind).not.toContain('undefined');
    }
  });

  it('are cut where they would be too long', () => {
    const { title, lines } = said('{{ text }}'.repeat(20), 'line\n'.repeat(500));
    expect(title.length).toBe(200);
    expect(lines.length).toBe(60);
  });
});

describe('texts that do harm', () => {
  const values = { name: 'Booking site', big: '<'.repeat(20_000), names: ['a', 'b'] };

  it.each([
    [
      '{% assign r = (1..150) %}{% for i in r %}{% for j in r %}{% for k in r %}{% endfor %}{% endfor %}{% endfor %}',
      /longer than 50 ms/,
    ],
    ['{% for i in (1..1000000000) %}x{% endfor %}', /too long/],
    ['{% assign a = "x" %}{% for i in (1..60) %}{% assign a = a | append: a %}{% endfor %}', /too long/],
    ['{{ "2020-01-01" | date: "%1000000000d" }}', /too long/],
    ['{{ big | split: "" | join: "xxxxxxxxxxxxxxxxxxxxxxx" }}', /too long/],
    ['{% include "/etc/passwd" %}', /no other text can be loaded/],
    ['{% render "secrets.key" %}', /no other text can be loaded/],
    ['{{ nobody }}', /undefined variable: nobody/],
    ['{{ name.constructor }}', /undefined variable/],
    ['{{ name | shout }}', /undefined filter: shout/],
    ['{% if name %}', /not closed/],
    ['x'.repeat(MOST_TEMPLATE + 1), /longer than 4000 characters/],
  ])('are refused with why: %s', (template, why) => {
    expect(() => fillTemplate(template, values)).toThrow(TemplateError);
    expect(() => fillTemplate(template, values)).toThrow(why);
  });

  it('do not read what was not handed in', () => {
    expect(fillTemplate('{{ name.length }}{{ names.size }}', { name: 'abc', names: [1, 2] })).not.toContain(
      'function',
    );
    expect(() => fillTemplate('{{ __proto__ }}', values)).toThrow(/undefined variable/);
    expect(() => fillTemplate('{{ process.env.HOME }}', values)).toThrow(/undefined variable/);
  });

  it('are told apart from those that need values only', () => {
    expect(templateProblem('{{ anything | upcase }}')).toBeNull();
    expect(templateProblem('{{ name | }}{% if %}')).not.toBeNull();
    expect(templateProblem('{% if name %}')).toMatch(/not closed/);
    expect(templateProblem('{% nothing %}')).toMatch(/not found|undefined/i);
  });

  it('say why on one line', () => {
    try {
      fillTemplate('one\ntwo {{ nobody }}', values);
      expect.unreachable();
    } catch (error) {
      expect((error as Error).message).not.toContain('\n');
      expect((error as Error).message.length).toBeLessThanOrEqual(200);
    }
  });
});

import { describe, expect, it } from 'vitest';
import { IntlMessageFormat } from 'intl-messageformat';
import { CAUSE_CODES, type CauseCode } from '@/core/causes/causes';
import type { Rung } from '@/core/causes/finding';
import { CAUSE_WORDS } from '@/core/languages/causes/cause-words';
import { LANGUAGE_CODES, LANGUAGES, type Language } from '@/core/languages/language';
import { DE } from '@/core/languages/phrases/de';
import { EN, type Phrase, type Phrases } from '@/core/languages/phrases/en';
import { ES } from '@/core/languages/phrases/es';
import { FR } from '@/core/languages/phrases/fr';
import { PT } from '@/core/languages/phrases/pt';
import { speechOf } from '@/core/languages/speech';
import { exampleOf } from '@/core/messages/example';
import { messageInWords } from '@/core/messages/kept-message';
import { SAID_KINDS } from '@/core/messages/said';

const PHRASES: Record<Language, Phrases> = { en: EN, de: DE, fr: FR, es: ES, pt: PT };
const OTHERS = LANGUAGE_CODES.filter((code) => code !== 'en');
const NOW = Date.parse('2026-11-26T08:12:00Z');
const PLACE = { linkBase: 'https://watch.ternferry.test', zone: 'Europe/Lisbon' };

/** The values a phrase is filled from, in alphabetical order. */
function valuesOf(phrase: string): string[] {
  const names = new Set<string>();
  const visit = (parts: readonly object[]) => {
    for (const part of parts as {
      type: number;
      value?: unknown;
      options?: Record<string, { value: object[] }>;
    }[]) {
      // 0 is text, 7 the number sign; all else names a value.
      if (part.type !== 0 && part.type !== 7) names.add(String(part.value));
      for (const option of Object.values(part.options ?? {})) visit(option.value);
    }
  };
  visit(new IntlMessageFormat(phrase, 'en', undefined, { ignoreTag: true }).getAst());
  return [...names].sort();
}

const placeholders = (text: string) => [...text.matchAll(/\{(\w+)\}/g)].map(([, name]) => name).sort();

/** A number in words is said by a language that does so; one that does not says it in figures, by the same name. */
const saidOtherwise = new Set<Phrase>(['letter.down']);

describe.each(OTHERS)('messages in %s', (language) => {
  it.each(Object.keys(EN) as Phrase[])('say %s with the values the English phrase has', (phrase) => {
    const own = valuesOf(PHRASES[language][phrase]);
    const english = valuesOf(EN[phrase]);
    if (saidOtherwise.has(phrase)) expect(english).toEqual(expect.arrayContaining(own));
    else expect(own).toEqual(english);
  });

  it.each(CAUSE_CODES)('have a sentence and advice of their own for %s', (code: CauseCode) => {
    const own = CAUSE_WORDS[language].causes[code];
    const english = CAUSE_WORDS.en.causes[code];
    expect(placeholders(own.sentence)).toEqual(placeholders(english.sentence));
    expect(own.sentence).not.toBe(english.sentence);
    expect(own.advice).not.toBe(english.advice);
    expect(own.sentence).toMatch(/[.]$/);
    expect(own.advice).toMatch(/[.)]$/);
  });

  it('say what is wrong with the desk itself with the same values', () => {
    for (const [code, english] of Object.entries(CAUSE_WORDS.en.own)) {
      const own = CAUSE_WORDS[language].own[code as keyof typeof CAUSE_WORDS.en.own];
      for (const part of ['sentence', 'advice', 'over'] as const) {
        expect(placeholders(own[part]), `${code} ${part}`).toEqual(placeholders(english[part]));
        expect(own[part]).not.toBe(english[part]);
      }
    }
  });

  it('say every kind of message, and none as English does', () => {
    for (const kind of SAID_KINDS) {
      const kept = exampleOf(kind, NOW);
      const own = messageInWords(kept, 3, { ...PLACE, language });
      const english = messageInWords(kept, 3, PLACE);
      expect(own.title, kind).not.toBe(english.title);
      expect(own.lines.length, kind).toBe(english.lines.length);
      expect([own.title, ...own.lines].join(' '), kind).not.toMatch(/\{|\}|undefined|NaN/);
      expect(own.link).toBe(english.link);
    }
  });

  it('mark a drill', () => {
    const kept = { ...exampleOf('down', NOW), drill: 4 };
    const { title, lines } = messageInWords(kept, 3, { ...PLACE, language });
    expect(title).toContain(speechOf(language).say('down.title', { name: 'Booking site' }));
    expect(title).not.toBe(speechOf(language).say('down.title', { name: 'Booking site' }));
    expect(lines[0]).toBe(PHRASES[language]['drill.line']);
  });
});

describe('languages', () => {
  const walk: Rung[] = [
    { rung: 'host', label: 'host', result: 'fine' },
    { rung: 'port', label: 'port 443', result: 'fine' },
    { rung: 'certificate', label: 'certificate', result: 'failed' },
  ];

  it('are called by their own names', () => {
    expect(Object.values(LANGUAGES)).toEqual(['English', 'Deutsch', 'Français', 'Español', 'Português']);
  });

  it('say what still holds before what broke', () => {
    expect(speechOf('de').trouble('tls.expired', { ago: '2 h' }, walk)).toBe(
      'Der Rechner antwortet auf Ping und Port 443 ist offen. Das Zertifikat ist vor 2 h abgelaufen.',
    );
    expect(speechOf('en').trouble('tls.expired', { ago: '2 h' }, walk)).toBe(
      'The host answers ping and port 443 is open, but the certificate expired 2 h ago.',
    );
  });

  it('say that the host is silent too', () => {
    const silent: Rung[] = [{ rung: 'host', label: 'host', result: 'failed' }];
    expect(speechOf('fr').trouble('port.timeout', { port: 443, limit: '5 s' }, silent)).toBe(
      'Pas de connexion au port 443 en 5 s. L’hôte ne répond pas non plus au ping.',
    );
  });

  it.each([
    [401, '401'],
    [404, '404'],
    [410, '404'],
    [502, 'gateway'],
    [504, 'gateway'],
    [301, 'elsewhere'],
  ] as const)('advise on a reply of %d', (status, group) => {
    for (const language of LANGUAGE_CODES)
      expect(speechOf(language).advice('reply.status', { status })).toBe(CAUSE_WORDS[language].status[group]);
  });

  it('advise as for any reply where the status tells no more', () => {
    expect(speechOf('pt').advice('reply.status', { status: 500 })).toBe(
      CAUSE_WORDS.pt.causes['reply.status'].advice,
    );
  });

  it('say moments as they are said there, in the zone, to the second where asked for', () => {
    const at = Date.parse('2026-07-01T08:12:05Z');
    expect(speechOf('de').clock(at, 'Europe/Lisbon')).toMatch(/^Mi\., 1\. Juli?,? (um )?09:12$/);
    expect(speechOf('es').clock(at, 'Europe/Lisbon', true)).toMatch(/jul.*9:12:05$/);
    expect(speechOf('en').clock(at, 'Europe/Lisbon')).toBe('Wed 1 Jul, 09:12');
  });

  it('count small numbers in words where the language does', () => {
    const titles = LANGUAGE_CODES.map(
      (language) => messageInWords(exampleOf('several', NOW), null, { ...PLACE, language }).title,
    );
    expect(titles).toEqual([
      'Two more are down',
      '2 weitere Ausfälle',
      '2 pannes de plus',
      '2 caídas más',
      'Mais 2 falhas',
    ]);
  });

  it('say one as one', () => {
    expect(speechOf('de').say('several.down', { n: 1, count: '1' })).toBe('Ein weiterer Ausfall');
    expect(speechOf('pt').say('also.title', { n: 1, count: '1', name: 'Router' })).toBe(
      'Mais uma falha com Router',
    );
  });

  it('leave names alone, whatever stands in them', () => {
    const name = '{name} <b> # \u2019 quoted \u2018';
    for (const language of LANGUAGE_CODES)
      expect(speechOf(language).say('down.title', { name })).toContain(name);
  });
});

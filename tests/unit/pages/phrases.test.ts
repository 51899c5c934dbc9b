import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { IntlMessageFormat } from 'intl-messageformat';
import { describe, expect, it } from 'vitest';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { LOCALES } from '@/core/languages/moments';
import { PAGE_PHRASES, pageSpeechOf } from '@/core/languages/page-speech';
import type { PagePhrase } from '@/core/languages/page-phrases/en';

const PHRASES = Object.keys(PAGE_PHRASES.en) as PagePhrase[];

/** The names of the values a phrase takes. */
function valuesOf(message: string): string[] {
  const names = new Set<string>();
  const walk = (parts: ReturnType<IntlMessageFormat['getAst']>) => {
    for (const part of parts) {
      if ('value' in part && part.type === 1) names.add(part.value);
      if ('options' in part && part.options) {
        names.add(part.value);
        for (const { value } of Object.values(part.options)) walk(value as never);
      }
    }
  };
  walk(new IntlMessageFormat(message, 'en', undefined, { ignoreTag: true }).getAst());
  return [...names].sort();
}

describe('what public pages say', () => {
  const others = LANGUAGE_CODES.filter((code) => code !== 'en');

  it.each(others)('is there in %s, with the same values', (language) => {
    const phrases = PAGE_PHRASES[language];
    expect(Object.keys(phrases).sort()).toEqual([...PHRASES].sort());
    for (const phrase of PHRASES) {
      const english = valuesOf(PAGE_PHRASES.en[phrase]);
      expect(valuesOf(phrases[phrase]), `${language} ${phrase}`).toEqual(english);
    }
  });

  it.each(others)('is not left in English in %s', (language) => {
    const alike = PHRASES.filter((phrase) => {
      const words = PAGE_PHRASES.en[phrase].replace(/\{[^}]*\}/g, '');
      return /[a-z]{3}/.test(words) && PAGE_PHRASES[language][phrase] === PAGE_PHRASES.en[phrase];
    });
    // Words both languages write alike.
    expect(alike.length).toBeLessThanOrEqual(3);
  });

  it('is said somewhere, each phrase', () => {
    const files = ['src/site', 'src/core/pages', 'src/core/followers'].flatMap((folder) =>
      readdirSync(folder, { recursive: true, withFileTypes: true })
        .filter((one) => one.isFile())
        .map((one) => readFileSync(join(one.parentPath, one.name), 'utf8')),
    );
    const source = files.join('\n');
    const idle = PHRASES.filter((phrase) => {
      const [last = ''] = phrase.split('.').slice(-1);
      const family = phrase.slice(0, -last.length);
      // Some are put together: `state.${kind}`, and `lead.${kind}.many`.
      const made = family !== '' && source.includes('`' + family + '${');
      const many = phrase.endsWith('.many') && source.includes('`lead.${kind}.many`');
      return !made && !many && !new RegExp(`['"]${phrase.replaceAll('.', '\\.')}['"]`).test(source);
    });
    expect(idle).toEqual([]);
  });

  it('says lengths, shares and times as each language does', () => {
    const said = (language: (typeof LANGUAGE_CODES)[number]) => {
      const { length, share, ms, at } = pageSpeechOf(language);
      return [length(5_580_000), share(0.9996), ms(1240), at(Date.UTC(2026, 10, 25, 14, 17), 'UTC', 'day')];
    };
    expect(said('en')).toEqual(['1 h 33 min', '99.96 %', '1.24 s', 'Wednesday 25 November']);
    expect(said('de')).toEqual(['1 Std. 33 Min.', '99,96 %', '1,24 Sek.', 'Mittwoch, 25. November']);
    expect(said('fr')[3]).toBe('mercredi 25 novembre');
    expect(pageSpeechOf('es').share(null)).toBe('sin datos');
  });

  it('has a locale for each language', () => {
    for (const code of LANGUAGE_CODES)
      expect(Intl.DateTimeFormat.supportedLocalesOf(LOCALES[code])).toHaveLength(1);
  });
});

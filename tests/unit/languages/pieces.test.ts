import { describe, expect, it } from 'vitest';
import type { CauseDetail } from '@/core/causes/causes';
import { COMPARISONS, expectedText } from '@/core/expect/compare';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { speechOf } from '@/core/languages/speech';
import { formatClock } from '@/core/time/clock-text';
import { DAY_MS } from '@/core/time/units';

const OTHERS = LANGUAGE_CODES.filter((code) => code !== 'en');
const differs = (language: 'en' | 'de' | 'fr' | 'es' | 'pt', detail: CauseDetail) =>
  speechOf(language).trouble('value.differs', detail);

describe.each(OTHERS)('what a cause is filled with, in %s', (language) => {
  it.each(COMPARISONS.filter((one) => one !== 'is'))(
    'says what “%s” asks for in its own words',
    (comparison) => {
      const expected = expectedText(comparison, '7');
      const said = differs(language, { what: '$.open', got: '3', expected });
      expect(said).not.toContain(expected);
      expect(said).toContain('$.open');
      if (!comparison.startsWith('is ') || comparison === 'is not') expect(said).toContain('7');
    },
  );

  it('says moments of every day as moments are said there', () => {
    const { clock, trouble } = speechOf(language);
    const from = Date.parse('2028-01-01T06:10:05Z');
    for (let day = 0; day < 366; day += 1) {
      for (const toTheSecond of [false, true]) {
        const at = from + day * DAY_MS;
        const said = trouble('checkin.missed', { deadline: formatClock(at, 'UTC', toTheSecond) });
        expect(said).toContain(clock(at, 'UTC', toTheSecond));
      }
    }
  });

  it('leaves names, numbers, and what others said as they are', () => {
    for (const got of [
      '“at least 3”',
      '3',
      'Tue 24 Nov',
      'Xyz 24 Nov, 02:30',
      'Tue 24 Xyz, 02:30',
      'nothing at all',
    ]) {
      expect(differs(language, { what: 'Queue', got, expected: '“7”' })).toContain(got);
    }
    const broken = { reason: 'self-signed certificate' };
    expect(speechOf(language).trouble('tls.failed', broken)).toContain('self-signed certificate');
  });
});

describe('what a cause is filled with', () => {
  it.each([
    [
      { what: '$.open (2 of 3)', got: 'not there', expected: 'at least 3 for all of them' },
      '$.open (2 von 3) ist nicht da; erwartet war mindestens 3 bei allen.',
    ],
    [
      { what: 'the result', got: '2', expected: 'anything but “2” for exactly one of them' },
      'Das Ergebnis ist 2; erwartet war alles außer “2” bei genau einem.',
    ],
    [
      { what: 'the first row', got: '2', expected: 'something for any of them' },
      'Die erste Zeile ist 2; erwartet war irgendetwas bei einem davon.',
    ],
    [
      { what: 'x', got: '2', expected: 'something without “a\nb”' },
      'x ist 2; erwartet war etwas ohne “a\nb”.',
    ],
  ])('is put together from pieces: %j', (detail, said) => {
    expect(differs('de', detail)).toBe(said);
    expect(differs('en', detail)).not.toContain('erwartet');
  });

  it('begins with a capital where it is a word, and names the step of a journey', () => {
    const detail = { what: 'the result', got: '2', expected: '“3”' };
    expect(differs('en', detail)).toBe('The result is 2; expected “3”.');
    expect(differs('en', { ...detail, what: 'thermostat' })).toBe('thermostat is 2; expected “3”.');
    const step = 'Step 2, “Queue”';
    expect(differs('en', { ...detail, step })).toBe('Step 2, “Queue”: The result is 2; expected “3”.');
    expect(differs('fr', { ...detail, step })).toMatch(/^Étape 2, “Queue” ?: Le résultat/);
    expect(differs('de', { ...detail, step })).toMatch(/^Schritt 2, “Queue”: Das Ergebnis/);
    expect(differs('es', { ...detail, step: 'Step 2' })).toMatch(/^Paso 2: El resultado/);
  });

  it('is said so in what wants a hand and in advice too', () => {
    expect(speechOf('es').trouble('value.none', { what: 'the first row: it is NULL' })).toContain(
      'la primera fila: es NULL',
    );
    expect(speechOf('fr').trouble('command.refused', { command: 'the query', said: 'no' })).toContain(
      'la requête',
    );
    expect(speechOf('pt').trouble('command.refused', { command: 'the connection', said: 'no' })).toContain(
      'a ligação',
    );
  });
});

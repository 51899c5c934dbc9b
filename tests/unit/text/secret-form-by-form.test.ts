import { describe, expect, it } from 'vitest';
import { BLANK, Blanker, secretForms } from '@/core/text/secret-forms';

const said = (secret: string, text: string) => new Blanker([secret]).text(text);

describe('the forms of a secret, one by one', () => {
  it.each([
    ['as it is', 'tide & rope', 'tide & rope'],
    ['in an address', 'tide & rope', 'tide%20%26%20rope'],
    ['in a form', 'tide & rope', 'tide+%26+rope'],
    ['in an address with small letters', 'tide/rope', 'tide%2frope'],
    ['in JSON', 'tide"rope', 'tide\\"rope'],
    ['in JSON that is ASCII', 'maré alta', 'mar\\u00e9 alta'],
    ['in JSON that guards slashes', 'tide/rope', 'tide\\/rope'],
    ['in HTML: and', 'tide&rope', 'tide&amp;rope'],
    ['in HTML: less', 'tide<rope', 'tide&lt;rope'],
    ['in HTML: more', 'tide>rope', 'tide&gt;rope'],
    ['in HTML: quotes', 'tide"rope', 'tide&quot;rope'],
    ['in HTML: an apostrophe', "tide'rope", 'tide&#39;rope'],
    ['with half a pair', `tide\ud800rope`, 'tide%EF%BF%BDrope'],
  ])('%s', (_, secret, form) => {
    expect(secretForms(secret)).toContain(form);
    expect(said(secret, `before ${form} behind`)).toBe(`before ${BLANK} behind`);
  });

  it('in base64, wherever it begins in what is encoded and whatever stands around it', () => {
    const secret = 'the boats sail at dawn';
    for (const before of ['', 'a', 'ab', 'abc', 'ines:']) {
      for (const behind of ['', 'x', 'xy', 'xyz']) {
        const encoded = Buffer.from(before + secret + behind).toString('base64');
        const blanked = said(secret, encoded);
        expect(blanked, encoded).toContain(BLANK);
        // What is left tells of its neighbours and a letter at the edge, and no more.
        const left = blanked.split(BLANK).join('');
        expect(left.length, encoded).toBeLessThanOrEqual(
          Math.ceil(((before.length + behind.length) * 4) / 3) + 8,
        );
        const told = Buffer.from(blanked.split(BLANK)[0]!, 'base64').toString();
        expect(told).not.toContain(secret.slice(0, 4));
      }
    }
  });

  it('in base64 for addresses', () => {
    const secret = 'f>?o~>>?tide';
    const plain = Buffer.from(secret).toString('base64').replace(/=+$/, '');
    expect(plain).toMatch(/[+/]/);
    const safe = plain.replaceAll('+', '-').replaceAll('/', '_');
    expect(said(secret, safe)).toContain(BLANK);
    expect(said(secret, plain)).toContain(BLANK);
    expect(secretForms(secret).some((form) => /[-_]/.test(form) && !/[+/]/.test(form))).toBe(true);
  });

  it('of which the short ones stay: they would blank half a page', () => {
    expect(secretForms('abc')).toEqual([]);
    expect(secretForms('abcd')).toContain('abcd');
    expect(secretForms('x'.repeat(20_000))[0]).toHaveLength(20_000);
    expect(secretForms('x'.repeat(20_001))).toEqual([]);
    // Pieces of base64 of fewer than six letters stand by chance.
    expect(secretForms('tide').filter((form) => form.length < 6)).toEqual(['tide']);
    expect(secretForms('tides').every((form) => form.length >= 5)).toBe(true);
    expect(
      secretForms('tide-ebb').some(
        (form) => form === Buffer.from('tide-ebb').toString('base64').slice(0, 10),
      ),
    ).toBe(true);
  });

  it('are told once each', () => {
    const forms = secretForms('plainword');
    expect(new Set(forms).size).toBe(forms.length);
  });
});

describe('taking secrets out', () => {
  it('begins with the longest, so that a part of one does not spoil the whole', () => {
    const blanker = new Blanker(['tide', 'tide-tables']);
    expect(blanker.text('tide-tables and tide')).toBe(`${BLANK} and ${BLANK}`);
    expect(new Blanker(['tide-tables', 'tide']).text('tide-tables')).toBe(BLANK);
  });

  it('is idle without any that is long enough', () => {
    expect(new Blanker([]).isIdle).toBe(true);
    expect(new Blanker(['', 'abc']).isIdle).toBe(true);
    expect(new Blanker(['abcd']).isIdle).toBe(false);
  });

  it('goes through lists and objects, and leaves what is excepted and what is no text', () => {
    const blanker = new Blanker(['tide-tables']);
    const value = {
      a: 'tide-tables',
      list: ['x', 'tide-tables', 7, null, { b: 'tide-tables' }],
      cause: 'tide-tables',
      n: 5,
      none: null,
      yes: true,
    };
    expect(blanker.deep(value, ['cause'])).toEqual({
      a: BLANK,
      list: ['x', BLANK, 7, null, { b: BLANK }],
      cause: 'tide-tables',
      n: 5,
      none: null,
      yes: true,
    });
    expect(blanker.deep(undefined)).toBeUndefined();
    expect(blanker.deep(null)).toBeNull();
    expect(blanker.deep({ x: { cause: 'tide-tables' } }, ['cause'])).toEqual({ x: { cause: 'tide-tables' } });
    expect(blanker.deep({ cause: 'tide-tables' })).toEqual({ cause: BLANK });
  });
});

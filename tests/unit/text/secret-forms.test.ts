import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Blanker } from '@/core/text/secret-forms';

const secret = 'fog/horn & "tide" + 7é';

describe('taking secrets out of texts', () => {
  const blanker = new Blanker([secret]);

  it.each([
    ['as it is', secret],
    ['in an address', encodeURIComponent(secret)],
    [
      'in an address, in small letters',
      encodeURIComponent(secret).replace(/%../g, (hex) => hex.toLowerCase()),
    ],
    ['in a form', new URLSearchParams({ a: secret }).toString().slice(2)],
    ['in JSON', JSON.stringify(secret).slice(1, -1)],
    ['in JSON with slashes escaped', JSON.stringify(secret).slice(1, -1).replaceAll('/', '\\/')],
    ['in HTML', 'fog/horn &amp; &quot;tide&quot; + 7é'],
    ['in base64', Buffer.from(secret).toString('base64').slice(0, -2)],
    ['in base64 for addresses', Buffer.from(secret).toString('base64url').slice(0, -1)],
  ])('knows it %s', (_, form) => {
    expect(blanker.text(`before ${form} after`)).toContain('•••');
    expect(blanker.text(`before ${form} after`)).not.toContain(form);
  });

  it('knows it within whatever else was encoded with it, wherever it begins', () => {
    const password = fc.stringMatching(/^[a-z0-9/+=_-]{8,30}$/);
    fc.assert(
      fc.property(
        password,
        fc.string({ maxLength: 9 }),
        fc.string({ maxLength: 9 }),
        (word, before, after) => {
          const encoded = Buffer.from(before + word + after).toString('base64');
          const left = new Blanker([word]).text(encoded);
          expect(left).toContain('•••');
          // What is left stands for the neighbours alone, and for the letters that share a byte with them.
          expect(left.replace('•••', '').length).toBeLessThanOrEqual(
            encoded.length - Math.floor((word.length * 4) / 3) + 4,
          );
        },
      ),
    );
  });

  it('blanks the whole where one secret is a part of another, and leaves what is too short to tell', () => {
    expect(new Blanker(['ines:foghorn', 'foghorn']).text('x ines:foghorn y')).toBe('x ••• y');
    expect(new Blanker(['abc', '']).isIdle).toBe(true);
  });

  it('goes through lists and objects, but for what is kept to compare with', () => {
    const value = { detail: { got: `x${secret}` }, list: [secret, 7, null], baseline: secret };
    expect(blanker.deep(value, ['baseline'])).toEqual({
      detail: { got: 'x•••' },
      list: ['•••', 7, null],
      baseline: secret,
    });
  });

  it('takes half a surrogate pair as it comes', () => {
    expect(new Blanker(['fog\ud800horn']).text('x fog\ud800horn')).toBe('x •••');
  });
});

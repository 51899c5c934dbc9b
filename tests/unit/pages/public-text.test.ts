import { describe, expect, it } from 'vitest';
import { EXAMPLE_VALUES, fillPublicText, PUBLIC_TEXT_VALUES, valuesOf } from '@/core/pages/public-text';

const BEGAN = Date.parse('2026-11-27T08:30:00Z');
const MINUTE = 60_000;

describe('a text for the public', () => {
  const facts = {
    labels: ['Online booking', 'Tides'],
    page: 'Tern Island Ferries',
    began: BEGAN,
    ended: null,
  };
  const place = { language: 'en' as const, zone: 'Europe/Lisbon', now: BEGAN + 12 * MINUTE };

  it('knows what is out, since when and for how long, by the clocks of the page', () => {
    const values = { page: 'Tern Island Ferries', since: 'Fri 27 Nov, 08:30' };
    expect(valuesOf(facts, place)).toEqual({
      ...values,
      ...{ service: 'Online booking and Tides', ended: '', length: '12 min' },
    });
    expect(valuesOf({ ...facts, labels: [], ended: BEGAN + 5 * MINUTE }, place)).toEqual({
      ...values,
      ...{ service: '', ended: 'Fri 27 Nov, 08:35', length: '5 min' },
    });
    // A clock that was turned back in between makes no time less than none.
    const early = valuesOf(facts, { ...place, now: BEGAN - MINUTE });
    expect(early.length).toBe(valuesOf(facts, { ...place, now: BEGAN }).length);
  });

  it('is filled in: a title in one line of at most 120 characters, the rest as it is', () => {
    const text = {
      name: 'Out',
      title: '  {{ service }}\n\t is out ',
      body: ' Since {{ since }}.\n\nOn {{ page }} ',
      over: 'Over after {{ length }}. ',
    };
    expect(fillPublicText(text, EXAMPLE_VALUES)).toEqual({
      title: 'Online booking is out',
      body: 'Since Fri 27 Nov, 08:30.\n\nOn Tern Island Ferries',
      over: 'Over after 12 min.',
    });
    const long = fillPublicText({ ...text, title: 'x'.repeat(300) }, EXAMPLE_VALUES);
    expect(long.title).toBe('x'.repeat(120));
    expect(Object.keys(EXAMPLE_VALUES)).toEqual(Object.keys(PUBLIC_TEXT_VALUES));
    expect(EXAMPLE_VALUES.ended).toBe('');
  });
});

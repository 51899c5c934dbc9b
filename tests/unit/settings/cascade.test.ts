import fc from 'fast-check';
import { USUAL_MAIL_RULES } from '@/core/reports/mail-words';
import { describe, expect, it } from 'vitest';
import {
  changesBetween,
  giveBack,
  NO_LEVELS,
  ownValues,
  resolve,
  sharedNames,
  wholeConfig,
  type Level,
  type Levels,
  type OwnConfig,
} from '@/core/settings/cascade';
import { settingValueText, TIMING_WORDS } from '@/core/settings/setting-words';
import { nextColour, TAG_COLOURS } from '@/core/settings/tag';
import { filterFromQuery, filterToQuery, isFiltering, NO_FILTER, passes } from '@/core/settings/watch-filter';
import { STATES } from '@/core/lifecycle/state';
import { probeKinds, shippedForKinds } from '@/probes/kinds/registry';
import { sharedWords } from '@/probes/diagnosis/shared-words';

const usual = shippedForKinds();
const LEVELS: Levels = { ...NO_LEVELS, usual };
const page = { id: 7, kind: 'web', section: 'On the water' };
const zone = 'Europe/Lisbon';

describe('the cascade of settings', () => {
  it('begins with what ships, for all and for a kind', () => {
    const web = resolve({ kind: 'web', section: null }, LEVELS);
    expect(web.values).toMatchObject({ every: 60, timeout: 10, secondLooks: 2, 'settings.soonDays': 21 });
    expect(new Set(Object.values(web.from))).toEqual(new Set(['product']));
    expect(resolve({ kind: 'certificate', section: null }, LEVELS).values.every).toBe(3600);
    expect(resolve({ kind: 'checkin', section: null }, LEVELS).values).toEqual({
      leeway: 300,
      longestRun: null,
      shortestGap: null,
      methods: 'any',
      ...USUAL_MAIL_RULES,
      restsOn: [],
      urgency: 'soon',
      runbook: '',
      runbookNote: '',
      tells: 'by-routes',
      tellsTo: [],
    });
  });

  it('takes the nearest level that says something', () => {
    const order: Level[] = ['product', 'instance', 'kind', 'section', 'watch'];
    fc.assert(
      fc.property(fc.subarray(order.slice(1)), (saying) => {
        const at = (level: Level) => (saying.includes(level) ? { timeout: order.indexOf(level) + 20 } : {});
        const levels: Levels = {
          usual,
          instance: at('instance'),
          kinds: { web: at('kind') },
          sections: { 'On the water': at('section'), 'Crew house': { timeout: 99 } },
        };
        const { values, from } = resolve({ ...page, own: at('watch') }, levels);
        const nearest = order.findLast((level) => saying.includes(level)) ?? 'product';
        expect(from.timeout).toBe(nearest);
        expect(values.timeout).toBe(nearest === 'product' ? 10 : order.indexOf(nearest) + 20);
      }),
    );
  });

  it('keeps the pace that suits a kind when everything is looked at more often', () => {
    const levels = { ...LEVELS, instance: { every: 30, 'settings.soonDays': 40 } };
    expect(resolve({ kind: 'web', section: null }, levels).values).toMatchObject({
      every: 30,
      'settings.soonDays': 40,
    });
    const certificate = resolve({ kind: 'certificate', section: null }, levels);
    expect(certificate.values).toMatchObject({ every: 3600, 'settings.soonDays': 40 });
    expect(certificate.from).toMatchObject({ every: 'product', 'settings.soonDays': 'instance' });
  });

  it('drops set times from farther away where a nearer level says how often', () => {
    const when = { expression: '0 9 * * 1-5', zone };
    const levels = { ...LEVELS, kinds: { web: { when } } };
    expect(resolve(page, levels).values).toMatchObject({ every: 60, when });
    const own = resolve({ ...page, own: { every: 90 } }, levels);
    expect(own.values).toMatchObject({ every: 90, when: null });
    expect(own.from.when).toBe('watch');
    expect(resolve({ ...page, own: { every: 90, when } }, levels).values).toMatchObject({ every: 90, when });
  });

  it('lets a section rest on one of its own without that one resting on itself', () => {
    const levels = { ...LEVELS, sections: { 'On the water': { restsOn: [7, 8] } } };
    expect(resolve(page, levels).values.restsOn).toEqual([]);
    expect(resolve({ ...page, id: 9 }, levels).values.restsOn).toEqual([7, 8]);
    expect(resolve({ ...page, id: 9, own: { restsOn: [] } }, levels).values.restsOn).toEqual([]);
  });

  it('gives back what was set, and nothing else', () => {
    const own: OwnConfig = {
      type: 'probe',
      settings: { address: 'https://booking.ternferry.test/', soonDays: 3 },
      every: 20,
      timeout: 4,
    };
    expect(ownValues('web', own, usual)).toEqual({ every: 20, timeout: 4, 'settings.soonDays': 3 });
    const back = giveBack(own, ['every', 'settings.soonDays']);
    expect(back).toEqual({
      type: 'probe',
      settings: { address: 'https://booking.ternferry.test/' },
      timeout: 4,
    });
    expect(own.every).toBe(20);
    const whole = wholeConfig(back, resolve({ ...page, own: ownValues('web', back, usual) }, LEVELS));
    expect(whole).toMatchObject({ every: 60, timeout: 4, settings: { soonDays: 21, accepted: '200-299' } });
  });

  it('names what differs, and only that', () => {
    const before = resolve(page, LEVELS);
    const after = resolve(page, { ...LEVELS, sections: { 'On the water': { every: 120, timeout: 10 } } });
    expect(changesBetween(before, after)).toEqual([{ name: 'every', before: 60, after: 120 }]);
    expect(changesBetween(before, before)).toEqual([]);
  });

  it('means the same by one name in every kind', () => {
    const seen = new Map<string, object>();
    for (const { fields, defaults } of probeKinds()) {
      for (const { name, control, options = [] } of fields.filter((field) => field.shared)) {
        const value = (defaults as Record<string, unknown>)[name];
        const meaning = { control, options: options.map((option) => option.value), value };
        expect(seen.get(name) ?? meaning).toEqual(meaning);
        seen.set(name, meaning);
      }
    }
    expect(seen.size).toBeGreaterThan(8);
  });

  it('has words for every shared setting', () => {
    const kinds = ['checkin', ...probeKinds().map((kind) => kind.id)];
    const names = new Set(kinds.flatMap((kind) => sharedNames(kind, usual)));
    for (const name of names) expect(sharedWords(name).label).not.toBe(name);
  });
});

describe('values of settings in words', () => {
  const name = (id: number) => ({ 3: 'Harbour router' })[id];
  it.each([
    ['every', 3600, '1 h'],
    ['slowAfter', null, 'no limit'],
    ['slowAfter', 800, '800 ms'],
    ['secondLooks', 0, '0'],
    ['restsOn', [3, 4], 'Harbour router, watch 4'],
    ['restsOn', [], 'nothing'],
    ['when', { expression: '5 * * * *', zone }, 'At 5 minutes past the hour (Europe/Lisbon)'],
    ['when', null, 'no set times'],
  ])('%s %j is “%s”', (setting, value, text) => {
    expect(settingValueText(TIMING_WORDS[setting]!, value, name)).toBe(text);
  });

  it('reads out switches, and only the beginning of long texts', () => {
    const words = sharedWords('settings.authority');
    expect(settingValueText(words, true, name)).toBe('yes');
    expect(settingValueText(words, '', name)).toBe('none');
    expect(settingValueText(words, `${'x'.repeat(80)}\nsecond`, name)).toBe(`${'x'.repeat(60)}…`);
  });
});

describe('filters', () => {
  const kiosk = {
    name: 'Kiosk North',
    kind: 'port',
    section: 'On the water',
    tags: [{ name: 'pier' }, { name: 'tickets' }],
    state: 'down' as const,
    target: 'kiosk-north.ternferry.test port 9100',
  };

  it.each([
    [{}, true],
    [{ states: ['down', 'slow'] }, true],
    [{ states: ['up'] }, false],
    [{ kinds: ['port'], tags: ['pier'] }, true],
    [{ kinds: ['port'], tags: ['office'] }, false],
    [{ sections: [''] }, false],
    [{ text: 'NORTH 9100' }, true],
    [{ text: 'tick water' }, true],
    [{ text: 'north south' }, false],
  ])('%j lets the kiosk through: %s', (filter, expected) => {
    expect(passes({ ...NO_FILTER, ...filter } as typeof NO_FILTER, kiosk)).toBe(expected);
  });

  it('go through an address and come back the same', () => {
    const words = fc.array(fc.string({ minLength: 1 }), { maxLength: 3 });
    const filters = fc.record({
      states: fc.subarray([...STATES]),
      kinds: words,
      sections: words,
      tags: words,
      text: fc.string().map((text) => text.trim()),
    });
    fc.assert(
      fc.property(filters, (filter) => {
        const query = filterToQuery(filter);
        expect(filterFromQuery(new URLSearchParams(query))).toEqual(filter);
        expect(isFiltering(filter)).toBe(query !== '');
      }),
    );
    expect(filterFromQuery(new URLSearchParams('state=gone&state=up')).states).toEqual(['up']);
  });
});

describe('the colour of a new tag', () => {
  it('is the one used least', () => {
    expect(nextColour([])).toBe(TAG_COLOURS[0]);
    expect(nextColour(TAG_COLOURS.slice(0, 3).map((colour) => ({ colour })))).toBe(TAG_COLOURS[3]);
    expect(nextColour([...TAG_COLOURS.slice(1)].map((colour) => ({ colour })))).toBe(TAG_COLOURS[0]);
  });
});

import { describe, expect, it } from 'vitest';
import { levelText, settingValueText, TIMING_WORDS, type SettingWords } from '@/core/settings/setting-words';

const nameOf = (id: number) => ({ 1: 'Router', 2: 'Quay switch' })[id];
const said = (name: string, value: unknown) => settingValueText(TIMING_WORDS[name]!, value, nameOf);

describe('values of settings in words', () => {
  it.each([
    ['every', 90, '1 min 30 s'],
    ['slowAfter', 900, '900 ms'],
    ['slowAfter', null, 'no limit'],
    ['secondLooks', 2, '2'],
    ['longestRun', undefined, 'no limit'],
    ['mailFrom', '', 'anyone'],
    ['mailFrom', 'cron@ternferry.test', 'cron@ternferry.test'],
    ['methods', 'post', 'only POST'],
    ['methods', 'any', 'any'],
    ['mailWhere', 'body', 'subject, then body'],
    ['restsOn', [], 'nothing'],
    ['restsOn', [1, 2, 9], 'Router, Quay switch, watch 9'],
    ['when', null, 'no set times'],
    ['when', { expression: '0 6 * * *', zone: 'Europe/Lisbon' }, 'At 06:00 (Europe/Lisbon)'],
    ['when', { expression: 'nonsense', zone: 'UTC' }, 'nonsense (UTC)'],
    ['mailFailed', `${'x'.repeat(60)}`, 'x'.repeat(60)],
    ['mailFailed', `${'x'.repeat(61)}`, `${'x'.repeat(60)}…`],
    ['mailFailed', 'first\nsecond', 'first'],
  ])('%s = %j is %s', (name, value, words) => expect(said(name, value)).toBe(words));

  it('are yes and no for a switch, and "none" where nothing better is known', () => {
    const words: SettingWords = { label: 'A switch', unit: 'text', none: '' };
    expect(settingValueText(words, true, nameOf)).toBe('yes');
    expect(settingValueText(words, false, nameOf)).toBe('no');
    expect(settingValueText(words, null, nameOf)).toBe('none');
  });

  it.each([
    ['product', 'as it ships'],
    ['instance', 'set for everything'],
    ['kind', 'set for every web watch'],
    ['section', 'set for the section Piers'],
    ['watch', 'set here'],
  ] as const)('come from %s: %s', (level, words) =>
    expect(levelText(level, { kind: 'web', section: 'Piers' })).toBe(words),
  );

  it('say nothing of a section that is none', () => {
    expect(levelText('section', { kind: 'web', section: null })).toBe('set for the section ');
  });
});

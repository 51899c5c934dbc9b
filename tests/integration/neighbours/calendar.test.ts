import { spawnSync } from 'node:child_process';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nextDues } from '@/core/schedule/schedule';
import { momentsOf, wallAt } from '@/core/time/zone-time';
import { tries } from '../../unit/tries';

const installed = spawnSync('systemd-analyze', ['--version']).status === 0;
if (!installed)
  process.stderr.write('systemd-analyze is not installed: calendar events are not compared with it\n');

const ITERATIONS = 3;

/** What systemd says of each expression: its next times, in seconds since 1970. */
function systemdDues(expressions: readonly string[], zone: string, base: Date): Map<string, number[]> {
  const local = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'medium' });
  const { status, stdout, stderr } = spawnSync(
    'systemd-analyze',
    ['calendar', `--iterations=${ITERATIONS}`, `--base-time=${local.format(base)}`, ...expressions],
    { env: { ...process.env, TZ: zone, LC_ALL: 'C' } as unknown as NodeJS.ProcessEnv, encoding: 'utf8' },
  );
  // Of some expressions it says itself that it gets lost in them; the others are asked again.
  const lost = [...stderr.matchAll(/Failed to determine next elapse for '(.*)':/g)].map((match) => match[1]);
  const others = expressions.filter((expression) => !lost.includes(expression));
  if (lost.length > 0)
    return others.length > 0 ? systemdDues(others, zone, base) : new Map<string, number[]>();
  expect(status, stderr).toBe(0);
  const blocks = stdout
    .split(/^(?=Normalized form:| {2}Original form:)/m)
    .filter((block) => block.includes('form:'))
    .reduce<string[]>((joined, block) => {
      // The normalized form follows the original one where the two differ.
      if (block.startsWith('Normalized') && joined.at(-1)?.includes('elapse') === false) {
        joined[joined.length - 1] += block;
      } else joined.push(block);
      return joined;
    }, []);
  expect(blocks).toHaveLength(expressions.length);
  const dues = blocks
    .map((block) => [...block.matchAll(/(?:elapse|Iter\. #\d+|\(in UTC\)): (\w{3} [\d-]+ [\d:]+) (\S+)/g)])
    .map((lines) =>
      lines.filter(([, , name]) => name === 'UTC').map(([, time]) => Date.parse(`${time} UTC`)),
    );
  return new Map(expressions.map((expression, i) => [expression, dues[i]!]));
}

const component = (least: number, most: number) => {
  const value = fc.integer({ min: least, max: most });
  return fc.oneof(
    { weight: 3, arbitrary: fc.constant('*') },
    { weight: 3, arbitrary: value.map(String) },
    fc
      .tuple(value, fc.integer({ min: 2, max: 9 }))
      .map(([start, step]) => (start + step > most ? `${least}/${step}` : `${start}/${step}`)),
    fc.uniqueArray(value, { minLength: 2, maxLength: 3 }).map((list) => list.join()),
    fc.tuple(value, value).map(([a, b]) => `${Math.min(a, b)}..${Math.max(a, b)}`),
  );
};
const weekdays = fc.constantFrom('', '', 'Mon..Fri ', 'Sat,Sun ', 'Tue ', 'Wed..Fri,Sun ');
// Version 252 gets lost in steps of months, and in days from the end of some of them, and says so.
const months = component(1, 12).filter((month) => !month.includes('/'));
const dates = fc.oneof(
  fc.constant(''),
  fc.tuple(months, component(1, 28)).map(([month, day]) => `*-${month}-${day} `),
  fc.integer({ min: 1, max: 9 }).map((day) => `*-*~${day} `),
);
const times = fc
  .tuple(component(0, 23), fc.integer({ min: 0, max: 59 }))
  .map(([hour, minute]) => `${hour}:${minute}`);
const expressions = fc.tuple(weekdays, dates, times).map((parts) => parts.join(''));

describe.skipIf(!installed)('calendar events against systemd itself', () => {
  it.each(['Europe/Lisbon', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kolkata'])(
    'come at the very times it names in %s, through changes of the clock',
    (zone) => {
      const bases = fc.integer({
        min: Date.parse('2024-01-01') / 1000,
        max: Date.parse('2031-01-01') / 1000,
      });
      let compared = 0;
      fc.assert(
        fc.property(fc.array(expressions, { minLength: 12, maxLength: 12 }), bases, (list, second) => {
          // A base inside the doubled hour is ambiguous in local time.
          const base = new Date(Math.floor(second / 86_400) * 86_400_000 + 12 * 3_600_000);
          const theirs = systemdDues(list, zone, base);
          for (const [expression, said] of theirs) {
            const schedule = { type: 'calendar' as const, expression, zone };
            const mine = nextDues(schedule, base.getTime(), said.length);
            // Of an hour that is shown twice systemd takes now the first passing, now the second; the clock
            // shows the same at both, and ours is always the first.
            const shown = (dues: readonly number[]) => dues.map((due) => wallAt(due, zone));
            if (expression.includes('/')) {
              // Version 252 now and then passes over the first step after a day, a month or a year has ended.
              const more = shown(nextDues(schedule, base.getTime(), 60));
              for (const due of shown(said)) expect(more, expression).toContainEqual(due);
            } else {
              expect({ expression, base, dues: shown(mine) }).toEqual({
                expression,
                base,
                dues: shown(said),
              });
            }
            for (const due of mine) expect(momentsOf(wallAt(due, zone), zone)[0]).toBe(due);
            compared += mine.length;
          }
        }),
        { numRuns: tries(25) },
      );
      expect(compared).toBeGreaterThan(300);
    },
  );
});

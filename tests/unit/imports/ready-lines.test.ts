import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { readyLines } from '@/core/imports/ready-lines';
import type { ScheduleConfig } from '@/core/settings/watch-config';

const JOB = {
  address: 'https://watch.ternferry.test/in/KEY',
  base: 'https://watch.ternferry.test',
  mail: null,
  name: ' Nightly manifest (backup)!',
  schedule: { type: 'cron', expression: '15 3 * * 1\n0 4 * * *', zone: 'UTC' } as ScheduleConfig,
};

const lineOf = (id: string, rest: Partial<typeof JOB> = {}) =>
  readyLines({ ...JOB, ...rest }).find((one) => one.id === id)?.text;

it('are what people paste, letter by letter', () => {
  const said = readyLines({ ...JOB, mail: 'KEY@watch.ternferry.test' } as never)
    .map(({ id, title, help, text }) => `== ${id}: ${title}\n${help}\n\n${text}\n`)
    .join('\n');
  expect(said).toBe(readFileSync(new URL('ready-lines.txt', import.meta.url), 'utf8'));
});

it('leave mail out while none is taken in', () => {
  expect(lineOf('mail')).toBeUndefined();
});

it('name the times of a systemd timer as they are kept, or the period, or an example', () => {
  const timer = (schedule: ScheduleConfig) =>
    /\[Timer\]\n([\s\S]*?)\n\n/.exec(lineOf('systemd', { schedule })!)![1];
  expect(timer({ type: 'calendar', expression: 'Mon 02:30\nTue 03:30', zone: 'UTC' })).toBe(
    'OnCalendar=Mon 02:30\nOnCalendar=Tue 03:30',
  );
  expect(timer({ type: 'period', every: 900 })).toBe('OnUnitActiveSec=900\nOnBootSec=60');
  expect(timer(JOB.schedule)).toBe('OnCalendar=*-*-* 02:30:00');
});

it('start a crontab line with an example where the job has no times of cron', () => {
  expect(lineOf('crontab', { schedule: { type: 'period', every: 900 } })).toMatch(/^30 2 \* \* \* /);
  expect(lineOf('crontab')).toMatch(/^15 3 \* \* 1 /);
});

it('call units by letters and digits, and by anything where a name has none', () => {
  const unit = (name: string) => /system\/(\S+)\.service/.exec(lineOf('systemd', { name })!)![1];
  expect(unit('--Tide Table 2--')).toBe('tide-table-2');
  expect(unit('«»')).toBe('job');
});

it('keep a percent sign in a name from being read as one of systemd’s own', () => {
  expect(lineOf('systemd', { name: '50 % of the fares' })).toContain('Description=50 %% of the fares\n');
});

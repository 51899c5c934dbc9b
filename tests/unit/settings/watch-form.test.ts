import { describe, expect, it } from 'vitest';
import {
  NO_LEVELS,
  ownValues,
  resolve,
  wholeConfig,
  type Levels,
  type OwnConfig,
} from '@/core/settings/cascade';
import type { WatchConfig } from '@/core/settings/watch-config';
import { shippedForKinds } from '@/probes/kinds/registry';
import {
  configOf,
  emptyWatchForm,
  heldFor,
  ownNames,
  sharedBodyOf,
  sharedFormOf,
  watchBodyOf,
  watchFormOf,
  withHeld,
  type WatchFormValues,
} from '@/ui/settings/watch-form-values';

const zone = 'Europe/Lisbon';
const usual = shippedForKinds();
const LEVELS: Levels = {
  ...NO_LEVELS,
  usual,
  instance: { timeout: 7 },
  sections: { Piers: { every: 420, 'settings.soonDays': 30 } },
};

/** A watch as the store would hand it to the form. */
function existing(kind: string, section: string | null, own: OwnConfig) {
  const resolved = resolve({ kind, section, own: ownValues(kind, own, usual) }, LEVELS);
  const config: WatchConfig = wholeConfig(own, resolved);
  return { kind, name: 'Booking site', section, tags: [{ name: 'pier' }], config, from: resolved.from };
}

describe('what the watch form holds', () => {
  const own: OwnConfig = {
    type: 'probe',
    settings: { address: 'https://booking.ternferry.test/', words: 'Choose', soonDays: 3 },
    secondLooks: 0,
  };

  it('is a watch as it is, with its own settings marked as its own', () => {
    const form = watchFormOf(existing('web', 'Piers', own), zone);
    expect(form).toMatchObject({
      section: 'Piers',
      tags: ['pier'],
      every: 420,
      timeout: 7,
      secondLooks: '0',
      slowAfter: '',
      own: expect.arrayContaining(['secondLooks', 'settings.soonDays']),
    });
    expect(form.own).toHaveLength(2);
  });

  it('goes back as a body that keeps its own settings and gives the others back', () => {
    const body = watchBodyOf(watchFormOf(existing('web', 'Piers', own), zone), usual);
    expect(body).toMatchObject({
      kind: 'web',
      name: 'Booking site',
      secondLooks: 0,
      settings: { address: 'https://booking.ternferry.test/', words: 'Choose', soonDays: '3' },
    });
    expect(body).not.toHaveProperty('everySeconds');
    expect(body.settings).not.toHaveProperty('accepted');
    expect(body.inherit).toEqual(
      expect.arrayContaining(['everySeconds', 'when', 'timeoutSeconds', 'settings.accepted']),
    );
    expect(body.inherit).not.toContain('secondLooks');
  });

  it('says how often or at which times, never both', () => {
    const form: WatchFormValues = { ...emptyWatchForm(zone), own: ['every'], every: 90 };
    expect(ownNames(form)).toEqual(['every']);
    expect(ownNames({ ...form, byCron: true })).toEqual(['when']);
    const body = sharedBodyOf({ ...form, byCron: true, expression: '5 * * * *' }, ['every', 'when']);
    expect(body).toEqual({ when: { expression: '5 * * * *', zone }, inherit: ['everySeconds'] });
  });

  it('shows what holds in another section or of another kind, before anything is saved', () => {
    const form = { ...emptyWatchForm(zone), section: 'Piers' };
    expect(heldFor(form, LEVELS).values).toMatchObject({ every: 420, timeout: 7 });
    expect(heldFor({ ...form, section: '' }, LEVELS).values.every).toBe(60);
    expect(heldFor({ ...form, section: '', kind: 'certificate' }, LEVELS).values.every).toBe(3600);
    const shown = withHeld(form, heldFor(form, LEVELS));
    expect(shown).toMatchObject({
      every: 420,
      byCron: false,
      settings: { soonDays: '30', accepted: '200-299' },
    });
  });

  it('is whole settings for the core, or none while a number is missing', () => {
    const form = { ...emptyWatchForm(zone), own: ['timeout', 'slowAfter'], timeout: 4, slowAfter: '' };
    const held = heldFor(form, LEVELS);
    expect(configOf(form, held)).toMatchObject({ type: 'probe', every: 60, timeout: 4, slowAfter: null });
    expect(configOf({ ...form, timeout: Number.NaN }, held)).toBeNull();
    expect(configOf({ ...form, own: ['secondLooks'], secondLooks: 'few' }, held)).toBeNull();
    expect(configOf({ ...form, own: ['secondLooks'], secondLooks: '' }, held)).toBeNull();
  });

  it('keeps what is typed as it is, so that the answer can name it', () => {
    const form = { ...emptyWatchForm(zone), own: ['secondLooks', 'longestRun'], secondLooks: 'few' };
    expect(sharedBodyOf(form, ['secondLooks'])).toEqual({ secondLooks: 'few', inherit: [] });
    expect(sharedBodyOf({ ...form, longestRun: '90' }, ['longestRun'])).toEqual({
      longestRunSeconds: 5400,
      inherit: [],
    });
    expect(sharedBodyOf(form, ['longestRun'])).toEqual({ longestRunSeconds: null, inherit: [] });
  });
});

describe('the form of a check-in', () => {
  const job = existing('checkin', null, {
    type: 'checkin',
    schedule: {
      type: 'calendar',
      expression: 'Mon..Fri 06:30',
      zone: 'Asia/Tokyo',
      daysOff: ['2026-12-25', '2027-01-01'],
    },
    longestRun: 5400,
  });

  it('holds its times, its days off one a line, and lengths in minutes', () => {
    const form = watchFormOf(job, zone);
    expect(form).toMatchObject({
      scheduleType: 'calendar',
      zone: 'Asia/Tokyo',
      daysOff: '2026-12-25\n2027-01-01',
      longestRun: '90',
      own: ['longestRun'],
    });
    expect(watchBodyOf(form, usual)).toMatchObject({
      schedule: (job.config as { schedule: object }).schedule,
    });
  });

  it('takes days off however they are parted, and none for none', () => {
    const form = { ...watchFormOf(job, zone), daysOff: ' 2026-12-25, 2027-01-01\n' };
    expect(watchBodyOf(form, usual)).toMatchObject({ schedule: { daysOff: ['2026-12-25', '2027-01-01'] } });
    expect(watchBodyOf({ ...form, daysOff: '' }, usual).schedule).not.toHaveProperty('daysOff');
    expect(watchBodyOf({ ...form, scheduleType: 'period', period: 900 }, usual).schedule).toEqual({
      type: 'period',
      everySeconds: 900,
    });
  });
});

describe('the form for what is shared', () => {
  it('begins with what is set at its place, and knows nothing else as its own', () => {
    const form = sharedFormOf({ level: 'section', section: 'Piers' }, LEVELS.sections.Piers!, zone);
    expect(form).toMatchObject({
      section: 'Piers',
      kind: '',
      every: 420,
      settings: { soonDays: '30' },
      own: ['every', 'settings.soonDays'],
    });
    expect(sharedBodyOf(form, ['every', 'when', 'timeout', 'settings.soonDays'])).toEqual({
      everySeconds: 420,
      settings: { soonDays: '30' },
      inherit: ['when', 'timeoutSeconds'],
    });
  });
});

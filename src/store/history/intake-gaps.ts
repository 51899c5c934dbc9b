import type { Knex } from 'knex';
import { prepared, type Db } from '@/store/db/connection';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { writeWhenFree } from '@/store/db/when-free';

/** Time in which the front door was closed, so that no check-in could be heard. */
export interface IntakeGap {
  from: number;
  to: number;
}

const HEARD_UNTIL = 'heard_until';
/** Gaps the engine has not taken in yet, oldest first. */
const EAR_GAPS = 'ear_gaps';
const MOST_GAPS = 1000;
const ROOM_TRIED_BYTES = 60_000;

export async function readIntakeGaps(db: Db): Promise<IntakeGap[]> {
  return JSON.parse((await fetchSetting(db, EAR_GAPS)) ?? '[]') as IntakeGap[];
}

/** Marks gaps as taken in; ones noted meanwhile stay. */
export async function clearIntakeGaps(db: Db, taken: readonly IntakeGap[]): Promise<void> {
  const last = taken.at(-1);
  if (!last) return;
  const left = (await readIntakeGaps(db)).filter((gap) => gap.to > last.to);
  await saveSetting(db, EAR_GAPS, JSON.stringify(left));
}

/** Between two pulses or ticks; more means that the machine slept, or that its clock was set. */
export const JUMP_MS = 10_000;

const READ = 'SELECT value FROM settings WHERE key = ?';
const WRITE =
  'INSERT INTO settings (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value';

/**
 * Notes that the front door hears now; when it was silent for longer than this, that it could not hear meanwhile. It goes
 * on hearing while somebody else writes.
 */
function saveHearing(db: Knex, now: number, silentMs: number, clock: () => number): Promise<boolean> {
  return writeWhenFree(db, (raw) => {
    const said = (key: string) => (prepared(raw, READ).get(key) as { value: string } | undefined)?.value;
    const write = (key: string, value: string) => prepared(raw, WRITE).run(key, value);
    const until = said(HEARD_UNTIL);
    // Where it lies ahead, the clock was set back: nothing is known of how long nobody could be heard.
    const silent = until !== undefined && now - Number(until) > silentMs;
    if (silent) {
      const gaps = [...(JSON.parse(said(EAR_GAPS) ?? '[]') as IntakeGap[]), { from: Number(until), to: now }];
      write(EAR_GAPS, JSON.stringify(gaps.slice(-MOST_GAPS)));
    }
    // It may have been written late; what came meanwhile was heard all the same.
    write(HEARD_UNTIL, String(clock()));
    return silent;
  });
}

/**
 * The front door is open now and will say so again soon. A pulse long after the one before it notes the time between
 * as a gap, and answers true. `clock` is asked again once it is written.
 */
export function savePulse(db: Knex, now: number, clock = () => now): Promise<boolean> {
  return saveHearing(db, now, JUMP_MS, clock);
}

/** The front door opens: notes the time since its last pulse as a gap. */
export async function saveOpening(db: Knex, now: number): Promise<void> {
  await saveHearing(db, now, 0, () => now);
}

/** Until when check-ins are known to have been heard and kept; null where no front door was ever open. */
export async function fetchHeardUntil(db: Db): Promise<number | null> {
  const until = await fetchSetting(db, HEARD_UNTIL);
  return until === null ? null : Number(until);
}

/** Notes time in which check-ins were heard, but could not be kept. */
export async function saveIntakeGap(db: Db, from: number, to: number): Promise<void> {
  const gaps = [...(await readIntakeGaps(db)), { from: Math.min(from, to), to }];
  await saveSetting(db, EAR_GAPS, JSON.stringify(gaps.slice(-MOST_GAPS)));
  await saveSetting(db, HEARD_UNTIL, String(to));
}

/** Whether a report of usual size could be kept now; throws what the database says where not. */
export async function tryToKeep(db: Db): Promise<void> {
  await saveSetting(db, 'room_tried', 'x'.repeat(ROOM_TRIED_BYTES));
  await saveSetting(db, 'room_tried', '');
}

import { deflateRawSync, inflateRawSync } from 'node:zlib';
import type Database from 'better-sqlite3';
import { packHours, unpackHours } from '@/core/history/packed-hours';
import type { Rollup } from '@/core/history/rollup';
import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';

/** No day unpacks to more than this: an hour takes a few kilobytes at most. */
const MOST_BYTES = 1_000_000;

const dayOf = (at: number) => Math.floor(at / DAY_MS) * DAY_MS;
const squeeze = (day: number, hours: readonly Rollup[]) =>
  deflateRawSync(packHours(day, hours), { level: 9 });
const unsqueeze = (day: number, bytes: Buffer) =>
  unpackHours(day, inflateRawSync(bytes, { maxOutputLength: MOST_BYTES }));

/** Hours in their order; one that comes late takes the place of what was known of it. */
export function withLate(known: readonly Rollup[], late: readonly Rollup[]): Rollup[] {
  if (late.length === 0) return [...known];
  const anew = new Set(late.map(({ hour }) => hour));
  return [...known.filter(({ hour }) => !anew.has(hour)), ...late].sort((a, b) => a.hour - b.hour);
}

/** Adds hours to what is packed of their day; answers all hours of it. */
export function packer(raw: Database.Database): {
  add: (watchId: number, day: number, hours: readonly Rollup[]) => Rollup[];
} {
  const read = raw.prepare<[number, number], { hours: Buffer }>(
    'SELECT hours FROM packed_hours WHERE watch_id = ? AND day = ?',
  );
  const write = raw.prepare('INSERT OR REPLACE INTO packed_hours (watch_id, day, hours) VALUES (?, ?, ?)');
  return {
    add: (watchId, day, hours) => {
      const known = read.get(watchId, day);
      const all = withLate(known ? unsqueeze(day, known.hours) : [], hours);
      write.run(watchId, day, squeeze(day, all));
      return all;
    },
  };
}

/** Hours that begin in [from, to), of those that are packed. */
export async function fetchPackedHours(db: Db, watchId: number, from: number, to: number): Promise<Rollup[]> {
  const rows = await db('packed_hours')
    .where('watch_id', watchId)
    .andWhere('day', '>=', dayOf(from))
    .andWhere('day', '<', to)
    .orderBy('day')
    .select('day', 'hours');
  return rows
    .flatMap(({ day, hours }) => unsqueeze(day, hours))
    .filter(({ hour }) => hour >= from && hour < to);
}

/** The beginning of the last day before a time of which hours are packed, of any watch; null where there is none. */
export async function fetchLastPackedDay(db: Db, time: number): Promise<number | null> {
  const row = await db('packed_hours').where('day', '<', time).orderBy('day', 'desc').first('day');
  return row?.day ?? null;
}

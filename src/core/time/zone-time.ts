import { DAY_MS } from './units';
/** A reading of a wall clock; months count from 1. */
export interface Wall {
  year: number;
  month: number;
  day: number;
  hour: number;
  minute: number;
  second: number;
}

const formats = new Map<string, Intl.DateTimeFormat>();

function formatFor(zone: string): Intl.DateTimeFormat {
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-US', {
      timeZone: zone,
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
      hourCycle: 'h23',
    });
    formats.set(zone, format);
  }
  return format;
}

export function isTimeZone(zone: string): boolean {
  try {
    return zone.length > 0 && formatFor(zone) !== null;
  } catch {
    return false;
  }
}

/** What the calendar of the machine says a zone's wall clock shows at a moment. */
function readWall(at: number, zone: string): Wall {
  const parts = formatFor(zone).formatToParts(at);
  const get = (type: string) => Number(parts.find((p) => p.type === type)!.value);
  return {
    year: get('year'),
    month: get('month'),
    day: get('day'),
    hour: get('hour'),
    minute: get('minute'),
    second: get('second'),
  };
}

/** What a zone's wall clock shows at a moment (ms since 1970). */
export function wallAt(at: number, zone: string): Wall {
  return wallOf(wholeSecond(at) + zoneOffsetMs(at, zone));
}

/** A wall clock's reading as if it were UTC, in ms since 1970. */
export function wallMs({ year, month, day, hour, minute, second }: Wall): number {
  return Date.UTC(year, month - 1, day, hour, minute, second);
}

/** The reading of a wall clock that is given as if it were UTC. */
export function wallOf(ms: number): Wall {
  const date = new Date(ms);
  return {
    year: date.getUTCFullYear(),
    month: date.getUTCMonth() + 1,
    day: date.getUTCDate(),
    hour: date.getUTCHours(),
    minute: date.getUTCMinutes(),
    second: date.getUTCSeconds(),
  };
}

const wholeSecond = (at: number) => Math.floor(at / 1000) * 1000;

const readOffset = (at: number, zone: string) => wallMs(readWall(at, zone)) - wholeSecond(at);

/** Clocks of no zone were ever changed twice within so little time. */
const STRETCH_MS = DAY_MS / 2;
const MOST_KEPT = 20_000;
const keptOffsets = new Map<string, Map<number, number>>();
let kept = 0;

/** How far a zone's clock is ahead where a stretch begins; asking the calendar takes a hundred times as long. */
function offsetAtStretch(stretch: number, zone: string): number {
  let offsets = keptOffsets.get(zone);
  let offset = offsets?.get(stretch);
  if (offset === undefined) {
    offset = readOffset(stretch * STRETCH_MS, zone);
    if (kept >= MOST_KEPT) {
      keptOffsets.clear();
      offsets = undefined;
      kept = 0;
    }
    if (!offsets) keptOffsets.set(zone, (offsets = new Map<number, number>()));
    offsets.set(stretch, offset);
    kept += 1;
  }
  return offset;
}

/** How far a zone's wall clock is ahead of UTC at a moment, in milliseconds. */
export function zoneOffsetMs(at: number, zone: string): number {
  const stretch = Math.floor(at / STRETCH_MS);
  const offset = offsetAtStretch(stretch, zone);
  return offsetAtStretch(stretch + 1, zone) === offset ? offset : readOffset(at, zone);
}

/**
 * The moments at which a zone's wall clock shows this: none where daylight saving skips it, two where it is
 * shown twice, the earlier one first.
 */
export function momentsOf(wall: Wall, zone: string): number[] {
  const shown = wallMs(wall);
  const offsets = [zoneOffsetMs(shown - DAY_MS, zone), zoneOffsetMs(shown + DAY_MS, zone)];
  const moments = [...new Set(offsets)].map((offset) => shown - offset);
  return moments.filter((at) => zoneOffsetMs(at, zone) === shown - at).sort((a, b) => a - b);
}

/** The day a zone's calendar shows at a moment, as "2026-11-24". */
export function dateAt(at: number, zone: string): string {
  return new Date(wallMs(wallAt(at, zone))).toISOString().slice(0, 10);
}

/** What a zone's clocks do within some time after a moment: forward or back, when, and by how much. */
export function clockChange(from: number, to: number, zone: string): { at: number; byMs: number } | null {
  const before = zoneOffsetMs(from, zone);
  if (zoneOffsetMs(to, zone) === before) return null;
  let [low, high] = [from, to];
  while (high - low > 1000) {
    const middle = Math.floor((low + high) / 2);
    if (zoneOffsetMs(middle, zone) === before) low = middle;
    else high = middle;
  }
  const at = Math.ceil(high / 1000) * 1000 - 1000;
  const exact = zoneOffsetMs(at, zone) === before ? at + 1000 : at;
  return { at: exact, byMs: zoneOffsetMs(exact, zone) - before };
}

/** When a day of a zone's calendar begins, or, where daylight saving skips that, the moment of the skip; null for no day. */
export function dayBegins(day: string, zone: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(day)) return null;
  const midnight = Date.parse(`${day}T00:00:00Z`);
  if (Number.isNaN(midnight) || new Date(midnight).toISOString().slice(0, 10) !== day) return null;
  return momentsOf(wallOf(midnight), zone)[0] ?? midnight - zoneOffsetMs(midnight - DAY_MS, zone);
}

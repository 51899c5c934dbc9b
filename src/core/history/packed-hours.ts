import { HOUR_MS } from '@/core/time/units';
import { bucketBounds, emptyHistogram, type Histogram } from './histogram';
import type { Rollup } from './rollup';

/**
 * The hours of a day as bytes: each a number of the hour (0 to 23), counts, a histogram, readings. Buckets that lie near
 * each other and hold few take one byte each: two bits for the gap before, six for the count. The least and the most
 * time are kept as where they lie within their bucket, to 1/65535 of it; counts and buckets are exact.
 */
const VERSION = 1;
const FAR = 255;
const MOST_GAP = 3;
const MOST_COUNT = 63;
const WITHIN = 65_535;

class Writer {
  readonly bytes: number[] = [];
  byte(value: number): void {
    this.bytes.push(value);
  }
  /** LEB128. */
  whole(value: number): void {
    let rest = value;
    for (; rest > 127; rest = Math.floor(rest / 128)) this.bytes.push((rest % 128) | 128);
    this.bytes.push(rest);
  }
  short(value: number): void {
    this.bytes.push(value & 255, value >>> 8);
  }
  double(value: number): void {
    const bytes = Buffer.alloc(8);
    bytes.writeDoubleLE(value);
    this.bytes.push(...bytes);
  }
}

class Reader {
  private at = 0;
  constructor(private readonly bytes: Buffer) {}
  get ended(): boolean {
    return this.at >= this.bytes.length;
  }
  byte(): number {
    return this.bytes.readUInt8(this.at++);
  }
  whole(): number {
    let value = 0;
    for (let unit = 1; ; unit *= 128) {
      const byte = this.byte();
      value += (byte & 127) * unit;
      if (byte < 128) return value;
    }
  }
  short(): number {
    return this.byte() + this.byte() * 256;
  }
  double(): number {
    this.at += 8;
    return this.bytes.readDoubleLE(this.at - 8);
  }
}

const zigzag = (value: number) => (value < 0 ? -2 * value - 1 : 2 * value);
const unzigzag = (value: number) => (value % 2 === 1 ? -(value + 1) / 2 : value / 2);

function partOf(bucket: number, ms: number): number {
  const { above, upTo } = bucketBounds(bucket);
  return Math.round(Math.min(1, Math.max(0, (ms - above) / (upTo - above))) * WITHIN);
}

function timeAt(bucket: number, part: number): number {
  const { above, upTo } = bucketBounds(bucket);
  return above + ((upTo - above) * part) / WITHIN;
}

function writeTimes(out: Writer, times: Histogram): void {
  const buckets = [...times.buckets.keys()].sort((a, b) => a - b);
  out.whole(buckets.length);
  if (buckets.length === 0) return;
  const first = buckets[0]!;
  out.whole(zigzag(first));
  out.short(partOf(first, times.min));
  out.short(partOf(buckets.at(-1)!, times.max));
  let previous = first - 1;
  for (const bucket of buckets) {
    const gap = bucket - previous - 1;
    const count = times.buckets.get(bucket)!;
    previous = bucket;
    if (gap <= MOST_GAP && count <= MOST_COUNT) {
      out.byte(gap * 64 + count - 1);
      continue;
    }
    out.byte(FAR);
    out.whole(gap);
    out.whole(count);
  }
}

function readTimes(from: Reader): Histogram {
  const times = emptyHistogram();
  const buckets = from.whole();
  if (buckets === 0) return times;
  const first = unzigzag(from.whole());
  const least = from.short();
  const most = from.short();
  let bucket = first - 1;
  for (let i = 0; i < buckets; i += 1) {
    const token = from.byte();
    const gap = token === FAR ? from.whole() : token >> 6;
    const count = token === FAR ? from.whole() : (token & 63) + 1;
    bucket += gap + 1;
    times.buckets.set(bucket, count);
    times.count += count;
  }
  times.min = timeAt(first, least);
  times.max = timeAt(bucket, most);
  return times;
}

/** Packs the hours of one day (UTC). */
export function packHours(day: number, hours: readonly Rollup[]): Buffer {
  const out = new Writer();
  out.byte(VERSION);
  for (const { hour, fine, failed, times, readings } of hours) {
    out.byte((hour - day) / HOUR_MS + (readings ? 128 : 0));
    out.whole(fine);
    out.whole(failed);
    writeTimes(out, times);
    if (!readings) continue;
    out.double(readings.least);
    out.double(readings.most);
    out.double(readings.total);
    out.whole(readings.count);
  }
  return Buffer.from(out.bytes);
}

/** The reverse of `packHours`; throws for bytes that are none of its. */
export function unpackHours(day: number, bytes: Buffer): Rollup[] {
  const from = new Reader(bytes);
  const version = from.byte();
  if (version !== VERSION) throw new Error(`Expected hours packed as ${VERSION}, got ${version}.`);
  const hours: Rollup[] = [];
  while (!from.ended) {
    const head = from.byte();
    const fine = from.whole();
    const failed = from.whole();
    const times = readTimes(from);
    const readings =
      head >= 128
        ? { least: from.double(), most: from.double(), total: from.double(), count: from.whole() }
        : null;
    hours.push({ hour: day + (head % 128) * HOUR_MS, fine, failed, times, readings });
  }
  return hours;
}

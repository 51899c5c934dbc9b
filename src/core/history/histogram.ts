/**
 * A mergeable histogram of milliseconds with logarithmic buckets. Bucket i holds values in
 * (γ^(i−1), γ^i] with γ = (1 + α) / (1 − α); answering with 2γ^i / (γ + 1) keeps every quantile within the
 * relative error α of the exact one (Masson, Rim, Lee: DDSketch, VLDB 2019). Values under 0.01 ms share one
 * bucket.
 */
export interface Histogram {
  count: number;
  min: number;
  max: number;
  buckets: Map<number, number>;
}

/** The stated relative error of quantiles. */
export const HISTOGRAM_ERROR = 0.02;

const GAMMA = (1 + HISTOGRAM_ERROR) / (1 - HISTOGRAM_ERROR);
const LOG_GAMMA = Math.log(GAMMA);
const SMALLEST_MS = 0.01;

export function emptyHistogram(): Histogram {
  return { count: 0, min: Infinity, max: -Infinity, buckets: new Map() };
}

function bucketOf(ms: number): number {
  return Math.ceil(Math.log(Math.max(ms, SMALLEST_MS)) / LOG_GAMMA);
}

/** Which milliseconds a bucket holds: above the one, up to the other. */
export function bucketBounds(bucket: number): { above: number; upTo: number } {
  return { above: GAMMA ** (bucket - 1), upTo: GAMMA ** bucket };
}

/** Adds one value in place. */
export function addToHistogram(histogram: Histogram, ms: number): void {
  const bucket = bucketOf(ms);
  histogram.count += 1;
  histogram.min = Math.min(histogram.min, ms);
  histogram.max = Math.max(histogram.max, ms);
  histogram.buckets.set(bucket, (histogram.buckets.get(bucket) ?? 0) + 1);
}

export function histogramOf(values: Iterable<number>): Histogram {
  const histogram = emptyHistogram();
  for (const value of values) addToHistogram(histogram, value);
  return histogram;
}

export function mergeHistograms(parts: Iterable<Histogram>): Histogram {
  const whole = emptyHistogram();
  for (const part of parts) {
    whole.count += part.count;
    whole.min = Math.min(whole.min, part.min);
    whole.max = Math.max(whole.max, part.max);
    for (const [bucket, n] of part.buckets) whole.buckets.set(bucket, (whole.buckets.get(bucket) ?? 0) + n);
  }
  return whole;
}

/** The q-quantile (0 to 1, nearest rank) in milliseconds, or null when empty. */
export function quantileOf(histogram: Histogram, q: number): number | null {
  if (histogram.count === 0) return null;
  const rank = Math.max(1, Math.ceil(q * histogram.count));
  let seen = 0;
  for (const bucket of [...histogram.buckets.keys()].sort((a, b) => a - b)) {
    seen += histogram.buckets.get(bucket)!;
    if (seen >= rank) {
      const middle = (2 * GAMMA ** bucket) / (GAMMA + 1);
      return Math.min(histogram.max, Math.max(histogram.min, middle));
    }
  }
  return histogram.max;
}

/** Packs a histogram: min and max as doubles, then (bucket step, count) pairs as LEB128 integers. */
export function encodeHistogram(histogram: Histogram): Buffer {
  if (histogram.count === 0) return Buffer.alloc(0);
  const head = Buffer.alloc(8);
  head.writeFloatLE(histogram.min, 0);
  head.writeFloatLE(histogram.max, 4);
  const bytes: number[] = [];
  const push = (value: number) => {
    let rest = value;
    while (rest > 127) {
      bytes.push((rest & 127) | 128);
      rest >>>= 7;
    }
    bytes.push(rest);
  };
  let previous = -1024;
  for (const bucket of [...histogram.buckets.keys()].sort((a, b) => a - b)) {
    push(bucket - previous);
    push(histogram.buckets.get(bucket)!);
    previous = bucket;
  }
  return Buffer.concat([head, Buffer.from(bytes)]);
}

/** The reverse of `encodeHistogram`; an empty buffer is an empty histogram. */
export function decodeHistogram(bytes: Buffer): Histogram {
  const histogram = emptyHistogram();
  if (bytes.length === 0) return histogram;
  histogram.min = bytes.readFloatLE(0);
  histogram.max = bytes.readFloatLE(4);
  let at = 8;
  const pull = () => {
    let value = 0;
    for (let shift = 0; ; shift += 7) {
      const byte = bytes[at++]!;
      value |= (byte & 127) << shift;
      if (byte < 128) return value;
    }
  };
  let bucket = -1024;
  while (at < bytes.length) {
    bucket += pull();
    const n = pull();
    histogram.buckets.set(bucket, n);
    histogram.count += n;
  }
  return histogram;
}

import { DAY_MS, HOUR_MS, MINUTE_MS, SECOND_MS } from './units';

const UNITS: [number, string][] = [
  [DAY_MS, 'd'],
  [HOUR_MS, 'h'],
  [MINUTE_MS, 'min'],
  [SECOND_MS, 's'],
];

/**
 * A length of time in at most two neighbouring units: "1 min 50 s", "3 d 4 h", "under 1 s".
 * Rounds down, so that a length is never said longer than it was.
 */
export function formatDuration(ms: number): string {
  const whole = Math.max(0, Math.floor(ms));
  if (whole < SECOND_MS) return whole === 0 ? '0 s' : 'under 1 s';
  const first = UNITS.findIndex(([size]) => whole >= size);
  const [size, name] = UNITS[first]!;
  const count = Math.floor(whole / size);
  const next = UNITS[first + 1];
  const rest = next ? Math.floor((whole - count * size) / next[0]) : 0;
  return rest > 0 ? `${count} ${name} ${rest} ${next![1]}` : `${count} ${name}`;
}

/** An exact length to the second in every unit that is not zero: "1 h 2 min 3 s". */
export function formatExactDuration(ms: number): string {
  let rest = Math.max(0, Math.round(ms / SECOND_MS) * SECOND_MS);
  const parts: string[] = [];
  for (const [size, name] of UNITS) {
    const count = Math.floor(rest / size);
    if (count > 0) parts.push(`${count} ${name}`);
    rest -= count * size;
  }
  return parts.length > 0 ? parts.join(' ') : '0 s';
}

/** Milliseconds as a reader wants them: "4 ms", "1.24 s", "3 min 51 s". */
export function formatMs(ms: number): string {
  if (ms > 0 && ms < 0.1) return 'under 0.1 ms';
  if (ms < 10 && ms > 0 && !Number.isInteger(ms)) return `${ms.toFixed(1)} ms`;
  if (ms < 1000) return `${Math.round(ms)} ms`;
  if (ms < 10_000) return `${(ms / 1000).toFixed(2)} s`;
  return formatDuration(ms);
}

/** Bytes in decimal units: "512 B", "48 kB", "1.2 MB", "3.4 GB". */
export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`;
  if (bytes < 1_000_000_000) return `${(bytes / 1_000_000).toFixed(1)} MB`;
  return `${(bytes / 1_000_000_000).toFixed(1)} GB`;
}

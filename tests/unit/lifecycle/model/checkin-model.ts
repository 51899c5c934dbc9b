import type { StretchKind } from '@/core/lifecycle/state';
import type { Rest } from './probe-model';
import type { ToldOutage } from './replay';

/**
 * What a job's history means, lived through second by second from the words of the document. The reducer works out from
 * late inputs what must have been before; here nothing is worked out backwards but lateness that is forgiven.
 * All times are in whole seconds.
 */
export interface Said {
  at: number;
  is: 'begun' | 'done' | 'failed' | 'note';
  run: string;
}

export interface JobHistory {
  from: number;
  to: number;
  said: Said[];
  rests: Rest[];
  /** When nobody could hear. */
  deaf: { from: number; to: number }[];
}

export interface JobSettings {
  /** Seconds between two reports; or, on the clock, between two times due. */
  every: number;
  onTheClock: boolean;
  leeway: number;
  longestRun: number | null;
}

function expected({ every, onTheClock }: JobSettings, at: number): number {
  if (!onTheClock) return at + every;
  const due = Math.floor(at / every) * every + every;
  return due - at <= Math.min(300, every / 4) ? due + every : due;
}

export function jobModel(history: JobHistory, settings: JobSettings) {
  const kinds: StretchKind[] = [];
  const outages: ToldOutage[] = [];
  const { from, to } = history;
  let due: number | null = null;
  let running = new Map<string, number>();
  let kind: StretchKind = 'waiting';
  let calm = true;
  let doubled = false;
  /** What the last report said; null where none holds any more. */
  let well: boolean | null = null;
  const open = () => (outages.at(-1)?.ended === null ? outages.at(-1)! : null);
  const paint = (since: number, until: number, one: StretchKind) => {
    for (let s = Math.max(since, from); s < until; s += 1) kinds[s - from] = one;
  };
  const goDown = (began: number) => {
    if (!open()) outages.push({ began, ended: null, told: null });
    kind = 'down';
  };
  const overlong = (at: number) =>
    settings.longestRun !== null && [...running.values()].some((begun) => at >= begun + settings.longestRun!);
  for (let t = from; t < to; t += 1) {
    const rest = history.rests.find((one) => one.from <= t && t < one.to);
    const deaf = history.deaf.find((one) => one.from <= t && t < one.to);
    for (const ended of history.rests.filter((one) => one.to === t)) {
      if (due !== null) due = expected(settings, t);
      if (ended.kind === 'paused') {
        running = new Map();
        well = null;
      }
      kind = open() ? 'down' : ended.kind === 'maintenance' && well ? 'up' : 'waiting';
    }
    for (const gap of history.deaf.filter((one) => one.to === t)) {
      running = new Map();
      if (due === null || open() || due > gap.to || due + settings.leeway < gap.from) continue;
      paint(gap.from, gap.to, 'unobserved');
      if (kind === 'overdue') {
        kind = calm ? 'up' : 'waiting';
        paint(due, gap.from, kind);
      }
      due = expected(settings, t);
    }
    if (rest?.from === t) {
      if (rest.kind === 'paused' && open()) open()!.ended = t;
      kind = rest.kind;
    }
    for (const { is, run } of history.said.filter((one) => one.at === t)) {
      if (is === 'note') continue;
      if (is === 'begun') {
        if (running.size > 0 && !open() && !rest) {
          doubled = true;
          if (kind !== 'overdue') kind = 'slow';
        }
        running.set(run, t);
        due ??= expected(settings, t);
        continue;
      }
      running.delete(run);
      well = is === 'done';
      const late = due;
      due = expected(settings, t);
      if (is === 'failed') {
        if (!rest) goDown(t);
        continue;
      }
      if (open()) open()!.ended = t;
      // A run that took too long was told of; it is not told of again.
      for (const [other, begun] of running) {
        if (settings.longestRun !== null && t > begun + settings.longestRun) running.delete(other);
      }
      if (rest) continue;
      if (kind === 'overdue' && calm) paint(late!, t, 'up');
      doubled &&= running.size > 0;
      kind = doubled ? 'slow' : 'up';
    }
    if (!rest && !deaf) {
      if (overlong(t)) goDown(t);
      if (due !== null && t >= due + settings.leeway && kind !== 'down') {
        if (kind === 'slow') paint(due, t, 'overdue');
        goDown(t);
      } else if (due !== null && t >= due && (kind === 'up' || kind === 'waiting')) {
        calm = kind === 'up';
        kind = 'overdue';
      }
    }
    kinds[t - from] = kind;
  }
  return { outages, kindAt: (second: number) => kinds[second - from]!, open };
}

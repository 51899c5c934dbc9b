import type { StretchKind } from '@/core/lifecycle/state';
import type { ToldOutage } from './replay';

/**
 * What a probe's history means, said from the words of the document over the whole history at once. It shares no line
 * with the reducer, which takes one input after the other. Times in ms.
 */
export interface Look {
  at: number;
  ms: number;
  /** `near`: fine, but over a limit of the kind's own; `blind`: this machine could not reach out. */
  is: 'fine' | 'near' | 'failed' | 'blind';
}

export interface Rest {
  kind: 'paused' | 'maintenance';
  from: number;
  to: number;
}

export interface Below {
  at: number;
  down: number | null;
  doubtful: boolean;
}

export interface ProbeHistory {
  from: number;
  to: number;
  looks: Look[];
  rests: Rest[];
  /** How what it rests on stands, from each time on. */
  below: Below[];
}

export interface Settings {
  everyMs: number;
  graceMs: number;
  secondLooks: number;
  slowAfterMs: number;
  slowLooks: number;
}

export function probeModel(history: ProbeHistory, settings: Settings) {
  const { looks, rests } = history;
  const seen = looks.filter((look) => look.is !== 'blind');
  const restAt = (at: number) => rests.find((rest) => rest.from <= at && at < rest.to);
  const between = (from: number, to: number, times: number[]) => times.some((at) => from < at && at <= to);
  const blinds = looks.filter((look) => look.is === 'blind').map((look) => look.at);
  const pauses = rests.filter((rest) => rest.kind === 'paused');
  const windows = rests.filter((rest) => rest.kind === 'maintenance');
  const opens = windows.map((window) => window.from);
  const closes = windows.map((window) => window.to);

  /** Whether nothing came between a look and the one before it. */
  const follows = (i: number, breaks: number[]) =>
    i > 0 &&
    seen[i]!.at <= seen[i - 1]!.at + settings.everyMs + settings.graceMs &&
    !between(seen[i - 1]!.at, seen[i]!.at, [...blinds, ...pauses.map((pause) => pause.from), ...breaks]);

  /** Looks in a row, the newest being `i`, of which `counts` holds. */
  const rowOf = (i: number, counts: (look: Look) => boolean, breaks: number[]): number => {
    let n = 0;
    for (let j = i; j >= 0 && counts(seen[j]!); j -= 1) {
      n += 1;
      if (!follows(j, breaks)) break;
    }
    return n;
  };
  const failedRow = (i: number) =>
    rowOf(i, (look) => look.is === 'failed' && !restAt(look.at), [...opens, ...closes]);
  const isSlow = (look: Look) => look.is !== 'failed' && look.ms > settings.slowAfterMs;
  const slowRow = (i: number) => rowOf(i, isSlow, opens);

  const belowAt = (now: number) => history.below.findLast((one) => one.at <= now);
  const calmBelow = (now: number) => {
    const one = belowAt(now);
    return !one || (one.down === null && !one.doubtful);
  };

  const outages: ToldOutage[] = [];
  for (const [i, look] of seen.entries()) {
    const last = outages.at(-1);
    const open = last && (last.ended === null || last.ended > look.at);
    const row = failedRow(i);
    if (open || row <= settings.secondLooks) continue;
    const ends = [
      ...seen.filter((other) => other.at > look.at && other.is !== 'failed').map((other) => other.at),
      ...pauses.map((pause) => pause.from).filter((at) => at > look.at),
    ];
    const ended = ends.length > 0 ? Math.min(...ends) : null;
    const signs = seen.filter(
      (other, j) => j > i && other.is === 'failed' && other.at < (ended ?? Infinity) && !restAt(other.at),
    );
    const now = look.at + look.ms;
    const told = calmBelow(now)
      ? now
      : signs
          .filter((sign) => calmBelow(sign.at + sign.ms) && sign.at > (belowAt(sign.at + sign.ms)?.at ?? 0))
          .map((sign) => sign.at + sign.ms)[0];
    outages.push({ began: seen[i - row + 1]!.at, ended, told: told ?? null });
  }

  const unobserved: { from: number; to: number }[] = [];
  for (const at of [...seen.map((look) => look.at), ...rests.map((rest) => rest.from)]) {
    const resumed = Math.max(-Infinity, ...pauses.map((pause) => pause.to).filter((to) => to <= at));
    const before = seen.findLast((look) => look.at < at && look.at >= resumed);
    const covered = before ? before.at + settings.everyMs : Infinity;
    const settled = Math.max(
      before?.at ?? -Infinity,
      ...rests.map((rest) => rest.from).filter((t) => t < at),
    );
    const blind = blinds.find((t) => t > settled && t < at) ?? Infinity;
    const missed = at > covered + settings.graceMs ? covered : Infinity;
    const from = blind < Infinity ? Math.min(blind, covered) : missed;
    if (from < at) unobserved.push({ from, to: at });
  }

  const inside = (spans: { from: number; to: number }[], at: number) =>
    spans.some((span) => span.from <= at && at < span.to);
  const down = outages.map(({ began, ended }) => ({ from: began, to: ended ?? history.to }));

  /** What a look said, before what came after it is known. */
  const plain: StretchKind[] = seen.map((look, i) => {
    if (look.is === 'failed') return 'doubtful';
    return look.is === 'near' || slowRow(i) >= settings.slowLooks ? 'slow' : 'up';
  });
  // Slowness reaches back over the calm looks of its row, once the row is long enough.
  const marks = [
    { at: history.from, kind: 'waiting' as StretchKind },
    ...seen
      .filter((look) => restAt(look.at)?.kind !== 'maintenance')
      .map((look) => ({ at: look.at, kind: plain[seen.indexOf(look)]! })),
    ...pauses.map((pause) => ({ at: pause.to, kind: 'waiting' as StretchKind })),
    ...windows.map((window) => {
      const resumed = Math.max(-Infinity, ...pauses.map((pause) => pause.to).filter((to) => to <= window.to));
      const last = seen.findLast((look) => look.at < window.to && look.at >= resumed);
      return { at: window.to, kind: (last && last.is !== 'failed' ? 'up' : 'waiting') as StretchKind };
    }),
  ].sort((a, b) => a.at - b.at);
  for (const [i, look] of seen.entries()) {
    const row = slowRow(i);
    if (restAt(look.at) || look.is !== 'fine' || row < settings.slowLooks) continue;
    const began = seen[i - row + 1]!.at;
    const here = marks.findIndex((mark) => mark.at === look.at);
    for (
      let j = here - 1;
      j >= 0 && marks[j]!.kind === 'up' && !between(marks[j]!.at, look.at, opens);
      j -= 1
    ) {
      if (marks[j]!.at >= began) marks[j]!.kind = 'slow';
      else {
        // A stretch of calm that began before the row is slow from the row's beginning on.
        if (began < marks[j + 1]!.at) marks.splice(j + 1, 0, { at: began, kind: 'slow' });
        break;
      }
    }
  }

  const kindAt = (at: number): StretchKind => {
    if (inside(unobserved, at)) return 'unobserved';
    const rest = restAt(at);
    if (rest) return rest.kind;
    if (inside(down, at)) return 'down';
    return marks.findLast((mark) => mark.at <= at)!.kind;
  };
  return {
    outages,
    kindAt,
    isDown: (at: number) => inside(down, at),
    edges: [...unobserved.flatMap((u) => [u.from, u.to]), ...marks.map((mark) => mark.at)],
  };
}

import { HOUR_MS } from '@/core/time/units';
import { nextDue, type Schedule } from '@/core/schedule/schedule';

/** Working out so many takes about ten milliseconds; check-ins are heard in the breaths between. */
const DUES_IN_A_STEP = 50;
const FIRST_PART_MS = 6 * HOUR_MS;
/** A part with fewer than these was short: the one before it is taken twice as long. */
const FEW = 500;

/** The due times after one moment and up to another, the oldest first. */
async function duesIn(schedule: Schedule, from: number, to: number): Promise<number[]> {
  const dues: number[] = [];
  for (let at = nextDue(schedule, from); at !== null && at <= to; at = nextDue(schedule, at)) {
    dues.push(at);
    if (dues.length % DUES_IN_A_STEP === 0) await new Promise((resolve) => setImmediate(resolve));
  }
  return dues;
}

/**
 * The last due times up to `to` and after `from`, the oldest first and no more than `most`. They are worked out part by
 * part from the end: a job that runs each minute has more of them within ninety days than anybody looks at.
 */
export async function newestDues(
  schedule: Schedule,
  from: number,
  to: number,
  most: number,
): Promise<number[]> {
  // Times that never come are looked for once: it takes longest.
  if ((nextDue(schedule, from) ?? Infinity) > to) return [];
  const parts: number[][] = [];
  let count = 0;
  let partMs = FIRST_PART_MS;
  for (let end = to; end > from && count < most;) {
    const begin = Math.max(from, end - partMs);
    const part = await duesIn(schedule, begin, end);
    parts.unshift(part);
    count += part.length;
    if (part.length < FEW) partMs *= 2;
    end = begin;
  }
  return parts.flat().slice(-most);
}

/** Due times that are there already: all after `from`, or the last of them, up to `to`. */
interface Known {
  from: number;
  to: number;
  dues: number[];
}

/** Due times of jobs as they were worked out last; where a screen is drawn again, only those since then are. */
export class KnownDues {
  private readonly known = new Map<string, Known>();

  /** How many schedules are kept, and how many due times of each. */
  constructor(
    private readonly mostSchedules: number,
    private readonly most: number,
  ) {}

  /** The last due times after `from` and up to `to`, by what they are kept under. */
  async newest(key: string, schedule: Schedule, from: number, to: number): Promise<number[]> {
    const before = this.known.get(key);
    // What is known helps where it reaches back far enough; where there were too many, it does anyway.
    const reaches = before && before.to <= to && (before.from <= from || before.dues.length === this.most);
    const dues = reaches
      ? [...before.dues, ...(await newestDues(schedule, before.to, to, this.most))].slice(-this.most)
      : await newestDues(schedule, from, to, this.most);
    if (!before && this.known.size >= this.mostSchedules) this.known.clear();
    this.known.set(key, { from: reaches ? before.from : from, to, dues });
    return dues.filter((due) => due > from);
  }
}

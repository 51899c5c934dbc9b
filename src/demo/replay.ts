import { decide } from '@/core/lifecycle/decide';
import { runOf } from '@/core/reports/run-of';
import { factsOf, happeningsOf, type Watched } from '@/core/telling/happen';
import { newStatus, type Input, type Rules, type Status } from '@/core/lifecycle/status';
import type { Outcome, Recorder } from '@/store/history/recorder';

const BATCH = 4000;

/** Replays made-up inputs of one watch through the real core and store, with a handed-in clock. */
export class Replay {
  status: Status;
  private pending: Outcome[] = [];

  constructor(
    private readonly recorder: Recorder,
    private readonly watch: Watched & { rules: Rules; createdAt: number },
  ) {
    this.status = newStatus(watch.createdAt);
  }

  async apply(input: Input, now: number, from: { reportId?: number } = {}): Promise<void> {
    const { status, events } = decide(this.watch.rules, this.status, input, now);
    this.status = status;
    const happenings = happeningsOf(factsOf(this.watch), events, {
      paused: status.state === 'paused',
      at: now,
    });
    const run = input.type === 'report' ? runOf(input.report, events) : null;
    this.pending.push({
      watchId: this.watch.id,
      status,
      events,
      ...(input.type === 'finding' && { finding: input.finding }),
      ...(run && { run }),
      ...from,
      ...(happenings.length > 0 && { happenings: { at: now, all: happenings } }),
    });
    if (this.pending.length >= BATCH) await this.flush();
  }

  async flush(): Promise<void> {
    const batch = this.pending;
    this.pending = [];
    await this.recorder.save(batch);
  }
}

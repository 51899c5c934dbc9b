/** Clocks that are kept right drift by less between two glances; more is a clock that was set, or a machine that slept. */
const JUMP_MS = 5_000;

/**
 * Tells when the wall clock jumps against the monotonic one, by glancing at both. Timers never run by the wall clock;
 * what was planned by it has to be planned anew.
 */
export class ClockMonitor {
  /** How far the wall clock is ahead of the monotonic one. */
  private ahead: number;

  constructor(
    private readonly clocks: { now: () => number; monotonic: () => number },
    private readonly onJump: (byMs: number) => void,
  ) {
    this.ahead = clocks.now() - clocks.monotonic();
  }

  glance(): void {
    const ahead = this.clocks.now() - this.clocks.monotonic();
    const byMs = ahead - this.ahead;
    // Small steps are taken up one by one, so that many of them do not add up to a jump.
    this.ahead = ahead;
    if (Math.abs(byMs) > JUMP_MS) this.onJump(Math.round(byMs));
  }
}

import type { Knex } from 'knex';
import { saveIntakeGap, savePulse, tryToKeep } from '@/store/history/intake-gaps';

export interface IntakeHeartbeatOptions {
  db: Knex;
  now: () => number;
  intake: { failingSince: number | null };
  /** A time in which nobody could be heard was noted. */
  onGap: () => void;
  onError: (error: unknown) => void;
}

/**
 * Says every few seconds that this front door hears, and can keep what it hears: the engine judges for that time alone.
 * While reports are refused because nothing can be written, it stays silent; when they can be kept again, the time in
 * between is noted as a gap.
 */
export class IntakeHeartbeat {
  private beating: Promise<void> | null = null;
  private deafSince: number | null = null;

  constructor(private readonly options: IntakeHeartbeatOptions) {}

  /** Whether check-ins can be kept, as far as is known. */
  get canKeep(): boolean {
    return this.deafSince === null && this.options.intake.failingSince === null;
  }

  /** One beat at a time: a database that hangs must not pile them up. */
  beat(): Promise<void> {
    this.beating ??= this.beatNow()
      .catch(this.options.onError)
      .finally(() => (this.beating = null));
    return this.beating;
  }

  private async beatNow(): Promise<void> {
    const { db, now, intake, onGap } = this.options;
    const before = now();
    this.deafSince = earliest(this.deafSince, intake.failingSince);
    try {
      if (this.deafSince !== null) {
        await tryToKeep(db);
        intake.failingSince = null;
        await saveIntakeGap(db, this.deafSince, now());
        this.deafSince = null;
        onGap();
      } else if (await savePulse(db, now(), now)) onGap();
    } catch (error) {
      this.deafSince = earliest(this.deafSince, before);
      throw error;
    }
  }
}

function earliest(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.min(a, b);
}

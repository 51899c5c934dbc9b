import type { World } from '@/cases/frame/world';
import { HOUSE, tellByItself } from '@/cases/pages/tell-by-itself';

/** Outages last minutes before they are told: it need not be known to the second. */
const EVERY_MS = 10_000;

/** Looks now and then whether a section has something to tell the public by itself. */
export class SelfTeller {
  private timer: NodeJS.Timeout | null = null;
  private busy = false;

  constructor(
    private readonly world: () => World,
    private readonly onError: (error: unknown) => void,
  ) {}

  start(): void {
    this.timer = setInterval(() => void this.look(), EVERY_MS);
    this.timer.unref();
  }

  /** Looks now; what cannot be read or written now is looked at again. */
  async look(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      const world = this.world();
      // Most have no section that does so, and nothing is locked for them.
      if (await world.db('self_tellings').first('section_id')) await tellByItself(HOUSE, {}, world);
    } catch (error) {
      this.onError(error);
    } finally {
      this.busy = false;
    }
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }
}

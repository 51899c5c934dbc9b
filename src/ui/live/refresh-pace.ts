/** Something new is shown no oftener than this. */
const LEAST_BETWEEN_MS = 700;
const MOST_BETWEEN_MS = 4_000;
/** Drawing anew takes at most this part of the time: a desk of a thousand watches changes all the while. */
const DRAWING_SHARE = 1 / 4;
/** Nobody heard that a drawing ended; then it has, or it never will. */
const LONGEST_DRAWING_MS = 30_000;

/** How long after drawing has ended it begins again at the earliest, in ms, if it took so long. */
export function restAfterMs(tookMs: number): number {
  return Math.min(MOST_BETWEEN_MS, Math.max(LEAST_BETWEEN_MS, tookMs * (1 / DRAWING_SHARE - 1)));
}

export interface PacerOptions {
  now: () => number;
  /** Runs something later, and returns what takes that back. */
  later: (run: () => void, ms: number) => () => void;
  draw: () => void;
}

/** Runs something so much later, unless the answer is called before. */
export function later(run: () => void, ms: number): () => void {
  const timer = setTimeout(run, ms);
  return () => clearTimeout(timer);
}

/** Draws anew when something has changed: at once the first time, then after a rest that grows with what it takes. */
export class Pacer {
  private wanted = false;
  private beganAt: number | null = null;
  private earliest = 0;
  private takeBack: (() => void) | null = null;

  constructor(private readonly options: PacerOptions) {}

  /** Something has changed. */
  want(): void {
    this.wanted = true;
    if (this.beganAt !== null && this.options.now() - this.beganAt > LONGEST_DRAWING_MS) this.drawn();
    this.arm();
  }

  /** What was begun is drawn. */
  drawn(): void {
    if (this.beganAt === null) return;
    const now = this.options.now();
    this.earliest = now + restAfterMs(now - this.beganAt);
    this.beganAt = null;
    this.arm();
  }

  close(): void {
    this.takeBack?.();
    this.takeBack = null;
    this.wanted = false;
  }

  private arm(): void {
    if (!this.wanted || this.beganAt !== null || this.takeBack) return;
    const { now, later, draw } = this.options;
    this.takeBack = later(
      () => {
        this.takeBack = null;
        this.wanted = false;
        this.beganAt = now();
        draw();
      },
      Math.max(0, this.earliest - now()),
    );
  }
}

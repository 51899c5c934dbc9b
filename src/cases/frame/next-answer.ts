/**
 * One answer for all who ask at the same time: whoever asks while it is being worked out gets the next one, together
 * with all others who do, so that nobody is told what was read before they asked.
 */
export class NextAnswer<T> {
  private running: Promise<T> | null = null;
  private next: Promise<T> | null = null;

  constructor(private readonly workOut: () => Promise<T>) {}

  ask(): Promise<T> {
    if (this.next) return this.next;
    if (!this.running) return this.begin();
    const after = this.running.then(
      () => this.begin(),
      () => this.begin(),
    );
    this.next = after;
    return after;
  }

  private begin(): Promise<T> {
    this.next = null;
    const own = this.workOut().finally(() => {
      if (this.running === own) this.running = null;
    });
    this.running = own;
    return own;
  }
}

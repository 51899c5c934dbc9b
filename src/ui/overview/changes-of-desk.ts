/** So many rows are asked for at once. */
const MOST_ROWS = 100;

/** What has changed since it was shown: some rows, what leads the desk, or so much that the page is read anew. */
export class ChangesOfDesk {
  private readonly shown = new Map<number, readonly number[]>();
  private readonly changed = new Set<number>();
  private whole = false;
  private head = false;
  /** Since when there are changes to a page that was read before. */
  private since: number | null = null;

  /** Which rows there are, by how many stand before them. */
  show(before: number, ids: readonly number[]): void {
    if (ids.length === 0) this.shown.delete(before);
    else this.shown.set(before, ids);
  }

  /** The page was read: all that was known of changes is in it. */
  readAnew(): void {
    this.since = null;
    this.whole = false;
    this.changed.clear();
  }

  wantWhole(): void {
    this.whole = true;
  }

  wantHead(): void {
    this.head = true;
  }

  /** These watches have changed, and what leads the desk may have. */
  note(ids: readonly number[]): void {
    this.head = true;
    for (const id of ids) this.changed.add(id);
  }

  /** What was asked for did not come. */
  failed(): void {
    this.whole = true;
  }

  get any(): boolean {
    return this.whole || this.head;
  }

  /**
   * What is to be read now: the whole page, or these rows with what leads them. Rows that are not there are asked for by
   * nobody; of more than a hundred the rest comes next. Once changes are older than `wholeAfterMs`, it is the page.
   */
  take(now: number, wholeAfterMs: number): 'whole' | number[] {
    this.since ??= now;
    this.head = false;
    if (this.whole || now - this.since > wholeAfterMs) {
      this.whole = false;
      return 'whole';
    }
    const there = [...this.shown.values()].flat().filter((id) => this.changed.has(id));
    this.changed.clear();
    for (const id of there.slice(MOST_ROWS)) this.changed.add(id);
    this.head = this.changed.size > 0;
    return there.slice(0, MOST_ROWS);
  }
}

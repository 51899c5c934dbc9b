import { newSecret } from '@/accounts/secrets';
import type { PageDraft, PreviewPort } from '@/cases/frame/world';

const MOST_KEPT = 100;
const KEPT_MS = 3_600_000;

/** Pages as they are being typed: in memory, the newest, for an hour. */
export class Previews implements PreviewPort {
  /** The oldest comes first. */
  private readonly kept = new Map<string, PageDraft & { at: number }>();

  constructor(private readonly now: () => number) {}

  keep(draft: PageDraft): string {
    const mark = newSecret();
    this.kept.set(mark, { ...draft, at: this.now() });
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= MOST_KEPT) break;
      this.kept.delete(oldest);
    }
    return mark;
  }

  get(mark: string): PageDraft | null {
    const draft = this.kept.get(mark);
    return draft && this.now() - draft.at < KEPT_MS ? draft : null;
  }
}

import type { CauseCode } from '@/core/causes/causes';
import type { Finding } from '@/core/causes/finding';
import { wantsFrom } from '@/core/lifecycle/wants-hand';
import type { Status } from '@/core/lifecycle/status';
import { wordsOf, type WatchDigest } from '@/core/settings/watch-digest';
import { targetOf } from '@/probes/diagnosis/trouble-facts';
import { targetText } from '@/probes/diagnosis/watch-target';
import type { WatchWithStatus } from '@/store/watches/watches';

/** What of the last finding lists and counts ask. */
export interface LastFinding {
  cause: CauseCode | null;
  address: string | null;
}

export function lastOf(finding: Finding | null): LastFinding | null {
  return finding && { cause: finding.cause ?? null, address: finding.evidence?.address ?? null };
}

/** What lists and counts ask of a watch. */
export function digestOf({
  watch,
  status,
  last,
}: {
  watch: WatchWithStatus;
  status: Status;
  last: LastFinding | null;
}): WatchDigest {
  const { id, name, config, createdAt } = watch;
  return {
    watchId: id,
    state: status.state,
    words: wordsOf(name, targetText(watch)),
    host: targetOf(watch).host,
    address: last?.address ?? null,
    wantsFrom: wantsFrom({ config, createdAt, status, lastFinding: last }),
  };
}

import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import { formatClock } from '@/core/time/clock-text';
import type { Evidence, Rung } from '@/core/causes/finding';
import { troubleAdvice, troubleSentence } from '@/core/causes/ladder-text';
import { firstDeadline } from '@/core/lifecycle/wants-hand';
import type { KeptEvidence } from '@/store/history/evidence';
import type { Outage } from '@/store/history/outages';
import type { WatchWithStatus } from '@/store/watches/watches';

/** What a watch that wants a hand says about itself. */
export interface Trouble {
  sentence: string;
  advice: string;
  ladder: readonly Rung[];
  /** What was seen when it first failed this way. */
  evidence: Evidence | null;
}

function troubleFrom(cause: CauseCode, detail: CauseDetail, evidence: Evidence | null): Trouble {
  const walk = evidence?.walk ?? [];
  return {
    sentence: troubleSentence(cause, detail, walk),
    advice: troubleAdvice(cause, walk, detail),
    ladder: walk.length > 0 ? walk : (evidence?.ladder ?? []),
    evidence,
  };
}

/**
 * The sentence, advice and ladder for a watch in trouble: from its last failed look, with the ladder that was
 * walked when it first failed this way; without a look, from its open outage.
 */
export function troubleOf(
  watch: WatchWithStatus,
  outage: Outage | undefined,
  kept: KeptEvidence | undefined,
  zone: string,
): Trouble {
  const { status, lastFinding } = watch;
  if (watch.config.type === 'probe' && lastFinding?.cause) {
    const { cause, detail, evidence = null } = lastFinding;
    const first = kept?.cause === cause ? kept.evidence : outage?.cause === cause ? outage.evidence : null;
    return troubleFrom(cause, detail, first ?? evidence);
  }
  if (outage) return troubleFrom(outage.cause, outage.detail, outage.evidence);
  if (status.state === 'slow' && status.warned) {
    return troubleFrom(status.warned, status.warnedDetail ?? {}, null);
  }
  const { config } = watch;
  const place = config.type === 'checkin' && config.schedule.type !== 'period' ? config.schedule.zone : zone;
  if (status.state === 'overdue' && status.due !== null && config.type === 'checkin') {
    const { leeway } = config;
    const deadline = formatClock(status.due + leeway * 1000, place);
    return {
      sentence: `Expected at ${formatClock(status.due, place)}; counts as missed after ${deadline}.`,
      advice: 'It may only be late. Look whether the job is running.',
      ladder: [],
      evidence: null,
    };
  }
  const deadline = config.type === 'checkin' ? firstDeadline(config, watch.createdAt) : null;
  return troubleFrom('checkin.never', { deadline: formatClock(deadline ?? watch.createdAt, place) }, null);
}

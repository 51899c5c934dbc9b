import type { CauseCode } from '@/core/causes/causes';
import { formatClock } from '@/core/time/clock-text';
import type { AffectedDraft, IncidentDraft } from './incident';

/** What a cause means to visitors, by the family it belongs to: nothing of the inside. */
const PUBLIC_CAUSES: readonly [family: RegExp, title: string, sentence: string][] = [
  [/^(name|host|port|reply\.(silent|late|cut)|line)\b/, 'is not answering', 'has not been answering'],
  [/^tls\b/, 'cannot be opened safely', 'could not be opened safely'],
  [/^(reply|text|value|content|page)\b/, 'is not working properly', 'has not worked as it should'],
  [/^(checkin|run|job)\b/, 'is late', 'has not been brought up to date'],
];

function publicCause(cause: CauseCode): { title: string; sentence: string } {
  const [, title, sentence] = PUBLIC_CAUSES.find(([family]) => family.test(cause)) ?? [];
  return { title: title ?? 'is out', sentence: sentence ?? 'has been out' };
}

/**
 * An incident as it would be written of an outage: in public words and names, with nothing of what the desk knows. The
 * person reads and changes it before anybody else does.
 */
export function draftIncident(
  outage: { id: number; began: number; ended: number | null; cause: CauseCode },
  lines: readonly { label: string; pageId: number }[],
  affected: AffectedDraft[],
  zone: string,
): IncidentDraft {
  const label = lines[0]?.label ?? 'A service';
  const { title, sentence } = publicCause(outage.cause);
  const since = formatClock(outage.began, zone);
  return {
    outageId: outage.id,
    title: `${label} ${title}`,
    body:
      outage.ended === null
        ? `${label} ${sentence} since ${since} (${zone}). We are looking into it.`
        : `${label} was out from ${since} to ${formatClock(outage.ended, zone)} (${zone}). It is running again.`,
    stage: outage.ended === null ? 'looking' : 'over',
    beganAt: outage.began,
    endedAt: outage.ended,
    affected,
    pageIds: [...new Set(lines.map(({ pageId }) => pageId))],
  };
}

/** What happened, with the exact times, for the person to go on with. */
export function draftAccount(
  incident: { began: number; ended: number | null; updates: readonly { at: number; body: string }[] },
  outage: { began: number; ended: number | null } | null,
  zone: string,
): string {
  const from = formatClock(outage?.began ?? incident.began, zone, true);
  const end = outage?.ended ?? incident.ended;
  const until = end === null ? '' : ` It was over at ${formatClock(end, zone, true)}.`;
  const told = [...incident.updates]
    .sort((a, b) => a.at - b.at)
    .map(({ at, body }) => `- ${formatClock(at, zone)}: ${body.split('\n')[0]}`);
  return [
    '**What happened.** ',
    '',
    `It began at ${from} (${zone}).${until}`,
    '',
    ...told,
    '',
    '**What will change.** ',
  ].join('\n');
}

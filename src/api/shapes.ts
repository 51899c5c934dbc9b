import { heardFirst, type Run } from '@/core/reports/runs';
import { causeAdvice, causeSentence } from '@/core/causes/causes';
import type { Evidence, Finding } from '@/core/causes/finding';
import { troubleAdvice, troubleSentence } from '@/core/causes/ladder-text';
import { mailAddressOf } from '@/core/reports/mail-words';
import { asKnown } from '@/core/settings/known-state';
import { wireName, wireOf } from '@/core/settings/wire-names';
import { toldSettings } from '@/channels/frame/told-settings';
import { channelKind } from '@/channels/kinds/registry';
import { openSecrets, openWhatOpens, type Vault } from '@/store/db/vault';
import type { KeptEvidence } from '@/store/history/evidence';
import type { KeptFinding } from '@/store/history/findings';
import type { Outage } from '@/store/history/outages';
import type { KeptReport } from '@/store/history/reports';
import type { Channel } from '@/store/messages/channels';
import type { Incident } from '@/store/pages/incidents';
import type { MaintenanceWindow } from '@/store/maintenance/windows';
import type { WatchWithStatus } from '@/store/watches/watches';
import { channelVersion } from '@/cases/messages/channels';
import { incidentVersion } from '@/cases/pages/incidents';
import { windowVersion } from '@/cases/maintenance/windows';
import { watchVersion } from '@/cases/watches/around';
import type { Figures } from '@/cases/watches/history';
import { shownConfig } from '@/cases/watches/secret-settings';

/**
 * What is kept as the API tells it: times end in `At`, units stand in names, causes come with their sentence and advice.
 * What is told, and how times look, is up to the answer's own description.
 */

function evidenceOf(evidence: Evidence | null | undefined) {
  if (!evidence) return evidence;
  const { phases, certificate, steps, seenSince, ...rest } = evidence;
  return {
    ...rest,
    ...(phases && {
      phases: Object.fromEntries(Object.entries(phases).map(([name, ms]) => [`${name}Ms`, ms])),
    }),
    ...(certificate && {
      certificate: {
        ...certificate,
        validFromAt: certificate.validFrom,
        validUntilAt: certificate.validTo,
      },
    }),
    ...(steps && { steps: steps.map(({ ms, ...step }) => ({ ...step, tookMs: ms })) }),
    ...(seenSince !== undefined && { seenSinceAt: seenSince }),
  };
}

export function findingShape(finding: Finding | KeptFinding) {
  const cause = finding.cause ?? null;
  return {
    at: finding.at,
    verdict: finding.verdict,
    tookMs: finding.ms === null ? null : Math.round(finding.ms * 1000) / 1000,
    cause,
    ...(cause && {
      sentence: causeSentence(cause, finding.detail ?? {}),
      advice: causeAdvice(cause, finding.detail ?? {}),
    }),
    ...('value' in finding && finding.value !== null && { value: finding.value }),
    ...('evidence' in finding && finding.evidence && { evidence: evidenceOf(finding.evidence) }),
  };
}

/** Where links and mail addresses lead, and what is called by an id. */
export interface Places {
  base: string;
  mailDomain: string | null;
  now: number;
  sectionIds: ReadonlyMap<string, number>;
}

export function watchShape(kept: WatchWithStatus, { base, mailDomain, now, sectionIds }: Places) {
  const watch = asKnown(kept, now);
  const { type: _, ...settings } = shownConfig(watch);
  return {
    id: watch.id,
    version: watchVersion(kept),
    kind: watch.kind,
    name: watch.name,
    section: watch.section === null ? null : { id: sectionIds.get(watch.section), name: watch.section },
    tags: watch.tags.map((tag) => tag.name),
    ...wireOf(settings),
    sources: Object.fromEntries(Object.entries(watch.from).map(([name, level]) => [wireName(name), level])),
    paused: watch.paused,
    state: watch.status.state,
    stateSinceAt: watch.status.since,
    createdAt: watch.createdAt,
    ...(watch.checkinKey && {
      checkinAddress: `${base}/in/${watch.checkinKey}`,
      mailAddress: mailDomain && mailAddressOf(watch.checkinKey, mailDomain),
      checkinName: watch.checkinName,
      oldAddress: watch.oldKey && { until: watch.oldKey.until, lastUsedAt: watch.oldKey.usedAt },
    }),
    lastFinding: watch.lastFinding ? findingShape(watch.lastFinding) : null,
  };
}

export function outageShape({ began, noticed, ended, detail, evidence, follows, ...outage }: Outage) {
  return {
    ...outage,
    beganAt: began,
    noticedAt: noticed,
    endedAt: ended,
    sentence: troubleSentence(outage.cause, detail, evidence?.walk ?? []),
    advice: troubleAdvice(outage.cause, evidence?.walk ?? []),
    evidence: evidenceOf(evidence),
    followsWatchId: follows,
  };
}

export function evidenceShape({ detail, evidence, ...kept }: KeptEvidence) {
  const walk = evidence.walk ?? [];
  return {
    ...kept,
    sentence: troubleSentence(kept.cause, detail, walk),
    advice: troubleAdvice(kept.cause, walk),
    evidence: evidenceOf(evidence),
  };
}

export function reportShape({ kind, took, address, ...report }: KeptReport) {
  return { ...report, is: kind, tookMs: took, client: address };
}

export function runShape(run: Run) {
  const { due, begun, ended, ms, result, address, ...rest } = run;
  return {
    ...rest,
    heardAt: heardFirst(run),
    dueAt: due,
    beganAt: begun,
    endedAt: ended,
    tookMs: ms,
    result: result === 'never done' ? 'never-done' : result,
    client: address,
  };
}

const seconds = (ms: number | null) => (ms === null ? null : ms / 1000);

export function figuresShape({ from, until, availability, outages, leftOut, times }: Figures) {
  return {
    from,
    until,
    spanSeconds: seconds(availability.spanMs),
    observedSeconds: seconds(availability.observedMs),
    downSeconds: seconds(availability.downMs),
    uptime: availability.uptime,
    outages: {
      count: outages.count,
      totalSeconds: seconds(outages.totalMs),
      longestSeconds: seconds(outages.longestMs),
      meanBetweenSeconds: seconds(outages.meanBetweenMs),
      meanToMendSeconds: seconds(outages.meanToMendMs),
    },
    leftOut,
    times,
  };
}

export function channelShape(channel: Channel, vault: Vault) {
  return {
    ...channel,
    version: channelVersion(channel),
    settings: shownSettings(channel, vault),
    shown: shownChannel(channel, vault),
  };
}

export function incidentShape(incident: Incident) {
  const { began, ended, ...rest } = incident;
  return { ...rest, version: incidentVersion(incident), beganAt: began, endedAt: ended };
}

export function windowShape(window: MaintenanceWindow) {
  const { begins, ends, seriesId, ...rest } = window;
  return { ...rest, version: windowVersion(window), from: begins, until: ends, recurringId: seriesId };
}

/** The settings of a channel as they may leave the server; nothing of what no key opens. */
export function shownSettings({ kind, settings }: Channel, vault: Vault): Record<string, unknown> {
  const known = channelKind(kind);
  return known ? toldSettings(known, openWhatOpens(vault, settings)) : {};
}

/** Where a channel leads, as it may be shown again. */
export function shownChannel(channel: Channel, vault: Vault): string {
  try {
    return channelKind(channel.kind)?.shown(openSecrets(vault, channel.settings)) ?? '';
  } catch (error) {
    // By its name: the vault may come from another bundle.
    if ((error as Error).name !== 'VaultError') throw error;
    return 'Its secrets cannot be opened with the present key. Enter them again, or put the old key back.';
  }
}

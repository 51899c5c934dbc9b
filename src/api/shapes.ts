import { causeAdvice, causeSentence } from '@/core/causes/causes';
import type { Finding } from '@/core/causes/finding';
import { asKnown } from '@/core/settings/known-state';
import { mailAddressOf } from '@/core/reports/mail-words';
import type { WatchConfig } from '@/core/settings/watch-config';
import { troubleAdvice, troubleSentence } from '@/core/causes/ladder-text';
import { channelKind } from '@/channels/registry';
import { probeKind } from '@/probes/kinds/registry';
import { openSecrets, type Vault } from '@/store/db/vault';
import { withoutSecrets } from './secret-settings';
import type { Channel } from '@/store/messages/channels';
import type { KeptEvidence } from '@/store/history/evidence';
import type { KeptFinding } from '@/store/history/findings';
import type { Incident } from '@/store/pages/incidents';
import type { Outage } from '@/store/history/outages';
import type { KeptReport } from '@/store/history/reports';
import type { WatchWithStatus } from '@/store/watches/watches';
import type { MaintenanceWindow } from '@/store/pages/windows';

/** How things look in the API: times as ISO 8601, causes with their sentence and advice. */

export function iso(at: number | null): string | null {
  return at === null ? null : new Date(at).toISOString();
}

export function findingShape(finding: Finding | KeptFinding) {
  const cause = finding.cause ?? null;
  return {
    at: iso(finding.at),
    verdict: finding.verdict,
    ms: finding.ms === null ? null : Math.round(finding.ms * 1000) / 1000,
    cause,
    ...(cause && {
      sentence: causeSentence(cause, finding.detail ?? {}),
      advice: causeAdvice(cause, finding.detail ?? {}),
    }),
    ...('value' in finding && finding.value !== null && { value: finding.value }),
    ...('evidence' in finding && finding.evidence && { evidence: finding.evidence }),
  };
}

/** The settings of a watch as they may leave the server. */
export function shownConfig({ kind, config }: WatchWithStatus): WatchConfig {
  if (config.type !== 'probe') return config;
  return { ...config, settings: withoutSecrets(probeKind(kind), config.settings) };
}

/** Where links and mail addresses lead. */
interface Places {
  base: string;
  mailDomain: string | null;
  now: number;
}

export function watchShape(kept: WatchWithStatus, { base, mailDomain, now }: Places) {
  const watch = asKnown(kept, now);
  const { type: _, ...config } = shownConfig(watch);
  return {
    id: watch.id,
    kind: watch.kind,
    name: watch.name,
    section: watch.section,
    tags: watch.tags.map((tag) => tag.name),
    ...config,
    from: watch.from,
    paused: watch.paused,
    state: watch.status.state,
    since: iso(watch.status.since),
    createdAt: iso(watch.createdAt),
    ...(watch.checkinKey && {
      checkinAddress: `${base}/in/${watch.checkinKey}`,
      mailAddress: mailDomain && mailAddressOf(watch.checkinKey, mailDomain),
      checkinName: watch.checkinName,
      oldAddress: watch.oldKey && { until: iso(watch.oldKey.until), usedAt: iso(watch.oldKey.usedAt) },
    }),
    lastFinding: watch.lastFinding ? findingShape(watch.lastFinding) : null,
  };
}

export function outageShape(outage: Outage) {
  return {
    id: outage.id,
    watchId: outage.watchId,
    began: iso(outage.began),
    noticed: iso(outage.noticed),
    ended: iso(outage.ended),
    cause: outage.cause,
    causes: outage.causes,
    sentence: troubleSentence(outage.cause, outage.detail, outage.evidence?.walk ?? []),
    advice: troubleAdvice(outage.cause, outage.evidence?.walk ?? []),
    evidence: outage.evidence,
    follows: outage.follows,
  };
}

export function evidenceShape({ at, cause, detail, evidence }: KeptEvidence) {
  const sentence = troubleSentence(cause, detail, evidence.walk ?? []);
  return { at: iso(at), cause, sentence, advice: troubleAdvice(cause, evidence.walk ?? []), evidence };
}

export function reportShape(report: KeptReport) {
  return {
    id: report.id,
    at: iso(report.at),
    is: report.kind,
    code: report.code,
    run: report.run,
    runMs: report.runMs,
    progress: report.progress,
    from: report.address,
    agent: report.agent,
    output: report.output,
  };
}

export function channelShape(channel: Channel, vault: Vault) {
  return {
    id: channel.id,
    kind: channel.kind,
    name: channel.name,
    enabled: channel.enabled,
    shown: shownChannel(channel, vault),
    createdAt: iso(channel.createdAt),
  };
}

export function incidentShape(incident: Incident) {
  return {
    id: incident.id,
    pageId: incident.pageId,
    title: incident.title,
    began: iso(incident.began),
    ended: iso(incident.ended),
    updates: incident.updates.map((update) => ({ ...update, at: iso(update.at) })),
  };
}

export function windowShape(window: MaintenanceWindow) {
  return { ...window, begins: iso(window.begins), ends: iso(window.ends) };
}

/** The settings of a channel as they may be shown again. */
export function shownChannel(channel: Channel, vault: Vault): string {
  try {
    return channelKind(channel.kind)?.shown(openSecrets(vault, channel.settings)) ?? '';
  } catch (error) {
    // By its name: the vault may come from another bundle.
    if ((error as Error).name !== 'VaultError') throw error;
    return 'Its secrets cannot be opened with the present key. Enter them again, or put the old key back.';
  }
}

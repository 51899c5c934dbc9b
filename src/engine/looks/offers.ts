import { isIP } from 'node:net';
import { causeSentence } from '@/core/causes/causes';
import { formatMs } from '@/core/time/duration';
import type { Finding } from '@/core/causes/finding';
import type { ProbeConfig } from '@/core/settings/watch-config';
import { parseTyped, type Typed } from '@/probes/frame/address';
import { probeKind } from '@/probes/kinds/registry';
import { runLook, type LookRunnerOptions } from './look-runner';
import type { Offer } from '@/core/settings/offer';

const LIMIT_SECONDS = 5;

interface Candidate {
  kind: string;
  settings: object;
}

/** Pages that may be meant: as typed, else with TLS first and without as the second try. */
function pagesOf({ host, user, password, port, scheme, path }: Typed): Candidate[] {
  const name = host.includes(':') ? `[${host}]` : host;
  const page = (s: string): Candidate => ({
    kind: 'web',
    settings: {
      address: `${s}://${name}${port === null ? '' : `:${port}`}${path}`,
      ...((user !== '' || password !== '') && { user, password }),
    },
  });
  return scheme === null ? [page('https'), page('http')] : [page(scheme)];
}

function candidatesOf(typed: Typed): Candidate[] {
  const { host, port, scheme } = typed;
  const list: Candidate[] = [];
  if (scheme !== 'http') list.push({ kind: 'certificate', settings: { host, port: port ?? 443 } });
  if (port !== null) list.push({ kind: 'port', settings: { host, port } });
  if (isIP(host) === 0 && host.includes('.')) list.push({ kind: 'name', settings: { name: host } });
  list.push({ kind: 'ping', settings: { host } });
  return list;
}

async function tryOne({ kind, settings }: Candidate, options: LookRunnerOptions): Promise<Finding> {
  const probe = probeKind(kind)!;
  const config: ProbeConfig = {
    type: 'probe',
    settings: { ...probe.defaults, ...settings },
    every: 60,
    timeout: LIMIT_SECONDS,
    secondLooks: 0,
    secondLookGap: 1,
    slowAfter: null,
    slowLooks: 1,
  };
  return runLook(kind, config, options);
}

function offerOf({ kind, settings }: Candidate, finding: Finding): Offer {
  const probe = probeKind(kind)!;
  const fits = finding.verdict !== 'failed';
  const whole = { ...probe.defaults, ...settings };
  return {
    kind,
    title: probe.title,
    name: probe.nameOf(whole),
    settings,
    fits,
    said: finding.cause ? causeSentence(finding.cause, finding.detail) : `Fine in ${formatMs(finding.ms)}.`,
  };
}

/** Tries every way in which an address could be watched, all at once, and says what came of each. */
export async function makeOffers(text: string, options: LookRunnerOptions): Promise<Offer[]> {
  const typed = parseTyped(text);
  if (typed === null) return [];
  const page = async (): Promise<Offer> => {
    const tried: Offer[] = [];
    for (const candidate of pagesOf(typed)) {
      const finding = await tryOne(candidate, options);
      tried.push(offerOf(candidate, finding));
      // A server that answers over TLS is the one that is meant, even where its certificate is not valid.
      const spoke = finding.evidence?.certificate !== undefined || finding.evidence?.status !== undefined;
      if (tried.at(-1)!.fits || spoke) return tried.at(-1)!;
    }
    return tried[0]!;
  };
  const others = candidatesOf(typed).map(async (candidate) =>
    offerOf(candidate, await tryOne(candidate, options)),
  );
  return Promise.all([page(), ...others]);
}

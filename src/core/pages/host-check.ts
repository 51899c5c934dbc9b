/** How somebody who asked for a name came to us. */
export interface Arrival {
  /** The name they asked for, as it was handed on to us; null where none was. */
  host: string | null;
  encrypted: boolean;
}

/** What was found out about a name of a page. */
export interface HostFacts {
  host: string;
  /** Where the name leads; null where there is no such name, with what was said of that. */
  addresses: string[] | null;
  /** What came of asking there, by https first. */
  asked: { by: 'https' | 'http'; arrival: Arrival | null; said: string }[];
}

export interface HostStep {
  ok: boolean;
  text: string;
}

/** What is found out about a name as sentences, from the first step to the one that fails: the next would say no more. */
export function hostSteps({ host, addresses, asked }: HostFacts): HostStep[] {
  if (addresses === null) {
    return [
      {
        ok: false,
        text: `There is no name ${host} yet. Set the line above where your names are kept; it may take an hour until it is known.`,
      },
    ];
  }
  const steps: HostStep[] = [{ ok: true, text: `${host} leads to ${addresses.join(', ')}.` }];
  const came = asked.find(({ arrival }) => arrival !== null);
  if (!came) {
    const said = asked.map((one) => `${one.by}: ${one.said}`).join('; ');
    return [...steps, { ok: false, text: `What answers there is not this desk (${said}).` }];
  }
  const { host: handed, encrypted } = came.arrival!;
  steps.push({ ok: true, text: `What answers there is this desk, by ${came.by}.` });
  if (handed?.replace(/:\d+$/, '') !== host) {
    const text = `The proxy does not hand the name on: it says ${handed ?? 'none'}. Visitors would find the desk and not the page.`;
    return [...steps, { ok: false, text }];
  }
  steps.push({ ok: true, text: 'The name is handed on: visitors will find the page there.' });
  if (came.by === 'https' && !encrypted) {
    const text =
      'The proxy does not say that the connection was encrypted: set X-Forwarded-Proto there, and LANTERN_TRUSTED_PROXY here.';
    steps.push({ ok: false, text });
  }
  return steps;
}

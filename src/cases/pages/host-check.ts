import type { LookupAddress } from 'node:dns';
import type { LookupFunction } from 'node:net';
import { Agent } from 'undici';
import { string } from 'yup';
import { callJson } from '@/channels/transport/call-json';
import { limitTime } from '@/outside/limit';
import { hostSteps, type HostFacts, type HostStep } from '@/core/pages/host-check';
import { asks } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { strictObject } from '@/cases/schemas/common';
import { HOST_PATTERN } from '@/cases/schemas/pages';

const ASK_MS = 8_000;
const MOST_ADDRESSES = 4;

export const hostCheckSchema = strictObject({
  host: string()
    .trim()
    .lowercase()
    .required('Expected a name such as status.ternferry.test, got nothing.')
    .matches(HOST_PATTERN, 'Expected a name such as status.ternferry.test.')
    .meta({ description: 'The name a page is to have.' }),
});

function addressesOf(host: string, lookup: LookupFunction): Promise<LookupAddress[] | null> {
  return new Promise((resolve) =>
    lookup(host, { all: true }, (error, found) => resolve(error || !Array.isArray(found) ? null : found)),
  );
}

/** Finds out whether a name leads to this desk, and is handed on to it: the very way visitors will come. */
export const checkPageHost = asks(
  'checkPageHost',
  'write',
  async ({ world }, { body }: { body: unknown }): Promise<{ ok: boolean; steps: HostStep[] }> => {
    const { host } = await validateBody<{ host: string }>(hostCheckSchema, body);
    const found = await addressesOf(host, world.lookup);
    const agent = new Agent({ connect: { lookup: world.lookup } });
    const asked: HostFacts['asked'] = [];
    for (const by of found ? (['https', 'http'] as const) : []) {
      const path = await world.arrivals.expect();
      const limit = limitTime(ASK_MS);
      const address = `${by}://${host}${path}`;
      const call = { address, method: 'GET' as const, headers: {}, by: agent, secrets: [path] };
      const { said } = await callJson(call, limit.signal).finally(() => limit.release());
      asked.push({ by, arrival: await world.arrivals.came(path), said });
      if (asked.at(-1)!.arrival) break;
    }
    await agent.destroy();
    const addresses = found?.map(({ address }) => address).slice(0, MOST_ADDRESSES) ?? null;
    const steps = hostSteps({ host, addresses, asked });
    return { ok: steps.every(({ ok }) => ok), steps };
  },
);

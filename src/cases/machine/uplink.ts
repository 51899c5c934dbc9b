import type { ListPage } from '@/store/db/list-page';
import { fetchUplinkAddresses, fetchUplinkLosses, saveUplinkAddresses } from '@/store/history/uplink';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, refuseUnsaid, versionOf, type Expected } from '@/cases/frame/version';
import { uplinkSchema } from '@/cases/schemas/uplink';

export function uplinkVersion(addresses: readonly string[]): string {
  return versionOf(addresses);
}

/** The addresses that tell whether this machine can reach out. */
export const getOwnLine = asks('getOwnLine', 'look', async ({ db }): Promise<{ addresses: string[] }> => ({
  addresses: await fetchUplinkAddresses(db),
}));

/** When it could not. */
export const listOwnLineLosses = asks('listOwnLineLosses', 'look', ({ db }, { page }: { page: ListPage }) =>
  fetchUplinkLosses(db, page),
);

interface UplinkChange {
  body: object;
  expected: Expected;
}

/** Changes those addresses. The engine tries them at once where it is there: `out` says whether none answers. */
export const changeOwnLine = changes(
  'changeOwnLine',
  'operate',
  async ({ body, expected }: UplinkChange) => {
    refuseUnsaid(expected, 'all addresses');
    return {
      ...(await validateBody<{ addresses: string[] }>(uplinkSchema, withoutReadOnly(body, []))),
      expected,
    };
  },
  async ({ trx, about, afterwards, world }, { addresses, expected }) => {
    refuseChanged(expected, uplinkVersion(await fetchUplinkAddresses(trx)), 'the addresses');
    await saveUplinkAddresses(trx, addresses);
    about({ kind: 'own line', id: null, name: addresses.join(', ') || 'none' });
    const result: { addresses: string[]; out: boolean | null } = { addresses, out: null };
    afterwards(async () => {
      const told = await world.engine.call('uplinkChanged', {}).catch(() => null);
      result.out = told?.out ?? null;
    });
    return result;
  },
);

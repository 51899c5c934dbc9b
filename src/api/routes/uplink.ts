import { fetchUplinkAddresses, fetchUplinkLosses, saveUplinkAddresses } from '@/store/history/uplink';
import type { Route } from '@/api/route';
import { uplinkSchema } from '@/api/schemas/uplink';
import { iso } from '@/api/shapes';
import { validateBody } from '@/api/validate';

export const uplinkRoutes: Route[] = [
  {
    method: 'GET',
    path: '/own-line',
    tag: 'Own line',
    summary: 'The addresses that tell whether this machine can reach out, and when it could not',
    status: 200,
    answer: 'The addresses, and the last losses.',
    handle: async ({ context: { db } }) => ({
      addresses: await fetchUplinkAddresses(db),
      losses: (await fetchUplinkLosses(db, 50)).map(({ began, ended }) => ({
        began: iso(began),
        ended: iso(ended),
      })),
    }),
  },
  {
    method: 'PATCH',
    path: '/own-line',
    tag: 'Own line',
    summary: 'Change those addresses',
    body: uplinkSchema,
    status: 200,
    answer: 'The addresses, and whether the line is lost at this moment.',
    handle: async ({ context: { db, engine }, body }) => {
      const { addresses } = await validateBody<{ addresses: string[] }>(uplinkSchema, body);
      await saveUplinkAddresses(db, addresses);
      const told = await engine.call('uplinkChanged', {}).catch(() => null);
      return { addresses, out: told?.out ?? null };
    },
  },
];

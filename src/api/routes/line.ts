import { fetchLineAddresses, fetchLineLosses, saveLineAddresses } from '../../store/line';
import type { Route } from '../route';
import { lineSchema } from '../schemas/line';
import { iso } from '../shapes';
import { validateBody } from '../validate';

export const lineRoutes: Route[] = [
  {
    method: 'GET',
    path: '/own-line',
    tag: 'Own line',
    summary: 'The addresses that tell whether this machine can reach out, and when it could not',
    status: 200,
    answer: 'The addresses, and the last losses.',
    handle: async ({ context: { db } }) => ({
      addresses: await fetchLineAddresses(db),
      losses: (await fetchLineLosses(db, 50)).map(({ began, ended }) => ({
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
    body: lineSchema,
    status: 200,
    answer: 'The addresses, and whether the line is lost at this moment.',
    handle: async ({ context: { db, engine }, body }) => {
      const { addresses } = await validateBody<{ addresses: string[] }>(lineSchema, body);
      await saveLineAddresses(db, addresses);
      const told = await engine.call('lineChanged', {}).catch(() => null);
      return { addresses, out: told?.out ?? null };
    },
  },
];

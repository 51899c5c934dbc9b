import { asks } from '@/cases/frame/use-case';
import { foundWatch } from '@/cases/watches/around';
import { fetchForetold } from '@/views/messages/foretold';

export const foretellWatch = asks('foretellWatch', 'look', async ({ db, now }, { id }: { id: number }) =>
  fetchForetold(db, await foundWatch(db, id), now),
);

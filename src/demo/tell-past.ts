import type { Knex } from 'knex';
import { nextTellingAt, tell } from '@/core/telling/tell';
import { NOTHING_TOLD, type TellingInput } from '@/core/telling/telling';
import { fetchSetup } from '@/store/messages/setup';
import { fetchUntold } from '@/store/messages/happenings';
import { saveTold } from '@/store/messages/telling';

const ALL = 1_000_000;

/** Somebody says that they have what is open, so long before the end. */
const TAKEN_BEFORE_MS = 4 * 60_000;

/** Takes what happened in the past through the routes, as if they had been there all along; `by` has what is still open. */
export async function tellPast(db: Knex, until: number, by: string): Promise<void> {
  const { setup } = await fetchSetup(db);
  let telling = NOTHING_TOLD;
  const take = async (input: TellingInput, at: number, happenings: number[] = []) => {
    const told = tell(telling, input, at, setup);
    await saveTold(db, told, { happenings, at });
    telling = told.telling;
  };
  const goTo = async (at: number) => {
    for (;;) {
      const due = nextTellingAt(telling, setup.folding);
      if (due === null || due > at) return;
      await take({ type: 'tick' }, due);
    }
  };
  const past = (await fetchUntold(db, ALL)).sort((a, b) => a.at - b.at || a.id - b.id);
  for (const { id, at, input } of past) {
    await goTo(at);
    if (input) await take(input, at, [id]);
  }
  await goTo(until - TAKEN_BEFORE_MS);
  for (const [thread, { open }] of telling.threads) {
    if (open) await take({ type: 'take', thread, by, until: null }, until - TAKEN_BEFORE_MS);
  }
  await goTo(until);
}

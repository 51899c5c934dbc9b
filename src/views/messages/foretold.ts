import { exampleTrouble, foretell, type Foretold } from '@/core/telling/foretell';
import { factsOf, type Watched } from '@/core/telling/happen';
import type { WatchFacts } from '@/core/telling/route';
import { foretoldInWords } from '@/core/telling/route-words';
import type { Setup } from '@/core/telling/telling';
import type { Db } from '@/store/db/connection';
import { fetchSetup } from '@/store/messages/setup';

export interface WouldHear {
  said: Foretold[];
  sentence: string;
}

/** Who would be told if a watch went down at a moment, and the same in words. */
export function foretoldAt(
  watch: WatchFacts,
  at: number,
  { setup, channels }: { setup: Setup; channels: readonly { id: number; name: string }[] },
): WouldHear {
  const said = foretell(watch, exampleTrouble(watch.kind, at), at, setup);
  const nameOf = (id: number) => channels.find((channel) => channel.id === id)?.name ?? '';
  return { said, sentence: foretoldInWords(said, nameOf) };
}

/** The same for one watch and now. */
export async function fetchForetold(db: Db, watch: Watched, now: number): Promise<WouldHear> {
  return foretoldAt(factsOf(watch), now, await fetchSetup(db));
}

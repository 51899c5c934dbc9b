import type { WeeklyTimes } from '@/core/schedule/weekly-times';
import type { Knex } from 'knex';
import type { LetterFacts } from '@/core/messages/letter';
import { NOTHING_TOLD } from '@/core/telling/telling';
import { transaction, type Db } from '@/store/db/connection';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { writeTold } from './telling';

/** How it is shown that Calm Lantern is alive. */
export interface ProofOfLife {
  /** A letter to a channel at these times; null for none. */
  letter: (WeeklyTimes & { channelId: number }) | null;
  /** An address that is called every so many seconds while all is well here; sealed. Null for none. */
  call: { address: string; every: number } | null;
  /** Since when this holds: no letter is written for a time before. */
  since: number;
}

/** What came of the last call. */
export interface LastCall {
  at: number;
  ok: boolean;
  said: string;
}

const KEY = 'proof_of_life';
const LAST_LETTER = 'proof_of_life_letter_at';
const LAST_CALL = 'proof_of_life_call';

export const NO_PROOF: ProofOfLife = { letter: null, call: null, since: 0 };

export async function fetchProofOfLife(db: Db): Promise<ProofOfLife> {
  const kept = await fetchSetting(db, KEY);
  return kept === null ? NO_PROOF : (JSON.parse(kept) as ProofOfLife);
}

export function saveProofOfLife(db: Db, proof: ProofOfLife): Promise<void> {
  return saveSetting(db, KEY, JSON.stringify(proof));
}

export async function fetchLastCall(db: Db): Promise<LastCall | null> {
  const kept = await fetchSetting(db, LAST_CALL);
  return kept === null ? null : (JSON.parse(kept) as LastCall);
}

export function saveLastCall(db: Db, call: LastCall): Promise<void> {
  return saveSetting(db, LAST_CALL, JSON.stringify(call));
}

/** For which time the last letter was written, ms since 1970. */
export async function fetchLastLetterAt(db: Db): Promise<number> {
  return Number((await fetchSetting(db, LAST_LETTER)) ?? 0);
}

/** Keeps a letter with its delivery, and that it was written: once for each time, whatever happens. */
export async function saveLetter(
  db: Knex,
  { channelId, facts, at }: { channelId: number; facts: LetterFacts; at: number },
): Promise<void> {
  const event = { kind: 'letter' as const, facts };
  const about = { thread: null, watch: null, openedAt: null, follows: null, outageIds: [], drill: null };
  const says = [{ channelId, ...about, event, routeId: null, rule: 'letter' as const }];
  const told = { telling: NOTHING_TOLD, says, notes: [] };
  const unchanged = { changedThreads: new Set<string>(), changedRooms: new Set<number>() };
  await transaction(db, async (trx) => {
    await writeTold(trx, { ...told, ...unchanged }, { happenings: [], at });
    await saveSetting(trx, LAST_LETTER, String(facts.until));
  });
}

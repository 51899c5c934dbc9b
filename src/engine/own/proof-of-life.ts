import type { Knex } from 'knex';
import { callJson } from '@/channels/transport/call-json';
import { latestTime } from '@/core/schedule/weekly-times';
import { DAY_MS, SECOND_MS } from '@/core/time/units';
import { onceAMinute } from '@/engine/state/once-a-minute';
import { openSecrets, type Vault } from '@/store/db/vault';
import { fetchLetterFacts } from '@/store/messages/letter-facts';
import {
  fetchLastLetterAt,
  fetchProofOfLife,
  NO_PROOF,
  saveLastCall,
  saveLetter,
  type ProofOfLife,
} from '@/store/messages/proof-of-life';

/** A letter tells of no more than this. */
const LONGEST_LETTER_MS = 7 * DAY_MS;
/** One that could not be written for so long, because nothing of us ran, is not written any more. */
const LATE_MS = 12 * 3_600_000;
/** So often it is looked whether a letter is due. */
const LETTER_CHECK_MS = 20_000;

interface ProofOptions {
  db: Knex;
  vault: Vault;
  zone: string;
  now: () => number;
  monotonic: () => number;
  /** Whether all is well with Calm Lantern itself: else it keeps silent, and whoever waits for it notices. */
  isWell: () => boolean;
  onSaid: () => void;
  onError: (error: unknown) => void;
  signal: AbortSignal;
}

/** Shows that Calm Lantern is alive: by a letter at set times, and by calls to an address that misses them. */
export class ProofOfLifeSender {
  private proof: ProofOfLife = NO_PROOF;
  /** By the monotonic clock. */
  private calledAt = -Infinity;
  private checkedAt = -Infinity;
  private calling = false;
  private writing = false;
  private readonly complain: (error: unknown) => void;

  constructor(private readonly options: ProofOptions) {
    this.complain = onceAMinute(options.onError);
  }

  /** Reads how it is set. */
  async load(): Promise<void> {
    this.proof = await fetchProofOfLife(this.options.db);
    this.calledAt = this.checkedAt = -Infinity;
  }

  /** Once a second. */
  tick(): void {
    const { monotonic, isWell } = this.options;
    const at = monotonic();
    const { call, letter } = this.proof;
    if (call && !this.calling && at - this.calledAt >= call.every * SECOND_MS && isWell()) {
      this.calledAt = at;
      void this.call(call).catch(this.complain);
    }
    if (letter && !this.writing && at - this.checkedAt >= LETTER_CHECK_MS) {
      this.checkedAt = at;
      void this.write(letter).catch(this.complain);
    }
  }

  private async call(sealed: { address: string }): Promise<void> {
    const { db, vault, now, signal } = this.options;
    this.calling = true;
    try {
      const { address } = openSecrets(vault, sealed);
      const { ok, said } = await callJson(
        { address, method: 'GET', headers: {}, secrets: [address] },
        signal,
      );
      if (!signal.aborted) await saveLastCall(db, { at: now(), ok, said });
    } finally {
      this.calling = false;
    }
  }

  private async write(letter: NonNullable<ProofOfLife['letter']>): Promise<void> {
    const { db, zone, now, onSaid } = this.options;
    this.writing = true;
    try {
      const at = now();
      const due = latestTime(letter, zone, at);
      const before = await fetchLastLetterAt(db);
      if (due === null || due <= Math.max(before, this.proof.since) || at - due > LATE_MS) return;
      const from = Math.max(before, due - LONGEST_LETTER_MS, this.proof.since - DAY_MS);
      const facts = await fetchLetterFacts(db, { from, until: due });
      await saveLetter(db, { channelId: letter.channelId, facts, at });
      onSaid();
    } finally {
      this.writing = false;
    }
  }
}

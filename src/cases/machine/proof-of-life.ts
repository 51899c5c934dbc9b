import { array, string } from 'yup';
import { webAddress } from '@/channels/transport/call-json';
import { withoutKept } from '@/channels/frame/told-settings';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { strictObject, wholeNumber } from '@/cases/schemas/common';
import type { Db } from '@/store/db/connection';
import { openWhatOpens } from '@/store/db/vault';
import { fetchChannelIds } from '@/store/messages/channels';
import {
  fetchLastCall,
  fetchProofOfLife,
  saveProofOfLife,
  type LastCall,
  type ProofOfLife,
} from '@/store/messages/proof-of-life';

const letter = strictObject({
  channelId: wholeNumber('the id of a channel', '', 1, Number.MAX_SAFE_INTEGER).required(
    'Expected the id of a channel, got nothing.',
  ),
  days: array(wholeNumber('a day', '', 1, 7).required())
    .min(1, 'Expected at least one day of the week, 1 for Monday to 7 for Sunday.')
    .max(7, 'Expected at most seven days.')
    .required('Expected days of the week, got nothing.')
    .meta({ description: '1 for Monday to 7 for Sunday.' }),
  at: string()
    .required('Expected a time such as 07:00, got nothing.')
    .test(
      'clock',
      ({ value }) => `Expected a time from 00:00 to 23:59, got "${String(value).slice(0, 20)}".`,
      (value) => /^([01]\d|2[0-3]):[0-5]\d$/.test(value ?? ''),
    )
    .meta({ description: 'When it is written, by the clock of the desk.' }),
});

const call = strictObject({
  address: webAddress('Expected the address that is called, got nothing.').meta({
    description: 'It is called by GET. Kept secret: {"kept": true} says that there is one.',
  }),
  everySeconds: wholeNumber('everySeconds', 'seconds', 10, 86_400)
    .default(60)
    .meta({ description: 'How often it is called while all is well here.' }),
});

export const proofSchema = strictObject({
  letter: letter.nullable().default(null).meta({ description: 'A letter on how things are; null for none.' }),
  call: call.nullable().default(null).meta({ description: 'An address that misses us; null for none.' }),
});

export function proofVersion({ letter: one, call: other }: ProofOfLife): string {
  return versionOf([one, other]);
}

export interface ToldProof {
  proof: ProofOfLife;
  lastCall: LastCall | null;
}

export async function readProofOfLife(db: Db): Promise<ToldProof> {
  return { proof: await fetchProofOfLife(db), lastCall: await fetchLastCall(db) };
}

export const getProofOfLife = asks('getProofOfLife', 'look', ({ db }) => readProofOfLife(db));

export const changeProofOfLife = changes(
  'changeProofOfLife',
  'operate',
  asIs<{ body: object; expected: Expected }>,
  async ({ trx, now, world, about, afterwards }, { body, expected }): Promise<ToldProof> => {
    const before = await fetchProofOfLife(trx);
    refuseChanged(expected, proofVersion(before), 'the proof of life');
    const sent = withoutReadOnly(body, ['lastCall']) as { letter?: unknown; call?: object | null };
    const kept = before.call && {
      address: openWhatOpens(world.vault, { address: before.call.address }).address,
      everySeconds: before.call.every,
    };
    const given = {
      letter: sent.letter === undefined ? before.letter : sent.letter,
      call: sent.call === undefined ? kept : sent.call && { ...kept, ...withoutKept(sent.call) },
    };
    interface Valid {
      letter: ProofOfLife['letter'];
      call: { address: string; everySeconds: number } | null;
    }
    const valid = await validateBody<Valid>(proofSchema, given);
    if (valid.letter && !(await fetchChannelIds(trx)).includes(valid.letter.channelId)) {
      const message = `There is no channel ${valid.letter.channelId}.`;
      throw refused([{ field: 'letter.channelId', message }]);
    }
    const proof: ProofOfLife = {
      letter: valid.letter,
      call: valid.call && { address: world.vault.seal(valid.call.address), every: valid.call.everySeconds },
      since: now,
    };
    await saveProofOfLife(trx, proof);
    about({ kind: 'proof of life', id: null, name: 'proof of life' });
    afterwards(() => world.engine.call('proofChanged', {}).catch(() => undefined));
    return { proof, lastCall: await fetchLastCall(trx) };
  },
);

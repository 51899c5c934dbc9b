import type { Language } from '@/core/languages/language';
import { speechOf } from '@/core/languages/speech';
import type { Thread } from '@/core/telling/telling';
import { answerFor, type HeardAnswer } from '@/core/messages/answers';
import type { Principal } from '@/cases/frame/principal';
import { asIs, changes, type Act } from '@/cases/frame/use-case';
import type { World } from '@/cases/frame/world';
import { touched } from './taking';
import { fetchChannel, listensThere } from '@/store/messages/channels';
import { saveTaking } from '@/store/messages/happenings';
import { fetchThreadOfRef, fetchThreadsToldTo } from '@/store/messages/telling';

/** So many are named where it is not clear which one is meant. */
const MOST_NAMED = 5;

interface Named {
  id: number;
  name: string;
}

/** What came of an answer: done, or which ones it may have meant; null where nobody is to be answered. */
type Outcome = { done: true } | { open: Named[] } | null;

/** The conversation that is meant: the one that is answered, the one of that number, or the only one. */
async function meant(
  { trx }: Pick<Act, 'trx'>,
  threads: readonly Thread[],
  { channelId, watchId, to }: HeardAnswer,
): Promise<Thread | undefined> {
  if (watchId !== null) return threads.find(({ watch }) => watch?.id === watchId);
  const answered = to === null ? null : await fetchThreadOfRef(trx, channelId, to);
  if (answered !== null) return threads.find(({ key }) => key === answered);
  return threads.length === 1 ? threads[0] : undefined;
}

/** Takes, or gives back, what somebody answered in a room that was told of it. */
export const answerInRoom = changes(
  'answerInRoom',
  'operate',
  asIs<HeardAnswer>,
  async (act, answer): Promise<Outcome> => {
    const channel = await fetchChannel(act.trx, answer.channelId);
    if (!channel?.enabled || !listensThere(channel)) return null;
    const threads = (await fetchThreadsToldTo(act.trx, channel.id)).filter(({ watch }) => watch !== null);
    const thread = await meant(act, threads, answer);
    if (!thread) return { open: threads.map(({ watch }) => ({ id: watch!.id, name: watch!.name })) };
    const { key, watch } = thread;
    const taking = { thread: key, by: answer.by };
    await saveTaking(
      act.trx,
      answer.does === 'take' ? { type: 'take', ...taking, until: null } : { type: 'give-back', ...taking },
      act.now,
    );
    touched(act, watch!);
    return { done: true };
  },
);

/** Whoever answers in a room may do that, and nothing else. */
function roomOf(by: string): Principal {
  return { type: 'room', name: by, rights: new Set(['operate']) };
}

/** Takes an answer; where it is not clear what it is about, or it cannot be noted, that is said in the room. */
export async function takeAnswer(answer: HeardAnswer, world: World): Promise<void> {
  let failure: unknown = null;
  const outcome = await answerInRoom(roomOf(answer.by), answer, world).catch((error: unknown) => {
    failure = error;
    return { failed: true } as const;
  });
  if (!outcome || 'done' in outcome) return;
  const channel = await fetchChannel(world.db, answer.channelId);
  const { channelId, by, to } = answer;
  const text = channel && textFor(outcome, channel.language);
  if (text) await world.engine.call('replyInChannel', { channelId, text, to: { by, text: '', to } });
  if (failure) throw failure as Error;
}

function textFor(outcome: { open: Named[] } | { failed: true }, language: Language): string {
  const { say } = speechOf(language);
  if ('failed' in outcome) return say('answer.failed');
  const list = outcome.open
    .slice(0, MOST_NAMED)
    .map(({ id, name }) => say('answer.item', { words: answerFor(id, language), name }));
  return list.length === 0 ? say('answer.none') : say('answer.unclear', { list: list.join(', ') });
}

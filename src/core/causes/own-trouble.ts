import type { CauseDetail } from './cause-catalogue';

export interface OwnTroubleText {
  /** What is wrong with Calm Lantern itself or with its machine; `{name}` is replaced from the detail. */
  sentence: string;
  advice: string;
  /** Said when it is over. */
  over: string;
}

/** Every way in which Calm Lantern itself may be in trouble. A retired code is never used again. */
export const OWN_TROUBLES = {
  'clock.jumped': {
    sentence: 'The clock of this machine was set by {by}.',
    advice: 'Everything was planned anew. If this happens again, let a time service keep the clock (NTP).',
    over: 'Everything was planned anew.',
  },
  'disk.full': {
    sentence: 'The disk of the data folder is full: {left} left. New findings and output are not kept.',
    advice: 'Make room on {folder}. Outages and messages still go through, from a reserve.',
    over: 'There is room on the disk again; everything is kept.',
  },
  'disk.low': {
    sentence: 'The disk of the data folder is nearly full: {left} left.',
    advice: 'Make room on {folder} before nothing can be kept any more.',
    over: 'There is room on the disk again.',
  },
  'key.lost': {
    sentence: 'The key that opens the secrets is not the one they were sealed with ({file}).',
    advice:
      'Put the old key file back beside the database and all is as before; or enter each secret again. Until then watches and channels that need one stand still, and what is to be sent waits.',
    over: 'The secrets can be opened again.',
  },
  'look.stuck': {
    sentence: 'Looks at {names} cannot be carried out: {reason}',
    advice: 'The fault is on this machine. Nothing is known of what they look at until it is mended.',
    over: 'All looks are carried out again.',
  },
  'look.missing': {
    sentence: 'No look at {names} has come to an end for longer than it should take.',
    advice: 'This machine may have too much to do. Look at its load, or look less often.',
    over: 'All looks come to an end again.',
  },
  'channel.stuck': {
    sentence: 'The channel {name} takes no messages: {said}',
    advice:
      'Look whether its address still holds, and send a test from Messages. What waits is sent when it answers.',
    over: 'The channel {name} takes messages again.',
  },
  'room.deaf': {
    sentence: 'No answer can be heard in the channel {name}: {reason}',
    advice: 'Messages may still get there. Look whether its settings hold, or let it take no answers.',
    over: 'Answers are heard in the channel {name} again.',
  },
  'text.broken': {
    sentence: 'The text of one’s own for {name} cannot be filled in, so the built-in one is said: {reason}',
    advice: 'Look at it under Messages, and try it there.',
    over: 'The text of one’s own for {name} can be filled in again.',
  },
  'desk.failing': {
    sentence: 'The part of Calm Lantern that draws pages and answers the API does not stay up.',
    advice:
      'The log of Calm Lantern says how it ended. Looks, check-ins and messages go on without it. Where it needs more memory, set LANTERN_DESK_MEMORY.',
    over: 'Pages are drawn and the API answers again.',
  },
  'copy.failed': {
    sentence: 'No copy of the public page {name} can be made: {reason}',
    advice: 'Look whether its folder can be written to, or the address it is put at takes files.',
    over: 'Copies of the public page {name} are made again.',
  },
} as const satisfies Record<string, OwnTroubleText>;

export type OwnTroubleCode = keyof typeof OWN_TROUBLES;

function filled(text: string, detail: CauseDetail): string {
  return text.replace(/\{(\w+)\}/g, (_, name: string) => String(detail[name] ?? '…'));
}

/** A trouble of one's own in words; `ended` once it is over. */
export function ownTroubleText(
  code: OwnTroubleCode,
  detail: CauseDetail,
  words: Record<OwnTroubleCode, OwnTroubleText> = OWN_TROUBLES,
): OwnTroubleText {
  const { sentence, advice, over } = words[code];
  return { sentence: filled(sentence, detail), advice: filled(advice, detail), over: filled(over, detail) };
}

/** "Booking site, Tide tables and 4 more". */
export function namesText(names: readonly string[], most = 3): string {
  if (names.length <= most) {
    return names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
  }
  return `${names.slice(0, most).join(', ')} and ${names.length - most} more`;
}

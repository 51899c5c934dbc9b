import { causeAdvice, type CauseCode, type CauseDetail } from '@/core/causes/causes';
import { formatClock, needsSeconds } from '@/core/time/clock-text';
import { formatExactDuration } from '@/core/time/duration';
import type { Rung } from '@/core/causes/finding';
import { troubleSentence } from '@/core/causes/ladder-text';
import { ownTroubleText, type OwnTroubleCode } from '@/core/causes/own-trouble';
import { STAGE_TITLES, type Stage } from '@/core/pages/incident';
import { letterLines, letterTitle, type LetterFacts } from './letter';
import { listed, numberWord } from '@/core/text/words';

/** What happened, as far as a message needs it. */
export type MessageEvent =
  | {
      kind: 'down';
      began: number;
      noticed: number;
      cause: CauseCode;
      detail: CauseDetail;
      /** The layers walked after the first failure, from which the sentence is made. */
      walk?: readonly Rung[];
    }
  | { kind: 'recovered'; began: number; ended: number }
  /** Nobody looks any more, though it was down. */
  | { kind: 'closed'; began: number; at: number; because: 'paused' | 'deleted' }
  | { kind: 'warned'; at: number; cause: CauseCode; detail: CauseDetail }
  /** This machine cannot reach out; `ended` once it can again. */
  | { kind: 'line'; began: number; ended: number | null }
  /** A job made its own check-in by its first contact. */
  | { kind: 'new-checkin'; section: string; address: string }
  /** Calm Lantern itself, or its machine, is in trouble; `ended` once it is over. */
  | { kind: 'own'; code: OwnTroubleCode; detail: CauseDetail; began: number; ended: number | null }
  /** Up, but over its limit of time for as many looks as the settings say. */
  | { kind: 'slow'; began: number; at: number; ms: number; limitMs: number }
  /** A window of maintenance; `watches` are the names of what it covers. */
  | {
      kind: 'maintenance';
      stage: 'planned' | 'begins' | 'ends';
      title: string;
      from: number;
      until: number;
      watches: readonly string[];
    }
  /** Something was told to the public. */
  | { kind: 'incident'; page: string; title: string; stage: Stage; body: string }
  /** How things are, whether or not anything happened. */
  | { kind: 'letter'; facts: LetterFacts }
  | { kind: 'test' };

/** What is said, independent of the channel that carries it. */
export interface MessageText {
  title: string;
  lines: string[];
  link: string;
}

export interface MessageSubject {
  watchName: string;
  link: string;
  zone: string;
  /** What to do when it is down. */
  runbook?: { link: string; note: string };
}

const MAINTENANCE_TITLES = {
  planned: 'Maintenance is planned',
  begins: 'Maintenance begins',
  ends: 'Maintenance is over',
};

/** So many watches of a window are named. */
const MOST_NAMED = 10;

function namesOf(names: readonly string[]): string {
  const left = names.length - MOST_NAMED;
  return left > 0 ? `${names.slice(0, MOST_NAMED).join(', ')} and ${numberWord(left)} more` : listed(names);
}

/** A note longer than this is for the desk, not for a chat room. */
const MOST_NOTE_LINES = 8;

/** What somebody has written down for this moment, line by line. */
function runbookLines({ runbook }: MessageSubject): string[] {
  if (!runbook) return [];
  const note = runbook.note
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  const left = note.length - MOST_NOTE_LINES;
  const shown = left > 0 ? [...note.slice(0, MOST_NOTE_LINES), '…'] : note;
  return [...shown, ...(runbook.link === '' ? [] : [`Runbook: ${runbook.link}`])];
}

/** Puts an event into words: which watch, what is wrong, since when, what to try, where to read on. */
export function composeMessage(event: MessageEvent, subject: MessageSubject): MessageText {
  const { watchName, link, zone } = subject;
  switch (event.kind) {
    case 'down':
      return {
        title: `${watchName} is down`,
        lines: [
          troubleSentence(event.cause, event.detail, event.walk ?? []),
          `Since ${formatClock(event.began, zone)} (${zone}).`,
          `Try this: ${causeAdvice(event.cause, event.detail)}`,
          ...runbookLines(subject),
        ],
        link,
      };
    case 'recovered': {
      const exact = needsSeconds(event.began, event.ended);
      return {
        title: `${watchName} is up again`,
        lines: [
          `It was down for ${formatExactDuration(event.ended - event.began)}, from ` +
            `${formatClock(event.began, zone, exact)} to ${formatClock(event.ended, zone, exact)} (${zone}).`,
        ],
        link,
      };
    }
    case 'closed':
      return {
        title:
          event.because === 'paused'
            ? `${watchName} was paused while down`
            : `${watchName} was deleted while down`,
        lines: [`It was down since ${formatClock(event.began, zone)} (${zone}); nobody looks any more.`],
        link,
      };
    case 'warned':
      return {
        title: `${watchName} wants a hand`,
        lines: [
          troubleSentence(event.cause, event.detail, []),
          `Try this: ${causeAdvice(event.cause, event.detail)}`,
          ...runbookLines(subject),
        ],
        link,
      };
    case 'line': {
      const since = formatClock(event.began, zone);
      return {
        title: event.ended === null ? 'Calm Lantern cannot reach out' : 'Calm Lantern can reach out again',
        lines: [
          event.ended === null
            ? `None of the addresses of its own line answers since ${since} (${zone}).`
            : `None of the addresses of its own line answered from ${since} to ${formatClock(event.ended, zone)} (${zone}).`,
          'Nothing is concluded about what could not be looked at; that time stands as not observed.',
        ],
        link,
      };
    }
    case 'new-checkin':
      return {
        title: `${watchName} reported for the first time`,
        lines: [
          `A check-in was made for it in the section ${event.section}; it came from ${event.address}.`,
          'Say when it is expected, so that you hear when it stays away.',
        ],
        link,
      };
    case 'own': {
      const { sentence, advice, over } = ownTroubleText(event.code, event.detail);
      const since = `Since ${formatClock(event.began, zone)} (${zone}).`;
      return event.ended === null
        ? {
            title: 'Calm Lantern itself wants a hand',
            lines: [sentence, since, `Try this: ${advice}`],
            link,
          }
        : { title: 'Calm Lantern itself is well again', lines: [over], link };
    }
    case 'slow':
      return {
        title: `${watchName} is slow`,
        lines: [
          `It answered after ${event.ms} ms, over its limit of ${event.limitMs} ms, and has been slow since ${formatClock(event.began, zone)} (${zone}).`,
          ...runbookLines(subject),
        ],
        link,
      };
    case 'maintenance': {
      const [from, until] = [event.from, event.until].map((at) => formatClock(at, zone));
      return {
        title: `${MAINTENANCE_TITLES[event.stage]}: ${event.title}`,
        lines: [
          `From ${from} to ${until} (${zone}), for ${namesOf(event.watches)}.`,
          ...(event.stage === 'ends'
            ? []
            : ['Meanwhile nothing is told of these, and no downtime is counted.']),
        ],
        link,
      };
    }
    case 'incident':
      return {
        title: `${event.page} tells the public: ${event.title}`,
        lines: [`${STAGE_TITLES[event.stage]}.`, ...event.body.split('\n').slice(0, MOST_NOTE_LINES)],
        link,
      };
    case 'letter':
      return { title: letterTitle(event.facts), lines: letterLines(event.facts, zone), link };
    case 'test':
      return {
        title: 'A test from Calm Lantern',
        lines: ['If you can read this, messages reach you here.'],
        link,
      };
  }
}

/** A message as plain text. */
export function messageAsPlainText(message: MessageText): string {
  return [message.title, ...message.lines, message.link].join('\n');
}

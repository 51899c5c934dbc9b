import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { SharedFacts } from '@/core/causes/machines';
import type { Rung } from '@/core/causes/finding';
import type { OwnTroubleCode } from '@/core/causes/own-trouble';
import { USUAL_LANGUAGE, type Language } from '@/core/languages/language';
import { speechOf, type Speech } from '@/core/languages/speech';
import type { Stage } from '@/core/pages/incident';
import { needsSeconds } from '@/core/time/clock-text';
import { formatExactDuration } from '@/core/time/duration';
import { letterLines, letterTitle, type LetterFacts } from './letter';

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
      /** What it may share with other troubles. */
      shares?: SharedFacts;
    }
  | {
      kind: 'recovered';
      began: number;
      ended: number;
      /** How much of its month it was up by then, from 0 to 1; `from` is later where it is not watched that long. */
      month?: { from: number; uptime: number };
    }
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
  /** English, unless it says otherwise. */
  language?: Language;
}

/** So many watches of a window are named. */
const MOST_NAMED = 10;

function namesOf(names: readonly string[], { say, list, count }: Speech): string {
  const left = names.length - MOST_NAMED;
  if (left <= 0) return list(names);
  return say('names.more', { names: names.slice(0, MOST_NAMED).join(', '), count: count(left) });
}

/** A note longer than this is for the desk, not for a chat room. */
const MOST_NOTE_LINES = 8;

/** What somebody has written down for this moment, line by line. */
function runbookLines({ runbook }: MessageSubject, { say }: Speech): string[] {
  if (!runbook) return [];
  const note = runbook.note
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  const left = note.length - MOST_NOTE_LINES;
  const shown = left > 0 ? [...note.slice(0, MOST_NOTE_LINES), '…'] : note;
  return [...shown, ...(runbook.link === '' ? [] : [say('runbook', { link: runbook.link })])];
}

/** How the language of a message is spoken. */
export function speechFor({ language = USUAL_LANGUAGE }: { language?: Language }): Speech {
  return speechOf(language);
}

/** Title and lines of an event, in words. */
function wordsOf(event: MessageEvent, subject: MessageSubject): Omit<MessageText, 'link'> {
  const { watchName: name, zone } = subject;
  const speech = speechFor(subject);
  const { say, clock } = speech;
  switch (event.kind) {
    case 'down':
      return {
        title: say('down.title', { name }),
        lines: [
          speech.trouble(event.cause, event.detail, event.walk),
          say('since', { at: clock(event.began, zone), zone }),
          say('try', { advice: speech.advice(event.cause, event.detail) }),
          ...runbookLines(subject, speech),
        ],
      };
    case 'recovered': {
      const exact = needsSeconds(event.began, event.ended);
      const [from, to] = [event.began, event.ended].map((at) => clock(at, zone, exact));
      const length = formatExactDuration(event.ended - event.began);
      return {
        title: say('recovered.title', { name }),
        lines: [
          say('recovered.line', { length, from: from!, to: to!, zone }),
          ...(event.month
            ? [
                say('recovered.month', {
                  from: clock(event.month.from, zone),
                  uptime: speech.share(event.month.uptime),
                }),
              ]
            : []),
        ],
      };
    }
    case 'closed':
      return {
        title: say(`${event.because}.title`, { name }),
        lines: [say('closed.line', { at: clock(event.began, zone), zone })],
      };
    case 'warned':
      return {
        title: say('warned.title', { name }),
        lines: [
          speech.trouble(event.cause, event.detail),
          say('try', { advice: speech.advice(event.cause, event.detail) }),
          ...runbookLines(subject, speech),
        ],
      };
    case 'line': {
      const from = clock(event.began, zone);
      return {
        title: say(event.ended === null ? 'line.lost.title' : 'line.back.title'),
        lines: [
          event.ended === null
            ? say('line.lost', { from, zone })
            : say('line.back', { from, to: clock(event.ended, zone), zone }),
          say('line.note'),
        ],
      };
    }
    case 'new-checkin': {
      const { section, address } = event;
      return {
        title: say('new.title', { name }),
        lines: [say('new.line', { section, address }), say('new.ask')],
      };
    }
    case 'own': {
      const { sentence, advice, over } = speech.own(event.code, event.detail);
      if (event.ended !== null) return { title: say('own.over.title'), lines: [over] };
      const since = say('since', { at: clock(event.began, zone), zone });
      return { title: say('own.title'), lines: [sentence, since, say('try', { advice })] };
    }
    case 'slow': {
      const [took, limit] = [event.ms, event.limitMs].map(String);
      return {
        title: say('slow.title', { name }),
        lines: [
          say('slow.line', { took: took!, limit: limit!, at: clock(event.began, zone), zone }),
          ...runbookLines(subject, speech),
        ],
      };
    }
    case 'maintenance': {
      const [from, to] = [event.from, event.until].map((at) => clock(at, zone));
      const names = namesOf(event.watches, speech);
      return {
        title: say(`maintenance.${event.stage}`, { title: event.title }),
        lines: [
          say('maintenance.line', { from: from!, to: to!, zone, names }),
          ...(event.stage === 'ends' ? [] : [say('maintenance.note')]),
        ],
      };
    }
    case 'incident':
      return {
        title: say('incident.title', { page: event.page, title: event.title }),
        lines: [say(`stage.${event.stage}`), ...event.body.split('\n').slice(0, MOST_NOTE_LINES)],
      };
    case 'letter':
      return { title: letterTitle(event.facts, speech), lines: letterLines(event.facts, zone, speech) };
    case 'test':
      return { title: say('test.title'), lines: [say('test.line')] };
  }
}

/** Puts an event into words: which watch, what is wrong, since when, what to try, where to read on. */
export function composeMessage(event: MessageEvent, subject: MessageSubject): MessageText {
  return { ...wordsOf(event, subject), link: subject.link };
}

/** A message as plain text. */
export function messageAsPlainText(message: MessageText): string {
  return [message.title, ...message.lines, message.link].join('\n');
}

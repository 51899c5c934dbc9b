import { formatExactDuration } from '@/core/time/duration';
import { builtInWords, marked, type KeptMessage, type MessagePlace } from './kept-message';
import { speechFor, type MessageEvent, type MessageText } from './message';
import { cutTo } from './safe-text';
import type { SaidEvent } from './said';
import { fillTemplate } from './sandbox';
import type { TEXT_VALUES } from './text-values';

/** What somebody wants said in the place of the built-in text; an empty part stays the built-in one. */
export interface OwnText {
  title: string;
  body: string;
}

type TextValues = Record<keyof typeof TEXT_VALUES, string | boolean | string[]>;

const MOST_TITLE = 200;
const MOST_BODY = 4000;
const MOST_LINES = 60;

/** When what a message is about began and ended, as far as it has a beginning. */
function spanOf(event: SaidEvent): { began: number | null; ended: number | null; by: number | null } {
  const began = 'began' in event ? event.began : null;
  const ended = 'ended' in event ? event.ended : null;
  const by = ended ?? ('at' in event ? event.at : null);
  return { began, ended, by };
}

function namesIn(event: SaidEvent): string[] {
  if (event.kind === 'several' || event.kind === 'several-over' || event.kind === 'also')
    return event.items.map(({ name }) => name);
  return event.kind === 'maintenance' ? [...event.watches] : [];
}

/** The trouble that a message is about, or goes on about. */
function troubleIn(event: SaidEvent): (MessageEvent & { kind: 'down' | 'warned' }) | null {
  const about = event.kind === 'still-down' ? event.down : event;
  return about.kind === 'down' || about.kind === 'warned' ? about : null;
}

interface Around extends Omit<MessagePlace, 'linkBase'> {
  builtIn: MessageText;
  take: string | null;
}

/** What a text may name, for one message. */
export function textValues(
  { event, watchName, runbook, drill, walk }: KeptMessage,
  { builtIn, take, zone, language }: Around,
): TextValues {
  const speech = speechFor({ ...(language && { language }) });
  const { began, ended, by } = spanOf(event);
  const trouble = troubleIn(event);
  const walked = trouble?.kind === 'down' ? (trouble.walk ?? walk) : undefined;
  const iso = (at: number | null) => (at === null ? '' : new Date(at).toISOString());
  const clock = (at: number | null) => (at === null ? '' : speech.clock(at, zone));
  return {
    name: watchName,
    title: builtIn.title,
    text: builtIn.lines.join('\n'),
    happening: event.kind,
    why: trouble ? speech.trouble(trouble.cause, trouble.detail, walked) : '',
    cause: trouble?.cause ?? '',
    advice: trouble ? speech.advice(trouble.cause, trouble.detail) : '',
    since: clock(began),
    until: clock(ended),
    length: began !== null && by !== null ? formatExactDuration(by - began) : '',
    began: iso(began),
    ended: iso(ended),
    uptime: event.kind === 'recovered' && event.month ? speech.share(event.month.uptime) : '',
    who: 'by' in event ? (event.by ?? '') : '',
    names: namesIn(event),
    note: runbook?.note ?? '',
    runbook: runbook?.link ?? '',
    link: builtIn.link,
    take: take ?? '',
    zone,
    drill: drill !== undefined,
  };
}

function filledIn({ title, body }: OwnText, values: TextValues): Omit<MessageText, 'link'> {
  const filled = fillTemplate(title, values).replace(/\s+/g, ' ').trim();
  const lines = fillTemplate(body, values)
    .slice(0, MOST_BODY)
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  const built = String(values.text).split('\n');
  return {
    title: cutTo(filled === '' ? String(values.title) : filled, MOST_TITLE),
    lines: body.trim() === '' ? built : lines.slice(0, MOST_LINES),
  };
}

/** A message in words of one's own, marked where it belongs to a drill. Throws a `TemplateError`. */
export function messageInOwnWords(
  kept: KeptMessage,
  watchId: number | null,
  place: MessagePlace,
  own: OwnText,
  take: string | null,
): MessageText {
  const builtIn = builtInWords(kept, watchId, place);
  const { zone, language } = place;
  const values = textValues(kept, { builtIn, take, zone, ...(language && { language }) });
  return marked(kept, { ...filledIn(own, values), link: builtIn.link }, language);
}

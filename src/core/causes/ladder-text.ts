import { capitalise, joined, listed } from '@/core/text/words';
import { ENGLISH, type CauseWords } from './cause-words';
import { causeAdvice, causeSentence, type CauseCode, type CauseDetail } from './causes';
import type { Rung, RungName } from './finding';

/** What still holds, in words; null for a rung nothing is said of. */
function holdsText({ rung, label }: Rung, { holds }: CauseWords): string | null {
  return rung === 'content' ? null : holds[rung].replace('{port}', label.replace(/\D/g, ''));
}

/** The start of a sentence inside another one; a name, a quoted word or an abbreviation keeps its capital. */
function inner(sentence: string): string {
  return /^(The|This|No|Not|None|Nothing|It|An?|More|Only|What|Connected|Port|One|Step|Fewer)[ ,]/.test(
    sentence,
  )
    ? sentence.charAt(0).toLowerCase() + sentence.slice(1)
    : sentence;
}

/** Rungs too obvious to be named before the one that broke: a known name goes without saying once the host answers. */
function worthSaying(rungs: readonly Rung[]): Rung[] {
  const fine = rungs.filter((rung) => rung.result === 'fine' && rung.rung !== 'content');
  return fine.length > 1 ? fine.filter((rung) => rung.rung !== 'name') : fine;
}

/**
 * One sentence from the layers walked after a first failure: what still holds, then what broke. "The host answers
 * ping and port 443 is open, but the certificate expired 2 h ago." Without a walk, the cause's own sentence.
 */
export function troubleSentence(
  cause: CauseCode,
  detail: CauseDetail,
  walk: readonly Rung[],
  words: CauseWords = ENGLISH,
): string {
  const own = causeSentence(cause, detail, words);
  const inEnglish = words === ENGLISH;
  const silent = walk.some((rung) => rung.rung === 'host' && rung.result === 'failed');
  const open = walk.some((rung) => rung.rung === 'port' && rung.result === 'fine');
  const layer = cause.split('.')[0]!;
  if (detail.step !== undefined || layer === 'look' || layer === 'checkin' || layer === 'parts') return own;
  if (silent && !open && layer !== 'host') {
    return inEnglish ? own.replace(/\.$/, ', and the host does not answer ping.') : `${own} ${words.silent}`;
  }
  const order: RungName[] = ['name', 'host', 'port', 'certificate', 'reply', 'content'];
  const broke = walk.findIndex((rung) => rung.result === 'failed' && rung.rung !== 'host');
  const upTo = broke < 0 ? walk.length : order.indexOf(walk[broke]!.rung);
  const before = worthSaying(walk.filter((rung) => broke < 0 || order.indexOf(rung.rung) < upTo));
  // Some sentences say it themselves.
  const unsaid = before.filter(({ rung }) => !(cause === 'port.refused' && rung === 'host'));
  const parts = unsaid.map((rung) => holdsText(rung, words)).filter((text) => text !== null);
  if (parts.length === 0) return own;
  if (!inEnglish) return `${capitalise(joined(parts, words.and))}. ${own}`;
  const joint = own.includes(', but ') ? '; ' : ', but ';
  return `${capitalise(listed(parts))}${joint}${inner(own)}`;
}

/** The advice for a trouble: where the host is gone too, look there first. */
export function troubleAdvice(cause: CauseCode, walk: readonly Rung[], detail: CauseDetail = {}): string {
  const host = walk.find((rung) => rung.rung === 'host');
  const port = walk.find((rung) => rung.rung === 'port');
  if (host?.result === 'failed' && port?.result !== 'fine') {
    return 'Look first whether the host is on and its network is plugged in.';
  }
  if (host?.result === 'fine' && cause === 'port.timeout') {
    return 'The host is on, so look at its firewall, and at the service itself.';
  }
  return causeAdvice(cause, detail);
}

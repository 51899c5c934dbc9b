import type { CauseDetail } from '@/core/causes/causes';
import type { Phrase } from './phrases/en';

/** As much of a language as pieces need. */
interface Says {
  say: (phrase: Phrase, values?: Record<string, string>) => string;
  clock: (at: number, zone: string, toTheSecond?: boolean) => string;
}

/** Pieces of a sentence that were put into English words when something was found, and what they are made of. */
const PIECES: readonly [pattern: RegExp, phrase: Phrase][] = [
  [/^(?<v>.+) for all of them$/s, 'piece.all'],
  [/^(?<v>.+) for any of them$/s, 'piece.any'],
  [/^(?<v>.+) for exactly one of them$/s, 'piece.one'],
  [/^(?<v>.+) \((?<i>\d+) of (?<n>\d+)\)$/s, 'piece.of'],
  [/^Step (?<i>\d+)(?<v>, “.*”)?$/s, 'piece.step'],
  [/^at least (?<v>.+)$/s, 'piece.least'],
  [/^at most (?<v>.+)$/s, 'piece.most'],
  [/^anything but (?<v>“.*”)$/s, 'piece.not'],
  [/^something with (?<v>“.*”) in it$/s, 'piece.with'],
  [/^something without (?<v>“.*”)$/s, 'piece.without'],
  [/^a match of (?<v>“.*”)$/s, 'piece.match'],
  [/^something$/, 'piece.something'],
  [/^nothing$/, 'piece.nothing'],
  [/^not there$/, 'piece.absent'],
  [/^the first row$/, 'piece.row'],
  [/^the first row: it is NULL$/, 'piece.null'],
  [/^the result$/, 'piece.result'],
  [/^the query$/, 'piece.query'],
  [/^the connection$/, 'piece.connection'],
];

/** A moment as `formatClock` says it: "Tue 24 Nov, 02:30". */
const CLOCK = /^(\w{3}) (\d{1,2}) (\w{3,4}), (\d\d):(\d\d)(?::(\d\d))?$/;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sept', 'Oct', 'Nov', 'Dec'];
const WEEKDAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];
/** Within so many years in a row every day of the year falls on every day of the week, 29 February too. */
const YEARS = 28;

/** Some moment that such a clock shows, in UTC; null for what is none. The year is not said, so any will do. */
function momentOf(text: string): { at: number; toTheSecond: boolean } | null {
  const [, weekday = '', day, month = '', hour, minute, second] = CLOCK.exec(text) ?? [];
  const inYear = MONTHS.indexOf(month);
  if (weekday === '' || inYear < 0) return null;
  for (let year = 2024; year < 2024 + YEARS; year += 1) {
    const at = Date.UTC(year, inYear, Number(day), Number(hour), Number(minute), Number(second ?? 0));
    const found = new Date(at);
    if (found.getUTCDate() === Number(day) && WEEKDAYS[found.getUTCDay()] === weekday)
      return { at, toTheSecond: second !== undefined };
  }
  return null;
}

/** A piece in the words of another language; as it is where it is a name, a number or what another program said. */
function pieceIn({ say, clock }: Says, text: string): string {
  const moment = momentOf(text);
  if (moment) return clock(moment.at, 'UTC', moment.toTheSecond);
  for (const [pattern, phrase] of PIECES) {
    const groups = pattern.exec(text)?.groups;
    if (!groups && !pattern.test(text)) continue;
    const { v = '', ...rest } = groups ?? {};
    return say(phrase, { ...rest, v: pieceIn({ say, clock }, v) });
  }
  return text;
}

/** What a cause is filled with, in the words of another language than the English it was noted in. */
export function detailIn(speech: Says, detail: CauseDetail): CauseDetail {
  const pieces = Object.entries(detail).map(([name, value]) => [
    name,
    typeof value === 'string' ? pieceIn(speech, value) : value,
  ]);
  return Object.fromEntries(pieces) as CauseDetail;
}

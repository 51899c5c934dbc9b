import { formatDuration } from '@/core/time/duration';
import { listed, numberWord } from '@/core/text/words';
import type { Foretold } from './foretell';
import type { Hours, OpenSpan } from './hours';
import type { Route, WatchGroup } from './route';
import { TOPICS, USUAL_TOPICS } from './topic';

/** What routes name by id, by name. */
export interface RouteNames {
  channel: (id: number) => string;
  watch: (id: number) => string;
  kind: (id: string) => string;
}

function groupInWords({ sections, tags, kinds, ids }: WatchGroup, names: RouteNames): string[] {
  return [
    ...sections.map((name) => (name === '' ? 'what has no section' : `anything in ${name}`)),
    ...tags.map((name) => `anything tagged ${name}`),
    ...kinds.map((kind) => `every ${names.kind(kind)}`),
    ...ids.map(names.watch),
  ];
}

/** Which watches a route is about, as the beginning of a sentence: "anything tagged house, but Door bell". */
export function watchesInWords({ watches }: Pick<Route, 'watches'>, names: RouteNames): string {
  const meant = watches.all ? ['any watch'] : groupInWords(watches, names);
  const but = groupInWords(watches.except, names);
  return `${meant.length === 0 ? 'no watch yet' : listed(meant)}${but.length > 0 ? `, but ${listed(but)}` : ''}`;
}

const DAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays'];

function daysInWords(days: readonly number[]): string {
  const sorted = [...days].sort((a, b) => a - b).join('');
  if (sorted === '1234567') return '';
  if (sorted === '12345') return 'on weekdays ';
  if (sorted === '67') return 'at weekends ';
  return `on ${listed([...days].sort((a, b) => a - b).map((day) => DAYS[day - 1]!))} `;
}

function spanInWords({ days, from, until }: OpenSpan): string {
  return `${daysInWords(days)}from ${from} to ${until}`;
}

const OUTSIDE_WORDS = {
  hold: 'the rest is told together when they open',
  urgent: 'outside them only what is for any hour; the rest is told together when they open',
  drop: 'nothing is told outside them',
};

/** "on weekdays from 07:00 to 18:00 (Europe/Lisbon); the rest is told together when they open". */
export function hoursInWords(hours: Hours): string {
  const off =
    hours.daysOff.length === 0
      ? ''
      : `, but not on ${numberWord(hours.daysOff.length)} ${hours.daysOff.length === 1 ? 'day' : 'days'} off`;
  return `${listed(hours.spans.map(spanInWords))}${off} (${hours.zone}); ${OUTSIDE_WORDS[hours.outside]}`;
}

function stepsInWords({ steps }: Pick<Route, 'steps'>, names: RouteNames): string {
  const pieces = steps
    .filter(({ channels }) => channels.length > 0)
    .map(({ afterMs, channels }) => {
      const who = listed(channels.map(names.channel));
      const verb = channels.length === 1 ? 'hears' : 'hear';
      return afterMs === 0 ? `${who} ${verb} at once` : `${who} ${verb} after ${formatDuration(afterMs)}`;
    });
  return pieces.length === 0 ? 'nobody hears yet' : listed(pieces);
}

/** A route as one sentence, as a person would say it. */
export function routeInWords(route: Route, names: RouteNames): string {
  const topics = route.topics.filter((topic) => topic !== 'recovered');
  const own = topics.includes('own');
  const all = USUAL_TOPICS.every(
    (topic) => topic === 'own' || route.topics.includes(topic) || topic === 'recovered',
  );
  const besides = topics.filter((topic) => !USUAL_TOPICS.includes(topic)).map((topic) => TOPICS[topic]);
  const when = all
    ? `When anything happens to ${watchesInWords(route, names)}${own ? ' or to Calm Lantern itself' : ''}${besides.length > 0 ? `, or ${besides.join(', or ')}` : ''}`
    : `For ${watchesInWords(route, names)}, when ${listed(topics.map((topic) => TOPICS[topic])).replace(/ and (?=[^,]*$)/, ' or ')}`;
  const again =
    route.againMs === null
      ? ''
      : `, then again every ${formatDuration(route.againMs)}${
          route.againMost === null ? '' : `, ${numberWord(route.againMost)} times at most,`
        } until someone has it`;
  const over = route.topics.includes('recovered') ? '' : '; that it is over is not told';
  const hours = route.hours ? ` It speaks ${hoursInWords(route.hours)}.` : '';
  return `${when}: ${stepsInWords(route, names)}${again}${over}.${hours}`;
}

/** What was foretold, in words: "Crew room at once; Desk mail after 5 min; again every hour until someone has it". */
export function foretoldInWords(foretold: readonly Foretold[], channel: (id: number) => string): string {
  const first = foretold.filter(({ rule }) => rule !== 'again');
  if (first.length === 0) return 'Nobody would be told.';
  const pieces = first.map(({ channelId, afterMs }) =>
    afterMs === 0
      ? `${channel(channelId)} at once`
      : `${channel(channelId)} after ${formatDuration(afterMs)}`,
  );
  const [one, two] = [
    ...new Set(foretold.filter(({ rule }) => rule === 'again').map(({ afterMs }) => afterMs)),
  ];
  const again =
    one === undefined
      ? ''
      : two === undefined
        ? `; once more after ${formatDuration(one)}`
        : `; again every ${formatDuration(two - one)} until someone has it`;
  return `${pieces.join('; ')}${again}.`;
}

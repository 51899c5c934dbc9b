import type { CauseCode } from '@/core/causes/causes';
import type { MessageEvent } from '@/core/messages/message';

/** What a route may be about, with how it is named in a sentence: "when … ". */
export const TOPICS = {
  down: 'it is down',
  missed: 'a job is missed',
  failed: 'a job failed',
  overlong: 'a job runs too long',
  'too-often': 'a job runs too often',
  certificate: 'a certificate ends soon',
  'certificate-urgent': 'a certificate ends in days',
  reading: 'a reading is over its limit',
  slow: 'it is slow',
  recovered: 'it is up again',
  maintenance: 'maintenance is planned, begins or ends',
  incident: 'the public is told of an incident',
  line: 'this machine cannot reach out',
  'first-contact': 'a job reports for the first time',
  own: 'Calm Lantern itself wants a hand',
} as const;

export type Topic = keyof typeof TOPICS;
export const TOPIC_NAMES = Object.keys(TOPICS) as Topic[];

/** What is no trouble by itself is told only where somebody asks for it. */
const ASKED_FOR: readonly Topic[] = ['slow', 'maintenance', 'incident'];
export const USUAL_TOPICS = TOPIC_NAMES.filter((topic) => !ASKED_FOR.includes(topic));

const OF_CAUSE: Partial<Record<CauseCode, Topic>> = {
  'checkin.missed': 'missed',
  'checkin.never': 'missed',
  'checkin.failed': 'failed',
  'checkin.exit-status': 'failed',
  'checkin.unfinished': 'failed',
  'checkin.overlong': 'overlong',
  'checkin.doubled': 'too-often',
  'checkin.too-soon': 'too-often',
  'tls.expires-soon': 'certificate',
  'tls.chain-expires-soon': 'certificate',
  'tls.expires-urgent': 'certificate-urgent',
};

/** What an event is about, as routes name it; null for what goes by no route. */
export function topicOf(event: MessageEvent): Topic | null {
  switch (event.kind) {
    case 'down':
      return OF_CAUSE[event.cause] ?? 'down';
    case 'warned':
      return OF_CAUSE[event.cause] ?? 'reading';
    case 'recovered':
      return 'recovered';
    case 'line':
      return 'line';
    case 'new-checkin':
      return 'first-contact';
    case 'own':
      return 'own';
    case 'slow':
    case 'maintenance':
    case 'incident':
      return event.kind;
    default:
      return null;
  }
}

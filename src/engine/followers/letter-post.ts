import { composeLetter, type LetterText } from '@/core/followers/letter';
import { isRefusedForGood } from '@/core/followers/refused';
import { readPushAddress } from '@/core/followers/push-address';
import { REFUSALS_UNTIL_ASIDE } from '@/core/followers/follower';
import { pageAddress } from '@/core/pages/page-address';
import { cutTo } from '@/core/messages/safe-text';
import type { PushKeys } from '@/core/messages/notice';
import { plainMarkdown } from '@/core/text/markdown';
import { pushTo } from '@/channels/kinds/push';
import { OPEN_WEB } from '@/channels/transport/open-web';
import { signedEvent } from '@/channels/kinds/signed-webhook';
import { answerOnly, callJson } from '@/channels/transport/call-json';
import { domainOf, post, type SmtpSettings } from '@/channels/transport/smtp';
import type { Answer } from '@/channels/frame/kind';
import { bounceAddress } from '@/store/followers/bounce-addresses';
import { signFollowLink } from '@/store/followers/follow-links';
import type { LetterDelivery } from '@/store/followers/letters';
import type { Page } from '@/store/pages/pages';

/** What a letter is handed over with. */
export interface PostPlace {
  linkBase: string;
  /** Whose clocks are told where the page names none. */
  zone: string;
  /** What links are signed with. */
  key: Buffer;
  signal: AbortSignal;
  /** Whether pushes may go to services of this network too. */
  nearPushes: boolean;
}

interface MailPlace extends PostPlace {
  /** The domain what cannot be delivered comes back to; null for wherever the sender’s does. */
  back: string | null;
}

interface Addressed {
  text: LetterText;
  off: string;
  base: string;
}

function addressed({ letter, follower }: LetterDelivery, page: Page, place: PostPlace): Addressed {
  const base = pageAddress(place.linkBase, page);
  const to = (purpose: 'yes' | 'own' | 'off') =>
    `${base}follow/${purpose}/${signFollowLink(purpose, follower, place.key)}`;
  const links = {
    about: base + letter.about,
    own: to(letter.facts.kind === 'confirm' ? 'yes' : 'own'),
    off: to('off'),
  };
  const text = composeLetter(letter.facts, {
    ...{ page: page.title, language: follower.language, zone: page.zone ?? place.zone, links },
  });
  return { text, off: links.off, base };
}

/** A letter as a mail: one click ends it (RFC 8058), and nobody's holiday answer is wanted (RFC 3834). */
export function mailFor(delivery: LetterDelivery, page: Page, place: MailPlace, from: string) {
  const { letter, follower } = delivery;
  const { text, off } = addressed(delivery, page, place);
  const domain = domainOf(from);
  const thread = /^[iw]\d+/.exec(letter.key)?.[0];
  const asks = letter.facts.kind === 'confirm' || letter.facts.kind === 'again';
  return {
    from,
    to: [follower.address],
    ...(place.back && {
      envelope: { from: bounceAddress(follower, place.key, place.back), to: [follower.address] },
    }),
    ...{ subject: text.subject, text: text.text, html: text.html },
    // The same each time it is tried, so that readers see one.
    messageId: `<letter.${letter.id}.${follower.id}@${domain}>`,
    ...(thread && { references: [`<told.${letter.pageId}.${thread}@${domain}>`] }),
    headers: {
      'Auto-Submitted': 'auto-generated',
      ...(!asks && {
        'List-Id': `<${page.slug}.${domain}>`,
        'List-Unsubscribe': `<${off}>`,
        'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
      }),
    },
  };
}

/** A letter as an event (CloudEvents 1.0). */
export function eventFor(delivery: LetterDelivery, page: Page, place: PostPlace): string {
  const { letter, follower } = delivery;
  const { text, base } = addressed(delivery, page, place);
  const { facts } = letter;
  return JSON.stringify({
    specversion: '1.0',
    id: `letter.${letter.id}.${follower.id}`,
    source: base,
    type: `lantern.page.${facts.kind}`,
    time: new Date(letter.madeAt).toISOString(),
    datacontenttype: 'application/json',
    data: { page: page.title, link: base + letter.about, title: text.subject, ...told(facts) },
  });
}

/** What is told, with moments as the API says them. */
function told(facts: LetterDelivery['letter']['facts']): object {
  const moment = (at: number) => new Date(at).toISOString();
  if (facts.kind === 'incident') return { ...facts, at: moment(facts.at) };
  if (facts.kind === 'maintenance') {
    const { begins, ends, ...rest } = facts;
    return { ...rest, from: moment(begins), until: moment(ends) };
  }
  return facts;
}

export function sendMail(
  delivery: LetterDelivery,
  page: Page,
  settings: SmtpSettings,
  place: MailPlace,
): Promise<Answer> {
  return post(settings, mailFor(delivery, page, place, settings.from), place.signal);
}

export async function sendEvent(
  delivery: LetterDelivery,
  page: Page,
  secret: string,
  place: PostPlace,
): Promise<Answer> {
  const { address } = delivery.follower;
  const body = eventFor(delivery, page, place);
  const headers = {
    'content-type': 'application/cloudevents+json; charset=utf-8',
    ...signedEvent(secret, `letter.${delivery.letter.id}.${delivery.follower.id}`, body),
  };
  const reply = await callJson({ address, headers, body, secrets: [address, secret] }, place.signal);
  return { ...answerOnly(reply), ...(reply.status === 410 && { gone: true }) };
}

const [MOST_PUSHED_TITLE, MOST_PUSHED_BODY] = [120, 600];

/** A letter as a browser shows it: what happened, in two lines, and where to read on. */
export function pushFor(delivery: LetterDelivery, page: Page, place: PostPlace) {
  const { letter } = delivery;
  const { text, base } = addressed(delivery, page, place);
  const { facts } = letter;
  const words = facts.kind === 'incident' ? facts.body : facts.kind === 'maintenance' ? facts.text : '';
  // What is told of one thing takes the place of what was told of it before.
  const tag = `${base}${/^[iw]\d+/.exec(letter.key)?.[0] ?? letter.key}`;
  return {
    title: cutTo(text.subject, MOST_PUSHED_TITLE),
    body: cutTo(plainMarkdown(words), MOST_PUSHED_BODY),
    link: base + letter.about,
    tag,
    nth: letter.id,
  };
}

export async function sendPush(
  delivery: LetterDelivery,
  page: Page,
  secret: string,
  place: PostPlace,
  keys: PushKeys,
): Promise<Answer> {
  const endpoint = readPushAddress(delivery.follower.address, { near: place.nearPushes });
  if (endpoint === null) {
    return { ok: false, retry: false, gone: true, said: 'The address is no push service of the open web' };
  }
  const { p256dh, auth } = JSON.parse(secret) as { p256dh: string; auth: string };
  const shown = pushFor(delivery, page, place);
  const call = { shown, link: shown.link, urgency: 'normal' as const, keys };
  return pushTo(
    { endpoint, p256dh, auth },
    // A stranger said where to: into networks of ours nothing is sent.
    place.nearPushes ? call : { ...call, by: OPEN_WEB },
    place.signal,
  );
}

/** Why somebody is put aside after one more answer like this; null where they are not, or not yet. */
export function asideAfter(answer: Answer, refusals: number): string | null {
  if (answer.gone) return answer.said;
  if (!isRefusedForGood(answer)) return null;
  return refusals + 1 >= REFUSALS_UNTIL_ASIDE ? answer.said : null;
}

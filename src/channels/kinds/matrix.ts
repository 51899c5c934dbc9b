import { randomUUID } from 'node:crypto';
import { string } from 'yup';
import { forHtml } from '@/core/messages/safe-text';
import { colourOf, signOf, toneOf } from '@/core/messages/tone';
import { askedMs } from '@/core/messages/routing';
import * as f from '@/core/settings/fields';
import { allLines, answerHint, takeWord } from '@/channels/frame/all-lines';
import { AskingLine, type Written } from '@/channels/frame/asking-line';
import { listens, listensField, settingsOf } from '@/channels/frame/fields';
import { ROOM_PACE } from '@/channels/frame/room-pace';
import type { Answer, AroundLine, ChannelKind, Found, Heard, Line, Outgoing } from '@/channels/frame/kind';
import { callJson, readJson, webAddress, type Called } from '@/channels/transport/call-json';
import { ownEntry } from '@/core/text/own-entry';

export interface MatrixSettings {
  address: string;
  token: string;
  room: string;
  listens: boolean;
}

interface MatrixReply {
  errcode?: unknown;
  error?: unknown;
  retry_after_ms?: unknown;
  event_id?: unknown;
  room_id?: unknown;
  joined_rooms?: unknown;
}

/** What refusals mean (Matrix client-server API, "Standard error response"). */
const WHY: Record<string, string> = {
  M_FORBIDDEN: 'This account may not write into that room; it has to be invited and to have joined',
  M_UNKNOWN_TOKEN: 'The access token is not known there any more',
  M_MISSING_TOKEN: 'The access token is not known there any more',
  M_NOT_FOUND: 'There is no such room',
  M_TOO_LARGE: 'The message is too large for that server',
  M_LIMIT_EXCEEDED: 'Too much was sent in too little time',
};

function asHtml(message: Outgoing): string {
  const { title, lines, link, event, take, language } = message;
  const tone = toneOf(event);
  return [
    `<font color="${colourOf(tone)}">${signOf(tone)}</font> <strong>${forHtml(title)}</strong>`,
    ...lines.map(forHtml),
    ...(take === null
      ? []
      : [`<a href="${forHtml(take)}">${takeWord(language)}</a>`, ...answerHint(message).map(forHtml)]),
    `<a href="${forHtml(link)}">${forHtml(link)}</a>`,
  ].join('<br>');
}

/** A message as an event of a room; nobody is called by it, and what follows hangs on the first as a thread. */
export function matrixEventOf(message: Outgoing): Record<string, unknown> {
  const { title, link, event, first } = message;
  return {
    msgtype: 'm.text',
    body: [`${signOf(toneOf(event))} ${title}`, ...allLines(message), link].join('\n'),
    format: 'org.matrix.custom.html',
    formatted_body: asHtml(message),
    'm.mentions': {},
    ...(first !== null && { 'm.relates_to': { 'm.in_reply_to': { event_id: first } } }),
  };
}

type Asked = { answer: Answer; status: number | null; reply: MatrixReply };

async function ask(
  { address, token }: MatrixSettings,
  path: string,
  call: Pick<Called, 'method'> & { body?: object },
  signal: AbortSignal,
): Promise<Asked> {
  const { body, method } = call;
  const { status, text, ...answer } = await callJson(
    {
      address: `${address.replace(/\/+$/, '')}/_matrix/client/v3/${path}`,
      method,
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
      ...(body && { body: JSON.stringify(body) }),
      secrets: [token],
    },
    signal,
  );
  const reply = readJson(text) as MatrixReply;
  if (answer.ok) return { answer, status, reply };
  const code = typeof reply.errcode === 'string' ? reply.errcode : '';
  const error = typeof reply.error === 'string' ? reply.error.slice(0, 200) : answer.said;
  const why = ownEntry(WHY, code);
  const waits = reply.retry_after_ms;
  return {
    status,
    reply,
    answer: {
      ...answer,
      retry: answer.retry || code === 'M_LIMIT_EXCEEDED',
      said: why === undefined ? answer.said : `${why}: ${error}`,
      ...(typeof waits === 'number' && { retryAfterMs: askedMs(waits) }),
    },
  };
}

/** The id of a room: that of an alias is asked for. */
async function roomId(
  settings: MatrixSettings,
  signal: AbortSignal,
): Promise<{ id: string } | { failed: Answer }> {
  const { room } = settings;
  if (room.startsWith('!')) return { id: room };
  const { answer, reply } = await ask(
    settings,
    `directory/room/${encodeURIComponent(room)}`,
    { method: 'GET' },
    signal,
  );
  if (answer.ok && typeof reply.room_id === 'string') return { id: reply.room_id };
  return {
    failed: answer.ok
      ? { ok: false, retry: false, said: 'That server does not say which room it is.' }
      : answer,
  };
}

/** The same transaction id at every try: what was taken already is not said twice (section "Transaction identifiers"). */
async function send(settings: MatrixSettings, message: Outgoing, signal: AbortSignal): Promise<Answer> {
  const room = await roomId(settings, signal);
  if ('failed' in room) return room.failed;
  const path = `rooms/${encodeURIComponent(room.id)}/send/m.room.message/${encodeURIComponent(`lantern.${message.id}`)}`;
  const { answer, reply } = await ask(
    settings,
    path,
    { method: 'PUT', body: matrixEventOf(message) },
    signal,
  );
  if (!answer.ok) return answer;
  if (typeof reply.event_id !== 'string')
    return { ok: false, retry: false, said: `No message was made of it: ${answer.said}` };
  return { ...answer, said: 'taken', ref: reply.event_id };
}

/** So long the server waits for something to be written before it says that nothing was. */
const WAIT_MS = 10_000;
const MOST_WRITTEN = 20;

interface RoomEvent {
  type?: unknown;
  sender?: unknown;
  content?: { body?: unknown; 'm.relates_to'?: { 'm.in_reply_to'?: { event_id?: unknown } } };
}

/** An event as something that was said; null for what is none, and for our own. */
function heardIn({ type, sender, content }: RoomEvent, own: unknown): Heard | null {
  if (type !== 'm.room.message' || typeof sender !== 'string' || sender === own) return null;
  if (typeof content?.body !== 'string') return null;
  const to = content['m.relates_to']?.['m.in_reply_to']?.event_id;
  // Some clients quote what they answer above it (section "Fallbacks for rich replies").
  const text = content.body.replace(/^(?:> .*\n)+\n?/, '');
  return { by: sender.replace(/^@([^:]+):.*$/, '$1'), text, to: typeof to === 'string' ? to : null };
}

/** Where is listened, and as whom. */
interface Here {
  room: string;
  own: unknown;
}

async function fetchHere(settings: MatrixSettings, signal: AbortSignal): Promise<Here> {
  const room = await roomId(settings, signal);
  if ('failed' in room) throw new Error(room.failed.said);
  const { reply } = await ask(settings, 'account/whoami', { method: 'GET' }, signal);
  return { room: room.id, own: (reply as { user_id?: unknown }).user_id };
}

/** What is written in the room (section "Syncing"); nothing else is asked for. */
async function written(
  settings: MatrixSettings,
  { room, own }: Here,
  since: string | null,
  signal: AbortSignal,
): Promise<Written> {
  const nothing = { types: [] };
  const timeline = { types: ['m.room.message'], limit: MOST_WRITTEN };
  const filter = {
    room: { rooms: [room], timeline, state: nothing, ephemeral: nothing, account_data: nothing },
    presence: nothing,
    account_data: nothing,
  };
  const query = new URLSearchParams({
    filter: JSON.stringify(filter),
    timeout: String(since === null ? 0 : WAIT_MS),
    ...(since !== null && { since }),
  });
  const { answer, reply } = await ask(settings, `sync?${query.toString()}`, { method: 'GET' }, signal);
  const { next_batch: upTo, rooms } = reply as {
    next_batch?: unknown;
    rooms?: { join?: Record<string, { timeline?: { events?: unknown } }> };
  };
  if (!answer.ok || typeof upTo !== 'string') throw new Error(answer.said);
  const events = rooms?.join?.[room]?.timeline?.events;
  if (!Array.isArray(events) || events.length === 0 || since === null) return { upTo, heard: [] };
  return { upTo, heard: (events as RoomEvent[]).flatMap((event) => heardIn(event, own) ?? []) };
}

async function sayIn(settings: MatrixSettings, text: string, to: Heard, signal: AbortSignal): Promise<void> {
  const room = await roomId(settings, signal);
  if ('failed' in room) throw new Error(room.failed.said);
  const path = `rooms/${encodeURIComponent(room.id)}/send/m.room.message/${randomUUID()}`;
  const body = {
    msgtype: 'm.notice',
    body: text,
    'm.mentions': {},
    ...(to.to !== null && { 'm.relates_to': { 'm.in_reply_to': { event_id: to.to } } }),
  };
  const { answer } = await ask(settings, path, { method: 'PUT', body }, signal);
  if (!answer.ok) throw new Error(answer.said);
}

function connect(settings: MatrixSettings, around?: AroundLine): Line {
  let here: Here | null = null;
  return new AskingLine(
    {
      send: (message, signal) => send(settings, message, signal),
      ask: async (since, signal) => {
        // Asked for where listening begins: at the start, and after a failure.
        if (since === null || !here) here = await fetchHere(settings, signal);
        return written(settings, here, since, signal);
      },
      reply: (text, to, signal) => sayIn(settings, text, to, signal),
    },
    around,
  );
}

const MOST_ROOMS = 50;

async function findRooms(settings: MatrixSettings, signal: AbortSignal): Promise<Found[]> {
  const { answer, reply } = await ask(settings, 'joined_rooms', { method: 'GET' }, signal);
  if (!answer.ok || !Array.isArray(reply.joined_rooms)) throw new Error(answer.said);
  const ids = reply.joined_rooms.filter((id): id is string => typeof id === 'string').slice(0, MOST_ROOMS);
  if (ids.length === 0) throw new Error('This account is in no room yet. Invite it to one, and let it join.');
  const found: Found[] = [];
  for (const id of ids) {
    const state = await ask(
      settings,
      `rooms/${encodeURIComponent(id)}/state/m.room.name`,
      { method: 'GET' },
      signal,
    );
    const name = (state.reply as { name?: unknown }).name;
    found.push({ value: id, text: typeof name === 'string' ? `${name.slice(0, 80)} (${id})` : id });
  }
  return found;
}

export const matrix: ChannelKind<MatrixSettings> = {
  id: 'matrix',
  title: 'Matrix room',
  help: 'A room on any Matrix server, by an account of its own that has joined it. What follows answers the first message.',
  schema: settingsOf<MatrixSettings>({
    address: webAddress('Expected the address of the Matrix server, got nothing.').meta({
      description: 'The address of the Matrix server of the account.',
    }),
    token: string()
      .trim()
      .required('Expected the access token of the account, got nothing.')
      .max(2000)
      .matches(/^[\x21-\x7e]+$/, 'Expected a token without spaces.')
      .meta({ description: 'The access token of the account.' }),
    room: string()
      .trim()
      .required('Expected a room, got nothing.')
      .max(255)
      .matches(
        /^(?:![^\s:]+(?::\S+)?|#[^\s:]+:\S+)$/,
        'Expected a room such as !abc:ternferry.test or #crew:ternferry.test.',
      )
      .meta({ description: 'The id of the room, or an alias.' }),
    listens: listens(),
  }),
  fields: [
    f.text('address', 'Server', 'The Matrix server the account is at.', {
      placeholder: 'https://matrix.ternferry.test',
    }),
    f.secret('token', 'Access token', 'Of the account that writes. Kept secret and not shown again.'),
    f.text('room', 'Room', 'Its id or an alias; the account has to have joined it.', {
      placeholder: '#crew:ternferry.test',
      finds: true,
    }),
    listensField(),
  ],
  shown: ({ room, address }) => `${room}, by ${new URL(address).host}`,
  send,
  pace: ROOM_PACE,
  connect,
  listens: true,
  find: { room: findRooms },
};

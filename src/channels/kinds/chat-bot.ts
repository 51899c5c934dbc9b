import { string } from 'yup';
import { cutTo, forHtml } from '@/core/messages/safe-text';
import { signOf, toneOf } from '@/core/messages/tone';
import { askedMs } from '@/core/messages/routing';
import * as f from '@/core/settings/fields';
import { answerHint, openWord, takeWord } from '@/channels/frame/all-lines';
import { AskingLine, type Written } from '@/channels/frame/asking-line';
import { listens, listensField, settingsOf } from '@/channels/frame/fields';
import { ROOM_PACE } from '@/channels/frame/room-pace';
import type { Answer, AroundLine, ChannelKind, Found, Heard, Line, Outgoing } from '@/channels/frame/kind';
import { callJson, JSON_HEADERS, readJson, webAddress } from '@/channels/transport/call-json';

export interface ChatBotSettings {
  address: string;
  token: string;
  chat: string;
  listens: boolean;
}

/** The longest text a bot may send, in characters as they are read; markup does not count. */
const MOST_TEXT = 4000;

interface BotReply {
  ok?: unknown;
  description?: unknown;
  error_code?: unknown;
  parameters?: { retry_after?: unknown; migrate_to_chat_id?: unknown };
  result?: unknown;
}

function methodAddress({ address, token }: ChatBotSettings, method: string): string {
  return `${address.replace(/\/+$/, '')}/bot${token}/${method}`;
}

/** A text with bold and a link, the small part of HTML that bots may use. */
function textOf(message: Outgoing): string {
  const { title, lines, link, event, take, language } = message;
  const hint = answerHint(message).map((line) => `\n${forHtml(line)}`);
  const said = cutTo(lines.join('\n'), MOST_TEXT - title.length);
  const open = /^https?:/.test(link) ? `\n<a href="${forHtml(link)}">${openWord(language)}</a>` : '';
  const taking = take === null ? '' : `\n<a href="${forHtml(take)}">${takeWord(language)}</a>`;
  return `${signOf(toneOf(event))} <b>${forHtml(title)}</b>\n${forHtml(said)}${taking}${hint.join('')}${open}`;
}

async function call(settings: ChatBotSettings, method: string, body: object, signal: AbortSignal) {
  const { token } = settings;
  const address = methodAddress(settings, method);
  const asked = {
    address,
    headers: JSON_HEADERS,
    body: JSON.stringify(body),
    secrets: [token, encodeURIComponent(token)],
  };
  const { status, text, ...answer } = await callJson(asked, signal);
  const reply = readJson(text) as BotReply;
  const said = typeof reply.description === 'string' ? cutTo(reply.description, 200) : null;
  return { status, answer, reply, said };
}

/** What each refusal means to a person. */
function why(status: number | null, said: string): string {
  if (status === 401 || status === 404) return `The token is not known there: ${said}`;
  if (status === 403) return `The bot may not write there (blocked, or not a member): ${said}`;
  if (status === 400 && /chat not found/i.test(said)) return `There is no chat of that number: ${said}`;
  return said;
}

async function send(settings: ChatBotSettings, message: Outgoing, signal: AbortSignal): Promise<Answer> {
  const { first } = message;
  const body = {
    chat_id: settings.chat,
    text: textOf(message),
    parse_mode: 'HTML',
    link_preview_options: { is_disabled: true },
    ...(first !== null && {
      reply_parameters: { message_id: Number(first), allow_sending_without_reply: true },
    }),
  };
  const { status, answer, reply, said } = await call(settings, 'sendMessage', body, signal);
  const waits = reply.parameters?.retry_after;
  // A bot may answer 200 and say inside that it did not.
  const ok = answer.ok && reply.ok === true;
  if (ok) {
    const id = (reply.result as { message_id?: unknown } | undefined)?.message_id;
    return { ...answer, said: 'taken', ...(typeof id === 'number' && { ref: String(id) }) };
  }
  // Without a code of its own, 200 tells nothing.
  const code = typeof reply.error_code === 'number' ? reply.error_code : answer.ok ? null : status;
  const moved = reply.parameters?.migrate_to_chat_id;
  const hint = typeof moved === 'number' ? ` Its number is ${moved} now.` : '';
  return {
    ok: false,
    retry: answer.retry || code === 429 || (answer.ok && code === null),
    said: `${why(code, said ?? answer.said)}${hint}`,
    ...(typeof waits === 'number' && { retryAfterMs: askedMs(waits * 1000) }),
  };
}

/** So long the service waits for something to be written before it says that nothing was. */
const WAIT_SECONDS = 10;
const MOST_WRITTEN = 20;

interface BotUpdate {
  update_id?: unknown;
  message?: {
    text?: unknown;
    chat?: { id?: unknown; username?: unknown };
    from?: { first_name?: unknown; username?: unknown; is_bot?: unknown };
    reply_to_message?: { message_id?: unknown };
  };
}

function heardIn({ message }: BotUpdate, chat: string): Heard | null {
  const { text, from, chat: at, reply_to_message: answers } = message ?? {};
  const isHere = String(at?.id) === chat || `@${String(at?.username)}` === chat;
  if (typeof text !== 'string' || !isHere || from?.is_bot === true) return null;
  const to = answers?.message_id;
  return {
    by: String(from?.first_name ?? from?.username ?? 'somebody'),
    text,
    to: typeof to === 'number' ? String(to) : null,
  };
}

/** What was written to the bot; what was asked for once is not told again. */
async function written(
  settings: ChatBotSettings,
  since: string | null,
  signal: AbortSignal,
): Promise<Written> {
  const { answer, reply, said, status } = await call(
    settings,
    'getUpdates',
    since === null
      ? { offset: -1, limit: 1, timeout: 0 }
      : { offset: Number(since), limit: MOST_WRITTEN, timeout: WAIT_SECONDS, allowed_updates: ['message'] },
    signal,
  );
  if (!answer.ok || !Array.isArray(reply.result)) throw new Error(why(status, said ?? answer.said));
  const updates = reply.result as BotUpdate[];
  const last = Math.max(Number(since ?? 0) - 1, ...updates.map(({ update_id: id }) => Number(id) || 0));
  return { upTo: String(last + 1), heard: updates.flatMap((one) => heardIn(one, settings.chat) ?? []) };
}

async function sayIn(settings: ChatBotSettings, text: string, signal: AbortSignal): Promise<void> {
  const asked = await call(settings, 'sendMessage', { chat_id: settings.chat, text }, signal);
  if (!asked.answer.ok || asked.reply.ok !== true) throw new Error(why(asked.status, asked.said ?? ''));
}

const connect = (settings: ChatBotSettings, around?: AroundLine): Line =>
  new AskingLine(
    {
      send: (message, signal) => send(settings, message, signal),
      ask: (since, signal) => written(settings, since, signal),
      reply: (text, _to, signal) => sayIn(settings, text, signal),
    },
    around,
  );

/** The chats that wrote to the bot of late: whoever is to hear writes one word to it first. */
async function findChats(settings: ChatBotSettings, signal: AbortSignal): Promise<Found[]> {
  const { answer, reply, said, status } = await call(
    settings,
    'getUpdates',
    { limit: 100, timeout: 0 },
    signal,
  );
  if (!answer.ok || !Array.isArray(reply.result)) throw new Error(why(status, said ?? answer.said));
  const chats = new Map<string, string>();
  for (const update of reply.result as Record<string, { chat?: Record<string, unknown> } | undefined>[]) {
    for (const one of Object.values(update)) {
      const chat = one?.chat;
      if (typeof chat?.id !== 'number') continue;
      const name =
        chat.title ?? ([chat.first_name, chat.last_name].filter(Boolean).join(' ') || chat.username);
      chats.set(String(chat.id), cutTo(String(name ?? 'no name'), 80));
    }
  }
  if (chats.size === 0)
    throw new Error('Nobody wrote to the bot yet. Write one word to it in that chat, and ask again.');
  return [...chats].map(([value, text]) => ({ value, text: `${text} (${value})` }));
}

export const chatBot: ChannelKind<ChatBotSettings> = {
  id: 'bot',
  title: 'chat bot',
  help: 'A bot that writes into a chat over HTTPS with a token (/bot<token>/sendMessage). Answers stand in one thread.',
  schema: settingsOf<ChatBotSettings>({
    address: webAddress('Expected the address of the bot service, got nothing.').meta({
      description: 'The address of the bot service, without the token.',
    }),
    token: string()
      .trim()
      .required('Expected the token of the bot, got nothing.')
      .matches(
        /^[\w:.-]{8,200}$/,
        'Expected a token of letters, digits and colons, as the service gave it out.',
      )
      .meta({ description: 'The token of the bot.' }),
    chat: string()
      .trim()
      .required('Expected the number of the chat, got nothing. Write to the bot, then find it.')
      .matches(
        /^(?:-?\d{1,20}|@\w{3,64})$/,
        'Expected a number such as 1795680 or -1001795680, or a name such as @ternferry.',
      )
      .meta({ description: 'The number of the chat, or the name of a public one.' }),
    listens: listens(false),
  }),
  fields: [
    f.text('address', 'Address of the bot service', 'Where the service is reached, without the token.', {
      placeholder: 'https://bots.ternferry.test',
    }),
    f.secret(
      'token',
      'Token',
      'The service gives it out when the bot is made. Kept secret and not shown again.',
    ),
    f.text('chat', 'Chat', 'Write one word to the bot in that chat, then find its number.', { finds: true }),
    listensField(
      'Whoever answers “mine” or “mine 7” there has that trouble. What is written to the bot is then told to no other program.',
    ),
  ],
  shown: ({ chat, address }) => `${chat}, by ${new URL(address).host}`,
  send,
  pace: ROOM_PACE,
  connect,
  listens: true,
  find: { chat: findChats },
};

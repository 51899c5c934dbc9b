import { fillTemplate } from '@/core/messages/sandbox';
import type { Outgoing } from './kind';

/** What the body of a webhook may name, with what it stands for. */
export const BODY_VALUES = {
  id: 'the same at every try, and of no other message',
  title: 'the title',
  text: 'the lines below it, with their breaks',
  lines: 'the same as a list',
  link: 'where to read on',
  take: 'the address at which somebody takes it; null where nobody can',
  at: 'when it was said (ISO 8601)',
  happening: 'what happened, as a word: down, recovered, still-down …',
  watch: 'the watch, with id and name; null where it is about several',
  conversation: 'the same for all that is said of one trouble; null where it is about several',
  event: 'all that is known of it, as in a CloudEvent',
  drill: 'true in a drill',
  language: 'what it is said in',
} as const;

/** What is posted, from a template (Liquid). Throws a `TemplateError`. */
export function templateBody(template: string, message: Outgoing): string {
  const { id, title, lines, link, take, at, event, watch, conversation, drill, language } = message;
  const values: Record<keyof typeof BODY_VALUES, unknown> = {
    id,
    title,
    text: lines.join('\n'),
    lines,
    link,
    take,
    at: new Date(at).toISOString(),
    happening: event?.kind ?? 'message',
    watch,
    conversation,
    event,
    drill,
    language,
  };
  return fillTemplate(template, values);
}

import type { MessageText } from './message';

/** A name or a title of a rehearsal: nobody is to take it for real. */
export function drilled(text: string): string {
  return `Drill: ${text}`;
}

/** A message of a rehearsal, marked at its head and in its first line. */
export function asDrill({ title, lines, link }: MessageText): MessageText {
  return { title: drilled(title), lines: ['This is a rehearsal: nothing of it is real.', ...lines], link };
}

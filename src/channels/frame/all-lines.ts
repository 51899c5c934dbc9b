import { speechOf } from '@/core/languages/speech';
import type { Language } from '@/core/languages/language';
import type { Outgoing } from './kind';

/** What one presses to say that one has it. */
export function takeWord(language: Language): string {
  return speechOf(language).say('take.word');
}

/** What one presses to read on. */
export function openWord(language: Language): string {
  return speechOf(language).say('open.word');
}

/** What one may answer to have it; empty where nobody listens. */
export function answerHint({ answer, language }: Outgoing): string[] {
  return answer === null ? [] : [speechOf(language).say('answer.hint', { words: answer })];
}

/** The lines of a message, with the address to take it at; for rooms that know no buttons. */
export function allLines(message: Outgoing): string[] {
  const { lines, take, language } = message;
  return take === null ? lines : [...lines, `${takeWord(language)}: ${take}`, ...answerHint(message)];
}

import { describe, expect, it } from 'vitest';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { speechOf } from '@/core/languages/speech';
import { answerFor, readAnswer } from '@/core/messages/answers';

describe('an answer in a room', () => {
  it.each([
    ['mine', 'take', null],
    ['Mine.', 'take', null],
    ['mine 7', 'take', 7],
    ['mine #12', 'take', 12],
    ['lantern: mine 7', 'take', 7],
    ['@lantern, mine', 'take', null],
    ['“mine 7”', 'take', 7],
    ['not mine 7', 'give-back', 7],
    ['  NOT   mine ', 'give-back', null],
    ['meins 3', 'take', 3],
    ['Nicht meins!', 'give-back', null],
    ['je prends 3', 'take', 3],
    ['lo tengo', 'take', null],
    ['fico com isto 4', 'take', 4],
  ] as const)('is read: %s', (text, does, watchId) => {
    expect(readAnswer(text)).toEqual({ does, watchId });
  });

  it.each([
    '',
    'mine?',
    'is it mine',
    'that one is mine 7',
    'mine 7 8',
    'mine seven',
    'mine 1234567890',
    'undermine 7',
    'mine\n7 and more',
    `mine${' '.repeat(90)}7`,
  ])('is no more than talk: %j', (text) => {
    expect(readAnswer(text)).toBeNull();
  });

  it('that a message asks for is understood, in every language', () => {
    for (const language of LANGUAGE_CODES) {
      expect(readAnswer(answerFor(7, language))).toEqual({ does: 'take', watchId: 7 });
      const back = speechOf(language).say('answer.back');
      expect(readAnswer(`${back} 7`)).toEqual({ does: 'give-back', watchId: 7 });
    }
  });
});

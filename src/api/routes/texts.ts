import * as cases from '@/cases/messages/texts';
import { textSchema, textTestSchema, textTrialSchema } from '@/cases/schemas/texts';
import type { KeptText } from '@/store/messages/texts';
import { channelAnswer, messageText, textTrial } from '@/api/answers/others';
import type { Route } from '@/api/route';
import * as rest from './resource';

const TAG = 'Messages';

const TEXT: rest.Resource<KeptText> = {
  path: '/message-texts',
  tag: TAG,
  what: 'text of one’s own',
  shape: messageText,
  versioned: true,
  tell: (_, one) => ({ ...one, version: cases.textVersion(one) }),
};

const EXAMPLE = {
  channelId: null,
  happening: 'down',
  title: '{{ name }} needs somebody',
  body: '{{ why }}\n{% if note != "" %}{{ note }}{% endif %}',
};

export const textRoutes: Route[] = [
  rest.listRoute(TEXT, {
    does: cases.listTexts,
    summary: 'The texts of one’s own',
    answer: 'What is said in the place of built-in texts.',
  }),
  rest.createRoute(TEXT, {
    does: cases.createText,
    summary: 'Write a text of one’s own',
    description:
      'It is a Liquid template; the values it may name stand on the desk beside it, and in the README.',
    body: textSchema,
    example: EXAMPLE,
  }),
  rest.getRoute(TEXT, { does: cases.getText }),
  rest.changeRoute(TEXT, { does: cases.changeText, body: textSchema, example: { title: '{{ title }}!' } }),
  rest.deleteRoute(TEXT, { does: cases.deleteText, summary: 'Go back to the built-in text' }),
  rest.actRoute(TAG, '/message-text-trials', {
    does: cases.tryText,
    summary: 'Fill a text in without keeping it',
    description: 'On what was said last of that kind, or on a made-up message where nothing was.',
    body: textTrialSchema,
    example: EXAMPLE,
    answer: 'What would be said.',
    shape: textTrial,
    input: ({ body }) => ({ body }),
  }),
  rest.actRoute(TAG, '/message-text-tests', {
    does: cases.testText,
    summary: 'Send a text to a channel without keeping it',
    body: textTestSchema,
    example: { ...EXAMPLE, channelId: 1 },
    answer: 'The other side’s answer.',
    shape: channelAnswer,
    refusals: ['engine.away'],
    input: ({ body }) => ({ body }),
  }),
];

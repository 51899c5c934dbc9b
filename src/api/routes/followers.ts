import { object, string } from 'yup';
import * as followers from '@/cases/followers/followers';
import * as untold from '@/cases/followers/untold';
import { followerListSchema, followerSchema } from '@/cases/schemas/followers';
import { FOLLOWER_KINDS, FOLLOWER_STATES, shownAddress } from '@/core/followers/follower';
import type { LetterFacts } from '@/core/followers/letter';
import type { Follower } from '@/store/followers/followers';
import {
  follower,
  followerImport,
  lettersTaken,
  madeFollower,
  untoldLetter,
  wholeFollower,
} from '@/api/answers/followers';
import { byTime, route, type Route } from '@/api/route';
import * as rest from './resource';

const TAG = 'Followers';

function followerShape(one: Follower) {
  const { madeAt, choice, secret: _, mark: __, ...rest } = one;
  return { ...rest, address: shownAddress(one), ...choice, createdAt: madeAt };
}

const titleOf = (facts: LetterFacts) =>
  facts.kind === 'incident' || facts.kind === 'maintenance'
    ? facts.title
    : 'The question whether they want it';

const shapeOfWhole = ({ follower: one, letters }: followers.WholeFollower) => ({
  ...followerShape(one),
  letters: letters.map(({ facts, state, at, said }) => ({ title: titleOf(facts), state, sentAt: at, said })),
});

const EXAMPLE = { kind: 'mail', address: 'harbour@ternferry.test', consent: 'asked for it at the counter' };

export const followerRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/pages/{id}/followers',
    tag: TAG,
    summary: 'Those who follow a page',
    description: 'With ?as=csv all of them as a file.',
    does: followers.listFollowers,
    list: byTime((item: { id: number; createdAt: number }) => [item.createdAt, item.id]),
    query: object({
      state: string().oneOf([...FOLLOWER_STATES]),
      kind: string().oneOf([...FOLLOWER_KINDS]),
      words: string().max(100).meta({ description: 'A part of the address.' }),
    }),
    status: 200,
    answer: 'Followers, the newest first.',
    shape: { each: follower },
    input: ({ ids, query, page }) => ({ id: ids.id!, filter: query, page }),
    tell: (_, all) => all.map(followerShape),
  }),
  {
    ...rest.createRoute<{ id: number; body: unknown }, followers.MadeFollower>(
      {
        path: '/followers',
        tag: TAG,
        what: 'follower',
        shape: madeFollower,
        tell: (_, one) => ({ ...followerShape(one.follower), secret: one.secret }),
      },
      {
        does: followers.addFollower,
        summary: 'Add a follower who said so elsewhere',
        description:
          'A program is told by events (CloudEvents 1.0), signed as the Standard Webhooks specification says.',
        body: followerSchema,
        example: EXAMPLE,
        input: ({ ids, body }) => ({ id: ids.id!, body }),
      },
    ),
    path: '/pages/{id}/followers',
  },
  rest.actRoute(TAG, '/pages/{id}/followers/import', {
    summary: 'Add many mail addresses that said so elsewhere',
    answer: 'How many were added, and which lines hold no address.',
    does: followers.importFollowers,
    body: followerListSchema,
    shape: followerImport,
    example: { list: 'harbour@ternferry.test\nquay@ternferry.test', consent: 'asked for it at the counter' },
    input: ({ ids, body }) => ({ id: ids.id!, body }),
  }),
  route({
    method: 'GET',
    path: '/followers/{id}',
    tag: TAG,
    summary: 'Everything that is kept of one follower',
    does: followers.getFollower,
    status: 200,
    answer: 'The follower, with what they were sent.',
    shape: wholeFollower,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, one) => shapeOfWhole(one),
  }),
  rest.actRoute(TAG, '/followers/{id}/wake', {
    summary: 'Tell a follower again who was put aside',
    answer: 'The follower.',
    does: followers.wakeFollower,
    shape: wholeFollower,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, one) => shapeOfWhole(one),
  }),
  route({
    method: 'DELETE',
    path: '/followers/{id}',
    tag: TAG,
    summary: 'Erase a follower, and everything kept of them',
    does: followers.deleteFollower,
    status: 204,
    answer: 'Nothing.',
    shape: null,
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  route({
    method: 'GET',
    path: '/incidents/{id}/letters',
    tag: TAG,
    summary: 'What of an incident is still to be told to followers',
    description: 'Half a minute after it was published it goes out.',
    does: untold.listUntoldLetters,
    list: { by: 'order' },
    status: 200,
    answer: 'Letters that have not begun to go out.',
    shape: { each: untoldLetter },
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, all) => all.map(({ pageId, facts, dueAt }) => ({ pageId, title: titleOf(facts), dueAt })),
  }),
  rest.actRoute(TAG, '/incidents/{id}/letters/take-back', {
    summary: 'Do not tell followers what has not gone out yet',
    description: 'What is published stays published.',
    answer: 'How many letters do not go out.',
    does: untold.takeLettersBack,
    shape: lettersTaken,
    input: ({ ids }) => ({ id: ids.id! }),
  }),
];

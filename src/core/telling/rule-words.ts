import type { Rule } from './telling';

/** Why something was said, or why not, as the end of "…, because". */
const RULES: Record<Rule, string> = {
  step: 'it is its turn on the route',
  own: 'the watch itself names the channel',
  again: 'nobody has it, and the route tells again',
  over: 'the channel heard how it began',
  burst: 'many came at once and are told together',
  'hours-opened': 'the hours of the route opened',
  joined: 'it follows from what the channel heard of',
  together: 'it likely has one cause with what the channel heard of',
  unsteady: 'it keeps going down and up',
  steady: 'it stands still again',
  taken: 'somebody has it',
  'given-back': 'nobody has it any more',
  'by-hand': 'somebody sent it once more',
  letter: 'it is time for the letter',
  instead: 'another channel did not take it',
  'no-route': 'no route is about it',
  muted: 'the watch is set to tell nobody',
  'already-open': 'the channel had heard of it',
  'never-told': 'the channel had not heard how it began',
  'over-before-its-time': 'it was over before the step’s time had come',
  held: 'the hours of the route were closed; it waits for them',
  dropped: 'the hours of the route were closed, and it drops what comes then',
  gathered: 'many came at once; it is told with them',
  'channel-off': 'the channel rests or is gone',
  'route-gone': 'the route is gone',
  'not-asked': 'the route does not tell how it ends',
  'outside-hours': 'the hours of the route were closed',
};

export function ruleInWords(rule: Rule): string {
  return RULES[rule];
}

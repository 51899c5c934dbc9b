import type { SaidEvent } from './said';

/** What messages say, as one chooses among them. */
export const SAID_TITLES: Record<SaidEvent['kind'], string> = {
  down: 'it is down',
  'still-down': 'it is still down',
  recovered: 'it is up again',
  closed: 'nobody looks any more',
  warned: 'it wants a hand',
  slow: 'it is slow',
  several: 'several at once',
  'several-over': 'several are up again',
  also: 'what follows from it',
  unsteady: 'it keeps going down and up',
  steady: 'it stands still again',
  taken: 'somebody has it',
  'given-back': 'nobody has it any more',
  maintenance: 'maintenance',
  incident: 'the public was told',
  'new-checkin': 'a job reported for the first time',
  line: 'the own line',
  own: 'Calm Lantern itself',
  letter: 'the letter',
  test: 'a test',
};

/** What a text of one's own can be written for. */
export const TEXT_HAPPENINGS = (Object.keys(SAID_TITLES) as SaidEvent['kind'][]).filter(
  (kind) => kind !== 'test',
);

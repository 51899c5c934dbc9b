import { describe, expect, it } from 'vitest';
import { adviseWords, countWords, squeeze, type WordsSeen } from '@/core/expect/words-advice';

const PAGE = `<h1>Choose your crossing</h1>${'.'.repeat(60)}`;
const seen: WordsSeen = {
  words: 'your crossing',
  anyCase: false,
  address: 'https://booking.ternferry.test/',
  source: PAGE,
  second: PAGE,
  visible: 'Choose your crossing',
  notFound: null,
};
const advised = (rest: Partial<WordsSeen>) => adviseWords({ ...seen, ...rest });

describe('words on a page', () => {
  it('are compared with white space as one space', () => {
    expect(squeeze('A \n\t b', false)).toBe('A b');
    expect(squeeze('A  B', true)).toBe('a b');
    expect(countWords('a b A  b', ' a b ', false)).toBe(1);
    expect(countWords('a b A  b', 'a b', true)).toBe(2);
    expect(countWords('nothing', 'a b', true)).toBe(0);
  });

  it('are fine where nothing speaks against them', () => expect(advised({})).toEqual([]));

  it('that are absent are said to be, and nothing else', () => {
    expect(advised({ source: 'x', visible: 'x', second: 'x' })).toEqual([
      { reason: 'absent', sentence: 'These words are not on the page at the moment.', proof: '' },
    ]);
    const [broken] = advised({ source: 'your <b>crossing</b>', visible: 'Choose your crossing' });
    expect(broken).toMatchObject({ reason: 'absent', proof: 'Choose your crossing' });
    expect(broken!.sentence).toContain('several pieces in the source');
  });

  it('that stand on the not-found page prove nothing', () => {
    const notFound = {
      address: 'https://booking.ternferry.test/nowhere',
      status: 200,
      source: `your crossing${'.'.repeat(90)}`,
    };
    expect(advised({ notFound })).toEqual([
      {
        reason: 'not-found-page',
        sentence:
          'They also stand on the page for addresses that do not exist (https://booking.ternferry.test/nowhere, status 200): they would not prove that this page is there.',
        proof: `your crossing${'.'.repeat(40)}…`,
      },
    ]);
    expect(advised({ notFound: { ...notFound, source: 'Nothing here' } })).toEqual([]);
  });

  it('that change, stand in the address or are read by nobody are told with what proves it', () => {
    expect(advised({ second: 'gone' })).toMatchObject([{ reason: 'changing' }]);
    expect(advised({ address: 'https://x.test/?for=your%20crossing' })).toEqual([
      {
        reason: 'address',
        sentence: 'They are part of the address, and error pages often repeat the address.',
        proof: 'https://x.test/?for=your%20crossing',
      },
    ]);
    expect(advised({ address: 'https://x.test/%' })).toEqual([]);
    expect(advised({ visible: 'nothing to read' })).toMatchObject([
      {
        reason: 'hidden',
        sentence: 'No visitor reads them: they stand only in a script, a comment or the markup.',
      },
    ]);
    expect(
      advised({ second: '', visible: '', address: 'your crossing' }).map(({ reason }) => reason),
    ).toEqual(['changing', 'address', 'hidden']);
  });

  it('are shown with forty characters around them, and dots where more was left out', () => {
    const [left, right] = ['l'.repeat(41), 'r'.repeat(41)];
    const proof = (source: string) => advised({ source, second: 'gone' })[0]!.proof;
    expect(proof(`${left}your crossing${right}`)).toBe(`…${'l'.repeat(40)}your crossing${'r'.repeat(40)}…`);
    expect(proof(`${left.slice(1)}your crossing${right.slice(1)}`)).toBe(
      `${'l'.repeat(40)}your crossing${'r'.repeat(40)}`,
    );
    expect(proof('a  b your\n crossing')).toBe('a b your crossing');
    expect(proof('your crossing and more')).toBe('your crossing and more');
  });
});

import { describe, expect, it } from 'vitest';
import { adviseWords, countWords, type WordsSeen } from '@/core/expect/words-advice';
import { visibleText } from '@/probes/diagnosis/page-words';

const PAGE =
  '<title>Booking</title><!-- build 4711 --><h1>Choose your crossing</h1><p>Next: <b>09:30</b> sharp</p><script>var crew = "Ines";</script>';

function advise(words: string, rest: Partial<WordsSeen> = {}) {
  return adviseWords({
    words,
    anyCase: false,
    address: 'https://booking.ternferry.test/crossings',
    source: PAGE,
    second: PAGE,
    visible: visibleText(PAGE),
    notFound: {
      address: 'https://booking.ternferry.test/none',
      status: 404,
      source: '<h1>Booking: nothing here</h1>',
    },
    ...rest,
  });
}

const reasons = (words: string, rest: Partial<WordsSeen> = {}) =>
  advise(words, rest).map((one) => one.reason);

describe('words that are to prove a page', () => {
  it('are let through when only this page says them', () => {
    expect(advise('Choose your crossing')).toEqual([]);
  });

  it('are doubted when the not-found page says them too, with the proof', () => {
    const [first] = advise('Booking');
    expect(first).toMatchObject({ reason: 'not-found-page', proof: '<h1>Booking: nothing here</h1>' });
    expect(first!.sentence).toContain('status 404');
    expect(reasons('Choose your crossing', { notFound: null })).toEqual([]);
  });

  it('are doubted when they change between two fetches', () => {
    expect(reasons('Choose your crossing', { second: '<h1>Choose another</h1>' })).toEqual(['changing']);
  });

  it('are doubted when they are part of the address', () => {
    expect(reasons('crossing')).toEqual(['address']);
    expect(reasons('Choose your', { address: 'https://a.test/?q=Choose%20your' })).toEqual(['address']);
    expect(reasons('crossing', { address: 'https://a.test/%E0%A4%A' })).toEqual([]);
  });

  it('are doubted when no visitor reads them', () => {
    expect(reasons('build 4711')).toEqual(['hidden']);
    expect(reasons('var crew')).toEqual(['hidden']);
  });

  it('are told apart when they are not there, and when the markup cuts them to pieces', () => {
    expect(advise('Sold out')).toEqual([
      { reason: 'absent', sentence: 'These words are not on the page at the moment.', proof: '' },
    ]);
    const [cut] = advise('Next: 09:30 sharp');
    expect(cut!.sentence).toContain('several pieces');
    expect(cut!.proof).toContain('Next: 09:30 sharp');
  });

  it('are counted with white space alike, and with capitals as asked', () => {
    expect(countWords('High\n  water and high water', 'High water', false)).toBe(1);
    expect(countWords('High\n  water and high water', 'High water', true)).toBe(2);
  });

  it('the visible text is without markup, scripts and comments', () => {
    expect(visibleText(PAGE)).toContain('Choose your crossing');
    expect(visibleText(PAGE)).toContain('Next: 09:30 sharp');
    expect(visibleText(PAGE)).not.toMatch(/crew|build|<h1>/);
  });
});

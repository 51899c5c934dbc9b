import { describe, expect, it } from 'vitest';
import { readAddressList } from '@/core/followers/address-list';
import { readMailbox, wants } from '@/core/followers/follower';
import { isRefusedForGood } from '@/core/followers/refused';

describe('a mailbox as it is kept', () => {
  it('is one bare address in small letters', () => {
    expect(readMailbox('  Ines@TernFerry.test ')).toBe('ines@ternferry.test');
    expect(readMailbox("o'neill+boats@mail.tern-island.example")).toBe(
      "o'neill+boats@mail.tern-island.example",
    );
  });

  it.each([
    '',
    'ines',
    'ines@localhost',
    'ines@tern..test',
    'ines@ternferry.test, rui@ternferry.test',
    'Ines <ines@ternferry.test>',
    'ines@ternferry.test\nBcc: all@ternferry.test',
    'a b@ternferry.test',
    `${'a'.repeat(65)}@ternferry.test`,
    `a@${'b.'.repeat(130)}test`,
  ])('is nothing else: %j', (text) => expect(readMailbox(text)).toBe(null));
});

describe('what a follower wants', () => {
  const shown = new Set(['Booking', 'Kiosks', 'Tides']);
  const told = (labels: string[], maintenance = false) => ({ labels, maintenance });

  it('is everything, or what touches one of their lines', () => {
    expect(wants({ labels: null, maintenance: true }, told(['Booking']), shown)).toBe(true);
    const booking = { labels: ['Booking'], maintenance: true };
    expect(wants(booking, told(['Booking', 'Kiosks']), shown)).toBe(true);
    expect(wants(booking, told(['Kiosks']), shown)).toBe(false);
    // What names nothing is for everybody.
    expect(wants(booking, told([]), shown)).toBe(true);
  });

  it('is no maintenance where they said so', () => {
    expect(wants({ labels: null, maintenance: false }, told(['Booking'], true), shown)).toBe(false);
    expect(wants({ labels: null, maintenance: false }, told(['Booking']), shown)).toBe(true);
  });

  it('is everything again where none of their lines is on the page any more', () => {
    const old = { labels: ['Old name'], maintenance: true };
    expect(wants(old, told(['Kiosks']), shown)).toBe(true);
    expect(wants({ ...old, labels: ['Old name', 'Tides'] }, told(['Kiosks']), shown)).toBe(false);
  });
});

describe('a refusal for good', () => {
  const said = (text: string) => isRefusedForGood({ ok: false, retry: false, said: text });

  it('is of the address or the mailbox, and not of the sender or the words', () => {
    expect(said('The mail server refused an address: 550 5.1.1 no such user')).toBe(true);
    expect(said('552 5.2.1 mailbox disabled')).toBe(true);
    expect(said('550 5.7.1 message looks like spam')).toBe(false);
    expect(said('554 5.3.4 too big for this system')).toBe(false);
    expect(said('550 nobody of that name')).toBe(true);
    expect(said('550 5.1.10 by our policy')).toBe(true);
    expect(said('550 5.10.1 nobody')).toBe(false);
    expect(said('550 relay access denied')).toBe(false);
    expect(said('535 authentication failed')).toBe(false);
  });

  it('is none while it may pass, and where it went', () => {
    expect(isRefusedForGood({ ok: false, retry: true, said: '450 5.1.1 later' })).toBe(false);
    expect(isRefusedForGood({ ok: true, retry: false, said: '250 5.1.1 fine' })).toBe(false);
  });
});

describe('a list of addresses', () => {
  it('is one a line or the first column of CSV, each once; what is none is told with its line', () => {
    const list =
      '\uFEFFMail address,Name\r\nInes@ternferry.test,"Ines, harbour"\r\n\r\nines@ternferry.test,again\r\nnobody,x\r\nrui@ternferry.test\r\n';
    expect(readAddressList(list)).toEqual({
      addresses: ['ines@ternferry.test', 'rui@ternferry.test'],
      refused: [{ line: 5, text: 'nobody' }],
    });
    expect(readAddressList(`\nMail\n ,\n  two boats  ,\n${'x'.repeat(90)}`).refused).toEqual([
      { line: 4, text: 'two boats' },
      { line: 5, text: 'x'.repeat(80) },
    ]);
  });

  it('tells fifty wrong lines at most, and a first line that is no heading', () => {
    const { refused } = readAddressList(Array.from({ length: 80 }, (_, i) => `wrong@${i}`).join('\n'));
    expect(refused).toHaveLength(50);
    expect(refused[0]).toEqual({ line: 1, text: 'wrong@0' });
  });
});

import ical from 'node-ical';
import { describe, expect, it } from 'vitest';
import { readCalendar } from '@/core/maintenance/calendar-read';
import { writeCalendar } from '@/core/maintenance/calendar-write';
import { occurrencesOf } from '@/core/maintenance/recurrence';
import { DAY_MS } from '@/core/time/units';

const at = (iso: string) => Date.parse(iso);
const NOW = at('2026-11-27T12:00:00Z');
const read = (text: string, zone = 'Europe/Lisbon') => readCalendar(text, { zone, now: NOW });

function calendar(...events: string[][]): string {
  const all = events.flatMap((lines) => ['BEGIN:VEVENT', 'DTSTAMP:20261101T000000Z', ...lines, 'END:VEVENT']);
  return [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Tern Island Ferries//dock//EN',
    ...all,
    'END:VCALENDAR',
    '',
  ].join('\r\n');
}

describe('a calendar that is read', () => {
  it('becomes stretches: in UTC, in a named zone, in the zone of the reader, over whole days', () => {
    const { stretches } = read(
      calendar(
        [
          'UID:1',
          'SUMMARY:Mast',
          'DTSTART:20261201T100000Z',
          'DTEND:20261201T120000Z',
          'DESCRIPTION:Dark\\, for a while',
        ],
        ['UID:2', 'DTSTART;TZID=America/New_York:20261201T100000', 'DURATION:PT90M'],
        ['UID:3', 'SUMMARY:Here', 'DTSTART:20270601T100000', 'DTEND:20270601T110000'],
        ['UID:4', 'SUMMARY:Dock', 'DTSTART;VALUE=DATE:20261224'],
      ),
    );
    expect(stretches).toEqual([
      {
        title: 'Mast',
        text: 'Dark, for a while',
        begins: at('2026-12-01T10:00:00Z'),
        ends: at('2026-12-01T12:00:00Z'),
      },
      {
        title: 'Maintenance',
        text: '',
        begins: at('2026-12-01T15:00:00Z'),
        ends: at('2026-12-01T16:30:00Z'),
      },
      { title: 'Here', text: '', begins: at('2027-06-01T09:00:00Z'), ends: at('2027-06-01T10:00:00Z') },
      { title: 'Dock', text: '', begins: at('2026-12-24T00:00:00Z'), ends: at('2026-12-25T00:00:00Z') },
    ]);
  });

  it('keeps rules with the times that were taken out, and those that another event stands for', () => {
    const found = read(
      calendar(
        [
          'UID:a',
          'SUMMARY:Kiosks',
          'DTSTART;TZID=Europe/Lisbon:20261206T021500',
          'DTEND;TZID=Europe/Lisbon:20261206T030000',
          'RRULE:FREQ=WEEKLY;BYDAY=SU',
          'EXDATE;TZID=Europe/Lisbon:20261220T021500',
        ],
        [
          'UID:a',
          'SUMMARY:Kiosks, later',
          'RECURRENCE-ID;TZID=Europe/Lisbon:20261213T021500',
          'DTSTART:20261214T100000Z',
          'DTEND:20261214T110000Z',
        ],
      ),
    );
    expect(found.series).toEqual([
      {
        ...{ title: 'Kiosks', text: '', rule: 'FREQ=WEEKLY;BYDAY=SU', zone: 'Europe/Lisbon' },
        ...{
          first: '2026-12-06T02:15',
          lastsMinutes: 45,
          calledOff: ['2026-12-13T02:15', '2026-12-20T02:15'],
        },
      },
    ]);
    expect(found.stretches.map(({ title }) => title)).toEqual(['Kiosks, later']);
  });

  it('takes a time in UTC, and one in a zone with a mark before it, for what they are', () => {
    const { stretches, series } = read(
      calendar(
        ['UID:1', 'DTSTART:20270701T100000Z', 'DTEND:20270701T110000Z'],
        ['UID:2', 'DTSTART;TZID=/America/New_York:20270701T100000', 'DURATION:PT1H'],
        ['UID:3', 'DTSTART:20270701T100000Z', 'DURATION:P7D', 'RRULE:FREQ=MONTHLY'],
      ),
    );
    expect(stretches.map(({ begins }) => begins)).toEqual([
      at('2027-07-01T10:00:00Z'),
      at('2027-07-01T14:00:00Z'),
    ]);
    // A rule goes by the clocks of the reader where it is in UTC; a week is not too long.
    const first = { zone: 'Europe/Lisbon', first: '2027-07-01T11:00', lastsMinutes: 7 * 24 * 60 };
    expect(series).toEqual([
      { ...first, title: 'Maintenance', text: '', rule: 'FREQ=MONTHLY', calledOff: [] },
    ]);
  });

  it('knows what stands for a time of which rule', () => {
    const weekly = ['DTSTART:20261206T021500', 'DURATION:PT1H', 'RRULE:FREQ=WEEKLY'];
    const moved = ['RECURRENCE-ID:20261213T021500', 'DTSTART:20261214T100000Z', 'DURATION:PT1H'];
    const found = read(calendar(['UID:a', ...weekly], ['UID:b', ...weekly], ['UID:b', ...moved]));
    expect(found.series.map(({ calledOff }) => calledOff)).toEqual([[], ['2026-12-13T02:15']]);
  });

  it('goes by rules as they are written, and by days that are left out', () => {
    const said = (...lines: string[]) => {
      const { series, refused } = read(
        calendar(['SUMMARY:Kiosks', 'DTSTART:20261206T021500', 'DURATION:PT1H', ...lines]),
      );
      return refused[0]?.problem ?? series[0]!.calledOff;
    };
    // Not as the package understands them: it passes over what it does not know.
    expect(said('RRULE:FREQ=WEEKLY;EVERY=2')).toMatch(/^Expected FREQ, INTERVAL, .* got “EVERY”\.$/);
    expect(said('RRULE:FREQ=WEEKLY;INTERVAL=-3')).toMatch(/^Expected INTERVAL to be .* got “-3”\.$/);
    expect(said('RRULE:FREQ=WEEKLY;UNTIL=20270230')).toMatch(/^Expected UNTIL as .* got “20270230”\.$/);
    expect(said('RRULE:FREQ=NEVER')).toMatch(/^Expected FREQ to be /);
    expect(
      said('rrule;x=y:FREQ=WEEKLY', 'EXDATE;VALUE=DATE:20261213', 'EXDATE:20261220T021500,20261227T021500'),
    ).toEqual(['2026-12-13T02:15', '2026-12-20T02:15', '2026-12-27T02:15']);
    const many = Array.from({ length: 1001 }, () => '20261213T021500');
    expect(said('RRULE:FREQ=WEEKLY', `EXDATE:${many.join()}`)).toBe('It leaves out more than 1000 times.');
    expect(said('RRULE:FREQ=WEEKLY', `EXDATE:${many.slice(1).join()}`)).toEqual(['2026-12-13T02:15']);
  });

  it('takes what lasts some seconds for a minute', () => {
    const short = ['DTSTART:20261206T021500', 'DURATION:PT20S', 'RRULE:FREQ=WEEKLY'];
    expect(read(calendar(short)).series[0]!.lastsMinutes).toBe(1);
  });

  it('counts a rule that never comes again as over', () => {
    const rule = ['DTSTART:20261101T100000Z', 'DURATION:PT1H', 'RRULE:FREQ=DAILY;COUNT=3'];
    expect(read(calendar(rule))).toEqual({ stretches: [], series: [], past: 1, refused: [] });
  });

  it('keeps titles and texts to a length', () => {
    const time = ['DTSTART:20261201T100000Z', 'DURATION:PT1H'];
    const { stretches, refused } = read(
      calendar(
        ['SUMMARY:  Mast  ', ...time],
        [`SUMMARY:${'a'.repeat(130)}`, `DESCRIPTION:${'b'.repeat(5100)}`, ...time],
        [`SUMMARY:${'c'.repeat(130)}`],
        [],
      ),
    );
    expect(stretches.map(({ title, text }) => [title, text])).toEqual([
      ['Mast', ''],
      ['a'.repeat(120), 'b'.repeat(5000)],
    ]);
    expect(refused).toEqual([
      { title: 'c'.repeat(120), problem: 'It has no beginning.' },
      { title: 'An event without a title', problem: 'It has no beginning.' },
    ]);
  });

  it('leaves out what is over, called off, or cannot be taken, and says so', () => {
    const found = read(
      calendar(
        ['UID:1', 'SUMMARY:Over', 'DTSTART:20261101T100000Z', 'DTEND:20261101T120000Z'],
        ['UID:2', 'SUMMARY:Not so', 'DTSTART:20261201T100000Z', 'DTEND:20261201T120000Z', 'STATUS:CANCELLED'],
        [
          'UID:3',
          'SUMMARY:Hourly',
          'DTSTART:20261201T100000Z',
          'DTEND:20261201T101000Z',
          'RRULE:FREQ=HOURLY',
        ],
        ['UID:4', 'SUMMARY:Elsewhere', 'DTSTART;TZID=Mars/North:20261201T100000', 'DURATION:PT1H'],
        ['UID:11', 'SUMMARY:Ages', 'DTSTART:20261201T100000Z', 'DURATION:P367D'],
        ['UID:12', 'SUMMARY:No day', 'DTSTART:20270230T100000Z', 'DURATION:PT1H'],
        ['UID:13', 'SUMMARY:Soon', 'DTSTART:20261201T100000Z', 'DURATION:soon'],
        ['UID:14', 'SUMMARY:Backwards', 'DTSTART:20261201T100000Z', 'DURATION:-PT1H'],
        ['UID:5', 'SUMMARY:No time', 'DTSTART:20261201T100000Z', 'DTEND:20261201T100000Z'],
        ['UID:6', 'SUMMARY:Dates', 'DTSTART:20261201T100000Z', 'DURATION:PT1H', 'RDATE:20261202T100000Z'],
        [
          ...['UID:8', 'SUMMARY:Twice', 'DTSTART:20261201T100000Z', 'DURATION:PT1H'],
          ...['RRULE:FREQ=DAILY', 'RRULE:FREQ=WEEKLY'],
        ],
        ['UID:9', 'SUMMARY:Just over', 'DTSTART:20261127T110000Z', 'DTEND:20261127T120000Z'],
        ['UID:10', `DTSTART;TZID=Mars/${'o'.repeat(70)}:20261201T100000`, 'DURATION:PT1H'],
        ['UID:7', 'SUMMARY:Long', 'DTSTART:20261201T100000Z', 'DURATION:P8D', 'RRULE:FREQ=MONTHLY'],
      ),
    );
    expect([found.past, found.stretches, found.series]).toEqual([2, [], []]);
    expect(Object.fromEntries(found.refused.map(({ title, problem }) => [title, problem]))).toEqual({
      Hourly: 'Expected FREQ to be DAILY, WEEKLY, MONTHLY, YEARLY, got “HOURLY”.',
      Elsewhere: 'Its time zone “Mars/North” is not known here.',
      Ages: 'Maintenance lasts a year at most.',
      'No day': '“2027-02-30T10:00:00Z” is no time there is.',
      Soon: 'How long it lasts cannot be read.',
      Backwards: 'It does not end after it begins.',
      'No time': 'It does not end after it begins.',
      Dates: 'It names times one by one (RDATE), which is not read.',
      Twice: 'It has more than one rule.',
      'An event without a title': `Its time zone “Mars/${'o'.repeat(55)}” is not known here.`,
      Long: 'What comes again may last a week at most.',
    });
  });

  it('is refused where it is none, is empty, or holds too much', () => {
    expect(() => read('dear harbour master')).toThrow(
      'Expected an iCalendar file that begins with BEGIN:VCALENDAR.',
    );
    expect(() => read(calendar())).toThrow('Expected a calendar with events, got none.');
    const many = Array.from({ length: 201 }, (_, i) => [
      `UID:${i}`,
      'DTSTART:20261201T100000Z',
      'DURATION:PT1H',
    ]);
    expect(() => read(calendar(...many))).toThrow('Expected at most 200 events, got 201.');
    expect(read(calendar(...many.slice(1))).stretches).toHaveLength(200);
  });
});

describe('a calendar that is written', () => {
  const zone = 'Pacific/Auckland';
  const series = {
    ...{ id: 1, title: 'Kiosks; all', text: 'One\ntwo', rule: 'FREQ=WEEKLY;BYDAY=SU', zone, madeAt: NOW },
    ...{ first: '2026-12-06T02:15', lastsMinutes: 45, calledOff: ['2026-12-20T02:15'] },
  };
  const window = { text: '', madeAt: NOW, seriesId: null, wall: null, apart: false };
  const text = writeCalendar(
    [
      {
        ...window,
        id: 4,
        title: 'Mast',
        text: 'Dark for a while',
        begins: at('2026-12-01T10:00:00Z'),
        ends: at('2026-12-01T12:00:00Z'),
      },
      // One time of the series as it was made, and one that was moved.
      {
        ...window,
        id: 5,
        title: 'Kiosks; all',
        begins: at('2026-12-05T13:15:00Z'),
        ends: at('2026-12-05T14:00:00Z'),
        seriesId: 1,
        wall: series.first,
      },
      {
        ...window,
        id: 6,
        title: 'Moved',
        begins: at('2026-12-14T10:00:00Z'),
        ends: at('2026-12-14T11:00:00Z'),
        seriesId: 1,
        wall: '2026-12-13T02:15',
        apart: true,
      },
    ],
    [series],
  );

  it('is read again as what it was, one behind another too', () => {
    expect(read(text + text).series).toHaveLength(2);
    const { id: _, madeAt: __, ...kept } = series;
    const found = read(text);
    expect(found.series).toEqual([{ ...kept, calledOff: ['2026-12-13T02:15', '2026-12-20T02:15'] }]);
    expect(found.stretches.map(({ title, text: words }) => [title, words])).toEqual([
      ['Mast', 'Dark for a while'],
      ['Moved', ''],
    ]);
    expect(found.refused).toEqual([]);
  });

  it('means the same to another reader, by the clocks of the zone it brings along', () => {
    expect(text).toContain('BEGIN:VTIMEZONE\r\nTZID:Pacific/Auckland');
    const events = Object.values(ical.sync.parseICS(text)).filter((one) => one?.type === 'VEVENT');
    const again = events.find((event) => event.rrule)!;
    const between = again.rrule!.between(new Date(NOW), new Date(NOW + 60 * DAY_MS));
    const span = { from: NOW, until: NOW + 60 * DAY_MS, most: 99 };
    expect(between.map((date) => new Date(date).getTime())).toEqual(
      occurrencesOf(series, span).map(({ begins }) => begins),
    );
    expect(again.end!.getTime() - again.start!.getTime()).toBe(45 * 60_000);
  });
});

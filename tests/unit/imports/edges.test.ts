import { describe, expect, it } from 'vitest';
import { bulkRowsOf, MOST_BULK_ROWS } from '@/core/imports/bulk-rows';
import { leewayFor, readCrontab, reportedKeys, trialLine, wrappedLine } from '@/core/imports/crontab';
import { formOf, isAnacrontab } from '@/core/imports/crontab-form';
import { jobName } from '@/core/imports/job-name';
import { textProblem } from '@/cases/jobs/job-drafts';
import { dropIn, readTimers, spanSeconds } from '@/core/imports/timers';

const UTC = 'UTC';
const jobsOf = (text: string, form: 'user' | 'system' = 'user', dialect: 'usual' | 'debian' = 'usual') =>
  readCrontab(text, UTC, form, dialect).jobs;
const wrapped = (command: string) => wrappedLine(jobsOf(`0 1 * * * ${command}`)[0]!, 'KEY');

describe('lines of a crontab', () => {
  it.each([
    ['A="two words"', 'two words'],
    ["A='it'", 'it'],
    ["A='", "'"],
    ['A="open', '"open'],
    ['A=x"y"', 'x"y"'],
    ['A="x" y', '"x" y'],
    ['A=  x  ', 'x'],
    ['A=', ''],
    ['"A"=x', 'x'],
    ["'A'=x", 'x'],
  ])('%s sets a variable', (line, value) => {
    const { variables, jobs } = readCrontab(line, UTC);
    expect(variables).toEqual({ A: value });
    expect(jobs).toEqual([]);
  });

  it('that are commented out set nothing and run nothing', () => {
    expect(readCrontab('  # A=x\n#0 1 * * * /opt/x\n \t \n', UTC)).toMatchObject({ variables: {}, jobs: [] });
    expect(readCrontab('A=x #', UTC).variables).toEqual({ A: 'x #' });
  });

  it.each([
    ['5~20 * * * *', '5 * * * *', 900],
    ['~ * * * *', '0 * * * *', 59 * 60],
    ['10~ * * * *', '10 * * * *', 49 * 60],
    ['~10 * * * *', '0 * * * *', 600],
    ['0 ~ * * *', '0 0 * * *', 23 * 3600],
    ['0 12~14 * * *', '0 12 * * *', 7200],
    ['0 0 ~ * *', '0 0 1 * *', 27 * 86_400],
    ['0 0 1 ~ *', '0 0 1 1 *', 0],
    ['0 0 * * ~', '0 0 * * 0', 0],
    ['20~10 * * * *', '20 * * * *', 0],
  ])('may leave times to chance: %s', (times, expression, randomSeconds) => {
    expect(jobsOf(`${times} /opt/x`)[0]).toMatchObject({ expression, randomSeconds, problem: null });
  });

  it('with a mark of chance in the midst of a field are told what was expected', () => {
    expect(jobsOf('a5~20 * * * * /opt/x')[0]).toMatchObject({
      randomSeconds: 0,
      expression: 'a5~20 * * * *',
    });
    expect(jobsOf('5~20a * * * * /opt/x')[0]).toMatchObject({
      randomSeconds: 0,
      expression: '5~20a * * * *',
    });
    expect(jobsOf('5~20a * * * * /opt/x')[0]!.problem).toContain('Expected');
  });

  it('are put off by the delay that stands before them, and by nothing that is no number', () => {
    const text =
      '0 1 * * * /opt/a\nRANDOM_DELAY=6\n0~10 2 * * * /opt/b\nRANDOM_DELAY=soon\n0 3 * * * /opt/c\nDELAY=9\n@daily /opt/d';
    expect(jobsOf(text).map((job) => job.randomSeconds)).toEqual([0, 960, 0, 0]);
  });

  it('keep what stands before the command and behind a bare percent sign, byte for byte', () => {
    expect(jobsOf(' 0  1 * * *\t/opt/x a\\%b %in put%two ')[0]).toMatchObject({
      before: ' 0  1 * * *\t',
      command: '/opt/x a\\%b ',
      input: '%in put%two ',
      expression: '0 1 * * *',
    });
    expect(jobsOf('0 1 * * * %')[0]).toMatchObject({ command: '', input: '%' });
    expect(jobsOf('0 1 * * * /opt/x')[0]).toMatchObject({ command: '/opt/x', input: '' });
    expect(wrapped('/opt/x  %in')).toMatch(/ set -- \/opt\/x; .*"\$@" {2}%in$/);
  });

  it('of the system keep their user before the command', () => {
    const [job] = jobsOf('0 1 * * *\tferry  cd /srv; ./x', 'system');
    expect(job).toMatchObject({ before: '0 1 * * *\tferry  ', command: 'cd /srv; ./x' });
    expect(jobsOf('0 1 * * * ferry', 'system')[0]).toMatchObject({
      before: '0 1 * * * ferry',
      command: '',
      expression: '',
      input: '',
      zone: UTC,
      problem: 'Expected a user and a command behind the times.',
    });
    expect(jobsOf('@daily ferry', 'system')[0]!.problem).toContain('a user and a command');
    expect(jobsOf('@DAILY ferry /opt/x', 'system')[0]).toMatchObject({ expression: '@daily', problem: null });
  });

  it('that no due time can be named for say so, and only they', () => {
    expect(jobsOf('@reboot /opt/x')[0]!.problem).toContain('when the machine starts');
    expect(jobsOf('@Reboot /opt/x')[0]!.problem).toContain('when the machine starts');
    expect(jobsOf('@reboots /opt/x')[0]!.problem).not.toContain('when the machine starts');
    expect(jobsOf('1 2 3 4')[0]).toMatchObject({
      problem: 'Expected five fields (minute hour day month weekday) and a command.',
      command: '',
      input: '',
    });
    expect(jobsOf('CRON_TZ=Tern/Island\n0 1 * * * /opt/x')[0]!.problem).toBe(
      'Expected a time zone in CRON_TZ, got “Tern/Island”.',
    );
  });

  it.each([
    ['0 6 */2 * 1', true],
    ['0 6 1 * */2', true],
    ['0 6 */2 * *', false],
    ['0 6 * * */2', false],
    ['0 6 1 * 1', false],
    ['0 6 1-7/2 * 1,*', false],
    ['0  6  */2  *  1', true],
    ['@daily', false],
  ])('%s: whose cron it is makes a difference is %s', (times, matters) => {
    expect(readCrontab(`5 5 5 * *  /opt/a\n${times} /opt/x`, UTC, 'user').dialectMatters).toBe(matters);
  });

  it('are given a leeway by the shortest gap between runs', () => {
    const leeway = (expression: string) => leewayFor({ type: 'cron', expression, zone: UTC }, 0, 0);
    expect(leeway('0 1,2 * * *')).toBe(300);
    expect(leeway('0 1,9 * * *')).toBe(3600);
    expect(leeway('0 0 30 2 *')).toBe(7200);
  });
});

describe('a wrapped command', () => {
  it.each([
    ['/opt/x --all', true],
    ['/opt/x  a\tb', true],
    ['X=1 /opt/x', false],
    ['_x9=1 /opt/x', false],
    ['/opt/x A=1', true],
    ['9=1 /opt/x', true],
    ['cd /srv', false],
    ['cd\t/srv', false],
    ['cdrecord /srv', true],
    ['. /etc/profile', false],
    ['/opt/x; /opt/y', false],
    ['/opt/x "a"', false],
  ])('%j is handed on word by word: %s', (command, plainly) => {
    expect(wrapped(command).includes('"$SHELL" -c')).toBe(!plainly);
  });

  it('tells the keys it reports to, each once, at its address or behind the wrapper', () => {
    expect(reportedKeys('x; lantern-run  KEY-1/tide.table-2   -- /opt/x')).toEqual(['KEY-1/tide.table-2']);
    expect(
      reportedKeys('lantern-run KEY/a -- x; curl http://desk.test/in/KEY/a; curl http://desk.test/in/K2'),
    ).toEqual(['KEY/a', 'K2']);
    expect(reportedKeys('lantern-run KEY -x')).toEqual([]);
  });

  it('can be tried with the shell and the path that stand before it', () => {
    const line = trialLine('a\\%b\\%', {
      SHELL: '/bin/bash',
      PATH: '/opt:/bin',
      MAILTO: 'x',
      CRON_TZ: 'UTC',
      A: "it's",
    });
    expect(line).toBe(
      `env -i HOME="$HOME" LOGNAME="$LOGNAME" PATH='/opt:/bin' SHELL='/bin/bash' A='it'\\''s' /bin/bash -c 'a%b%'`,
    );
  });
});

describe('whose crontab it is', () => {
  it.each([
    ['0 1 * * * sync /opt/x', 'system'],
    ['0 1 * * * sync now', 'user'],
    ['0 1 * * * backup now', 'system'],
    ['0 1 * * * ferry now', 'user'],
    ['0 1 * * * ferry now\n0 2 * * * ferry /opt/x', 'unsure'],
    ['0 1 * * * ferry /opt/x\n0 2 * * * ferry A=1 /opt/x', 'unsure'],
    ['0 1 * * * ferry /opt/x\n0 2 * * * ferry curl x', 'system'],
    ['0 1 * * * ferry curl\tx', 'system'],
    ['0 1 * * * ferry xA=1', 'unsure'],
    ['@daily root /opt/x', 'system'],
    ['@daily /opt/x', 'user'],
    ['1 2 3 4 5', 'user'],
    ['1 2 3 4 5   \n0 1 * * * root /opt/x', 'system'],
    [' # 0 1 * * * /opt/x\n0 1 * * * root /opt/x', 'system'],
    ['0 1 * * * root /opt/x #', 'system'],
    ['A=1\n0 1 * * * curl http://x.test', 'user'],
  ])('%j: %s', (text, form) => {
    expect(formOf(text)).toBe(form);
  });

  it.each([
    ['1 5 cron.daily run-parts x', true],
    ['  30  15  a\trun', true],
    ['@monthly 45 b-c.d run', true],
    ['x 1 5 cron.daily run', false],
    ['1 5 9cron run', false],
    ['1 5 cron.daily', false],
    ['1 x cron.daily run', false],
    ['1 5 cron.daily run\n0 1 * * * /opt/x', false],
    ['0 1 * * * /opt/x\n1 5 cron.daily run', false],
  ])('%j is an anacrontab: %s', (text, is) => {
    expect(isAnacrontab(text)).toBe(is);
  });
});

describe('the name of a job', () => {
  it.each([
    ['"/opt/tide-table.sh"', 'Tide table'],
    ["('/opt/tide')", 'Tide'],
    ['/opt/("tide")/x', 'X'],
    ["\"$SHELL\" -c 'cd /srv && echo it'\\''s && ./tide'", 'Tide'],
    ['command -v tide && ./lamp', 'Lamp'],
    ['command -V tide; ./lamp', 'Lamp'],
    ['command -vx tide', 'Tide'],
    ['command tide -v', 'Tide'],
    ['command x-v', 'X v'],
    ['_a1=2 B=3 tide', 'Tide'],
    ['nice -n 10 ionice -c 3 tide', 'Tide'],
    ['x=1', 'X 1'],
    ['timeout 60', 'Job'],
    ['timeout 60 tide x', 'Tide'],
    ['flock -n /tmp/l tide', 'Tide'],
    ['flock /tmp/l tide', 'Tide'],
    ['timeout -k 5 60 tide', 'Tide'],
    ['su - ferry -c tide', 'Tide'],
    ['# nothing', 'Job'],
    ['tide # nothing', 'Tide'],
    ['tide#', 'Tide'],
    ['echo a | tide', 'Tide'],
    ['false || tide', 'Tide'],
    ['sleep 5;;tide', 'Tide'],
    ['/opt/tide.tables.sh', 'Tide tables'],
    ['/opt/tide.longer', 'Tide longer'],
    ['/opt/2.sh', 'Job'],
    ['/opt/crew__rota--2.py', 'Crew rota 2'],
    ['  tide  ', 'Tide'],
    ['', 'Job'],
  ])('of %j is %s', (command, name) => {
    expect(jobName(command)).toBe(name);
  });
});

describe('timers of systemd, at the edges', () => {
  const listed = (...all: object[]) => readTimers(JSON.stringify(all));

  it.each([
    [' 90 ', 90],
    ['1.25min', 75],
    ['5 m x', null],
    ['5 ferries', null],
    ['x 5', null],
    ['5 5', 10],
    ['400ms', 0],
    ['600 ms', 1],
    ['2000000us', 2],
    ['1 w 1 d', 691_200],
  ])('%j is %s seconds', (text, seconds) => {
    expect(spanSeconds(text)).toBe(seconds);
  });

  it('have the gap between two runs for a period, in whole minutes', () => {
    const timer = (gapSeconds: number) =>
      listed({ unit: 'a.timer', next: 1e15 + gapSeconds * 1e6, last: 1e15 })![0]!.every;
    expect([9, 10, 80, 100, 3600].map(timer)).toEqual([null, 60, 60, 120, 3600]);
  });

  it('that have not run yet, or will not again, have none', () => {
    const timers = listed(
      { unit: 'a.timer.timer', next: 1e15, last: 0 },
      { unit: 'b', next: 0, last: 1e15 },
      { unit: 7, next: 1, last: 1 },
    )!;
    expect(timers.map(({ name, every }) => [name, every])).toEqual([
      ['a.timer', null],
      ['b', null],
    ]);
    expect(timers[0]!.problem).toBe(
      'It has not run yet, so how often it does is not known; paste its unit file.',
    );
    expect(readTimers(' [] ')).toEqual([]);
    expect(readTimers('[{"unit":')).toBeNull();
  });

  it('are told apart by the comments above them, drop-ins included', () => {
    const text = [
      'Before = anything',
      '#   /etc/systemd/system/tide.timer  ',
      ' [Timer] ',
      ' OnCalendar = daily ',
      '# /etc/systemd/system/tide.timer.d/override.conf',
      '[Timer]',
      'OnCalendar=',
      'OnUnitInactiveSec=5min',
      'OnUnitInactiveSec=10min',
      'RandomizedDelaySec=never',
      '# /etc/systemd/system/notes.service',
      '# x # /etc/a.timer, not a path',
    ].join('\n');
    expect(readTimers(text)).toEqual([
      { name: 'tide', expression: '', every: 600, randomSeconds: 0, problem: null },
    ]);
  });

  it('have a name of their own where none stands above them', () => {
    const named = (comment: string) => readTimers(`${comment}\n[Timer]\nOnCalendar=daily`)![0]!.name;
    expect(named('# /etc/systemd/system/tide.timer.d/late.conf ')).toBe('tide');
    expect(named('#tide.timer')).toBe('tide');
    for (const other of ['# see /x/tide.timer', '# /x/tide.timers', '# /x/.timer', 'x/tide.timer']) {
      expect(named(other)).toBe('timer');
    }
    expect(readTimers('[Timer]\nOnUnitActiveSec=1h')).toEqual([
      { name: 'timer', expression: '', every: 3600, randomSeconds: 0, problem: null },
    ]);
    expect(readTimers('x [Timer]\nOnCalendar=daily')).toBeNull();
    expect(readTimers('[Timer]\nOnCalendar=daily\nOnUnitActiveSec=1h')![0]).toMatchObject({
      expression: 'daily',
      every: null,
      problem: null,
    });
    expect(readTimers('[Timer]\nOnCalendar=daily\nOnCalendar=\n')![0]!.problem).toBe(
      'It has neither OnCalendar= nor OnUnitActiveSec=.',
    );
  });

  it('get a drop-in, letter by letter', () => {
    expect(dropIn('tide', 'http://desk.test/in/key').split('\n')).toEqual([
      '# systemctl edit tide.service',
      '[Service]',
      'ExecStartPre=-/usr/bin/curl -fsS -m 30 -o /dev/null "http://desk.test/in/key?is=begun"',
      `ExecStopPost=-/bin/sh -c 'case $SERVICE_RESULT in success) q=code=0;; exit-code) q=code=$EXIT_STATUS;; *) q=is=failed;; esac; exec /usr/bin/curl -fsS -m 30 -o /dev/null "http://desk.test/in/key?$q"'`,
    ]);
  });
});

describe('a pasted list', () => {
  const rows = (text: string) =>
    bulkRowsOf(text).rows.map(({ line, address, name }) => [line, address, name]);

  it('may begin with a mark of its order of bytes, and only there', () => {
    expect(rows('\uFEFFa.test\nb\uFEFF.test')).toEqual([
      [1, 'a.test', ''],
      [2, 'b\uFEFF.test', ''],
    ]);
  });

  it('has cells that go on over lines, as many as fifty', () => {
    expect(rows('a.test,"Tide\ntable"\nb.test')).toEqual([
      [1, 'a.test', 'Tide table'],
      [3, 'b.test', ''],
    ]);
    const long = (n: number) => rows(`a.test,"${'x\n'.repeat(n)}"\nb.test`);
    expect(long(50)).toHaveLength(2);
    expect(long(51).length).toBeGreaterThan(2);
  });

  it('has quotes that are only quotes where they are not closed, or not at the beginning of a cell', () => {
    expect(rows('"a.test\nb.test')).toHaveLength(2);
    expect(rows('a.test,x "y\nb.test,z" w')).toHaveLength(2);
    expect(rows(' "a.test",x\nb.test')).toHaveLength(2);
  });

  it('passes over what is empty or commented out, and tidies what it takes', () => {
    expect(rows('  # a.test\n \t \n  b.test  ,  Tide \t  table ')).toEqual([[3, 'b.test', 'Tide table']]);
    expect(
      bulkRowsOf(' Name , ADDRESS,every,kind,section\n Tide,t.test, 60 , Web ,By  the\tpier').rows,
    ).toEqual([
      {
        line: 2,
        text: ' Tide,t.test, 60 , Web ,By  the\tpier',
        address: 't.test',
        name: 'Tide',
        section: 'By the pier',
        kind: 'web',
        every: '60',
      },
    ]);
    expect(bulkRowsOf('# nothing')).toEqual({ rows: [], left: 0 });
    expect(bulkRowsOf('a.test,b,c,d,60,more,and more').rows[0]).toMatchObject({ every: '60', kind: 'd' });
  });

  it('is taken up to a number of lines; how many are left is told', () => {
    const list = bulkRowsOf(Array.from({ length: MOST_BULK_ROWS + 3 }, (_, i) => `h${i}.test`).join('\n'));
    expect([list.rows.length, list.left]).toEqual([MOST_BULK_ROWS, 3]);
  });
});

describe('what is pasted', () => {
  const LONG = 500_000;

  // What took longer with the square of its length would not come to an end here.
  it('is read in a time that goes by its length', () => {
    const open = bulkRowsOf(`"${'\n'.repeat(LONG)}`);
    expect(open.rows.map(({ text }) => text)).toEqual(['"']);
    expect(bulkRowsOf(`a.test,"x${'\ny'.repeat(60)}`).rows[0]).toMatchObject({ text: 'a.test,"x' });
    expect(bulkRowsOf(`a.test,"x${'\ny'.repeat(50)}",Piers`).rows).toMatchObject([{ section: 'Piers' }]);
    expect(readTimers(`[Timer]${'\n'.repeat(LONG)}OnCalendar=daily`)).toMatchObject([
      { expression: 'daily' },
    ]);
    expect(readTimers(`[Timer]\n#${'/.timer'.repeat(LONG / 7)}x`)).toHaveLength(1);
    const padded = readTimers(`[Timer]\nOnCalendar=a${' '.repeat(LONG)}b`);
    expect(padded![0]!.expression).toHaveLength(LONG + 2);
    expect(jobName(`/opt/tide.sh ${')'.repeat(LONG)}`)).toBe('Tide');
    expect(jobName(`a${')'.repeat(LONG)}b /opt/tide.sh`)).toMatch(/^A/);
  });

  it('names at most a thousand jobs', () => {
    const jobs = (count: number) => '# nightly\nMAILTO=a\n' + '0 2 * * * /opt/tide.sh\n'.repeat(count);
    expect(textProblem(jobs(1000))).toBeNull();
    expect(textProblem(jobs(1001))).toBe('Expected at most 1000 jobs at once, got 1001.');
    const timers = (count: number) =>
      JSON.stringify(Array.from({ length: count }, () => ({ unit: 'a.timer' })));
    expect(textProblem(timers(1000))).toBeNull();
    expect(textProblem(timers(1001))).toBe('Expected at most 1000 jobs at once, got 1001.');
  });
});

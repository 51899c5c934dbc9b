import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  leewayFor,
  readCrontab,
  reportedKeys,
  trialLine,
  wrappedLine,
  wrapperProblem,
} from '@/core/imports/crontab';
import { formOf, isAnacrontab } from '@/core/imports/crontab-form';
import { jobName } from '@/core/imports/job-name';
import { readyLines } from '@/core/imports/ready-lines';
import { dropIn, readTimers, spanSeconds } from '@/core/imports/timers';
import { tries } from '../tries';

const zone = 'Europe/Lisbon';
const NOW = Date.parse('2026-11-23T12:00:00Z');

const USER = `SHELL=/bin/bash
MAILTO=""
# m h  dom mon dow   command
30 2 * * *  /opt/ferry/manifest.sh --all   # nightly

CRON_TZ=America/New_York
*/15 * * * * cd /opt/ferry && ./weather-pull | logger -t "weather"
@daily	/usr/bin/crew-sync
@reboot /opt/ferry/lamp
0~30 4 * * * echo 100\\% of it's fare | mail -s fares%Dear Ines,%bye
5 25 * * * /opt/ferry/never
broken`;

describe('a crontab', () => {
  const { form, jobs, lines } = readCrontab(USER, zone);
  const job = (line: number) => jobs.find((one) => one.line === line)!;

  it('is read line by line, with variables, zones and shorthands', () => {
    expect(form).toBe('user');
    expect(lines.join('\n')).toBe(USER);
    expect(
      jobs.map(({ line, expression, zone: place, problem }) => [line, expression, place, problem]),
    ).toEqual([
      [4, '30 2 * * *', zone, null],
      [7, '*/15 * * * *', 'America/New_York', null],
      [8, '@daily', 'America/New_York', null],
      [9, '@reboot', 'America/New_York', expect.stringContaining('when the machine starts')],
      [10, '0 4 * * *', 'America/New_York', null],
      [11, '5 25 * * *', 'America/New_York', expect.stringContaining('Expected an hour (0 to 23')],
      [12, '', 'America/New_York', expect.stringContaining('Expected five fields')],
    ]);
    expect(job(10)).toMatchObject({ randomSeconds: 1800, input: '%Dear Ines,%bye' });
  });

  const wrapped = (job: string) =>
    `w=/usr/local/bin/lantern-run; set -- ${job}; [ -x $w ] && exec $w KEY -- "$@"; exec "$@"`;

  it('is given back with nothing but the command wrapped, by the whole path of the wrapper', () => {
    expect(wrappedLine(job(4), 'KEY')).toBe(
      `30 2 * * *  ${wrapped(`"$SHELL" -c '/opt/ferry/manifest.sh --all   # nightly'`)}`,
    );
    expect(wrappedLine(job(8), 'KEY')).toBe(`@daily	${wrapped('/usr/bin/crew-sync')}`);
    expect(wrappedLine(job(10), 'KEY')).toBe(
      `0~30 4 * * * ${wrapped(`"$SHELL" -c 'echo 100\\% of it'\\''s fare | mail -s fares'`)}%Dear Ines,%bye`,
    );
    expect(wrappedLine(job(8), 'KEY', { wrapper: '/opt/x/lr', shell: '/usr/bin/fish' })).toBe(
      `@daily	/bin/sh -c 'w=/opt/x/lr; set -- /usr/bin/crew-sync; [ -x $w ] && exec $w KEY -- "$@"; exec "$@"'`,
    );
    expect(wrapperProblem('/opt/bin/lantern-run')).toBeNull();
    for (const wrong of ['lantern-run', './x', '/opt/a b', '/opt/', '/opt/$(x)']) {
      expect(wrapperProblem(wrong)).toContain('Expected the whole path');
    }
  });

  it('of the system names a user, who stays where he is', () => {
    const system =
      '17 *\t* * *\troot\tcd / && run-parts --report /etc/cron.hourly\n0 3 * * * backup /opt/x\n';
    expect(formOf(system)).toBe('system');
    const [hourly, nightly] = readCrontab(system, zone).jobs;
    expect(hourly).toMatchObject({ command: 'cd / && run-parts --report /etc/cron.hourly', problem: null });
    expect(wrappedLine(nightly!, 'KEY')).toBe(`0 3 * * * backup ${wrapped('/opt/x')}`);
    expect(readCrontab('0 3 * * *\n', zone, 'system').jobs[0]!.problem).toContain('Expected');
  });

  it.each([
    ['system', '*/10 * * * * www-data [ -x /usr/lib/x ] && /usr/lib/x\n'],
    ['system', '@daily logcheck nice -n10 /usr/sbin/logcheck\n'],
    ['system', '5 4 * * * ferry if [ -x /opt/x ]; then /opt/x; fi\n0 5 * * * ferry cd /srv && ./y\n'],
    ['user', '0 3 * * * php /srv/crew.php\n'],
    ['user', '0 3 * * * /opt/x\n0 4 * * * root /opt/y\n'],
    ['user', '0 3 * * * backup now\n'.replace('backup', 'restic')],
    ['user', ''],
    ['unsure', '0 3 * * * ferry /opt/x\n'],
  ])('is taken for a %s crontab by all of its lines: %j', (form, text) => {
    expect(formOf(text)).toBe(form);
  });

  it('is told from an anacrontab', () => {
    expect(
      isAnacrontab('1\t5\tcron.daily\trun-parts /etc/cron.daily\n@monthly 15 cron.monthly run-parts x\n'),
    ).toBe(true);
    expect(isAnacrontab(USER)).toBe(false);
    expect(isAnacrontab('# nothing\n')).toBe(false);
  });

  it('may end its lines as other systems do, and keeps them so', () => {
    const { jobs: read, lines: kept } = readCrontab('MAILTO=ines\r\n30 2 * * * /opt/x\r\n', zone);
    expect(read).toMatchObject([{ line: 2, command: '/opt/x', problem: null }]);
    expect(kept[1]).toBe('30 2 * * * /opt/x\r');
  });

  it('of Debian’s cron is not led by CRON_TZ, and takes both days; what differs is noticed', () => {
    const text = 'CRON_TZ=America/New_York\n0 6 */2 * 1 /opt/x\n';
    expect(readCrontab(text, zone, 'user', 'debian').jobs[0]!.zone).toBe(zone);
    expect(readCrontab(text, zone, 'user', 'usual').jobs[0]!.zone).toBe('America/New_York');
    expect(readCrontab(text, zone).dialectMatters).toBe(true);
    expect(readCrontab('0 6 */2 * 1 /opt/x\n', zone).dialectMatters).toBe(true);
    expect(readCrontab('0 6 1 * 1 /opt/x\n*/5 * * * * /opt/y\n', zone).dialectMatters).toBe(false);
  });

  /** Runs a command as cron does: by its shell, with nothing of ours around it. */
  const cronRuns = (line: string, shell = '/bin/sh') => {
    const env = { SHELL: shell, HOME: '/h', PATH: '/usr/bin:/bin' } as never;
    const { status, stdout } = spawnSync(shell, ['-c', line.replaceAll('\\%', '%')], {
      encoding: 'utf8',
      env,
    });
    return { status, stdout };
  };

  it('does the same after wrapping as before, with the wrapper there and without, whatever stands in a command', () => {
    const folder = mkdtempSync(join(tmpdir(), 'lantern-wrap-'));
    const there = join(folder, 'lantern-run');
    writeFileSync(there, '#!/bin/sh\nshift 2\nexec "$@"\n', { mode: 0o755 });
    const words = fc.array(
      fc.constantFrom(
        'a',
        "it's",
        '"two words"',
        '$HOME',
        '*.x',
        '&& echo b',
        '; exit 3',
        '| cat',
        '\\\\',
        '100\\%',
      ),
      { minLength: 1, maxLength: 5 },
    );
    const first = fc.constantFrom(
      'echo',
      '/bin/echo',
      'cd / && echo',
      '. /dev/null; echo',
      'X=1 env',
      '[ -d / ] && echo',
    );
    fc.assert(
      fc.property(
        first,
        words,
        fc.constantFrom(there, '/nowhere/lantern-run'),
        (program, pieces, wrapper) => {
          // Quotes have to be closed for any shell to take it.
          const command = `${program} ${pieces.join(' ').replaceAll("it's", '"it\'s"')}`;
          const [read] = readCrontab(`0 1 * * * ${command}`, zone, 'user').jobs;
          const line = wrappedLine(read!, 'KEY', { wrapper }).replace('0 1 * * * ', '');
          expect(cronRuns(line)).toEqual(cronRuns(command));
        },
      ),
      { numRuns: tries(40) },
    );
    rmSync(folder, { recursive: true });
  });

  it('can be tried as cron will run it: with none of what a person’s shell has set', () => {
    const trial = trialLine('echo "$PATH|$FERRY|$EDITOR|$SHELL" 100\\%', { FERRY: "Tern's", MAILTO: 'x' });
    const { stdout } = spawnSync('/bin/bash', ['-c', trial], {
      encoding: 'utf8',
      env: { ...process.env, EDITOR: 'ed', FERRY: 'no' },
    });
    expect(stdout).toBe("/usr/bin:/bin|Tern's||/bin/sh 100%\n");
  });

  it.each([
    ['/opt/ferry/manifest-backup.sh --all', 'Manifest backup'],
    ['/opt/x/rotate-logs.sh --all', 'Rotate logs'],
    ['cd /srv && nice -n 10 ./weather_pull >/dev/null 2>&1', 'Weather pull'],
    ['flock /tmp/l timeout 60 python3 /opt/fares/sync.py', 'Sync'],
    ['TZ=UTC php /srv/crew.php', 'Crew'],
    ['sudo -n pg_dump ledger | gzip', 'Pg dump'],
    ['if [ -x /usr/sbin/tide-report ]; then /usr/sbin/tide-report -q; fi', 'Tide report'],
    ['test -x /usr/bin/logcheck && nice -n10 /usr/bin/logcheck', 'Logcheck'],
    ['[ -d /run ] && ( sleep 5; /usr/lib/pier/lamp )', 'Lamp'],
    ['command -v debian-sa1 > /dev/null && debian-sa1 1 1', 'Debian sa1'],
    ['[[ -f /x ]] || exit 0', 'Job'],
    [wrapped('/opt/ferry/manifest.sh --all'), 'Manifest'],
    [wrapped(`"$SHELL" -c 'cd /srv && ./weather-pull'`), 'Weather pull'],
  ])('calls the job of %j “%s”', (command, name) => {
    expect(jobName(command)).toBe(name);
  });

  it('suggests a leeway from how often a job runs', () => {
    const leeway = (expression: string, random = 0) =>
      leewayFor({ type: 'cron', expression, zone }, random, NOW);
    expect([leeway('*/15 * * * *'), leeway('0 * * * *'), leeway('30 2 * * *'), leeway('0 6 1 * *')]).toEqual([
      300, 300, 7200, 21_600,
    ]);
    expect(leeway('30 2 * * *', 1800)).toBe(9000);
  });

  it('is told from where its lines report to already', () => {
    const key = 'a'.repeat(32);
    expect(reportedKeys(`0 1 * * * lantern-run ${key} -- x`)).toEqual([key]);
    expect(reportedKeys(`0 1 * * * ${wrapped('x').replace('KEY', `https://desk.test/in/${key}`)}`)).toEqual([
      key,
    ]);
    expect(reportedKeys(`0 1 * * * lantern-run https://desk.test/in/${key} -- x`)).toEqual([key]);
    expect(
      reportedKeys('0 1 * * * x; curl https://desk.test/in/secret_secret_secret/nightly-manifest?code=0'),
    ).toEqual(['secret_secret_secret/nightly-manifest']);
    expect(reportedKeys('0 1 * * * x')).toEqual([]);
  });
});

describe('timers of systemd', () => {
  it('are read from unit files, with what takes back what stood before', () => {
    const text = `# /etc/systemd/system/manifest.timer
[Timer]
OnCalendar=daily
OnCalendar=
OnCalendar=*-*-* 02:30
OnCalendar=Sat 14:00
RandomizedDelaySec=10min

# /etc/systemd/system/weather.timer
[Timer]
OnUnitActiveSec=1h 30min
# /etc/systemd/system/lamp.timer
[Timer]
OnBootSec=5
`;
    expect(readTimers(text)).toEqual([
      {
        name: 'manifest',
        expression: '*-*-* 02:30\nSat 14:00',
        every: null,
        randomSeconds: 600,
        problem: null,
      },
      { name: 'weather', expression: '', every: 5400, randomSeconds: 0, problem: null },
      expect.objectContaining({ name: 'lamp', problem: expect.stringContaining('neither OnCalendar=') }),
    ]);
  });

  it('are read from the list of timers, as far as it tells', () => {
    const listed = [
      {
        next: 1_795_466_000_000_000,
        last: 1_795_379_600_000_000,
        unit: 'manifest.timer',
        activates: 'manifest.service',
      },
      { next: 1_795_466_000_000_000, last: null, unit: 'new.timer', activates: 'new.service' },
    ];
    expect(readTimers(JSON.stringify(listed))).toEqual([
      { name: 'manifest', expression: '', every: 86_400, randomSeconds: 0, problem: null },
      expect.objectContaining({
        name: 'new',
        every: null,
        problem: expect.stringContaining('paste its unit file'),
      }),
    ]);
    expect(readTimers('0 1 * * * /opt/x')).toBeNull();
    expect(readTimers('[{broken')).toBeNull();
  });

  it.each([
    ['1h 30min', 5400],
    ['90', 90],
    ['2 days', 172_800],
    ['1.5h', 5400],
    ['soon', null],
    ['', null],
  ])('a span of %j is %s seconds', (text, seconds) => {
    expect(spanSeconds(text)).toBe(seconds);
  });

  it('get a drop-in that reports how the service ended', () => {
    const line = dropIn('manifest', 'http://desk.test/in/key');
    expect(line).toContain('# systemctl edit manifest.service');
    expect(line).toContain('http://desk.test/in/key?is=begun');
  });
});

describe('ready lines', () => {
  it('name the address of the job, each of them, and its times where they have a place', () => {
    const address = 'http://desk.test/in/key';
    const schedule = { type: 'calendar' as const, expression: 'Mon..Fri 06:30\n*-*~1 04:00', zone };
    const lines = readyLines({
      address,
      base: 'http://desk.test',
      mail: null,
      name: 'Crew & rota',
      schedule,
    });
    expect(lines.length).toBeGreaterThanOrEqual(12);
    for (const line of lines) expect(line.text).toContain(address);
    const units = lines.find((line) => line.id === 'systemd')!.text;
    expect(units).toContain('OnCalendar=Mon..Fri 06:30\nOnCalendar=*-*~1 04:00');
    expect(units).toContain('# /etc/systemd/system/crew-rota.timer');
  });
});

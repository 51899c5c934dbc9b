import { crontabLine, shellLine } from './crontab-line';
import { expressionLines } from '@/core/schedule/schedule';
import type { ScheduleConfig } from '@/core/settings/watch-config';

export interface ReadyLine {
  id: string;
  title: string;
  /** What to know before it is pasted. */
  help: string;
  text: string;
}

interface ReadyFor {
  /** Where the job reports. */
  address: string;
  /** Where the product is. */
  base: string;
  /** The mail address of the check-in; null while no mail is taken in. */
  mail: string | null;
  name: string;
  schedule: ScheduleConfig;
}

/** A name as units and files may have it. */
function unitName(name: string): string {
  return (
    name
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .replaceAll(/^-|-$/g, '') || 'job'
  );
}

function systemdUnits({ address, base, name, schedule }: ReadyFor): string {
  const unit = unitName(name);
  const times =
    schedule.type === 'calendar'
      ? expressionLines(schedule.expression).map((line) => `OnCalendar=${line}`)
      : schedule.type === 'period'
        ? [`OnUnitActiveSec=${schedule.every}`, 'OnBootSec=60']
        : ['OnCalendar=*-*-* 02:30:00'];
  return [
    `# /etc/systemd/system/${unit}.service`,
    '[Unit]',
    `Description=${name.replaceAll('%', '%%')}`,
    `OnFailure=${unit}-failed.service`,
    '',
    '[Service]',
    'Type=oneshot',
    `ExecStart=/usr/local/bin/lantern-run ${address} -- /path/to/your-job`,
    '',
    `# /etc/systemd/system/${unit}-failed.service: tells even where the job could not be started at all`,
    '[Service]',
    'Type=oneshot',
    `ExecStart=/usr/bin/curl -fsS -m 30 -o /dev/null "${address}?is=failed"`,
    '',
    `# /etc/systemd/system/${unit}.timer`,
    '[Timer]',
    ...times,
    '',
    '[Install]',
    'WantedBy=timers.target',
    '',
    `# Once: curl -fsS ${base}/lantern-run -o /usr/local/bin/lantern-run && chmod +x /usr/local/bin/lantern-run`,
  ].join('\n');
}

/** Lines ready to paste, for whatever starts a job; each reports begun and done where it can, else done. */
export function readyLines(job: ReadyFor): ReadyLine[] {
  const { address, base, mail, schedule } = job;
  const expression = schedule.type === 'cron' ? expressionLines(schedule.expression)[0]! : '30 2 * * *';
  return [
    {
      id: 'wrapper',
      title: 'Wrapper, for anything with a shell',
      help: 'Reports begun and done, the exit status, the length and the end of the output. The command runs untouched.',
      text:
        `curl -fsS ${base}/lantern-run -o /usr/local/bin/lantern-run && chmod +x /usr/local/bin/lantern-run\n` +
        `lantern-run ${address} -- /path/to/your-job`,
    },
    {
      id: 'crontab',
      title: 'Crontab',
      help: 'With exit status and output; needs nothing but curl.',
      text: crontabLine(expression, address),
    },
    {
      id: 'shell',
      title: 'Shell',
      help: 'The last line of a script, or behind the command.',
      text: shellLine(address),
    },
    {
      id: 'systemd',
      title: 'systemd service and timer',
      help: 'Three units: the job, what tells of its failure, and when it runs.',
      text: systemdUnits(job),
    },
    {
      id: 'powershell',
      title: 'PowerShell and Windows Task Scheduler',
      help: 'As the action of a task: powershell.exe -NoProfile -File this-script.ps1',
      text: [
        `$address = '${address}'`,
        "Invoke-RestMethod -Method Post -TimeoutSec 30 -Uri ($address + '?is=begun') | Out-Null",
        '$output = & C:\\path\\to\\your-job.exe 2>&1 | Out-String',
        '$code = $LASTEXITCODE',
        'Invoke-RestMethod -Method Post -TimeoutSec 30 -Body $output -Uri ($address + "?code=$code") | Out-Null',
        'exit $code',
      ].join('\n'),
    },
    {
      id: 'python',
      title: 'Python',
      help: 'Standard library only; runs any command.',
      text: [
        'import subprocess, sys, urllib.request',
        `ADDRESS = "${address}"`,
        'def report(query, body=b""):',
        '    try:',
        '        urllib.request.urlopen(ADDRESS + query, data=body, timeout=30).read()',
        '    except OSError:',
        '        pass  # the job matters more than its report',
        'report("?is=begun")',
        'job = subprocess.run(sys.argv[1:], stdout=subprocess.PIPE, stderr=subprocess.STDOUT)',
        'report("?code=%d" % job.returncode, job.stdout[-90000:])',
        'sys.exit(job.returncode)',
      ].join('\n'),
    },
    {
      id: 'node',
      title: 'Node.js',
      help: 'Around whatever the job does.',
      text: [
        `const address = '${address}';`,
        'const report = (query, body = "") =>',
        '  fetch(address + query, { method: "POST", body, signal: AbortSignal.timeout(30000) }).catch(() => {});',
        'await report("?is=begun");',
        'try {',
        '  await work(); // your job',
        '  await report("?code=0");',
        '} catch (error) {',
        '  await report("?is=failed", String(error.stack));',
        '  throw error;',
        '}',
      ].join('\n'),
    },
    {
      id: 'php',
      title: 'PHP',
      help: 'At the end of a script that went well.',
      text: [
        '$options = ["http" => ["method" => "POST", "content" => $output ?? "", "timeout" => 30]];',
        `@file_get_contents("${address}?code=0", false, stream_context_create($options));`,
      ].join('\n'),
    },
    {
      id: 'go',
      title: 'Go',
      help: 'With net/http, after the work is done.',
      text: [
        'client := http.Client{Timeout: 30 * time.Second}',
        `if answer, err := client.Post("${address}?code=0", "text/plain", strings.NewReader(output)); err == nil {`,
        '\tanswer.Body.Close()',
        '}',
      ].join('\n'),
    },
    {
      id: 'container',
      title: 'Command of a container',
      help: 'Put the wrapper into the image, or mount it.',
      text: `command: ["/usr/local/bin/lantern-run", "${address}", "--", "/path/to/your-job"]`,
    },
    {
      id: 'fetch',
      title: 'A router or storage box that can only fetch an address',
      help: 'Tells that it was done; add ?is=begun for a first one before it.',
      text: address,
    },
    ...(mail === null
      ? []
      : [
          {
            id: 'mail',
            title: 'A device that can only send a mail',
            help: 'A word in the subject or the body says how it went; which words is set with the check-in.',
            text: mail,
          },
        ]),
    {
      id: 'ci',
      title: 'CI schedule',
      help: 'As the last step; it runs whether the job went well or not.',
      text: `- run: curl -fsS -m 30 --retry 3 -X POST "${address}?code=$JOB_STATUS"`,
    },
  ];
}

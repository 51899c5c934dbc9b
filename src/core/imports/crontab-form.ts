/** Whether lines name a user behind the times, as those of /etc/crontab and /etc/cron.d do. */
export type CrontabForm = 'user' | 'system';

export const VARIABLE = /^\s*(?:"([\w]+)"|'([\w]+)'|([A-Za-z_]\w*))\s*=\s*(.*)$/;
export const FIVE = /^(\s*(?:\S+\s+){4}\S+\s+)(.*)$/;
export const SHORT = /^(\s*(@\w+)\s+)(.*)$/;
export const USER = /^([a-z_][a-z0-9_-]*\$?)(\s+)(\S.*)$/;

/** A line without the end that other systems put behind it. */
export function withoutReturn(line: string): string {
  return line.endsWith('\r') ? line.slice(0, -1) : line;
}

export function isJobLine(line: string): boolean {
  const text = line.trim();
  return text !== '' && !text.startsWith('#') && !VARIABLE.test(text);
}

/** Accounts that systems bring along. */
const ACCOUNTS = new Set(
  'root daemon bin sys sync games man lp mail news uucp proxy www-data backup list irc nobody postgres mysql'.split(
    ' ',
  ),
);

/** What a command may begin with that could be an account's name too. */
const COMMANDS = new Set(
  (
    'sudo su nice ionice nohup env exec command time timeout flock chronic setsid bash sh dash zsh ksh python python3 perl ' +
    'php node ruby java curl wget rsync scp ssh tar gzip find rm cp mv ln mkdir touch chmod chown cat echo printf test true ' +
    'false cd if for while case export source umask sleep date logger systemctl service docker podman git make npm npx mysql ' +
    'mysqldump psql pg_dump pg_dumpall sqlite3 redis-cli certbot logrotate run-parts updatedb apt apt-get dnf yum restic ' +
    'borg rclone duplicity zfs zpool btrfs lvm ping sendmail mailx msmtp fetchmail notify-send xset pkill killall kill ' +
    'wall shutdown reboot poweroff sync sed awk grep sort xargs tee lantern-run'
  ).split(' '),
);

/** What only a command begins with. */
const BEGINS_COMMAND = /^(\/|\.|~|\$|"|'|\(|\[|!|\{|[A-Za-z_]\w*=)/;

export type FormFound = CrontabForm | 'unsure';

/**
 * Whether a crontab is a user's or a system's, by all of its lines together: in a system's the sixth word is an account
 * throughout, and a command begins behind it. One that may be either is "unsure", and is to be asked about.
 */
export function formOf(text: string): FormFound {
  const rests = text
    .split('\n')
    .map(withoutReturn)
    .filter(isJobLine)
    .map((line) => (SHORT.exec(line)?.[3] ?? FIVE.exec(line)?.[2] ?? '').trim())
    .filter((rest) => rest !== '');
  if (rests.length === 0) return 'user';
  let sure = false;
  for (const rest of rests) {
    const user = USER.exec(rest);
    if (!user) return 'user';
    const [, word = '', , behind = ''] = user;
    if (ACCOUNTS.has(word)) {
      // A few names are both; what begins behind them tells.
      if (!COMMANDS.has(word) || beginsCommand(behind)) sure = true;
    } else if (COMMANDS.has(word)) return 'user';
    else if (BEGINS_COMMAND.test(behind) || !beginsCommand(behind)) continue;
    else sure = true;
  }
  return sure ? 'system' : rests.every((rest) => !beginsCommand(USER.exec(rest)![3]!)) ? 'user' : 'unsure';
}

/** Whether a text begins as a command does: with a path, a shell's own word, or a program everybody knows. */
function beginsCommand(text: string): boolean {
  return BEGINS_COMMAND.test(text) || COMMANDS.has(text.split(/\s+/, 1)[0]!);
}

/** Whether a text is an anacrontab (anacrontab(5)): periods in days, a delay and a name, instead of times. */
export function isAnacrontab(text: string): boolean {
  const lines = text.split('\n').map(withoutReturn).filter(isJobLine);
  return lines.length > 0 && lines.every((line) => /^\s*(\d+|@\w+)\s+\d+\s+[A-Za-z][\w.-]*\s+\S/.test(line));
}

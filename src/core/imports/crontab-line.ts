/**
 * A line ready for a crontab: runs the command, then reports its exit status with its output. `%` means a
 * new line in a crontab and is escaped (crontab(5)).
 */
export function crontabLine(expression: string, address: string, command = '/path/to/your-job'): string {
  const report = `curl -fsS -m 30 --retry 3 -o /dev/null --data-binary @- "${address}?code=$c"`;
  const line = `o=$(${command} 2>&1); c=$?; printf '%s' "$o" | tail -c 90000 | ${report}`;
  return `${expression} ${line.replaceAll('%', '\\%')}`;
}

/** The same as a plain shell line. */
export function shellLine(address: string, command = '/path/to/your-job'): string {
  return `${command}; curl -fsS -m 30 --retry 3 -o /dev/null "${address}?code=$?"`;
}

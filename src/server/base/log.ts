let part = 'front door';

/** Which of the processes this is. */
export function speakAs(name: string): void {
  part = name;
}

/** One line to standard output, with the time. */
export function log(text: string): void {
  console.log(`${new Date().toISOString()} ${part}: ${text}`);
}

export function logError(what: string, error: unknown): void {
  log(`${what}: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}`);
}

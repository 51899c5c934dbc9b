/** One line to standard output, with the time. */
export function log(text: string): void {
  console.log(`${new Date().toISOString()} front door: ${text}`);
}

export function logError(what: string, error: unknown): void {
  log(`${what}: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}`);
}

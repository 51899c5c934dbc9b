/** The time of this request, ms since 1970. Pages are drawn anew for every request, so it may be asked for. */
export function requestTime(): number {
  return Date.now();
}

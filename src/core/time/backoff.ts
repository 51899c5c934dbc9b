/** The wait before try number `tries` (from 1): doubled each time, from `firstMs` up to `longestMs`. */
export function backoffMs(
  tries: number,
  { firstMs, longestMs }: { firstMs: number; longestMs: number },
): number {
  // Beyond thirty doublings every longest wait there is has been reached.
  return Math.min(longestMs, firstMs * 2 ** Math.min(30, Math.max(0, tries - 1)));
}

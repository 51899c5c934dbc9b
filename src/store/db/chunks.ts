const IDS_AT_ONCE = 500;

/** Ids in pieces that one statement takes, or of another size. */
export function inChunks(ids: readonly number[], atOnce = IDS_AT_ONCE): number[][] {
  const chunks = Math.ceil(ids.length / atOnce);
  return Array.from({ length: chunks }, (_, i) => ids.slice(i * atOnce, (i + 1) * atOnce));
}

const IDS_AT_ONCE = 500;

/** Ids in pieces that one statement takes. */
export function inChunks(ids: readonly number[]): number[][] {
  const chunks = Math.ceil(ids.length / IDS_AT_ONCE);
  return Array.from({ length: chunks }, (_, i) => ids.slice(i * IDS_AT_ONCE, (i + 1) * IDS_AT_ONCE));
}

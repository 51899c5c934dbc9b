const IDS_AT_ONCE = 500;

/** Ids in pieces that one statement takes, or anything in pieces of another size. */
export function inChunks<T>(all: readonly T[], atOnce = IDS_AT_ONCE): T[][] {
  const chunks = Math.ceil(all.length / atOnce);
  return Array.from({ length: chunks }, (_, i) => all.slice(i * atOnce, (i + 1) * atOnce));
}

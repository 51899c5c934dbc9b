/**
 * What lines of a page are called now that were called otherwise before, by what each watch stands under then and now. A
 * name that still stands on the page is nobody's old one; what went to several lines, or to none, is not followed.
 */
export function renamedLines(
  before: ReadonlyMap<number, string>,
  after: ReadonlyMap<number, string>,
): Map<string, string> {
  const standing = new Set(after.values());
  const became = new Map<string, Set<string>>();
  for (const [watchId, label] of before) {
    const now = after.get(watchId);
    if (now === undefined || standing.has(label)) continue;
    became.set(label, (became.get(label) ?? new Set()).add(now));
  }
  return new Map(
    [...became].flatMap(([label, names]) => (names.size === 1 ? [[label, [...names][0]!]] : [])),
  );
}

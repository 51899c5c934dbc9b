/** What a name that is numbered begins with; all it could be mistaken for begin so, too. */
export function stemOf(name: string): string {
  return name.trim().replace(/ \d+$/, '');
}

/**
 * The name itself, or with the smallest number behind it that no other name has; capitals do not count. A number that
 * was given so before is counted on: beside “Pier” and “Pier 2” a second “Pier 2” becomes “Pier 3”.
 */
export function uniqueName(name: string, others: readonly string[]): string {
  const taken = new Set(others.map((other) => other.trim().toLowerCase()));
  if (!taken.has(name.trim().toLowerCase())) return name;
  const bare = name.replace(/ \d+$/, '');
  const stem = taken.has(bare.trim().toLowerCase()) ? bare : name;
  for (let n = 2; ; n += 1) if (!taken.has(`${stem} ${n}`.toLowerCase())) return `${stem} ${n}`;
}

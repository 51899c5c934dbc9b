/** The name itself, or with the smallest number behind it that no other name has; capitals do not count. */
export function uniqueName(name: string, others: readonly string[]): string {
  const taken = new Set(others.map((other) => other.trim().toLowerCase()));
  if (!taken.has(name.trim().toLowerCase())) return name;
  for (let n = 2; ; n += 1) if (!taken.has(`${name} ${n}`.toLowerCase())) return `${name} ${n}`;
}

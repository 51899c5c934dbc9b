/**
 * A body without what is only read of a thing: what was read may be sent back whole. The version counts where it is sent
 * (`Expected`), and is no part of the change.
 */
export function withoutReadOnly(body: object, names: readonly string[]): Record<string, unknown> {
  const left = Object.entries(body).filter(([name]) => !['id', 'version', ...names].includes(name));
  return Object.fromEntries(left);
}

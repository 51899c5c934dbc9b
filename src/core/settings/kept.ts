/** How a secret looks in answers, and how a request says that it stays as it is. */
export const KEPT = { kept: true } as const;

export function isKept(value: unknown): boolean {
  return typeof value === 'object' && value !== null && (value as { kept?: unknown }).kept === true;
}

/** What a visitor chose, where the browser lets it be kept. */
export function kept(name: string): string | null {
  try {
    return localStorage.getItem(name);
  } catch {
    return null;
  }
}

export function keep(name: string, value: string): void {
  try {
    localStorage.setItem(name, value);
  } catch {
    // It holds for this visit then.
  }
}

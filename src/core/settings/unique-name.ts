/** What a name that is numbered begins with; all it could be mistaken for begin so, too. */
export function stemOf(name: string): string {
  return name.trim().replace(/ \d+$/, '');
}

/** Names as they are compared: spaces around them and capitals do not count. */
function compared(name: string): string {
  return name.trim().toLowerCase();
}

/** Names that others have, to which those are added that are given. */
export class TakenNames {
  readonly #taken: Set<string>;

  constructor(names: Iterable<string>) {
    this.#taken = new Set(Array.from(names, compared));
  }

  /** One that was given by somebody else. */
  take(name: string): void {
    this.#taken.add(compared(name));
  }

  /**
   * Gives the name itself, or with the smallest number behind it that no other name has. A number that was given so before
   * is counted on: beside “Pier” and “Pier 2” a second “Pier 2” becomes “Pier 3”.
   */
  give(name: string): string {
    const given = this.#free(name);
    this.take(given);
    return given;
  }

  #free(name: string): string {
    if (!this.#taken.has(compared(name))) return name;
    const bare = name.replace(/ \d+$/, '');
    const stem = this.#taken.has(compared(bare)) ? bare : name;
    for (let n = 2; ; n += 1) if (!this.#taken.has(`${stem} ${n}`.toLowerCase())) return `${stem} ${n}`;
  }
}

/** The name itself, or the first like it that no other has. */
export function uniqueName(name: string, others: readonly string[]): string {
  return new TakenNames(others).give(name);
}

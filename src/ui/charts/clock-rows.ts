/** Something that begins at a minute of the day and lasts some minutes. */
export interface Lasting {
  minute: number;
  lasts: number;
}

/**
 * Puts what overlaps on the clock of a day into rows below each other, each in the first row that is free. `least` is
 * how many minutes a mark takes at least, so that it can be seen. What begins first comes first.
 */
export function clockRows<T extends Lasting>(marks: readonly T[], least: number): T[][] {
  const rows: T[][] = [];
  for (const mark of marks) {
    const free = rows.find((row) => {
      const last = row.at(-1)!;
      return last.minute + Math.max(last.lasts, least) <= mark.minute;
    });
    if (free) free.push(mark);
    else rows.push([mark]);
  }
  return rows;
}

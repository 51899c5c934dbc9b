/** What a page is asked with, as Next hands it over. */
export type AskedQuery = Record<string, string | string[] | undefined>;

/** The same as the standard has it. */
export function queryOf(asked: AskedQuery): URLSearchParams {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(asked)) {
    for (const one of value === undefined ? [] : [value].flat()) query.append(name, one);
  }
  return query;
}

/** Lines of "Name: value" as headers; a line that is none is passed over, the schema has refused it. */
export function headersOf(lines: string): Record<string, string> {
  const headers: Record<string, string> = {};
  for (const line of lines.split('\n')) {
    const match = /^\s*([^\s:]+)\s*:\s*(.*?)\s*$/.exec(line);
    if (match) headers[match[1]!.toLowerCase()] = match[2]!;
  }
  return headers;
}

/** What is wrong with lines of headers, in words, or null (RFC 9110, 5.1: names are tokens). */
export function headerLinesProblem(lines: string): string | null {
  for (const line of lines.split('\n')) {
    if (
      line.trim() !== '' &&
      !/^\s*[!#$%&'*+.^_`|~0-9a-z-]+\s*:[^\p{Cc}]*$/iu.test(line.replace(/\r$/, ''))
    ) {
      return `Expected one “Name: value” a line, got “${line.trim().slice(0, 80)}”.`;
    }
  }
  return null;
}

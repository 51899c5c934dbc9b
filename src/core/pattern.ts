import { RE2JS } from 're2js';

/**
 * A regular expression that cannot hang: RE2 syntax, matched in time linear in the text. Without
 * back-references and look-around, which no linear matcher has.
 */
export class Pattern {
  private constructor(
    readonly source: string,
    private readonly compiled: RE2JS,
  ) {}

  /** Throws with the reason where the source is no pattern. */
  static of(source: string): Pattern {
    return new Pattern(source, RE2JS.compile(source));
  }

  isIn(text: string): boolean {
    return this.compiled.matcher(text).find();
  }

  /** The first group of the first match, or the whole match without a group; null where nothing matches. */
  firstIn(text: string): string | null {
    const matcher = this.compiled.matcher(text);
    if (!matcher.find()) return null;
    return matcher.groupCount() > 0 ? (matcher.group(1) ?? null) : (matcher.group() ?? null);
  }
}

/** What is wrong with a pattern, in words, or null. */
export function patternProblem(source: string): string | null {
  try {
    Pattern.of(source);
    return null;
  } catch (error) {
    return `Expected a pattern (regular expression, RE2 syntax), got “${source}”: ${(error as Error).message}.`;
  }
}

import { RE2JS } from 're2js';

/**
 * The time a match takes at most follows the size of the pattern times the length of the text: about 20 ns for each
 * pair. A pattern of more than this many instructions is refused ("{1,1000}" makes a thousand out of one), and of a
 * text so much is searched as takes about a second.
 */
const MOST_INSTRUCTIONS = 500;
const MOST_WORK = 50_000_000;

/**
 * A regular expression that cannot hang: RE2 syntax, matched in time linear in the text. Without
 * back-references and look-around, which no linear matcher has.
 */
export class Pattern {
  private constructor(
    readonly source: string,
    private readonly compiled: RE2JS,
    /** So many characters of a text are searched. */
    readonly reach: number,
  ) {}

  /** Throws with the reason where the source is no pattern, or too large a one. */
  static of(source: string): Pattern {
    const compiled = RE2JS.compile(source);
    const size = compiled.programSize();
    if (size > MOST_INSTRUCTIONS) {
      throw new Error(
        `it unfolds to ${size} steps, and ${MOST_INSTRUCTIONS} are allowed; lower its repetitions`,
      );
    }
    return new Pattern(source, compiled, Math.floor(MOST_WORK / size));
  }

  isIn(text: string): boolean {
    return this.compiled.matcher(text.slice(0, this.reach)).find();
  }

  /** The first group of the first match, or the whole match without a group; null where nothing matches. */
  firstIn(text: string): string | null {
    const matcher = this.compiled.matcher(text.slice(0, this.reach));
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

import { Liquid } from 'liquidjs';

/** A text of one's own is no longer than this, in characters. */
export const MOST_TEMPLATE = 4000;
/** What it may take to fill one in: so long, in ms, and so much, in what the library counts. */
const MOST_MS = 50;
const MOST_MEMORY = 20_000;

/**
 * Fills in texts that people write (Liquid). Nothing can be loaded, nothing but what is handed in can be read, and
 * neither loops nor long words take more than a little time and memory.
 */
const liquid = new Liquid({
  ownPropertyOnly: true,
  strictVariables: true,
  strictFilters: true,
  lenientIf: true,
  templates: {},
  relativeReference: false,
  parseLimit: MOST_TEMPLATE,
  renderLimit: MOST_MS,
  memoryLimit: MOST_MEMORY,
});

/** A text that cannot be filled in; its message says why, and where. */
export class TemplateError extends Error {
  override name = 'TemplateError';

  /** `tookTooLong`: trying it again at once would cost as much again. */
  constructor(
    message: string,
    readonly tookTooLong = false,
  ) {
    super(message);
  }
}

const TOO_LONG = 'template render limit';

/** Why the library refused, in plain words. */
function reasonOf(message: string): string {
  const first = message.split('\n')[0]!;
  if (first.includes(TOO_LONG)) return `it takes longer than ${MOST_MS} ms to fill in`;
  if (first.includes('memory alloc limit')) return 'it would become too long';
  if (first.includes('parse length limit')) return `it is longer than ${MOST_TEMPLATE} characters`;
  if (first.includes('ENOENT')) return 'no other text can be loaded from it';
  return first.slice(0, 200);
}

/** A text with its values filled in. Throws a `TemplateError`. */
export function fillTemplate(template: string, values: object): string {
  try {
    return String(liquid.parseAndRenderSync(template, values));
  } catch (error) {
    const { message } = error as Error;
    throw new TemplateError(reasonOf(message), message.includes(TOO_LONG));
  }
}

/** Why a text can never be filled in, whatever the values; null for one that can be read. */
export function templateProblem(template: string): string | null {
  try {
    liquid.parse(template);
    return null;
  } catch (error) {
    return reasonOf((error as Error).message);
  }
}

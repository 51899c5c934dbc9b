/** One field that was refused, by its path in the body: "settings.address". */
export interface FieldProblem {
  field: string;
  message: string;
}

/** A refusal repeats what came, and is not to grow with it. */
const MOST_FIELDS = 50;
const LONGEST_FIELD = 200;
const LONGEST_MESSAGE = 600;
const LONGEST_DETAIL = 4000;

function cut(text: string, most: number): string {
  return text.length <= most ? text : `${text.slice(0, most)}…`;
}

/** A refusal as RFC 9457 problem details. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly fields: FieldProblem[] = [],
    readonly headers: Record<string, string> = {},
  ) {
    super(detail);
  }

  toResponse(): Response {
    const errors = this.fields.slice(0, MOST_FIELDS).map(({ field, message }) => ({
      field: cut(field, LONGEST_FIELD),
      message: cut(message, LONGEST_MESSAGE),
    }));
    return new Response(
      JSON.stringify({
        type: 'about:blank',
        status: this.status,
        title: this.title,
        detail: cut(this.detail, LONGEST_DETAIL),
        ...(errors.length > 0 && { errors }),
      }),
      {
        status: this.status,
        headers: {
          'content-type': 'application/problem+json',
          'cache-control': 'no-store',
          ...this.headers,
        },
      },
    );
  }
}

export function notFound(what: string): Problem {
  return new Problem(404, 'Not found', `There is no ${what}.`);
}

export function refused(fields: FieldProblem[]): Problem {
  return new Problem(422, 'Not accepted', fields.map((f) => f.message).join(' '), fields);
}

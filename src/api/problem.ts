/** One field that was refused, by its path in the body: "settings.address". */
export interface FieldProblem {
  field: string;
  message: string;
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
    return new Response(
      JSON.stringify({
        type: 'about:blank',
        status: this.status,
        title: this.title,
        detail: this.detail,
        ...(this.fields.length > 0 && { errors: this.fields }),
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
